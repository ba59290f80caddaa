"""What no lens can do."""

A_METER_NEEDS_SOME_LIGHT = "a meter needs some light"
THE_LENS_DRAWS_NOTHING = "the lens draws nothing at that place"
NOTHING_AS_NEAR_AS_THAT_IS_SEEN = "nothing as near as that is seen at that place"
SCREEN = "Screen"
SCREEN_4K = "Screen 4K"
SCREEN_8K = "Screen 8K"
WIDE_PAGE = "Wide page"
SQUARE = "Square"
TALL_PAGE = "Tall page"
TALL_SCREEN = "Tall screen"
VERY_WIDE = "Very wide"


def a_share_goes_from_0(hidden: float) -> str:
    return f"a share goes from 0 to 1, not {hidden:g}"


def focus_distance_mm_must_be_beyond(focus_mm: float, focal_length_mm: float) -> str:
    return f"focus distance {focus_mm:g} mm must be beyond the focal length {focal_length_mm:g} mm"


def an_angle_of_view(angle: float) -> str:
    return f"an angle of view may be 0.1° to 175°, not {angle:g}°"


def the_near_end_mm(near_mm: float, far_mm: float) -> str:
    return f"the near end ({near_mm:g} mm) must lie before the far one ({far_mm:g} mm)"
