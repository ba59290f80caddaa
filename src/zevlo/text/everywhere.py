"""Said in more than one area."""

LOOKING_AT_THE_FILE = "looking at the file"
STAND_INS = "Stand-ins"
NONE = "none"
EXPOSURE = "Exposure"
UP = "up"
DOWN = "down"
LEVEL = "level"
LENS = "Lens"
BACK = "Back"
RISE = "rise"
FALL = "fall"
RIGHT = "right"
LEFT = "left"
MOVEMENTS = "Movements"
FOCUS = "Focus"
BEHIND = "behind"
CAMERA_CARDS = "camera cards"
WHAT_IS_LEFT_OUT = "what is left out"
CROSS = "cross"
ALL_SHARP = "all sharp"
TILT = "tilt"
SWING = "swing"
A_POINT = "a point"
TRUE = "true"
LIGHT = "Light"
ROOM = "Room"


def up(up: str) -> str:
    return f"{up} up"


def there_is_no_part(part: str) -> str:
    return f"There is no part “{part}” in this set."
