"""Projects, shots, takes, prints, documents as they are kept."""

TAKEN_UP_AGAIN_AFTER = "Taken up again after an interruption"
WAITING_FOR_THE_LAB = "Waiting for the lab"
EACH_TIME = "each time"
SETTING_UP_THE_SET = "Setting up the set"
THE_LIST_OF_PROJECTS = "The list of projects"
THIS_PROJECT = "This project"
THAT_IS_NOT_THERE_ANY_MORE_IT_MAY_HAVE = "That is not there any more; it may have been deleted."
THERE_IS_NOTHING_TO_TAKE = "there is nothing to take back"
WHAT_THIS_CHANGE_WAS_ABOUT = "What this change was about is not there any more."
THIS_WAS_CHANGED_ELSEWHERE = "This was changed elsewhere meanwhile. What you see now is the newer state; do it again."
BEGINNING = "Beginning"
A_SHOT_THESE_DOCUMENTS = "A shot these documents are of is not there any more."
THERE_ARE_NO_SUCH = "There are no such documents; they may have been thrown away."
THESE_DOCUMENTS_ARE_BEING = "These documents are being made already."
THERE_IS_NO_SUCH = "There is no such order; it may have been deleted."
THIS_PRINT_IS_NOT_WAITING = "This print is not waiting any more."
A_SHOT_OF_THIS_ORDER = "A shot of this order is not there any more."
THERE_IS_NO_SUCH_PRINT = "There is no such print; it may have been deleted."
ONLY_A_PRINT_THAT_IS_WAITING = "Only a print that is waiting or being made can be paused."
ONLY_A_FAILED_CANCELLED = "Only a failed, cancelled or paused print can be put back in the queue."
DAYLIGHT = "Daylight"
CORRECT_HOW_THE_SET = "Correct how the set is placed"
THERE_IS_NO_SUCH_PROJECT = "There is no such project; it may have been deleted."
THIS_PROJECT_HAS_NO_SET = "This project has no set."
THERE_IS_NO_SUCH_SHOT = "There is no such shot; it may have been deleted."
LABELS = "Labels"
COLOUR = "Colour"
NO_PAIR_WAS_MADE = "No pair was made under that id."
A_SHOT_WAS_MADE = "A shot was made under that id before, and is not there any more."
LOCK = "Lock"
UNLOCK = "Unlock"
THE_SHOT_WAS_DELETED = "The shot was deleted since"
THE_CROP = "the crop"
THE_SET = "the set"
THERE_IS_NO_SUCH_TAKE = "There is no such take; it may have been deleted."
NOTHING_WAS_KEPT_OF_THIS_SHOT = "Nothing was kept of this shot yet."


def the_lab_was_interrupted(count: int) -> str:
    return f"The lab was interrupted {count} times while making this print"


def because_the_machine_had(interrupted: str, times: str) -> str:
    return (
        f"{interrupted}, {times} because the machine had no memory left. The set may be too large for it: use a "
        "simpler one, or close other programs, and retry."
    )


def its_program_was_stopped(interrupted: str) -> str:
    return f"{interrupted}: its program was stopped each time, and not for want of memory. Retry when the lab stays up."


def of_them(for_memory: int) -> str:
    return f"{for_memory} of them"


def is_busy_something_large(what: str) -> str:
    return f"{what} is busy: something large is being written in it. Nothing was changed; try again soon."


def the_newest_change_is(label: str) -> str:
    return f"the newest change is “{label}”"


def something_was_changed_elsewhere(now: str) -> str:
    return f"Something was changed elsewhere meanwhile: {now}. Look at it and press again."


def the_lab_was_interrupted_times(tries: int) -> str:
    return (
        f"The lab was interrupted {tries} times while making these documents. Ask for fewer shots at a time, "
        "or retry when the lab stays up."
    )


def throw_away_documents(number: int) -> str:
    return f"Throw away documents {number}"


def tile_by_tile_of_without(done: int, count: int, everywhere: object) -> str:
    return f"Tile by tile, {done} of {count} without grain; {everywhere} samples everywhere"


def forget_order(number: int) -> str:
    return f"Forget order {number}"


def throw_away_a_of(kind: str, name: str) -> str:
    return f"Throw away a {kind} of “{name}”"


def new_project(name: str) -> str:
    return f"New project “{name}”"


def delete_project(name: str) -> str:
    return f"Delete project “{name}”"


def move_in_the_shot(name: str) -> str:
    return f"Move “{name}” in the shot list"


def name_by_what_it_shows(name: str) -> str:
    return f"Name “{name}” by what it shows"


def a_pair_of_front(name: str) -> str:
    return f"A pair of “{name}”: front and back sharp"


def thing_of(what: str, name: str) -> str:
    return f"{what} of “{name}”"


def delete(name: str) -> str:
    return f"Delete “{name}”"


def is_locked_unlock_it_to_change(name: str) -> str:
    return f"“{name}” is locked. Unlock it to change it."


def is_locked_unlock_it_to_delete(name: str) -> str:
    return f"“{name}” is locked. Unlock it to delete it."


def changed_since(changed: str) -> str:
    return f"Changed since: {changed}"


def name_take_of(number: int, name: str) -> str:
    return f"Name take {number} of “{name}”"


def back_to_take(name: str, number: int) -> str:
    return f"“{name}” back to take {number}"


def keep_as_take(name: str, number: int) -> str:
    return f"Keep “{name}” as take {number}"
