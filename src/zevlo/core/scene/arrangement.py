"""How a set stands in its project: what was read from the file, placed in the world, with what was added to it."""

from __future__ import annotations

from pydantic import Field

from zevlo.core.bases import Settings
from zevlo.core.scene.model.placing import Placing, placed
from zevlo.core.scene.model.set_model import SetModel
from zevlo.core.scene.stand_ins.made import MOST_STAND_INS, StandIn, with_stand_ins


class Arrangement(Settings):
    """All that is done to a file's set before anything looks at it."""

    placing: Placing = Placing()
    stand_ins: tuple[StandIn, ...] = Field((), max_length=MOST_STAND_INS)


def arranged(read: SetModel, arrangement: Arrangement) -> SetModel:
    """The set in the world, stand-ins and all."""
    return with_stand_ins(placed(read, arrangement.placing), arrangement.stand_ins)
