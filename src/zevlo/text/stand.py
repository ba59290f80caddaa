"""Stand: where the camera is and looks."""

STAND = "Stand"
HEIGHT_ABOVE_FLOOR = "Height above floor"
THERE_IS_NO_FLOOR = "There is no floor under the stand, so it cannot stay above one."
THAT_PART_IS_NOT_IN_THE_FRAME = "That part is not in the frame; aim at it first, then follow it."
A_HEIGHT_IS_NEEDED = "A height is needed: above zero, or above the floor."
THERE_IS_NO_FLOOR_UNDER = "There is no floor under the stand, so a height above it means nothing here."
THE_CAMERA_LOOKS_STRAIGHT = "The camera looks straight up or down, to no side of the compass; roll it instead."
THERE_IS_NO_FLOOR_UNDER_ONE = "There is no floor under one of the stands, so the height above it cannot be copied."
STAYS_ABOVE_FLOOR = "stays above floor"
NO_LONGER_STAYS_ABOVE = "no longer stays above floor"
A_DOLLY_FACTOR_MUST_BE_ABOVE = "a dolly factor must be above 0"
THE_CAMERA_WOULD_REACH = "The camera would reach its aim. Take a smaller step, or take the aim along."


def moved(moved: str) -> str:
    return f"moved {moved}"


def turned(turn: float, what: str) -> str:
    return f"turned {turn:.1f}° {what}"


def pitch(pitch_deg: float, pitch_deg_2: float) -> str:
    return f"pitch {pitch_deg:.1f}° → {pitch_deg_2:.1f}°"


def roll(roll_deg: float, roll_deg_2: float) -> str:
    return f"roll {roll_deg:.1f}° → {roll_deg_2:.1f}°"


def follows(what: str) -> str:
    return f"follows {what}"


def aim_away(aim_distance: str) -> str:
    return f"aim {aim_distance} away"


def lets_go(what: str) -> str:
    return f"lets {what} go"
