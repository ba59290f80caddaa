"""How film and world belong together: the projections there are to choose from."""

from __future__ import annotations

from typing import Literal

from zevlo.core.bases import Settings
from zevlo.core.camera.from_shot import Framing, width_before_enlarge_mm
from zevlo.core.instruments.instrument import Gesture, Scene
from zevlo.core.shot import Shot
from zevlo.core.shot.lens import Distortion, FisheyeLaw, Lens, Projection, changed, with_scale
from zevlo.text import lens as say


class ProjectionOffer(Settings):
    """A projection to choose, with its words."""

    words: str
    projection: Projection
    fisheye_law: FisheyeLaw | None = None


PROJECTIONS = (
    ProjectionOffer(words=say.PERSPECTIVE, projection="perspective"),
    ProjectionOffer(words=say.PARALLEL, projection="parallel"),
    ProjectionOffer(words=say.FISHEYE_EQUIDISTANT, projection="fisheye", fisheye_law="equidistant"),
    ProjectionOffer(words=say.FISHEYE_EQUISOLID, projection="fisheye", fisheye_law="equisolid"),
    ProjectionOffer(words=say.FISHEYE_STEREOGRAPHIC, projection="fisheye", fisheye_law="stereographic"),
    ProjectionOffer(words=say.CYLINDRICAL, projection="cylindrical"),
)


def projection_words(lens: Lens) -> str:
    """What the projection of a lens is called."""
    law = lens.fisheye_law if lens.projection == "fisheye" else None
    return next(one.words for one in PROJECTIONS if (one.projection, one.fisheye_law) == (lens.projection, law))


def in_parallel(shot: Shot, scale_m: float) -> Shot:
    """The shot in parallel projection, so wide in the world; a turned lens goes straight, for it would do nothing."""
    return shot.with_groups(lens=with_scale(shot.lens, scale_m), movements=shot.movements.unturned)


class ProjectionTo(Gesture):
    """Another projection. Parallel: as wide as what the frame holds at the aim. The focal length stays for the way
    back; what bends a perspective picture, and tilt and swing, go."""

    kind: Literal["projection_to"] = "projection_to"
    projection: Projection
    fisheye_law: FisheyeLaw | None = None
    """Of a fisheye; null leaves the one there was."""

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        law = shot.lens.fisheye_law if self.fisheye_law is None else self.fisheye_law
        if self.projection == shot.lens.projection:
            return shot.with_groups(lens=changed(shot.lens, fisheye_law=law))
        if self.projection != "parallel":
            other = changed(
                shot.lens, projection=self.projection, scale_m=None, fisheye_law=law, distortion=Distortion()
            )
            return shot.with_groups(lens=other, movements=shot.movements.unturned)
        camera = framing.camera
        wide = width_before_enlarge_mm(shot) / camera.law.film_per_metre(camera.pose.aim_distance)
        return in_parallel(shot, wide)
