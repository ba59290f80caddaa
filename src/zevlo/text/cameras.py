"""Cameras that come from files and go out in them."""

TILT_AND_SWING = "tilt and swing"
ITS_DARKER_CORNERS = "its darker corners"
ITS_IMAGE_CIRCLE = "its image circle"
HOW_THE_LENS_BREATHES = "how the lens breathes"
FOCUS_AND_STOP = "focus and stop"
THE_SHAPE_OF_ITS_BLUR = "the shape of its blur"
ITS_STACK_OF_PICTURES = "its stack of pictures"
SHUTTER_AND_ISO = "shutter and ISO"
ITS_LIGHT = "its light"
THE_PLANE_THAT_OPENS = "the plane that opens the set"
ITS_CROPS = "its crops"
THAT_HOLDS_IT = "that holds it"
TRIM = "trim"
THE_LENSS_DISTORTION = "the lens's distortion"
ITS_WORLD_HAS_A_UNIT = "its world has a unit above 0 m (metres_per_unit), and y or z up"
TRIMMED_TO_WHOLE_PIXELS = "trimmed to whole pixels"
OF_ITS_WINDOW = "of its window"
THE_CAMERA_WAS_CHANGED = "the camera was changed elsewhere since: it is taken, the rest is as it was"
ITS_AXES_ARE_NOT_SQUARE = "its axes are not square to each other, or it is mirrored"
INTRINSICS_JSON = "intrinsics, JSON"
SHOTS_JSON = "shots, JSON"
A_TABLE_CSV = "a table, CSV"
A_TABLE_XLSX = "a table, XLSX"
GLTF_2_0_BINARY = "glTF 2.0, binary"
THERE_IS_NO_CAMERA = "there is no camera in it"
ITS_FRAME_IS_NOT_FOUR = "its frame is not four shares"
IT_IS_PLACED_BY_NUMBERS = "it is placed by numbers that cannot be"
K_R_OR_T = "K, R or t has not the shape it should"
ITS_PIXELS_LEAN_K = "its pixels lean (K has skew)"
IT_HAS_MORE_COEFFICIENTS = "it has more coefficients of distortion than five"
A_FISHEYE_THAT_CARRIES = "a fisheye that carries no shot is not read from intrinsics"
ITS_FIRST_ROW_DOES_NOT_NAME = "its first row does not name the columns of cameras (name, x, y, z, right_x, …)"
IT_IS_NO_JSON = "it is no JSON"
IT_IS_NO_CSV = "it is no CSV that can be read: text in UTF-8, cells parted by commas"
IT_IS_NO_XLSX = "it is no XLSX that can be read: what is in it is broken, or of another kind"
ITS_UNIT_OF_LENGTH = "its unit of length is not above 0"
IT_IS_NO_OPENUSD = "it is no OpenUSD that can be read: what is in it is broken, or of another kind"


def of_which_does_not_hold(widest_plain_deg: float) -> str:
    return f"of {widest_plain_deg:g}°, which does not hold all of it"


def its_law_others_see(projection: str, far: str) -> str:
    return f"its {projection} law: others see a plain perspective {far}"


def others_see_the_wider(moved: list[str]) -> str:
    return f"{' and '.join(moved)}: others see the wider frame around the lens axis"


def its_focus_at_m(focus_m: float, focal: float, nearest: float) -> str:
    return (
        f"its focus at {focus_m:.4g} m: a {focal:.4g} mm lens focuses no closer than {nearest:.4g} m, where it is now"
    )


def its_size_of_px(wanted: int, wanted_2: int, trimmed: str, own: int, own_2: int) -> str:
    return f"its size of {wanted} × {wanted_2} px: the picture, {trimmed}, has {own} × {own_2}"


def has_no_picture_its_window(name: str, width: float, height: float) -> str:
    return f"“{name}” has no picture: its window is {width:g} × {height:g}"


def cannot_be_set_up_here(name: str, reason: str) -> str:
    return f"“{name}” cannot be set up here: {reason}"


def its_law_the_picture(projection: str) -> str:
    return f"its {projection} law: the picture was changed elsewhere, as a plain perspective"


def it_has_cameras_up_to_are_taken(count: int, cameras: int) -> str:
    return (
        f"it has {count} cameras; up to {cameras} are taken in at a time. Export those that are needed, or in "
        "several files"
    )


def cannot_be_read(reason: str) -> str:
    return f"cannot be read: {reason}"


def cameras_go_out_in_and_come(name: str, every: str) -> str:
    return f"{name}: cameras go out in and come in from {every}"


def the_set_goes_along(with_set: str) -> str:
    return f"the set goes along in {with_set} alone"


def is_parallel_it_has_no_intrinsics(name: str) -> str:
    return f"{name} is parallel: it has no intrinsics, and is left out"


def it_has_over_mb(cameras_size_limit: int) -> str:
    return f"it has over {cameras_size_limit} MB"


def this_format_does_not_hold(name: str, lost: str) -> str:
    return f"{name}: this format does not hold {lost}"


def camera(n: int) -> str:
    return f"Camera {n}"


def it_is_no_list(vision_schema: str) -> str:
    return f"it is no list of intrinsics ({vision_schema})"


def its_lens_is_bent(model: str, bent: str, fisheye: str) -> str:
    return f"its lens is bent as “{model}”; {bent} is read, and {fisheye} with all coefficients 0"


def shot(n: int) -> str:
    return f"Shot {n}"


def it_is_no_json_at(line: int, column: int) -> str:
    return f"it is no JSON (line {line}, column {column})"


def row_projection_is_a_table(line: int, kind: str) -> str:
    return f"row {line}: projection is “{kind}”; a table tells perspective or parallel"


def row_projection_is_parallel(line: int) -> str:
    return f"row {line}: projection is parallel, and distance_mm is told; leave that empty, with left to top in metres"


def row_its_heading_pitch(line: int) -> str:
    return f"row {line}: its heading, pitch and roll say otherwise than its axes"


def row_its_heading_pitch_and_roll(line: int) -> str:
    return f"row {line}: its heading, pitch and roll say otherwise than its axes, and both were changed"


def it_has_two_columns(twice: str) -> str:
    return f"it has two columns called “{twice}”"


def row_is_not_finite(line: int, name: str) -> str:
    return f"row {line}: {name} is not finite"


def row_is_missing(line: int, name: str) -> str:
    return f"row {line}: {name} is missing"


def row_its_shot_cannot_be_read(line: int, reason: str) -> str:
    return f"row {line}: its shot cannot be read: {reason}"


def row_metres_per_unit(line: int) -> str:
    return f"row {line}: metres_per_unit and up say that it stands in another world than the rest"


def it_unpacks_to_mb(unpacked: int, table_unpacked: int) -> str:
    return f"it unpacks to {unpacked} MB; up to {table_unpacked} are read"


def row_is_which_is_no_number(line: int, name: str, value: str) -> str:
    return f"row {line}: {name} is “{value}”, which is no number"


def row(one: int) -> str:
    return f"Row {one}"


def could_not_be_packed(name: str) -> str:
    return f"{name} could not be packed"


def its_shot_cannot_be_read(reason: str) -> str:
    return f"its shot cannot be read: {reason}"
