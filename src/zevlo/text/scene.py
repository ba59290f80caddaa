"""Levels, rooms, stand-ins, things to look at."""

NOTHING_UNDER_IT = "nothing under it"
IN_THAT_UNIT_THE_SET = "In that unit the set would lie farther from zero than can be worked in."
A_SET_NEEDS_AT_LEAST = "a set needs at least one triangle"
EVERY_FACE_NEEDS_A_MATERIAL = "every face needs a material"
LEVEL = "Level"
THE_OUTLINE_OF_A_ROOM = "the outline of a room has to enclose an area"
TWO_LEVELS_HAVE_THE_SAME = "two levels have the same name"
TWO_ROOMS_ON_ONE = "two rooms on one level have the same name"
FIGURE = "Figure"
SWEEP = "Sweep"
SEATED_FIGURE = "Seated figure"
LIGHT_PANEL = "Light panel"
THE_BEND_OF_A_SWEEP = "the bend of a sweep cannot be larger than its back is high"


def of_air_under_it(gap: str) -> str:
    return f"{gap} of air under it"


def lies_far_from_everything(name: str) -> str:
    return f"{name} lies far from everything else"


def floats(name: str, below: str) -> str:
    return f"{name} floats, {below}"


def is_nearly_hidden_under(name: str) -> str:
    return f"{name} is nearly hidden under other parts"


def is_indoors_but_in_none(name: str) -> str:
    return f"{name} is indoors but in none of the rooms"


def the_model_lies_km(np: float) -> str:
    return f"The model lies {np:.0f} km from zero. Check the units it is exported in."


def the_part_has_no_faces(name: str) -> str:
    return f"the part {name} has no faces"


def the_room_is_on_which_is_no_level(name: str, level: str) -> str:
    return f"the room “{name}” is on “{level}”, which is no level of this project"


def room(number: int) -> str:
    return f"Room {number}"


def level(number: int) -> str:
    return f"Level {number}"
