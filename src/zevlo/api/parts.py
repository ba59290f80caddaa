"""The parts of a project's set as the desk sees them: the file's, then those of the stand-ins."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property
from typing import Any

from zevlo.api.set_messages import PartOut
from zevlo.core.framing.differences import by_its_id
from zevlo.core.scene.arrangement import Arrangement
from zevlo.core.scene.model.part_ids import ids_of, numbers_by_id
from zevlo.core.scene.model.set_model import with_all_below
from zevlo.core.scene.stand_ins.made import stand_ins_alone


def parts_out(summary: dict[str, Any], arrangement: Arrangement) -> list[PartOut]:
    """All parts of a set: the file's, then those of the stand-ins."""
    listed = summary["parts"]
    if all("id" in part for part in listed):
        parts = [PartOut.model_construct(**part) for part in listed]
    else:
        ids = ids_of([("", part["name"], part["parent"]) for part in listed])
        parts = [PartOut.model_construct(**part, id=own) for part, own in zip(listed, ids, strict=True)]
    own = len(parts)
    if arrangement.stand_ins:
        parts += [
            PartOut(name=p.name, parent=None if p.parent is None else own + p.parent, triangles=p.face_count, id=p.id)
            for p in stand_ins_alone(arrangement.stand_ins).parts
        ]
    return parts


class Parts:
    """The parts of a project's set by their ids."""

    def __init__(self, parts: Sequence[PartOut]) -> None:
        self._parts = parts

    @cached_property
    def _numbers(self) -> dict[str, int]:
        return numbers_by_id([p.id for p in self._parts], [(p.name, p.parent) for p in self._parts])

    def called(self, part: str) -> str:
        """The name of a part by its id; the end of the id where the set has no such part."""
        number = self._numbers.get(part)
        return by_its_id(part) if number is None else self._parts[number].name

    def with_all_below(self, ids: Sequence[str]) -> list[int]:
        """Numbers of parts left out or lifted off, with all below them."""
        return with_all_below(
            {self._numbers[one] for one in ids if one in self._numbers}, [p.parent for p in self._parts]
        )
