"""Contact sheet, shot list, plans, camera cards."""

CLOCKWISE = "clockwise"
ANTICLOCKWISE = "anticlockwise"
IN_THE_SET = "In the set"
NOTES = "Notes"
AXIS = "Axis"
WALLS = "Walls"
NO_TWO_IN_REACH = "no two in reach that stand across each other"
FROM_THE_NEAREST_CORNER = "From the nearest corner"
FROM_ANOTHER_CORNER = "From another corner"
INFINITY = "infinity"
TRIPOD = "Tripod"
LENS_AND_BACK = "Lens and back"
LENS_ABOVE_ZERO = "Lens above zero"
HEADING = "Heading"
PITCH = "Pitch"
ROLL = "Roll"
TO_THE_AIM = "To the aim"
USED_OF_IT = "Used of it"
PICTURE = "Picture"
RISE = "Rise"
CROSS = "Cross"
TILT = "Tilt"
FORWARD = "forward"
BACK = "back"
SWING = "Swing"
IMAGE_CIRCLE_NEEDED = "Image circle needed"
STOP = "Stop"
FROM_THE_LENS = "From the lens"
FROM_THE_FILM = "From the film"
LENS_TO_FILM = "Lens to film"
SHUTTER_STOP_FILM = "Shutter, stop, film"
EV_AT_ISO_100 = "EV at ISO 100"
LENS_ABOVE_THE_FLOOR = "Lens above the floor"
ANGLE_OF_VIEW = "Angle of view"
SEES_AS_ON_36 = "Sees as, on 36 × 24"
IF_IT_MOVES_OUT = "If it moves out to focus"
SHARP_FROM = "Sharp from"
SHARP_TO = "Sharp to"
COUNTS_AS_SHARP = "Counts as sharp"
PLANE_OF_FOCUS = "Plane of focus"
TIME_SO_CLOSE = "Time, so close"
DRAWS = "Draws"
NO_PICTURE = "no picture"
BEFORE = "Before"
AFTER = "After"
PNG_A_PICTURE_OF_EACH = "PNG, a picture of each page"
DXF_IN_THE_SETS = "DXF, in the set's own size"
CSV_A_PLAIN_TABLE = "CSV, a plain table"
XLSX_A_WORKBOOK = "XLSX, a workbook"
CONTACT_SHEET = "Contact sheet"
CONTACT_SHEET_FILE = "contact sheet"
SHOT_LIST = "Shot list"
SHOT_LIST_FILE = "shot list"
PLANS_WITH_THE_STANDS = "Plans with the stands"
CAMERA_CARDS = "Camera cards"
A_KIND_OF_FILE = "a kind of file is asked for twice"
NO_DOCUMENT_IS_ASKED = "no document is asked for: choose a contact sheet, a shot list, plans or camera cards"
A_SHOT_IS_NAMED = "a shot is named twice"
AS_A_CYLINDER = "as a cylinder"
THIS_PAGE_IS_NOT_TO_SCALE = "this page is not to scale"
A_DRAWING_HAS_NO_PICTURES = "a drawing has no pictures in it"


def axis_to_wall(wall: str, side: str, *, square: bool, turned_deg: float | None, clockwise: bool) -> str:
    """``turned_deg``: how far off it lies; None: not at all."""
    lies = "square to" if square else "along"
    off = "" if turned_deg is None else f"{turned_deg:.1f}° {'clockwise' if clockwise else 'anticlockwise'} from "
    return f"{off}{lies} the {wall} {side}"


def off_the(what: str, side: str) -> str:
    return f"Off the {what} {side}"


def from_north(heading_deg: float, compass: str) -> str:
    return f"{heading_deg:.1f}° from north, {compass}"


def across_upright(across: float, upright: float) -> str:
    return f"{across:.1f}° across, {upright:.1f}° upright"


def a_lens_of_mm(shot: float) -> str:
    return f"a lens of {shot:.2f} mm sees this"


def a_blur_of_mm(blur_limit_mm: float, blur_limit_px: float) -> str:
    return f"a blur of {blur_limit_mm:.4f} mm, {blur_limit_px:.2g} px"


def a_lens_that_moves(longer: float) -> str:
    return f"× {longer:.2f}: a lens that moves out gives less light"


def page_of(day: str, number: int, what: int) -> str:
    return f"{day} · {number} of {what}"


def cut_at(scale: str, height: str) -> str:
    return f"{scale} · cut at {height}"


def takes_at_has_it_is_drawn(name: str, takes: str, asked_for: str, paper: str, has: str, drawn: str) -> str:
    return f"{name} takes {takes} at {asked_for}; {paper} has {has}. It is drawn at {drawn}."


def as_a_fisheye(fisheye_law: str) -> str:
    return f"as a fisheye, {fisheye_law}"


def looks(compass: str, heading_deg: float) -> str:
    return f"looks {compass} {heading_deg:.0f}°"


def bent(corners_percent: float | None) -> str:
    """How far corners lie from where an ideal lens draws them, in per cent; None: not known."""
    return "bent" if corners_percent is None else f"bent, corners {corners_percent:+.1f} %".replace("-", "−")


def pitch(pitch_deg: float) -> str:
    return f"pitch {pitch_deg:+.1f}°"


def the_origin_of_the_set(scale: str, x: float, height: float) -> str:
    return f"{scale}; the origin of the set is at {x:.4f}, {height:.4f} mm"
