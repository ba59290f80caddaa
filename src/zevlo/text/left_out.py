"""Left out."""

LEFT_OUT = "Left out"
WHAT_IS_LEFT_OUT = "What is left out"
OTHERS_LEFT_OUT = "others left out"


def left_out(a: int, b: int) -> str:
    return f"left out {a} → {b}"
