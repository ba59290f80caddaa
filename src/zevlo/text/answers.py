"""What the API answers, and the words of changes that can be undone."""

SOMETHING_IN_WHAT_WAS_SENT = "Something in what was sent cannot be kept: a number or a sign out of all range."
THERE_IS_NOTHING_AT_THIS_ADDRESS = "There is nothing at this address."
DESK_NOT_BUILT = "<p>The desk is not built yet. Run ./zevlo start.</p>"
FIND_LEVELS_AND_ROOMS = "Find levels and rooms"
NO_FURTHER_LEVELS_OR_ROOMS = (
    "No further levels or rooms are clear in the geometry: a level needs a floor with a ceiling over it, "
    "a room needs walls that close. Draw them by hand."
)
A_ROOM_LIES_ON_A_LEVEL = (
    "A room lies on a level. Add a level first: press “Add a level”, then on a floor in the section."
)
THERE_IS_NO_SUCH_STAND_IN = "There is no such stand-in; it may have been taken away."
LIFT_OFF_ALL_ABOVE = "Lift off all above the cut"
PUT_BACK_WHAT_IS_ABOVE = "Put back what is above the cut"
PUT_ALL_BACK = "Put all back"
MOVE = "Move"
TURN = "Turn"
THESE_DOCUMENTS_HAVE_NO_SUCH_FILE = "These documents have no such file."
THESE_DOCUMENTS_HAVE_NO_FILES = "These documents have no files yet."
DOCUMENTS_WERE_ASKED_FOR_UNDER = "Documents were asked for under that id before, in another project."
THERE_IS_NO_SHOT = "There is no shot to send."
REQUESTS_FROM_OTHER_PAGES = "Requests from other pages are not answered."
THIS_ADDRESS_HOLDS_A_SIGN = "This address holds a sign that none may hold."
THIS_COULD_NOT_BE_DONE = "This could not be done: a fault of the server, written down in its log. Nothing was changed."
THAT_IS_NOT_TOLD = "That is not told before it is done."
THIS_COULD_NOT_BE_WORKED = "This could not be worked out. The shot stays as it was."
ONLY_TEXT_IS_UNDERSTOOD = "Only text is understood here, as JSON."
THE_SET_COULD_NOT_BE_OPENED = "The set could not be opened. Ask for it again."
NOTHING_WAS_READ_FOR_TOO = "Nothing was read for too long."
CHANGES_NOT_KEPT_NO_TAKE = "Changes not kept: no take has this framing"
ONE_PICTURE_FOCUSED_AS_THE_SHOT = "One picture, focused as the shot is, though it has a stack"
NOTHING_OF_THIS_ORDER = "Nothing of this order is finished yet."
THAT_SHOT_IS_NOT_HERE = "That shot is not here any more."
THE_FILE_TELLS_A_SHOT = "The file tells a shot, but not of which project."
AN_ORDER_WAS_PLACED = "An order was placed under that id before, in another project."
THE_DATABASE_DOES_NOT_ANSWER = "The database does not answer for now. What you do is kept and sent when it is back."
THE_DATABASES_DISK_IS_FULL = (
    "The database's disk is full, so nothing can be written. Make room; what you did is kept and sent then."
)
A_PRINT_WAS_ORDERED = "A print was ordered under that id before, of another shot."
THIS_PRINT_HAS_NO_PICTURE = "This print has no picture yet."
THIS_PRINT_HAS_NO_SUCH_FILE = "This print has no such file."
NEW_PROJECT = "New project"
LEVELS_AND_ROOMS = "Levels and rooms"
HEIGHTS_AND_STEPS = "Heights and steps"
NORTH_AND_PLACE = "North and place"
WHAT_THE_PROJECT_KEEPS = "What the project keeps"
THAT_SHOT_IS_NOT_IN_THIS_PROJECT = "That shot is not in this project."
THAT_WOULD_MAKE_THE_SET = "That would make the set larger than 100 km, or put it farther off than can be worked in."
LIFT_OFF = "Lift off"
PUT_BACK = "Put back"
THERE_IS_NO_SUCH_SET = "There is no such set."
THERE_IS_NO_SUCH_PICTURE = "There is no such picture."
PUTTING_IT_AWAY = "putting it away"
MARK = "Mark"
REMOVE_THE_MARK_AT = "Remove the mark at"
THIS_SET_IS_NOT_THERE_ANY_MORE = "This set is not there any more."
CHANGE = "Change"
NEW_SHOT_NAME = "New shot “{name}”"
DUPLICATE_AS_NAME = "Duplicate as “{name}”"
THERE_IS_NO_SUCH_ROOM = "There is no such room; it may have been removed."
THAT_SHOT_BELONGS_TO_ANOTHER = "That shot belongs to another project."
IT_IS_LOCKED = "It is locked."
THERE_IS_NO_SUCH_SHOT = "There is no such shot."
NO_UNIT = "no unit"
NO_UP_AXIS = "no up axis"


def add(name: str) -> str:
    return f"Add “{name}”"


def draw(name: str) -> str:
    return f"Draw “{name}”"


def lift_off(level: str) -> str:
    return f"Lift off {level}"


def there_is_no_level(level: str) -> str:
    return f"There is no level “{level}” in this project."


def no_part_lies_on_alone(level: str) -> str:
    return f"No part lies on “{level}” alone: its geometry is part of something larger."


def waiting_in_line(at_once: int, before: int) -> str:
    others = f", and {before} more wait" if before else ""
    return f"waiting in line: {at_once} models are being read{others} before this one"


def a_request_may_be_up_to_mb(limit: int) -> str:
    return f"A request may be up to {limit} MB; this one is larger and was not read."


def documents(number: int) -> str:
    return f"documents {number}"


def cameras(name: str) -> str:
    return f"{name} cameras"


def is_no_kind_of_file(ending: str) -> str:
    return f"“{ending}” is no kind of file; one is .usda"


def is_locked(name: str) -> str:
    return f"“{name}” is locked."


def bring_in(count: int) -> str:
    return f"Bring in {count} {'camera' if count == 1 else 'cameras'}"


def the_set_came_from_models(name: str) -> str:
    return f"The set came from {name}: models of that kind have no cameras that can be taken."


def called(name: str) -> str:
    return f"called “{name}”"


def reason(why: str) -> str:
    return f"It {why}."


def this_server_answers_to_its_own(host: str) -> str:
    return f"This server answers to its own address only, not to “{host}”."


def order(number: int) -> str:
    return f"order {number}"


def from_shot_as_it_is_now(name: str, take: int | None) -> str:
    return f"From shot “{name}”{_of_take(take)}, as it is now."


def from_shot_framed_otherwise(name: str, take: int | None) -> str:
    return f"From shot “{name}”{_of_take(take)}; it is framed otherwise now."


def _of_take(take: int | None) -> str:
    return "" if take is None else f", take {take}"


def nothing_in_it_is_sharp(soft_px: float) -> str:
    return f"Nothing in it is sharp: the sharpest thing is blurred over {soft_px:.3g} px. Focus on something"


def million_pixels_its_machine(width: int) -> str:
    return f"{width} million pixels: its machine needs over 3 GB of memory"


def printed_unchanged_since(width: int, height: int, quality: str | None) -> str:
    return f"Printed {width} × {height} px{f', {quality}' if quality else ''}, unchanged since"


def cut_the_plan_at(ruler: str) -> str:
    return f"Cut the plan at {ruler}"


def cut_the_plan_on(plan_level: str) -> str:
    return f"Cut the plan on {plan_level}"


def rename_the_project(name: str) -> str:
    return f"Rename the project “{name}”"


def order_the_shots_by(by: str) -> str:
    return f"Order the shots by {by}"


def copy_from(groups: str, name: str) -> str:
    return f"Copy {groups} from “{name}”"


def was_changed_elsewhere_meanwhile(others: str) -> str:
    return f"{others} was changed elsewhere meanwhile. What you see now is the newer state; do it again."


def lens_at(height_m: float, feet: str) -> str:
    return f"lens {height_m:.2f} m ({feet})"


def aim_at(lens: str, height_m: float, feet: str) -> str:
    return f"{lens}, aim {height_m:.2f} m ({feet})"


def aim_level_with_it(lens: str) -> str:
    return f"{lens}, aim level with it"


def the_file_says_and(kind: str, length: str, axis: str) -> str:
    return f"The {kind} file says {length} and {axis}."


def units_of_m(metres: float) -> str:
    return f"units of {metres:g} m"


def triangles(file_name: str, triangles: int) -> str:
    return f"{file_name} · {triangles:,} triangles"
