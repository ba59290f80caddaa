"""Placing, naming and comparing shots."""

CROSS_LEFT = "cross left"
DRAG_FROM_THE_STAND = "Drag from the stand to the aim: they need to be at least 1 cm apart."
TABLETOP = "tabletop"
COUNTER = "counter"
SEATED_EYE = "seated eye"
STANDING_EYE = "standing eye"
LIVING_SPACE = "Living space"
STANDING_LEVEL = "Standing, level"
SEATED_LEVEL = "Seated, level"
COUNTER_LEVEL = "Counter, level"
A_SET_OF_PRIMES = "a set of primes is called like one that is offered"
TWO_THAT_ARE_KEPT = "two that are kept have the same name"
THAT_PART_IS_NOT_IN_THE_SET = "That part is not in the set any more."
THERE_IS_NOTHING_IN_THAT_PART = "There is nothing in that part to look at."
THE_STACK = "the stack"
FROM_A_CORNER = "From a corner"
FROM_A_DOORWAY = "From a doorway"


def parallel_wide(ruler: str) -> str:
    return f"parallel, {ruler} wide"


def there_are_marks_on_the_staff(marks: int) -> str:
    return f"There are {marks} marks on the staff already. Remove one first."


def there_is_no_set(primes: str) -> str:
    return f"there is no set of primes “{primes}”"


def looking(direction: str) -> str:
    return f"looking {direction}"


def looking_of(words: str, direction: str) -> str:
    return f"{words}, looking {direction}"


def square_on_to_the_m(length: float) -> str:
    return f"Square on to the {length:.1f} m wall"


def stays(side: str, a: str) -> str:
    return f"{side} {a} stays"
