"""Rows as the desk sees them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from sqlalchemy.orm import Session

from zevlo.api.messages import (
    FrameOut,
    PartOut,
    PrintOut,
    ProjectCard,
    ProjectOut,
    SetOut,
    ShotOut,
    TakeOut,
)
from zevlo.core.light.setup import LightSetup, toward_sun
from zevlo.core.optics.back import cut_back
from zevlo.core.optics.focus import stop_name
from zevlo.core.shot import Shot
from zevlo.lab.thumbnail import thumbnail_key
from zevlo.store.changes import next_labels
from zevlo.store.prints import prints_of
from zevlo.store.projects import revision_of
from zevlo.store.shots import same_framing, settings_of, shots_of, takes_by_id, takes_of
from zevlo.store.tables import Print, Project, Revision, ShotRow, Take

GROUP_WORDS = {
    "stand": "stand", "lens": "lens", "back": "back", "movements": "movements", "focus": "focus",
    "exposure": "exposure",
}  # fmt: skip


def lens_line(shot: Shot) -> str:
    """One line of lens data: ``28 mm · f/5.6`` and what else matters."""
    stop = "all sharp" if shot.focus.f_number is None else stop_name(shot.focus.f_number)
    words = [f"{shot.lens.focal_length_mm:.4g} mm", stop]
    if shot.movements.rise_mm:
        words.append(f"{'rise' if shot.movements.rise_mm > 0 else 'fall'} {abs(shot.movements.rise_mm):.3g}")
    if shot.movements.cross_mm:
        words.append(f"cross {shot.movements.cross_mm:.3g}")
    return " · ".join(words)


def shot_out(row: ShotRow, project: Project, takes: dict[Any, Take]) -> ShotOut:
    """A shot for the shot list."""
    shot = settings_of(row)
    take = None if row.kept_take is None else takes.get(row.kept_take)
    kept_settings = None if take is None else settings_of(take).as_json()
    light = LightSetup.model_validate(project.light).model_dump_json()
    key = thumbnail_key(shot, str(project.revision_id), light)
    return ShotOut(
        id=row.id,
        version=row.version,
        shot=shot,
        locked=row.locked,
        take=None if take is None else TakeOut(id=take.id, number=take.number),
        kept=kept_settings is not None and same_framing(kept_settings, shot.as_json()),
        thumbnail=f"/api/shots/{row.id}/thumbnail.png?of={key}",
        line=lens_line(shot),
    )


def stale_words(entry: Print, row: ShotRow | None, project: Project) -> str | None:
    """What changed since a print was ordered; None where nothing did."""
    if row is None or row.deleted:
        return "The shot was deleted since"
    changed: list[str] = []
    then, now = Shot.model_validate(entry.settings).as_json(), settings_of(row).as_json()
    changed += [word for group, word in GROUP_WORDS.items() if then[group] != now[group]]
    if LightSetup.model_validate(entry.light) != LightSetup.model_validate(project.light):
        changed.append("light")
    if entry.revision_id != project.revision_id:
        changed.append("the set")
    return None if not changed else f"Changed since: {', '.join(changed)}"


def take_of(entry: Print, takes: Sequence[Take]) -> int | None:
    """Number of the take a print is of; None where its framing was never kept."""
    return next((take.number for take in takes if same_framing(take.settings, entry.settings)), None)


def print_out(entry: Print, rows: Sequence[ShotRow], project: Project, takes: Sequence[Take]) -> PrintOut:
    """A print for the lab. ``takes``: those of its shot."""
    frame = next((n for n, row in enumerate(rows, 1) if row.id == entry.shot_id), None)
    row = None if frame is None else rows[frame - 1]
    shot = Shot.model_validate(entry.settings)
    return PrintOut(
        id=entry.id,
        shot_id=entry.shot_id,
        name=shot.name if row is None else str(row.settings["name"]),
        frame=frame,
        take=take_of(entry, takes),
        size=(entry.width, entry.height),
        line=lens_line(shot),
        state=entry.state,  # type: ignore[arg-type]
        progress=entry.progress,
        seconds_left=entry.seconds_left,
        doing=entry.doing,
        trouble=entry.trouble,
        picture=None if entry.png is None else f"/api/prints/{entry.id}/picture.png?of={entry.png[:16]}",
        film=None if entry.exr is None else f"/api/prints/{entry.id}/film.exr?of={entry.exr[:16]}",
        stale=stale_words(entry, row, project),
        made_with=entry.made_with,
        ordered=entry.created,
    )


def set_out(revision: Revision) -> SetOut:
    """A project's set."""
    summary = revision.summary
    return SetOut(
        revision=revision.id,
        file_name=revision.file_name,
        triangles=summary["triangles"],
        materials=summary["materials"],
        textures=summary["textures"],
        bounds=summary["bounds"],
        parts=[PartOut(**part) for part in summary["parts"]],
        view=f"/api/sets/{revision.view}/view.glb",
    )


def project_out(session: Session, project: Project) -> ProjectOut:
    """A project whole."""
    rows = shots_of(session, project.id)
    takes = takes_by_id(session, rows)
    undo_label, redo_label = next_labels(session, str(project.id))
    prints = prints_of(session, project.id)
    of_prints = takes_of(session, {entry.shot_id for entry in prints})
    light = LightSetup.model_validate(project.light)
    x, y, z = toward_sun(light.sun)
    return ProjectOut(
        id=project.id,
        version=project.version,
        name=project.name,
        set=set_out(revision_of(session, project)),
        lifted=project.lifted,
        plan_height=project.plan_height,
        light=light,
        sunward=(float(x), float(y), float(z)),
        shots=[shot_out(row, project, takes) for row in rows],
        prints=[print_out(entry, rows, project, of_prints[entry.shot_id]) for entry in prints],
        undo=undo_label,
        redo=redo_label,
    )


def project_card(session: Session, project: Project, most: int = 6) -> ProjectCard:
    """A project as a small contact sheet."""
    rows = shots_of(session, project.id)
    frames = []
    for row in rows[:most]:
        out = shot_out(row, project, {})
        columns, height = cut_back(out.shot.back).output_px
        frames.append(FrameOut(name=out.shot.name, thumbnail=out.thumbnail, ratio=columns / height))
    revision = revision_of(session, project)
    return ProjectCard(
        id=project.id,
        name=project.name,
        shots=len(rows),
        set_line=f"{revision.file_name} · {revision.summary['triangles']:,} triangles".replace(",", " "),
        created=project.created,
        frames=frames,
    )
