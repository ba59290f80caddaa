"""What the open format does not take."""

OPPOSITE_SIDES_TOGETHER_MUST_STAY = "opposite sides together must stay under 1, so that a picture is left"
TWO_CROPS_HAVE_THE_SAME = "two crops have the same name"
BLUR_OF_1_5_PX = "1.5 px of the picture"
BLUR_OF_3_PX = "3 px of the picture"
BLUR_OF_0_03_MM = "0.03 mm on film"
BACK_DIAGONAL_1500 = "back diagonal / 1500"
PRINT_400_MM_SEEN = "print 400 mm, seen from 500 mm"
PRINT_WIDTH_MM_AND_SEEN = "print_width_mm and seen_from_mm belong together"
GIVE_EXACTLY_ONE_OF_PX = "give exactly one of px, mm, diagonal_over, or print_width_mm with seen_from_mm"
THE_NORMAL_OF_A_CUTTING = "the normal of a cutting plane must point somewhere; this one is 0, 0, 0"
A_PARALLEL_PROJECTION_NEEDS_SCALE = "a parallel projection needs scale_m, its width in the world"
SCALE_M_BELONGS_TO_PARALLEL = "scale_m belongs to parallel projection; in any other it may only be null"
DISTORTION_BELONGS_TO_PERSPECTIVE = "distortion belongs to perspective; in any other projection it may only be 0"
A_LIGHT_IS_TOLD = "a light is told by its id or its name"
MOVEMENTS_TILT_DEG_AND_MOVEMENTS = (
    "movements.tilt_deg and movements.swing_deg belong to perspective; in any other projection they may only be 0"
)
AIM_MUST_BE_AT_LEAST = "aim must be at least 0.1 mm away from position"


def to_m_must_be_greater(from_m: float) -> str:
    return f"to_m must be greater than from_m ({from_m:g})"


def that_would_be_m(scale_m: float) -> str:
    return f"That would be {scale_m:.3g} m wide; it goes from 0.1 mm to 1000 km."


def far_m_must_be_greater(near_m: float) -> str:
    return f"far_m must be greater than near_m ({near_m:g})"


def focuses_no_closer(distance_m: float, focal_length_mm: float, nearest_m: float, *, turned: bool) -> str:
    lens = f"a {focal_length_mm:g} mm lens{' turned like this' if turned else ''}"
    return f"focus.distance_m is {distance_m:g}; {lens} focuses no closer than {nearest_m:.4g} m"


def is_called_now_give(where: str, old: str, new: str) -> str:
    return f"{where}{old} is called {new} now; give one of them"
