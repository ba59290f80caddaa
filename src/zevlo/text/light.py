"""Light."""

THE_FIRST = "the first"
ANOTHER_LIGHT = "another light"


def light(a: str, b: str) -> str:
    return f"light {a} → {b}"


def there_is_no_light(name: object, names: str) -> str:
    return f"There is no light “{name}” in this project, only {names}."
