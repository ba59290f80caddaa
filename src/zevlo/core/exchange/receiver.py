"""Other programs' worlds: their unit, their upright axis, and where a set lies in them."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.exchange.camera_record import CameraRecord, NoCamera
from zevlo.core.optics.lens import Window
from zevlo.text import cameras as say

_TO_Y_UP: Floats = np.array([(1.0, 0.0, 0.0, 0.0), (0.0, 0.0, 1.0, 0.0), (0.0, -1.0, 0.0, 0.0), (0.0, 0.0, 0.0, 1.0)])


@dataclass(frozen=True)
class Receiver:
    """Another program's world: its unit, its upright axis, and how a set lies in it otherwise."""

    metres_per_unit: float = 1.0
    up: str = "z"
    placing: Floats | None = None
    """A set's own placing, file to world (4, 4), that is to be undone; ``up`` then only tells the axis it has."""

    @property
    def turn(self) -> Floats:
        """Ours to theirs, (4, 4): axes and places, lengths in metres still."""
        if self.placing is None:
            return _TO_Y_UP if self.up == "y" else np.eye(4)
        scale = float(np.cbrt(np.linalg.det(self.placing[:3, :3])))
        back = self.placing.copy()
        back[:3, :3] /= scale
        return np.asarray(np.linalg.inv(back))

    def give(self, camera: CameraRecord) -> CameraRecord:
        """A camera as it stands in their world; its place in their units, all else in ours."""
        matrix = self.turn @ camera.matrix
        matrix[:3, 3] /= self.metres_per_unit
        return replace(camera, matrix=matrix)

    def take(self, camera: CameraRecord) -> CameraRecord:
        """The other way round."""
        matrix = camera.matrix.copy()
        matrix[:3, 3] *= self.metres_per_unit
        return replace(camera, matrix=np.linalg.inv(self.turn) @ matrix, told_m=float(np.abs(matrix[:3, 3]).max()))

    def in_metres_with_y_up(self) -> Receiver:
        """This world for what always has metres and Y up; a set's own placing is undone but for its unit and axis."""
        if self.placing is None:
            return Receiver(1.0, "y")
        turned = self.placing if self.up == "y" else self.placing @ np.linalg.inv(_TO_Y_UP)
        return Receiver(1.0, "y", turned)

    def in_world_of(self, metres_per_unit: object, up: object) -> Receiver:
        """This world, or the one a file says it is in. Raises :class:`NoCamera` where it says one that cannot be."""
        if self.placing is not None or (metres_per_unit in (None, "") and up in (None, "")):
            return self
        try:
            metres = self.metres_per_unit if metres_per_unit in (None, "") else float(metres_per_unit)  # type: ignore[arg-type]
        except (TypeError, ValueError):
            metres = 0.0
        axis = self.up if up in (None, "") else up
        if not 1.0e-6 <= metres <= 1.0e4 or axis not in ("y", "z"):
            raise NoCamera(say.ITS_WORLD_HAS_A_UNIT)
        return replace(self, metres_per_unit=metres, up=str(axis))

    @property
    def of_places(self) -> Floats:
        """Ours to theirs, (4, 4), of places: lengths too."""
        places = self.turn.copy()
        places[:3] /= self.metres_per_unit
        return places


def in_another_unit(camera: CameraRecord, times: float) -> CameraRecord:
    """A camera whose other lengths are told in another unit too: near and far clip, focus, the width of what is
    parallel."""
    if times == 1.0:
        return camera
    window = camera.window
    if camera.distance_mm is None:
        window = Window(*(end * times for end in (window.left, window.right, window.bottom, window.top)))
    near, far, focus = (None if one is None else one * times for one in (camera.near_m, camera.far_m, camera.focus_m))
    return replace(camera, window=window, near_m=near, far_m=far, focus_m=focus)
