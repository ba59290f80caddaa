"""What was pressed in a picture or dragged on a drawing."""

THE_CAMERA_LOOKS_STRAIGHT = "The camera looks straight down or up: drag this in the section instead."
THAT_IS_BEHIND_THE_CAMERA = "That is behind the camera; keep it in front of it."
THERE_IS_ONLY_SKY = "There is only sky at that place; press something in the set."


def is_in_the_way(name: str) -> str:
    return (
        f"“{name}” is in the way there: it is only lifted off while working, and pictures show it. Put it "
        "back, or leave it out of this shot."
    )
