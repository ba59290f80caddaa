"""Opening: clips and cutting plane."""

OPENING = "Opening"
NEAR_CLIP = "near clip"
FAR_CLIP = "far clip"
THE_SET_OPENED = "the set opened"
OPENED_OTHERWISE = "opened otherwise"
ALL_OF_THE_SET = "all of the set"
WHAT_OPENS_THE_SET = "What opens the set"
THE_FAR_CLIP_HAS_TO_STAY = "The far clip has to stay beyond the near clip."
THE_NEAR_CLIP_HAS_TO_STAY = "The near clip has to stay before the far clip."
THAT_IS_A_FLOOR = "That is a floor or a ceiling; press a wall to stand behind it."
DRAW_THE_LINE_A_LITTLE = "Draw the line a little longer."
THIS_SHOT_HAS_NO_CUTTING = "This shot has no cutting plane."
THE_PLANE_LIES_ALONG = "The plane lies along this drawing; push it in the other one."


def a(name: str) -> str:
    return f"a {name}"


def no(name: str) -> str:
    return f"no {name}"
