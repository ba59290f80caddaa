"""What stands near the section of a shot, as it is drawn there."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from sqlalchemy.orm import Session

from zevlo.api.set_messages import SectionMark, SectionMarks, ShotMark
from zevlo.core.scene.cuts.cut import DrawingPlane, section_plane
from zevlo.core.scene.stand_ins.made import StandIn
from zevlo.core.stand.pose import resolve
from zevlo.store.projects import arrangement_of
from zevlo.store.shot_rows import settings_of, stands_of
from zevlo.store.tables import Project, ShotRow


def marks_of(session: Session, project: Project, row: ShotRow) -> SectionMarks:
    """Other shots and stand-ins of a project on the section of a shot."""
    pose = resolve(settings_of(row).stand)
    plane = section_plane(pose.position, pose.level_axis)
    marks = []
    for other, position, aim in stands_of(session, project.id):
        if other != row.id:
            at, off = on_section(plane, position)
            marks.append(ShotMark(shot=other, at=at, aim=on_section(plane, aim)[0], off_m=off))
    x, y, _ = pose.position.tolist()
    stand_ins = stand_in_marks(plane, arrangement_of(project).stand_ins)
    return SectionMarks(origin=(x, y), heading_deg=pose.heading_deg, shots=marks, stand_ins=stand_ins)


def stand_in_marks(plane: DrawingPlane, stand_ins: Sequence[StandIn]) -> list[SectionMark]:
    """Stand-ins on a section."""
    places = [on_section(plane, one.at) for one in stand_ins]
    return [SectionMark(number=number, at=at, off_m=off) for number, (at, off) in enumerate(places)]


def on_section(plane: DrawingPlane, point: tuple[float, float, float]) -> tuple[tuple[float, float], float]:
    """A point on the paper of a section, and how far it is off its plane."""
    at = np.array(point)
    u, v = plane.flat(at).tolist()
    return (u, v), float((at - plane.origin) @ plane.toward)
