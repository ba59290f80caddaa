"""What a reader hands on: the set in its file's own coordinates, and what the file says of itself."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path

from zevlo.core.scene.model.placing import Up
from zevlo.core.scene.model.set_model import SetModel
from zevlo.core.scene.places.levels import Level, Room

Progress = Callable[[str, float | None], None]
"""Told what is being done, in words, and its share done where that is known."""


def unheard(_what: str, _share: float | None) -> None:
    """Progress nobody listens to."""


def stem_of(name: str) -> str:
    """A file's name without folder and ending: what a set of one part is called."""
    return name.rsplit("/", 1)[-1].rsplit(".", 1)[0]


@dataclass(frozen=True)
class FromFile:
    """A file's set as it is in the file. None: the file does not say, and it is to be guessed.

    Levels and rooms are in metres, in the file's axes with Z up. ``north_deg``: where north lies, clockwise from +Y.
    """

    model: SetModel
    kind: str
    metres_per_unit: float | None = None
    up: Up | None = None
    likely_unit: str = "m"
    likely_up: Up = "z"
    levels: tuple[Level, ...] = ()
    rooms: tuple[Room, ...] = ()
    north_deg: float | None = None
    latitude_deg: float | None = None
    longitude_deg: float | None = None
    remarks: tuple[str, ...] = field(default=())
    """What was left behind, in words."""


@dataclass(frozen=True)
class Arrival:
    """A file to read, with the files that came beside it: their names in lower case, with forward slashes."""

    path: Path
    name: str
    beside: dict[str, Path] = field(default_factory=dict)

    def companion(self, name: str) -> Path | None:
        """A file that came beside this one, by the name the model gives it, or by its last part alone."""
        wanted = name.replace("\\", "/").lower()
        folder = self.name.replace("\\", "/").lower().rpartition("/")[0]
        steps: list[str] = []
        for step in (f"{folder}/{wanted}" if folder else wanted).split("/"):
            if step == "..":
                if steps:
                    steps.pop()
            elif step not in ("", "."):
                steps.append(step)
        exact = self.beside.get("/".join(steps))
        if exact is not None:
            return exact
        last = wanted.rsplit("/", 1)[-1]
        return next((path for other, path in self.beside.items() if other.rsplit("/", 1)[-1] == last), None)
