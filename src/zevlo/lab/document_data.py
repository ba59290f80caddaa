"""What documents are made from: the shots as they stand at one moment, told, with pictures found or drawn."""

from __future__ import annotations

import io
import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime
from functools import cached_property

from PIL import Image
from sqlalchemy import Engine
from sqlalchemy.dialects.postgresql import insert as upsert

from zevlo.core.camera.from_shot import cutting_of
from zevlo.core.documents.contact_sheet import BEFORE, NOW, Heading, of_crop
from zevlo.core.documents.page.paper import INK
from zevlo.core.documents.request import KINDS, Documents
from zevlo.core.documents.shot_summary import ShotSummary, summary_of
from zevlo.core.instruments.back.crops import has_crop
from zevlo.core.light.site import Lights
from zevlo.core.scene.as_shown import as_shown
from zevlo.core.scene.lit import LitSet, light_set
from zevlo.core.scene.model.ruler import ruler_for
from zevlo.core.scene.model.visible import Lifted, Visible
from zevlo.core.scene.places.levels import SetContext
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot
from zevlo.files.documents.fonts import NO_LETTER, without_letters
from zevlo.lab.sets import model_of
from zevlo.lab.thumbnail import draw_thumbnail, picture_key, seen_of
from zevlo.store import documents
from zevlo.store.blobs import get_blob
from zevlo.store.database import transaction
from zevlo.store.prints import crop_of, prints_of, recipe_of, seen_name
from zevlo.store.projects import arrangement_of, lights_of, project, revision_of, where_of
from zevlo.store.shot_rows import settings_of, shots_of
from zevlo.store.stale import StalenessCheck
from zevlo.store.tables import Print, Project, ShotRow, Take, Thumbnail
from zevlo.store.takes import same_framing, takes_of
from zevlo.text import lab as say

QUALITY = 90
"""Of pictures as JPEG."""
LARGE_PX, LARGE_PATHS = 640, 3
"""Of a drawn picture that has a page for itself."""


class Late(Exception):
    """The documents were cancelled, or another is at them."""


@dataclass
class DocumentData:
    """What documents are made from, as it stands in the database at one moment."""

    engine: Engine
    key: uuid.UUID
    attempt: uuid.UUID | None
    asked: Documents
    owner: Project
    where: SetContext
    lights: Lights
    working: WorkingSet
    rows: list[tuple[int, ShotRow]]
    takes: Mapping[uuid.UUID, list[Take]]
    done: Mapping[tuple[uuid.UUID, str | None], list[Print]]
    """Finished prints of each shot and of each of its crops, the newest first."""
    stale: Mapping[uuid.UUID, str | None]
    made_of: str
    pictures: dict[str, bytes] = field(default_factory=dict)
    crops: dict[str, list[ShotSummary]] = field(default_factory=dict)
    """The crops of each shot, where the contact sheet has them."""
    words: list[str] = field(default_factory=list)
    _lit: dict[object, LitSet] = field(default_factory=dict)

    def going_on(self, progress: float, doing: str) -> None:
        """Note progress. Raises :class:`Late`."""
        with transaction(self.engine) as session:
            if not documents.report_progress(session, self.key, self.attempt, progress, doing):
                raise Late

    @property
    def project(self) -> str:
        return self.owner.name

    def heading(self, what: str) -> Heading:
        """What stands at the head of a document's pages."""
        return Heading(self.project, what, datetime.now(UTC).date().isoformat())

    def lit(self, shot: Shot) -> LitSet:
        """The set in its light as a shot shows it; the last is kept, the next shot often shows the same."""
        plane = cutting_of(shot)
        key = (shot.light, shot.left_out, plane)
        if key not in self._lit:
            self._lit.clear()
            model = self.working.model
            if plane is not None:
                shown = as_shown(self.working, shot.left_out, plane)
            elif shot.left_out:
                shown = WorkingSet(model, Visible(Lifted(), model.parts_at(shot.left_out)))
            else:
                shown = self.working
            self._lit[key] = light_set(shown, self.lights.of(shot.light))
        return self._lit[key]

    @cached_property
    def stands(self) -> str:
        return seen_of(self.owner)[0]


def read_document_data(engine: Engine, key: uuid.UUID, attempt: uuid.UUID | None, asked: Documents) -> DocumentData:
    """What documents are made from, read at once. Raises LookupError where none of their shots is there any more."""
    with transaction(engine) as session:
        row = documents.documents_row(session, key)
        owner = project(session, row.project_id)
        wanted = set(asked.shots)
        rows = [(n, one) for n, one in enumerate(shots_of(session, owner.id), 1) if one.id in wanted]
        if not rows:
            raise LookupError("none of their shots is there any more")
        done: dict[tuple[uuid.UUID, str | None], list[Print]] = {}
        for entry in prints_of(session, owner.id):
            if entry.state == "done" and seen_name(entry.kind) in entry.outputs:
                done.setdefault((entry.shot_id, crop_of(entry)), []).append(entry)
        by_id, now = {one.id: one for _, one in rows}, StalenessCheck(owner)
        stale = {
            entry.id: now.stale_words(recipe_of(entry), by_id[entry.shot_id])
            for own in done.values()
            for entry in own
            if entry.shot_id in by_id
        }
        revision, arrangement = revision_of(session, owner).id, arrangement_of(owner)
        where, lights, takes = where_of(owner), lights_of(owner), takes_of(session, wanted)
        made_of = documents.Present(session, owner).mark(asked)
        session.expunge_all()
    working = WorkingSet(model_of(engine, revision, arrangement))
    return DocumentData(engine, key, attempt, asked, owner, where, lights, working, rows, takes, done, stale, made_of)


def summaries_of(making: DocumentData) -> list[ShotSummary]:
    """All shots, with the pictures their documents need."""
    ruler = ruler_for(making.working.body)
    asked, found = making.asked, []
    for n, (number, row) in enumerate(making.rows):
        making.going_on(0.05 + 0.65 * n / len(making.rows), say.shot_of(n + 1, len(making.rows)))
        shot = settings_of(row)
        take = next((one.number for one in making.takes[row.id] if same_framing(one.settings, shot)), None)
        summary = summary_of(
            str(row.id), number, shot, making.working, ruler, making.where, tuple(row.labels), _colour(row.colour), take
        )
        if asked.contact_sheet or asked.camera_cards or (asked.shot_list and asked.shot_list.pictures):
            summary = _with_pictures(making, summary, row, None)
        if asked.contact_sheet is not None and asked.contact_sheet.crops:
            names = [crop.name for crop in shot.back.crops]
            making.crops[summary.key] = [_with_pictures(making, of_crop(summary, name), row, name) for name in names]
        found.append(summary)
    _tell_letters(making, found)
    return found


def _colour(colour: str | None) -> tuple[int, int, int]:
    if not colour:
        return INK
    red, green, blue = bytes.fromhex(colour.lstrip("#"))
    return red, green, blue


def _tell_letters(making: DocumentData, shots: Sequence[ShotSummary]) -> None:
    lacking = without_letters(
        [making.project, *(summary.name for summary in shots), *(summary.place for summary in shots)]
    )
    if lacking:
        making.words.append(say.the_fonts_of_documents(" ".join(lacking[:20]), NO_LETTER))


def _with_pictures(making: DocumentData, summary: ShotSummary, row: ShotRow, crop: str | None) -> ShotSummary:
    """The shot, or a crop of it, with the picture of it that there is, and that of before where one is asked for."""
    sheet = making.asked.contact_sheet
    large = sheet is not None and sheet.layout != "grid"
    from_prints = sheet is None or sheet.pictures == "prints"
    done = making.done.get((row.id, crop), [])
    holding = next((one for one in done if from_prints and making.stale[one.id] is None), None)
    pictures, remarks = {}, {}
    now, before = f"{summary.key}/{NOW}", f"{summary.key}/{BEFORE}"
    if holding is not None:
        pictures[now] = _keep(making, now, _of_print(making.engine, holding))
        remarks[now] = _print_words(holding)
    else:
        pictures[now] = _keep(making, now, _drawn(making, summary.shot, large, crop))
    if sheet is not None and sheet.layout == "pairs":
        if sheet.before == "print":
            old = next((one for one in done if one is not holding and making.stale[one.id] is not None), None)
            if old is not None:
                pictures[before] = _keep(making, before, _of_print(making.engine, old))
                remarks[before] = f"{_print_words(old)}. {making.stale[old.id]}"
            else:
                remarks[before] = say.NO_PRINT_OF_BEFORE
        else:
            takes = [
                one
                for one in making.takes[row.id]
                if not same_framing(one.settings, summary.shot) and (crop is None or has_crop(settings_of(one), crop))
            ]
            if takes:
                pictures[before] = _keep(making, before, _drawn(making, settings_of(takes[-1]), large, crop))
                remarks[before] = say.take(takes[-1].number)
            else:
                remarks[before] = say.NO_TAKE_OF_BEFORE
    return replace(summary, pictures=pictures, remarks=remarks)


def _print_words(entry: Print) -> str:
    day = (entry.finished or entry.created).date().isoformat()
    return say.kind_of_day(entry.kind, day)


def _keep(making: DocumentData, name: str, picture: Image.Image) -> float:
    """Keep a picture as JPEG, no larger than paper shows; its ratio."""
    ratio = picture.width / picture.height
    side = max(KINDS[kind].picture_px for kind in making.asked.kinds)
    picture.thumbnail((side, side))
    out = io.BytesIO()
    picture.convert("RGB").save(out, "JPEG", quality=QUALITY)
    making.pictures[name] = out.getvalue()
    return ratio


def _of_print(engine: Engine, entry: Print) -> Image.Image:
    with transaction(engine) as session:
        return Image.open(io.BytesIO(get_blob(session, entry.outputs[seen_name(entry.kind)]["blob"])))


def _drawn(making: DocumentData, shot: Shot, large: bool, crop: str | None) -> Image.Image:
    """A picture drawn by the core's own rays: the small one the desk has, or a larger one."""
    if large:
        return Image.open(io.BytesIO(draw_thumbnail(shot, making.lit(shot), LARGE_PX, LARGE_PATHS, crop)))
    name = picture_key(shot, making.stands, making.lights, crop)
    with transaction(making.engine) as session:
        there = session.get(Thumbnail, name)
        png = None if there is None else there.png
    if png is None:
        png = draw_thumbnail(shot, making.lit(shot), crop=crop)
        with transaction(making.engine) as session:
            session.execute(upsert(Thumbnail).values(key=name, png=png).on_conflict_do_nothing())
    return Image.open(io.BytesIO(png))
