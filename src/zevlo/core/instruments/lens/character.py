"""What a lens does that a plain one does not: lines that bend, focus that changes the angle."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import Field

from zevlo.core.camera.from_shot import Framing, corner_mm
from zevlo.core.instruments.instrument import Gesture, Scene
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.lens import MOST_BEND, Distortion, changed
from zevlo.text import lens as say


class BendTo(Gesture):
    """Barrel or pincushion, by how far it moves the corner of the fitted back: a share of how far out that would be."""

    kind: Literal["bend_to"] = "bend_to"
    corner: float = Field(ge=-0.25, le=1.0)
    """Below 0 a barrel, which draws the corner nearer to the middle."""

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        if shot.lens.projection != "perspective":
            raise Refused(say.ONLY_A_PICTURE_IN_PERSPECTIVE)
        # What would lie at r is drawn at r·(1 + k1·r²), and that is the corner.
        r = corner_mm(shot) / framing.film_distance_mm / (1.0 + self.corner)
        wanted = self.corner / r**2
        held = min(max(wanted, -MOST_BEND), MOST_BEND)
        made = shot.with_groups(lens=changed(shot.lens, distortion=Distortion(k1=held)))
        if held != wanted:
            raise Refused(say.that_takes_a_bend(wanted, held), nearest=made)
        return made


class Breathing(Gesture):
    """Whether focusing nearer makes the picture narrower, as with a lens that moves out as a whole."""

    kind: Literal["breathing"] = "breathing"
    on: bool

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        return shot.with_groups(lens=changed(shot.lens, focus_breathing=self.on))


def bent_by(framing: Framing) -> float | None:
    """What :class:`BendTo` would have been told; None where nothing is drawn at the corner."""
    shot = framing.shot
    if shot.lens.distortion.none:
        return 0.0
    corner, law = corner_mm(shot), framing.law
    _, _, across, _, ahead, sees = law.rays(np, np.float64(corner), np.float64(0.0))
    if not sees:
        return None
    return float(corner / (framing.film_distance_mm * across / ahead) - 1.0)
