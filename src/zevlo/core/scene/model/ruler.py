"""How lengths of a set are told: in metres of a building, in centimetres or millimetres of what stands on a table."""

from __future__ import annotations

from typing import Literal

from zevlo.core.arrays import Floats
from zevlo.core.bases import Settings
from zevlo.core.scene.model.support_plane import SMALL_M

IN_A_HAND_M = 0.6
"""What is smaller than this is judged beside a hand, not beside a person (our convention)."""
FINE_M = 0.3
HAND_M = 0.18
"""Length of a grown-up's hand, wrist to fingertip (common practice, no source: 17 to 19 cm)."""
PERSON_M = 1.75
_STAVES_M = ((0.1, 0.02), (0.3, 0.1), (1.0, 0.2), (3.0, 1.0))


class Ruler(Settings):
    """``unit`` with ``digits`` behind the point, ``metres`` each; what one press of an arrow key adds, and how far it
    walks, or walks with Shift; how long the levelling staff is and how far apart its numbers are; what the set is seen
    beside, to judge its size."""

    unit: Literal["m", "cm", "mm"] = "m"
    metres: float = 1.0
    digits: int = 2
    step_m: float = 0.05
    walk_m: float = 0.2
    stride_m: float = 1.0
    staff_m: float = 3.0
    mark_m: float = 1.0
    beside: Literal["person", "hand"] = "person"
    beside_m: float = PERSON_M


def ruler_for(body: Floats) -> Ruler:
    """The ruler of a set. ``body`` (2, 3): its box, without the ground and stand-ins."""
    size = float((body[1] - body[0]).max())
    if size >= SMALL_M:
        return Ruler()
    staff, mark = next(pair for pair in _STAVES_M if pair[0] >= min(1.5 * size, _STAVES_M[-1][0]))
    shown = Ruler(unit="cm", metres=0.01, digits=1, step_m=0.005, walk_m=0.02, stride_m=0.1, staff_m=staff, mark_m=mark)
    if size < FINE_M:
        finer = {"unit": "mm", "metres": 0.001, "step_m": 0.0005, "walk_m": 0.002, "stride_m": 0.01}
        shown = shown.model_copy(update=finer)
    if size < IN_A_HAND_M:
        shown = shown.model_copy(update={"beside": "hand", "beside_m": HAND_M})
    return shown


_FAR = {"m": 0.0, "cm": 3.0, "mm": 1.0}


def length_on(ruler: Ruler, length_m: float) -> str:
    """A length as a ruler tells it: ``12.5 mm``; what is far in a small set in metres there too."""
    if ruler.unit == "m" or abs(length_m) >= _FAR[ruler.unit]:
        return f"{length_m + 0.0:.2f} m"
    return f"{length_m / ruler.metres + 0.0:.{ruler.digits}f} {ruler.unit}"


USUAL_STEP_M = 0.1


def usual_step(ruler: Ruler) -> float:
    """How far one move of a grip goes until a hand chose: about a fiftieth of a set of its kind."""
    return {"m": USUAL_STEP_M, "cm": 0.01, "mm": 0.001}[ruler.unit]
