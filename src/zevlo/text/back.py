"""Back: size, fit, trim, crops."""

BACK_AND_SIZE = "Back and size"
CROPS = "Crops"
PAGE_AND_SQUARE = "Page and square"
A_CROP_OF_THAT_NAME = "A crop of that name is there already."
THESE_ARE_ALL_THERE = "These are all there."
NO_LENS_IS_AS_SHORT = "No lens is as short as that; let the back give way."
THE_SIDE_OF_THE_WEDGE = "The side of the wedge has to stay in front of the camera."
THIS_LENS_DRAWS_NOTHING = "This lens draws nothing that far aside."
THE_SIDES_OF_THE_WEDGE = "The sides of the wedge have to stay apart."
CUT_OTHERWISE = "cut otherwise"
PRINTED_OTHERWISE = "printed otherwise"
TRIMMED_OTHERWISE = "trimmed otherwise"
THE_WHOLE_FRAME = "the whole frame"
OTHER_CROPS = "other crops"


def there_is_no_crop(name: str, names: str) -> str:
    return f"There is no crop “{name}” in this shot; it has {names}."


def a_shot_has_up_to_crops(crops: int) -> str:
    return f"A shot has up to {crops} crops."


def a_picture_has_up_to_pixels(max_output_side_px: int) -> str:
    return f"A picture has up to {max_output_side_px} pixels a side."


def enlarged_times(enlarge: float, enlarge_2: float) -> str:
    return f"enlarged {enlarge:.3g} → {enlarge_2:.3g} times"


def crops(count: int, count_2: int) -> str:
    return f"crops {count} → {count_2}"
