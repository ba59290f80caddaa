"""A shot as documents tell it: every number a person sets a camera by, in words, metric and in feet."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from math import inf

from zevlo.core.documents.page.paper import INK, Colour
from zevlo.core.framing.lens_line import lens_line, lens_words, stop_words
from zevlo.core.framing.sheet import Sheet
from zevlo.core.framing.solve import solve
from zevlo.core.scene.model.ruler import Ruler, length_on
from zevlo.core.scene.places.levels import NO_CONTEXT, Level, SetContext, level_at
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot
from zevlo.text import documents as say
from zevlo.text import everywhere


@dataclass(frozen=True, eq=False)
class ShotSummary:
    """A shot of a list, with all that documents need of it."""

    key: str
    number: int
    shot: Shot
    sheet: Sheet
    ruler: Ruler
    level: Level | None
    labels: tuple[str, ...] = ()
    colour: Colour = INK
    take: int | None = None
    """Number of the take that has this framing; None: it was not kept."""
    pictures: Mapping[str, float] = field(default_factory=dict)
    """Ratios (width over height) of the pictures there are of it, by what they are known by."""
    remarks: Mapping[str, str] = field(default_factory=dict)
    """What is to be said of each of them."""

    @property
    def name(self) -> str:
        return self.shot.name

    @property
    def place(self) -> str:
        """Level and room."""
        return ", ".join(one for one in (self.sheet.pose.level, self.sheet.pose.room) if one)

    @property
    def parallel(self) -> bool:
        """Whether no lens can take it: it looks along parallel rays."""
        return self.shot.lens.scale_m is not None

    @property
    def lens(self) -> str:
        """``28 mm``, or ``parallel, 6.00 m wide``."""
        return lens_words(self.shot, self.ruler)

    @property
    def law(self) -> str | None:
        """How the lens draws, where it is no plain perspective: ``as an equisolid fisheye``; None where it is."""
        lens, bent = self.shot.lens, self.sheet.lens.bent
        if lens.projection == "fisheye":
            return say.as_a_fisheye(lens.fisheye_law)
        if lens.projection == "cylindrical":
            return say.AS_A_CYLINDER
        if lens.distortion.none:
            return None
        return say.bent(None if bent is None else 100.0 * bent)

    @property
    def stop(self) -> str:
        return stop_words(self.shot)

    @property
    def lens_line(self) -> str:
        return lens_line(self.shot, self.ruler)

    @property
    def stand_line(self) -> str:
        """``1.65 m up · looks NW 316°``."""
        pose = self.sheet.pose
        height = [] if pose.above_floor_m is None else [everywhere.up(self.length(pose.above_floor_m))]
        pitch = [] if abs(pose.pitch_deg) < 0.05 else [say.pitch(pose.pitch_deg).replace("-", "−")]
        return " · ".join([*height, say.looks(pose.compass, pose.heading_deg), *pitch])

    @property
    def size(self) -> str:
        columns, rows = self.sheet.back.output_px
        return f"{columns} × {rows} px"

    def length(self, metres: float) -> str:
        """A length as the set's ruler tells it."""
        return length_on(self.ruler, metres)

    def distance(self, metres: float | None) -> str:
        """The same of what may be infinitely far."""
        return say.INFINITY if metres is None or metres == inf else self.length(metres)


def summary_of(
    key: str,
    number: int,
    shot: Shot,
    working: WorkingSet | None,
    ruler: Ruler,
    where: SetContext = NO_CONTEXT,
    labels: tuple[str, ...] = (),
    colour: Colour = INK,
    take: int | None = None,
) -> ShotSummary:
    """A shot of a list as documents tell it.

    ``key``: the shot's; ``number``: in the shot list; ``working``: the set, None where there is none; ``ruler``: how
    its lengths are told; ``where``: its levels, rooms and north; ``labels``, ``colour``: its own; ``take``: number of
    the take that has this framing."""
    sheet = solve(shot, working, where)
    foot = sheet.pose.floor_z
    level = level_at(where.places, shot.stand.position[2] if foot is None else foot)
    return ShotSummary(key, number, shot, sheet, ruler, level, labels, colour, take)
