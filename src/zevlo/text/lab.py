"""What the lab is doing, and why it could not."""

NO_PRINT_OF_BEFORE = "no print of before"
NO_TAKE_OF_BEFORE = "no take of before"
PLAN = "Plan"
CAMERA_CARD = "camera card"
NO_SHOT_STANDS_ON_A_LEVEL = "No shot stands on a level that was asked for: there is no plan."
THERE_WAS_NOT_ENOUGH = "There was not enough memory for these documents. Ask for fewer shots at a time."
READING_THE_SET = "Reading the set"
PUTTING_THE_TILES_TOGETHER = "Putting the tiles together"
CLEANING_THE_WHOLE_PICTURE = "Cleaning the whole picture"
THIS_PICTURE_DOES_NOT_TELL = "This picture does not tell of a shot; it was not made here, or was saved anew."
THIS_IS_NO_PNG = "This is no PNG, JPEG or OpenEXR that can be read."
THERE_WAS_NOT_ENOUGH_MEMORY = "There was not enough memory for this print. Close other programs and retry."
EVERYTHING_IS_LEFT_OUT = "everything is left out of this shot"


def kind_of_day(kind: str, day: str) -> str:
    return f"{kind} of {day}"


def print_of(kind: str, shot: str) -> str:
    return f"{kind.capitalize()} of “{shot}”"


def shot_of(n: int, count: int) -> str:
    return f"Shot {n} of {count}"


def the_fonts_of_documents(lacking: str, no_letter: str) -> str:
    return f"The fonts of documents do not have {lacking}: {no_letter} stands for them."


def take(number: int) -> str:
    return f"take {number}"


def there_is_no_level(name: str) -> str:
    return f"There is no level “{name}” any more."


def writing_the(called: str) -> str:
    return f"Writing the {called}"


def plan(name: str) -> str:
    return f"plan {name}"


def the_documents_could_not_be_made(name: str, error: object) -> str:
    return f"The documents could not be made: {name}: {error}"


def plan_of_level(name: str) -> str:
    return f"plan, {name}"


def the_legend_of_does_not_go(name: str) -> str:
    return f"The legend of {name} does not go on one page: its DXF ends there, others go on."


def camera_card(what: str) -> str:
    return f"camera card {what}"


def page(what: str, n: int) -> str:
    return f"{what}, page {n}"


def writing(ending: str) -> str:
    return f"Writing {ending}"


def pictures_of_this_database(name: str, wanted: str, own: str) -> str:
    return (
        f"pictures of this database are made with {name} {wanted}, and here it is {own}: use the same version "
        "on every machine"
    )


def picture_of_light(number: int, count: int) -> str:
    return f"Picture {number} of {count}: light"


def samples_of(which: str, samples: int, samples_2: int) -> str:
    return f"{which} {samples} of {samples_2}"


def the_renderer_stopped(name: str, error: object) -> str:
    return f"The renderer stopped: {name}: {error}"


def merging_picture_of(number: int, count: int) -> str:
    return f"Merging picture {number} of {count}"
