"""Opening: what of the set a shot draws: between its clips, and on which side of a cutting plane."""

from __future__ import annotations

from zevlo.core.instruments.instrument import Called, Copied, Instrument, StalenessKey
from zevlo.core.instruments.opening.clips import BoundOnPaper
from zevlo.core.instruments.opening.cutting_plane import CutAtWall, CuttingFlip, CuttingLine, CuttingTo, StandBehind
from zevlo.core.measures import change_words
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot
from zevlo.core.shot.lens import changed
from zevlo.text import opening as say


def differs(before: Shot, after: Shot, _: Called) -> list[str]:
    """Other clips, another cutting plane."""
    a, b = before.lens, after.lens
    words = []
    for key, name in (("near_m", say.NEAR_CLIP), ("far_m", say.FAR_CLIP)):
        was, now = getattr(a, key), getattr(b, key)
        if None not in (was, now) and was != now:
            words.append(f"{name} {change_words(was, now)}")
        elif was != now:
            words.append(say.no(name) if now is None else say.a(name))
    if a.cutting_plane != b.cutting_plane:
        opening = say.THE_SET_OPENED if a.cutting_plane is None else say.OPENED_OTHERWISE
        words.append(say.ALL_OF_THE_SET if b.cutting_plane is None else opening)
    return words


def staleness_key(shot: Shot) -> StalenessKey:
    """All of it is seen."""
    return shot.lens.near_m, shot.lens.far_m, shot.lens.cutting_plane


def _opening_of(source: Shot, target: Shot, _: WorkingSet) -> Shot:
    return target.model_copy(update={"lens": changed(target.lens, cutting_plane=source.lens.cutting_plane)})


OPENING = Instrument(
    key="opening",
    name=say.OPENING,
    settings=("lens.near_m", "lens.far_m", "lens.cutting_plane"),
    gestures=(BoundOnPaper, CutAtWall, StandBehind, CuttingLine, CuttingTo, CuttingFlip),
    differs=differs,
    staleness_key=staleness_key,
    sharp_too=True,
    copied=(Copied("opening", say.WHAT_OPENS_THE_SET, _opening_of),),
)
