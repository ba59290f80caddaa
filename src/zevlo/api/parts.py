"""The parts of a project's set as the desk sees them: the file's, then those of the stand-ins."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property
from typing import Any

from zevlo.api.messages import PartOut
from zevlo.core.scene.arrangement import Arrangement
from zevlo.core.scene.model import part_paths, with_all_below
from zevlo.core.scene.stand_ins import stand_ins_alone


def parts_out(summary: dict[str, Any], arrangement: Arrangement) -> list[PartOut]:
    """All parts of a set: the file's, then those of the stand-ins."""
    parts = [PartOut.model_construct(**part) for part in summary["parts"]]
    own = len(parts)
    if arrangement.stand_ins:
        parts += [
            PartOut(name=p.name, parent=None if p.parent is None else own + p.parent, triangles=p.face_count)
            for p in stand_ins_alone(arrangement.stand_ins).parts
        ]
    return parts


class Parts:
    """The parts of a project's set by their paths."""

    def __init__(self, told: Sequence[PartOut]) -> None:
        self._told = told

    @cached_property
    def _numbers(self) -> dict[str, int]:
        return {path: n for n, path in enumerate(part_paths([(p.name, p.parent) for p in self._told]))}

    def left_out(self, paths: Sequence[str]) -> list[int]:
        """Numbers of parts left out, with all below them."""
        return with_all_below(
            {self._numbers[path] for path in paths if path in self._numbers}, [p.parent for p in self._told]
        )
