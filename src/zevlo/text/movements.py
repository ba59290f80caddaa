"""Movements: shifts, uprights, tilt and swing."""

THE_SAME_SIZE_A_FLATTER = "the same size, a flatter view; what lies between has to be clear"
HIGHER = "higher"
LOWER = "lower"
A_PARALLEL_PICTURE_DOES_NOT_GO = "A parallel picture does not go by its lens."
A_POINT_LIES_BESIDE = "A point lies beside or behind the camera; all three have to lie before it."
THE_THREE_POINTS_LIE = "The three points lie in one line; choose one beside it."
THE_PLANE_THROUGH_THESE = "The plane through these points goes through the lens, which can be sharp on no such plane."
THE_FOCUS_IS_LAID = "The focus is laid on three points: tell either points, or pressed_at."
THE_LENS_LIES_IN_THE_PLANE = "The lens lies in the plane of that surface, and can be sharp on no such plane."
TAKE_HOLD_OF_THE_PLANE = "Take hold of the plane of focus beside the lens axis to turn it."
THE_HINGE_COMES_NO_NEARER = "The hinge comes no nearer to the lens than its focal length."
BENT_BY_THE_FISHEYE = "bent by the fisheye"
TOGETHER = "together"
APART = "apart"
PARALLEL_TO_THE_FILM = "parallel to the film"
CIRCLE_43_PLAIN = "43.3 mm, plain lens of 36 × 24"
CIRCLE_60_SHIFT = "60 mm, shift lens"
CIRCLE_67_WIDE_SHIFT = "67 mm, wide shift lens"
CIRCLE_90_VIEW_CAMERA = "90 mm, view camera for 56 × 41.5"
CIRCLE_154_HOLDS_4_BY_5 = "154 mm, just holds 4 × 5 in"
CIRCLE_210_VIEW_CAMERA = "210 mm, view camera for 4 × 5 in"
CIRCLE_312_HOLDS_8_BY_10 = "312 mm, just holds 8 × 10 in"
CIRCLE_500_VIEW_CAMERA = "500 mm, view camera for 8 × 10 in"
ANOTHER_IMAGE_CIRCLE = "another image circle"
ANOTHER_LIMIT_TO_TILT = "another limit to tilt"
UPRIGHTS_KEPT_TRUE = "uprights kept true"
UPRIGHTS_NO_LONGER_KEPT = "uprights no longer kept true"
NO_WAY_BACK_FROM_STRAIGHTENING = "no way back from straightening"
A_WAY_BACK_TO_LEAN = "a way back to lean"
BELOW = "below"
ABOVE = "above"
LEFT_OF = "left of"
RIGHT_OF = "right of"
DEGREES_STAND_FOR_A_SHIFT = "Degrees stand for a shift in perspective alone, and only below 89°."
SQUARE_ON_NEEDS_EITHER = "square_on needs either normal, or both x and y"
THE_NORMAL_OF_A_WALL = "the normal of a wall must point somewhere; this one is 0, 0, 0"
NOTHING_WAS_STRAIGHTENED_SO_THERE_IS_NOTHING = "Nothing was straightened, so there is nothing to take back."


def the_lens_above_the_floor(there: str) -> str:
    return f"the lens {there} above the floor"


def the_lens_at_over(there: str) -> str:
    return f"the lens at {there} over zero"


def straighten(share: float) -> str:
    return f"Straighten {share:.0f} %"


def uprights_at_the_sides(lean: float) -> str:
    return f"uprights at the sides lean {lean:.1f}°"


def mm_enlarged(other: float, enlarge: float) -> str:
    return f"{other:g} mm, enlarged {enlarge:.2f} ×"


def of_the_film_is_left(left: float) -> str:
    return f"{left:.0f} % of the film is left for the picture"


def stand_farther_back_enlarged(back_m: str, enlarge: float) -> str:
    return f"Stand {back_m} farther back, enlarged {enlarge:.2f} ×"


def stand(up_m: str, what: str) -> str:
    return f"Stand {up_m} {what}"


def lean_at_the_left(left: float, left_2: str, right: float, right_2: str) -> str:
    return f"lean {left:.1f}° {left_2} at the left, {right:.1f}° {right_2} at the right"


def lean(left: float, what: str) -> str:
    return f"lean {left:.1f}° {what}"


def lean_up_to(left: float) -> str:
    return f"lean up to {left:.1f}°"


def from_level(steep: float) -> str:
    return f"{steep:.0f}° from level"


def hinge_the_lens(lying: str, hinges: list[str]) -> str:
    return f"{lying}, hinge {' and '.join(hinges)} the lens"
