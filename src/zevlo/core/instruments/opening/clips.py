"""Near and far clip, taken hold of on a drawing."""

from __future__ import annotations

from typing import Literal

from zevlo.core.bases import Coordinate
from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.on_paper import depth_on_paper
from zevlo.core.instruments.instrument import Gesture, Scene
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.lens import changed
from zevlo.text import opening as say

APART = 1.001
"""How many times farther than the near clip the far clip stays."""


class BoundOnPaper(Gesture):
    """The near or the far clip is put through a place on a drawing: metres on the paper of plan or section."""

    kind: Literal["bound_on_paper"] = "bound_on_paper"
    which: Literal["near", "far"]
    drawing: Literal["plan", "section"]
    x: Coordinate
    y: Coordinate

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        depth = depth_on_paper(framing.camera, self.drawing, self.x, self.y)
        own = shot.lens
        if self.which == "near":
            if own.far_m is not None and depth * APART > own.far_m:
                raise Refused(say.THE_NEAR_CLIP_HAS_TO_STAY)
            return shot.with_groups(lens=changed(own, near_m=depth))
        if depth < own.near_m * APART:
            raise Refused(say.THE_FAR_CLIP_HAS_TO_STAY)
        return shot.with_groups(lens=changed(own, far_m=depth))
