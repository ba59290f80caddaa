"""Orders of finals: sizes, names, qualities."""

A_OR_STANDS_ALONE = "a { or } stands alone; fields are written {number}"
NAMES_OF_FILES_HAVE = 'names of files have none of < > : " / \\ | ? *'
AT_LEAST_ONE_OF_PNG = "at least one of PNG, JPEG and OpenEXR is needed"
LAYERS_ARE_WRITTEN_INTO_AN_OPENEXR = "layers are written into an OpenEXR; none is asked for"
A_LAYER_IS_ASKED = "a layer is asked for twice"
A_PICTURE_IS_ASKED = "a picture is asked for twice in the same size"
TO_LOOK_AT_THE_LIGHT = "To look at: the light, the framing"
FOR_SCREENS = "For screens"
FOR_PAPER_AND_FOR_SCREENS = "For paper, and for screens looked at closely"
MUCH_GLASS_MANY_MIRRORS = "Much glass, many mirrors: as fine, and light is followed farther"


def a_pattern_has_letters(letters: int) -> str:
    return f"a pattern has {letters} letters at most"


def is_nothing_a_name(field: str, names: str) -> str:
    return f"{{{field}}} is nothing a name can tell; there is {names}"


def this_order_comes_to_pixels(all_px: str, count: int, fit: int, smaller: int) -> str:
    return (
        f"This order comes to {all_px} pixels in {count} pictures, more than is taken at once. Order the "
        f"first {fit} of them, or all at {smaller} % of their size."
    )


def million(pixels: float) -> str:
    return f"{pixels:,.0f} million"


def a_picture_of_px(width: int, height: int, width_2: str, px: str, side: int) -> str:
    return (
        f"A picture of {width} × {height} px is {width_2} pixels; up to {px} are made in one. {side} px on "
        "its longer side would do."
    )


def a_pattern_of_names_is_needed(example: str) -> str:
    return f"a pattern of names is needed, as {example}"
