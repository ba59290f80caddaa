"""What is different between two shots, in words; and settings copied by group from one to another."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np
from pydantic import ValidationError

from zevlo.core.gestures import Refused
from zevlo.core.measures import change_words, length_words
from zevlo.core.optics.back import ratio_name
from zevlo.core.optics.focus import stop_name
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot
from zevlo.core.solve import format_name, shutter_name
from zevlo.core.stand.moves import put_height
from zevlo.core.stand.pose import resolve

CopyGroup = Literal["height", "lens", "back", "movements", "focus", "exposure", "guides", "left_out"]
COPY_GROUPS: tuple[CopyGroup, ...] = get_args(CopyGroup)


@dataclass(frozen=True)
class Difference:
    """One thing that is other: the group it belongs to, and how it was and is."""

    group: str
    words: str


def by_its_id(part: str) -> str:
    """What a part is called where its set is not at hand: the end of its id."""
    return part.rsplit("/", 1)[-1]


def differences(before: Shot, after: Shot, called: Callable[[str], str] = by_its_id) -> list[Difference]:
    """What of a shot is other than it was, in the order of the instruments; the name does not count.

    ``called``: the name of a part by its id.
    """
    found = [Difference("stand", words) for words in _of_stand(before, after, called)]
    found += [Difference("lens", words) for words in _of_lens(before, after)]
    found += [Difference("back", words) for words in _of_back(before, after)]
    for key, name in (("rise_mm", "rise"), ("cross_mm", "cross")):
        a, b = getattr(before.movements, key), getattr(after.movements, key)
        if a != b:
            found.append(Difference("movements", f"{name} {a:.3g} → {b:.3g} mm"))
    if before.movements.image_circle_mm != after.movements.image_circle_mm:
        found.append(Difference("movements", "another image circle"))
    found += [Difference("focus", words) for words in _of_focus(before, after)]
    if before.exposure.shutter_s != after.exposure.shutter_s:
        a, b = shutter_name(before.exposure.shutter_s), shutter_name(after.exposure.shutter_s)
        found.append(Difference("exposure", f"{a} → {b}"))
    if before.exposure.iso != after.exposure.iso:
        found.append(Difference("exposure", f"ISO {before.exposure.iso:.4g} → {after.exposure.iso:.4g}"))
    if before.guides != after.guides:
        found.append(Difference("guides", "other guides"))
    if set(before.left_out) != set(after.left_out):
        a, b = len(before.left_out), len(after.left_out)
        found.append(Difference("left_out", f"left out {a} → {b}" if a != b else "others left out"))
    return found


def _of_stand(before: Shot, after: Shot, called: Callable[[str], str]) -> list[str]:
    words = []
    a, b = resolve(before.stand), resolve(after.stand)
    moved = float(np.linalg.norm(b.position - a.position))
    if moved > 5e-4:
        words.append(f"moved {length_words(moved)}")
    turn = (b.heading_deg - a.heading_deg + 180.0) % 360.0 - 180.0
    if abs(turn) > 0.05:
        words.append(f"turned {abs(turn):.1f}° {'right' if turn > 0 else 'left'}")
    if abs(b.pitch_deg - a.pitch_deg) > 0.05:
        words.append(f"pitch {a.pitch_deg:.1f}° → {b.pitch_deg:.1f}°")
    if before.stand.roll_deg != after.stand.roll_deg:
        words.append(f"roll {before.stand.roll_deg:.1f}° → {after.stand.roll_deg:.1f}°")
    if (before.stand.above_floor_m is None) != (after.stand.above_floor_m is None):
        words.append("stays above floor" if before.stand.above_floor_m is None else "no longer stays above floor")
    was, now = before.stand.follow, after.stand.follow
    if now is not None and (was is None or was.part != now.part):
        words.append(f"follows {'a point' if now.part is None else called(now.part)}")
    elif was is not None and now is None:
        words.append(f"lets {'a point' if was.part is None else called(was.part)} go")
    if not words and abs(b.aim_distance - a.aim_distance) > 5e-4:
        words.append(f"aim {change_words(a.aim_distance, b.aim_distance)} away")
    return words


def _of_lens(before: Shot, after: Shot) -> list[str]:
    a, b = before.lens, after.lens
    words = []
    if a.focal_length_mm != b.focal_length_mm:
        words.append(f"{a.focal_length_mm:.4g} → {b.focal_length_mm:.4g} mm")
    if a.projection != b.projection:
        words.append(f"{a.projection} → {b.projection}")
    elif a.scale_m is not None and b.scale_m is not None and a.scale_m != b.scale_m:
        words.append(f"{change_words(a.scale_m, b.scale_m)} wide")
    told = {name: getattr(b, name) for name in ("focal_length_mm", "projection", "scale_m")}
    if a.model_copy(update=told) != b:
        words.append("other lens settings")
    return words


def _of_back(before: Shot, after: Shot) -> list[str]:
    a, b = before.back, after.back
    words = []
    if (a.width_mm, a.height_mm) != (b.width_mm, b.height_mm):
        words.append(f"{format_name(a.width_mm, a.height_mm)} → {format_name(b.width_mm, b.height_mm)}")
    if a.output_px != b.output_px:
        first, then = ratio_name(*a.output_px), ratio_name(*b.output_px)
        pixels = f"{a.output_px[0]} × {a.output_px[1]} → {b.output_px[0]} × {b.output_px[1]} px"
        words.append(pixels if first == then else f"{first} → {then}")
    if (a.cut, a.enlarge, a.trim) != (b.cut, b.enlarge, b.trim):
        words.append("cut otherwise")
    return words


def _of_focus(before: Shot, after: Shot) -> list[str]:
    a, b = before.focus, after.focus
    words = []
    if a.f_number != b.f_number:
        first, then = ("all sharp" if n is None else stop_name(n) for n in (a.f_number, b.f_number))
        words.append(f"{first} → {then}")
    if a.distance_m != b.distance_m:
        words.append(f"focus {change_words(a.distance_m, b.distance_m)}")
    told = {name: getattr(b, name) for name in ("f_number", "distance_m", "probes")}
    if a.model_copy(update=told) != b:
        words.append("blur judged otherwise" if a.blur_limit != b.blur_limit else "other blur shape")
    return words


def copied(source: Shot, target: Shot, groups: Iterable[CopyGroup], working: WorkingSet) -> Shot:
    """The target with chosen groups of the source's settings. Raises :class:`Refused` where they do not go together."""
    changed = target
    try:
        for group in groups:
            if group == "height":
                changed = _at_height_of(source, changed, working)
            elif group == "left_out":
                changed = changed.model_copy(update={"left_out": source.left_out})
        whole = {g: getattr(source, g) for g in groups if g not in ("height", "left_out")}
        return changed.with_groups(**whole)
    except ValidationError as error:
        raise Refused("; ".join(str(e["msg"]).removeprefix("Value error, ") for e in error.errors())) from error


def _at_height_of(source: Shot, target: Shot, working: WorkingSet) -> Shot:
    floor, there = (working.whole.floor_under(np.array(shot.stand.position)) for shot in (source, target))
    if floor is None or there is None:
        raise Refused("There is no floor under one of the stands, so the height above it cannot be copied.")
    above = source.stand.position[2] - floor
    stand = put_height(target.stand, there + above)
    if source.stand.above_floor_m is not None:
        stand = stand.model_copy(update={"above_floor_m": above})
    return target.with_groups(stand=stand)
