"""Lens: angle, projection, views."""

THE_SIDE_OF_THE_WEDGE_HAS_TO_STAY = (
    "The side of the wedge has to stay in front of the camera, on its own side of the axis."
)
THE_SIDE_OF_THE_WEDGE = "The side of the wedge has to stay on its own side of the axis."
NO_LENS_BRINGS_THE_SIDE = "No lens brings the side of the wedge there"
A_PARALLEL_PICTURE_HAS_NO_ANGLE = "A parallel picture has no angle of view; say how wide it is."
ONLY_A_PICTURE_IN_PERSPECTIVE = "Only a picture in perspective can be bent; this one draws straight lines its own way."
A_PARALLEL_PICTURE_HAS_NO_FOCAL = "A parallel picture has no focal length; say how wide it is."
PERSPECTIVE = "Perspective"
PARALLEL = "Parallel"
FISHEYE_EQUIDISTANT = "Fisheye, equidistant"
FISHEYE_EQUISOLID = "Fisheye, equisolid"
FISHEYE_STEREOGRAPHIC = "Fisheye, stereographic"
CYLINDRICAL = "Cylindrical"
NO_LONGER_LENS = "There is no longer lens in this set of primes."
NO_SHORTER_LENS = "There is no shorter lens in this set of primes."
OTHER_CORNERS = "other corners"
STRAIGHT_LINES_STRAIGHT = "straight lines straight"
BENT_OTHERWISE = "bent otherwise"
FOCUS_BREATHES = "focus breathes"
FOCUS_NO_LONGER_BREATHES = "focus no longer breathes"
NORTH_ELEVATION = "North elevation"
EAST_ELEVATION = "East elevation"
SOUTH_ELEVATION = "South elevation"
WEST_ELEVATION = "West elevation"
PLAN_FROM_ABOVE = "Plan from above"
ISOMETRIC = "Isometric"
DIMETRIC = "Dimetric"
ONLY_A_PARALLEL_PICTURE = "Only a parallel picture has a scale; what is nearer is larger in any other."
VERY_WIDE_WHAT_IS_NEAR = "Very wide: what is near looks huge, what is far tiny"
WIDE_WHAT_IS_NEAR = "Wide: what is near looks large, what is far small"
STANDARD_NEAR_AND_FAR = "Standard: near and far look as they do to the eye"
RATHER_LONG_NEAR_AND_FAR = "Rather long: near and far look close together"
LONG_NEAR_AND_FAR = "Long: near and far look pressed together"
PARALLEL_AS_IN_AN_ELEVATION = "Parallel, as in an elevation: everything is the same size at any distance."
FISHEYE_IT_SEES_FAR = "Fisheye: it sees far round; straight lines bend the more the farther out they are."
CYLINDRICAL_UPRIGHTS_STAY_STRAIGHT = "Cylindrical: uprights stay straight, level lines bend."


def mm_is_as_far(words: str, focal_length_mm: float) -> str:
    return f"{words}: {focal_length_mm:.4g} mm is as far as it goes."


def bent_like_this_the_lens(most: float) -> str:
    return f"Bent like this the lens draws no more than {most:.1f}°."


def no_lens_sees_on_this_back(angle_deg: float) -> str:
    return f"No lens sees {angle_deg:g}° on this back"


def that_takes_a_lens(focal: float, shortest_mm: float, longest_mm: float) -> str:
    return f"That takes a lens of {focal:.3g} mm; they go from {shortest_mm:g} to {longest_mm:g} mm."


def in_perspective_an_angle(straight_most_deg: float) -> str:
    return f"In perspective an angle of view goes to {straight_most_deg:g}°; a fisheye sees more."


def that_takes_a_bend(wanted: float, held: float) -> str:
    return f"That takes a bend of {wanted:.3g}; {held:g} is as far as it goes."


def other_projection(before: str, after: str) -> str:
    return f"{before.lower()} → {after.lower()}"


def fisheye(fisheye_law: str) -> str:
    return f"{fisheye_law} fisheye"


def wide(scale_m: str) -> str:
    return f"{scale_m} wide"


def and_sees_as_much(words: str, like_mm: float) -> str:
    return f"{words}; across it sees as much as {like_mm:.3g} mm on a 36 mm wide back"


def straight_lines_are_bent(words: str) -> str:
    return f"{words}. Straight lines are bent."
