"""Shots as the shot list, the drawings and the small pictures see them.

Told once for each state: a list of hundreds is asked for after every change, and all but one are as they were.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any
from urllib.parse import quote

import numpy as np
from sqlalchemy.orm import Session

from zevlo.api.answers import Answers
from zevlo.api.parts import Parts, parts_out
from zevlo.api.shot_messages import CropOut, MarkerOut, ShotOut, TakeOut
from zevlo.core.camera.camera import Camera
from zevlo.core.camera.depth_of_field import zone_in_space
from zevlo.core.camera.from_shot import Framing, camera_of
from zevlo.core.framing.lens_line import lens_line
from zevlo.core.instruments.back.crops import picture_of
from zevlo.core.light.site import Lights
from zevlo.core.optics.back import fit_back, ratio_name
from zevlo.core.scene.model.ruler import Ruler, ruler_for
from zevlo.core.scene.places.levels import SetContext, level_at
from zevlo.core.shot import Shot
from zevlo.core.stand.pose import compass_point, view_matrix
from zevlo.files.summary import body_of
from zevlo.lab.thumbnail import picture_key, seen_of
from zevlo.store.projects import arrangement_of, revision_of, where_of
from zevlo.store.shot_rows import Written, rows_of, settings_of
from zevlo.store.tables import Project, ShotRow, Take
from zevlo.store.takes import same_framing, takes_by_id

_answers: Answers[ShotOut] = Answers()
"""By the writing of each."""
_same: Answers[ShotOut] = Answers()
"""By what is written."""


MARKER_M = 0.45


@dataclass(frozen=True)
class ProjectContext:
    """What all shots of a project share, worked out once for a whole list."""

    where: SetContext
    stands: str
    lights: Lights
    shines: str
    """Those lights in one word: keys are compared often."""
    named: str
    parts: Parts
    ruler: Ruler

    def thumbnail(self, shot: Shot, crop: str | None = None) -> str:
        """Key of a shot's thumbnail, or of a crop's: what it shows, of which set, how that stands, in which light."""
        return picture_key(shot, self.stands, self.lights, crop)


def around(session: Session, project: Project) -> ProjectContext:
    """What all shots of a project share."""
    summary = revision_of(session, project).summary
    arrangement = arrangement_of(project)
    stands, lights = seen_of(project)
    return ProjectContext(
        where_of(project),
        stands,
        lights,
        repr(lights),
        json.dumps([project.places, project.site], sort_keys=True),
        Parts(parts_out(summary, arrangement)),
        ruler_for(np.array(body_of(summary, arrangement.placing))),
    )


def shots_out(session: Session, written: Sequence[Written], project: ProjectContext) -> list[ShotOut]:
    """Shots of one project as the desk sees them; only those not told before are read."""
    keys = [(*one.mark, project.stands, project.shines, project.named) for one in written]
    known = _answers.known(keys)
    missing = {one.id: key for one, key in zip(written, keys, strict=True) if key not in known}
    if missing:
        rows = rows_of(session, missing)
        takes = takes_by_id(session, rows.values())
        known |= {key: _shot_as_it_was(rows[name], project, takes) for name, key in missing.items() if name in rows}
    _answers.keep(known)
    return [known[key] for key in keys if key in known]


def _shot_as_it_was(row: ShotRow, project: ProjectContext, takes: Mapping[Any, Take]) -> ShotOut:
    """A shot that was written anew; as it was told before, where only its place in the list is other, or it is again
    what it was."""
    take = None if row.kept_take is None else takes.get(row.kept_take)
    own = [row.settings, row.floor_m, row.locked, row.labels, row.colour, row.named_by_hand]
    kept = None if take is None else [str(take.id), take.number, take.name, take.settings]
    written = hashlib.sha256(json.dumps([own, kept], sort_keys=True).encode()).digest()
    key = (row.id, written, project.stands, project.shines, project.named)
    same = _same.known([key]).get(key)
    one = _shot_out(row, project, take) if same is None else same.model_copy(update={"version": row.version})
    _same.keep({key: one})
    return one


def _shot_out(row: ShotRow, project: ProjectContext, take: Take | None) -> ShotOut:
    shot = settings_of(row)
    key = project.thumbnail(shot)
    where = project.where
    camera, fitted = camera_of(shot), fit_back(shot.back)
    matrix = camera.matrix()
    x, y, z = shot.stand.position
    z = z if row.floor_m is None else row.floor_m
    level, room = level_at(where.places, z), where.room_at(x, y, z)
    return ShotOut(
        id=row.id,
        version=row.version,
        shot=shot,
        locked=row.locked,
        take=None if take is None else TakeOut(id=take.id, number=take.number, name=take.name),
        kept=take is not None and same_framing(settings_of(take), shot),
        thumbnail=f"/api/shots/{row.id}/thumbnail.png?of={key}",
        line=lens_line(shot, project.ruler),
        ratio=ratio_name(*fitted.output_px),
        frame_px=fitted.output_px,
        crops=[_crop_out(row, shot, one.name, project) for one in shot.back.crops],
        level=None if level is None else level.name,
        room=None if room is None else room.name,
        compass=compass_point(where.heading(camera.pose.heading_deg)),
        labels=row.labels,
        colour=row.colour,
        named_by_hand=row.named_by_hand,
        left_out=project.parts.with_all_below(shot.left_out) if shot.left_out else [],
        view=view_matrix(camera.pose).ravel().tolist(),
        projection=None if matrix is None else matrix.ravel().tolist(),
        marker=MarkerOut(at=shot.stand.position, frame=_marker_frame(camera), zone=_zone(shot)),
    )


def _crop_out(row: ShotRow, shot: Shot, name: str, project: ProjectContext) -> CropOut:
    _, output_px = picture_of(shot, name)
    address = f"/api/shots/{row.id}/thumbnail.png?of={project.thumbnail(shot, name)}&crop={quote(name, safe='')}"
    return CropOut(name=name, thumbnail=address, output_px=output_px)


def _zone(shot: Shot) -> list[list[tuple[float, float, float]]]:
    near, focused, far = zone_in_space(Framing(shot))
    found = [focused, *(one for one in (near, far) if one is not None)]
    return [[(x, y, z) for x, y, z in np.round(outline, 4).tolist()] for outline in found]


def _marker_frame(camera: Camera) -> list[tuple[float, float, float]]:
    """Corners of the frame a short way before the lens; the longest ray is as long for every lens."""
    rays = camera.rays(camera.edge(1))
    depth = MARKER_M * float(camera.depths(rays, np.ones(4)).min())
    return [tuple(corner) for corner in rays.at(camera.distances(rays, depth)).tolist()]
