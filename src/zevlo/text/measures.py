"""Measures that were typed, and what in a JSON file is not as it should be."""

FILM_EXAMPLES = "35, 35 mm, 1.4 in or 24+1"
TIME_EXAMPLES = "1/125, 0.5 s or 2 min"
PIXEL_EXAMPLES = "3840, 1920*2, 297 mm or 11 in"
A_LENGTH = "a length"
AN_ANGLE = "an angle"
A_TIME = "a time"
A_NUMBER = "a number"
A_SIZE_OF_A_PICTURE = "a size of a picture"
IT_HAS_TO_BE_AN_OBJECT = "it has to be an object, { … }"
IT_HAS_TO_BE_A_LIST = "it has to be a list, [ … ]"
SOMETHING_IN_IT_IS_OF_ANOTHER = "something in it is of another kind than it should be"
IT_REFERS_TO_SOMETHING = "it refers to something that is not there"
A_NUMBER_IN_IT_IS_0 = "a number in it is 0 that must not be"
A_NUMBER_IN_IT_IS_OUT = "a number in it is out of all range"
SOMETHING_THAT_IS_NO_JSON = "something that is no JSON"
SOMETHING_IS_MISSING_IN_IT = "something is missing in it"
SOMETHING_IS_MISSING = "something is missing"


def is_not_solved_by_this_version(what: str, allowed: str) -> str:
    return f"{what} is not solved by this version; it may only be {allowed}"


def is_not_write_for_example(shown: str, what: str, examples: str) -> str:
    return f"“{shown}” is not {what}. Write for example {examples}."


def there_is_no_such(where: str) -> str:
    return f"{where}: there is no such key"


def it_has_no(args: str) -> str:
    return f"it has no “{args}”"


def it_is_missing(where: str) -> str:
    return f"{where}: it is missing"


def got(where: str, error: str, words: str) -> str:
    return f"{where}: got {error}; {words}"
