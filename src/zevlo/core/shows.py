"""What of a shot its picture shows, by instrument: what makes a print stale, and another small picture necessary.

Where its aim lies along the lens axis, how blur is judged, whether it stays above the floor: none of that is seen.
"""

from __future__ import annotations

from zevlo.core.optics.back import cut_back
from zevlo.core.shot import Shot
from zevlo.core.stand.pose import resolve

Seen = tuple[object, ...]
SHARP_AS_DRAWN = ("stand", "lens", "back", "movements", "left_out")
"""What a small picture shows, which is sharp all over and exposed for itself."""


def shown(shot: Shot) -> dict[str, Seen]:
    """What is seen of each group; equal where no picture of the shot would be other."""
    pose, cut, focus, lens = resolve(shot.stand), cut_back(shot.back), shot.focus, shot.lens
    way = tuple(round(float(v), 10) for v in (*pose.forward, *pose.right))
    blur: Seen = ()
    if focus.f_number is not None and lens.projection == "perspective":
        blades = (focus.blades, focus.blade_rotation_deg) if focus.blades >= 3 else (0, 0.0)
        blur = (focus.f_number, focus.distance_m, *blades, focus.rim_weight)
    elif lens.focus_breathing:
        blur = (focus.distance_m,)
    return {
        "stand": (*shot.stand.position, *way),
        "lens": (lens.focal_length_mm, lens.projection, lens.scale_m, lens.focus_breathing, lens.near_m, lens.far_m),
        "back": tuple(round(side, 9) for side in (cut.left, cut.right, cut.bottom, cut.top)),
        "movements": (shot.movements.rise_mm, shot.movements.cross_mm),
        "focus": blur,
        "exposure": (shot.exposure.shutter_s, shot.exposure.iso),
        "left_out": tuple(sorted(shot.left_out)),
    }
