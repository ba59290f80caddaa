"""Documents made from the database: shots told, pictures found or drawn, pages laid out, files written."""

from __future__ import annotations

import io
import logging
import uuid
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime
from functools import cached_property
from itertools import count

from PIL import Image
from sqlalchemy import Engine
from sqlalchemy.dialects.postgresql import insert as upsert
from sqlalchemy.exc import InterfaceError, OperationalError

from zevlo.core.camera import cutting_of
from zevlo.core.documents.asked import KINDS, Documents
from zevlo.core.documents.camera_card import Setting, card_page
from zevlo.core.documents.contact_sheet import BEFORE, NOW, Heading, contact_pages
from zevlo.core.documents.from_walls import WALL_HEIGHT_M, faces_of, off_edges, off_walls
from zevlo.core.documents.paper import INK, Page
from zevlo.core.documents.plan import Storey, levels_asked, plan_pages
from zevlo.core.documents.shot_list import list_pages
from zevlo.core.documents.shot_told import ShotTold, told_of
from zevlo.core.finals.naming import fit_for_file, number_words
from zevlo.core.light.site import Lights
from zevlo.core.scene.as_shown import as_shown
from zevlo.core.scene.cut import plan_plane
from zevlo.core.scene.levels import Where, level_at
from zevlo.core.scene.lit import LitSet, light_set
from zevlo.core.scene.model import Floats
from zevlo.core.scene.ruler import ruler_for
from zevlo.core.scene.visible import Lifted, Visible
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot
from zevlo.core.stand.pose import resolve
from zevlo.files.documents.dxf import write_dxf
from zevlo.files.documents.fonts import NO_LETTER, measure, without_letters
from zevlo.files.documents.pdf import write_pdf
from zevlo.files.documents.png import pages_as_png
from zevlo.files.documents.svg import write_svg
from zevlo.files.documents.tables import write_list_csv, write_list_xlsx
from zevlo.lab.sets import model_of
from zevlo.lab.thumbnail import draw_thumbnail, picture_key, seen_of
from zevlo.store import documents
from zevlo.store.blobs import get_blob, put_blob
from zevlo.store.database import transaction
from zevlo.store.documents import FileMade, Made
from zevlo.store.prints import SEEN, prints_of
from zevlo.store.projects import PLAN_CUT_M, arrangement_of, lights_of, project, revision_of, where_of
from zevlo.store.shot_rows import settings_of, shots_of
from zevlo.store.stale import stale_words
from zevlo.store.tables import Print, Project, ShotRow, Take, Thumbnail
from zevlo.store.takes import same_framing, takes_of

MEDIA = {
    "pdf": "application/pdf", "png": "image/png", "svg": "image/svg+xml", "dxf": "image/vnd.dxf", "csv": "text/csv",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
}  # fmt: skip
PICTURE_PX = {"contact_sheet": 1200, "camera_cards": 800, "shot_list": 300}
"""The longest side of a picture on the paper of each kind, where it is the largest that is asked for."""
QUALITY = 90
"""Of pictures as JPEG."""
LARGE_PX, LARGE_PATHS = 640, 3
"""Of a drawn picture that has a page for itself."""
THE_PLAN = "Plan"
"""What the plan of a set without levels is called."""
log = logging.getLogger("zevlo.lab")


def make_documents(engine: Engine, key: uuid.UUID, job: int | None = None) -> None:
    """Make documents, whatever comes: they end done, failed with a reason, or stay for another worker."""
    with transaction(engine) as session:
        row = documents.take_up(session, key, job)
        if row is None:
            return
        attempt, asked = row.attempt, documents.asked_in(row)
    try:
        made = _made(engine, key, attempt, asked)
        with transaction(engine) as session:
            documents.finish(session, key, attempt, made)
    except _Late:
        return
    except (OperationalError, InterfaceError):
        raise  # the database is away: nothing can be said now, and the job comes again
    except MemoryError:
        _fail(engine, key, attempt, "There was not enough memory for these documents. Ask for fewer shots at a time.")
    except Exception as error:
        log.exception("documents %s failed", key)
        _fail(engine, key, attempt, f"The documents could not be made: {type(error).__name__}: {error}")


def _fail(engine: Engine, key: uuid.UUID, attempt: uuid.UUID | None, why: str) -> None:
    with transaction(engine) as session:
        documents.fail(session, key, attempt, why)


class _Late(Exception):
    """The documents were cancelled, or another is at them."""


@dataclass
class _Making:
    """What documents are made from, as it stands in the database at one moment."""

    engine: Engine
    key: uuid.UUID
    attempt: uuid.UUID | None
    asked: Documents
    owner: Project
    where: Where
    lights: Lights
    working: WorkingSet
    rows: list[tuple[int, ShotRow]]
    takes: Mapping[uuid.UUID, list[Take]]
    done: Mapping[uuid.UUID, list[Print]]
    """Finished prints of each shot, the newest first."""
    stale: Mapping[uuid.UUID, str | None]
    made_of: str
    pictures: dict[str, bytes] = field(default_factory=dict)
    words: list[str] = field(default_factory=list)
    _lit: dict[object, LitSet] = field(default_factory=dict)

    def going_on(self, progress: float, doing: str) -> None:
        with transaction(self.engine) as session:
            if not documents.follow_up(session, self.key, self.attempt, progress, doing):
                raise _Late

    @property
    def project(self) -> str:
        return self.owner.name

    def heading(self, what: str) -> Heading:
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


def _read(engine: Engine, key: uuid.UUID, attempt: uuid.UUID | None, asked: Documents) -> _Making:
    with transaction(engine) as session:
        row = documents.documents_row(session, key)
        owner = project(session, row.project_id)
        wanted = set(asked.shots)
        rows = [(n, one) for n, one in enumerate(shots_of(session, owner.id), 1) if one.id in wanted]
        if not rows:
            raise LookupError("none of their shots is there any more")
        done: dict[uuid.UUID, list[Print]] = {}
        for entry in prints_of(session, owner.id):
            if entry.state == "done" and entry.recipe.get("cut") is None and SEEN in entry.outputs:
                done.setdefault(entry.shot_id, []).append(entry)
        by_id = {one.id: one for _, one in rows}
        stale = {
            entry.id: stale_words(entry, by_id[shot], owner) for shot in done if shot in by_id for entry in done[shot]
        }
        revision, arrangement = revision_of(session, owner).id, arrangement_of(owner)
        where, lights, takes = where_of(owner), lights_of(owner), takes_of(session, wanted)
        made_of = documents.Present(session, owner).mark(asked)
        session.expunge_all()
    working = WorkingSet(model_of(engine, revision, arrangement))
    return _Making(engine, key, attempt, asked, owner, where, lights, working, rows, takes, done, stale, made_of)


def _made(engine: Engine, key: uuid.UUID, attempt: uuid.UUID | None, asked: Documents) -> Made:
    with transaction(engine) as session:
        if not documents.follow_up(session, key, attempt, 0.02, "Reading the set"):
            raise _Late
    making = _read(engine, key, attempt, asked)
    shots = _told(making)
    writers = {
        "contact_sheet": _contact_sheet, "shot_list": _shot_list, "plans": _plans, "camera_cards": _camera_cards
    }  # fmt: skip
    files: dict[str, FileMade] = {}
    for n, kind in enumerate(asked.kinds):
        making.going_on(0.7 + 0.3 * n / len(asked.kinds), f"Writing the {KINDS[kind]}")
        for name, data in writers[kind](making, shots):
            media = MEDIA[name.rpartition(".")[2]]
            with transaction(engine) as session:
                files[_free(name, files)] = FileMade(put_blob(session, data, media), media, len(data))
    return Made(files, making.words, making.made_of)


def _free(name: str, taken: Mapping[str, FileMade]) -> str:
    """The name, or with a number behind it where another file is called so: two levels may be called alike in files."""
    called, _, ending = name.rpartition(".")
    names = (name if n == 1 else f"{called} {n}.{ending}" for n in count(1))
    return next(one for one in names if one not in taken)


def _told(making: _Making) -> list[ShotTold]:
    """All shots, with the pictures their documents need."""
    ruler = ruler_for(making.working.body)
    asked, found = making.asked, []
    for n, (number, row) in enumerate(making.rows):
        making.going_on(0.05 + 0.65 * n / len(making.rows), f"Shot {n + 1} of {len(making.rows)}")
        shot = settings_of(row)
        take = next((one.number for one in making.takes[row.id] if same_framing(one.settings, shot)), None)
        told = told_of(
            str(row.id), number, shot, making.working, ruler, making.where, tuple(row.labels), _colour(row.colour), take
        )
        if asked.contact_sheet or asked.camera_cards or (asked.shot_list and asked.shot_list.pictures):
            told = _with_pictures(making, told, row)
        found.append(told)
    _tell_letters(making, found)
    return found


def _colour(told: str | None) -> tuple[int, int, int]:
    if not told:
        return INK
    red, green, blue = bytes.fromhex(told.lstrip("#"))
    return red, green, blue


def _tell_letters(making: _Making, shots: Sequence[ShotTold]) -> None:
    lacking = without_letters([making.project, *(told.name for told in shots), *(told.place for told in shots)])
    if lacking:
        making.words.append(
            f"The fonts of documents do not have {' '.join(lacking[:20])}: {NO_LETTER} stands for them."
        )


def _with_pictures(making: _Making, told: ShotTold, row: ShotRow) -> ShotTold:
    """The shot with the picture of it that there is, and that of before where one is asked for."""
    sheet = making.asked.contact_sheet
    large = sheet is not None and sheet.layout != "grid"
    from_prints = sheet is None or sheet.pictures == "prints"
    done = making.done.get(row.id, [])
    holding = next((one for one in done if from_prints and making.stale[one.id] is None), None)
    pictures, remarks = {}, {}
    now, before = f"{told.key}/{NOW}", f"{told.key}/{BEFORE}"
    if holding is not None:
        pictures[now] = _keep(making, now, _of_print(making.engine, holding))
        remarks[now] = _print_words(holding)
    else:
        pictures[now] = _keep(making, now, _drawn(making, told.shot, large))
    if sheet is not None and sheet.layout == "pairs":
        if sheet.before == "print":
            old = next((one for one in done if one is not holding and making.stale[one.id] is not None), None)
            if old is not None:
                pictures[before] = _keep(making, before, _of_print(making.engine, old))
                remarks[before] = f"{_print_words(old)}. {making.stale[old.id]}"
            else:
                remarks[before] = "no print of before"
        else:
            takes = [one for one in making.takes[row.id] if not same_framing(one.settings, told.shot)]
            if takes:
                pictures[before] = _keep(making, before, _drawn(making, settings_of(takes[-1]), large))
                remarks[before] = f"take {takes[-1].number}"
            else:
                remarks[before] = "no take of before"
    return replace(told, pictures=pictures, remarks=remarks)


def _print_words(entry: Print) -> str:
    day = (entry.finished or entry.created).date().isoformat()
    return f"{entry.kind} of {day}"


def _keep(making: _Making, name: str, picture: Image.Image) -> float:
    """Keep a picture as JPEG, no larger than paper shows; its ratio."""
    ratio = picture.width / picture.height
    side = max(px for kind, px in PICTURE_PX.items() if kind in making.asked.kinds)
    picture.thumbnail((side, side))
    out = io.BytesIO()
    picture.convert("RGB").save(out, "JPEG", quality=QUALITY)
    making.pictures[name] = out.getvalue()
    return ratio


def _of_print(engine: Engine, entry: Print) -> Image.Image:
    with transaction(engine) as session:
        return Image.open(io.BytesIO(get_blob(session, entry.outputs[SEEN]["blob"])))


def _drawn(making: _Making, shot: Shot, large: bool) -> Image.Image:
    """A picture drawn by the core's own rays: the small one the desk has, or a larger one."""
    if large:
        return Image.open(io.BytesIO(draw_thumbnail(shot, making.lit(shot), LARGE_PX, LARGE_PATHS)))
    name = picture_key(shot, making.stands, making.lights)
    with transaction(making.engine) as session:
        there = session.get(Thumbnail, name)
        png = None if there is None else there.png
    if png is None:
        png = draw_thumbnail(shot, making.lit(shot))
        with transaction(making.engine) as session:
            session.execute(upsert(Thumbnail).values(key=name, png=png).on_conflict_do_nothing())
    return Image.open(io.BytesIO(png))


Files = Iterator[tuple[str, bytes]]
"""Files of a document, each with its name."""


def _called(making: _Making, what: str, ending: str) -> str:
    return f"{fit_for_file(f'{making.project} {what}')}.{ending}"


def _in(making: _Making, pages: Sequence[Page], what: str) -> bytes:
    return write_pdf(pages, making.pictures, f"{making.project}, {what}")


def _contact_sheet(making: _Making, shots: Sequence[ShotTold]) -> Files:
    asked = making.asked.contact_sheet
    assert asked is not None
    what = KINDS["contact_sheet"]
    pages = contact_pages(shots, asked, making.heading(what), measure)
    pdf = _in(making, pages, what)
    if "pdf" in asked.files:
        yield _called(making, what, "pdf"), pdf
    if "png" in asked.files:
        for n, data in enumerate(pages_as_png(pdf, asked.dpi), 1):
            number = "" if len(pages) == 1 else f" {number_words(n, len(pages))}"
            yield _called(making, f"{what}{number}", "png"), data


def _shot_list(making: _Making, shots: Sequence[ShotTold]) -> Files:
    asked = making.asked.shot_list
    assert asked is not None
    what = KINDS["shot_list"]
    for ending in asked.files:
        if ending == "pdf":
            yield (
                _called(making, what, ending),
                _in(making, list_pages(shots, asked, making.heading(what), measure), what),
            )
        elif ending == "csv":
            yield _called(making, what, ending), write_list_csv(shots)
        else:
            yield _called(making, what, ending), write_list_xlsx(shots, making.pictures if asked.pictures else {})


def _storey(making: _Making, name: str) -> Storey:
    """What is drawn of a level: cut as high over it as the desk's plan is over its own."""
    places, height = making.where.places, making.owner.plan_height
    floor = next((level.floor_m for level in places.levels if level.name == name), None)
    if floor is not None:
        own = level_at(places, height)
        over = PLAN_CUT_M if own is None or height <= own.floor_m else height - own.floor_m
        height = floor + over
    working = making.working
    plane = plan_plane(height)
    depth = height - (float(working.body[0, 2]) if floor is None else floor) + BELOW_FLOOR_M * working.scale
    lines = working.beyond(plane, depth)
    rooms = tuple(room for room in places.rooms if room.level == name)
    return Storey(name, working.cut(plane), lines, rooms, making.where.north_deg, working.body, height)


BELOW_FLOOR_M = 0.3
"""How far below a floor a plan still looks."""


def _plans(making: _Making, shots: Sequence[ShotTold]) -> Files:
    asked = making.asked.plans
    assert asked is not None
    names = [level.name for level in making.where.places.levels] or [THE_PLAN]
    pages: list[Page] = []
    for name, own in levels_asked(shots, names, asked):
        storey = _storey(making, name)
        made = plan_pages(storey, own, asked, making.heading(f"plan, {name}"), measure)
        making.words += made.words
        pages += made.pages
        if "svg" in asked.files:
            yield _called(making, f"plan {name}", "svg"), write_svg(made.pages[0])
        if "dxf" in asked.files:
            yield _called(making, f"plan {name}", "dxf"), write_dxf(made.pages[0], asked.dxf_unit)
    if not pages:
        making.words.append("No shot stands on a level that was asked for: there is no plan.")
    elif "pdf" in asked.files:
        yield _called(making, "plans", "pdf"), _in(making, pages, "plans")


def _camera_cards(making: _Making, shots: Sequence[ShotTold]) -> Files:
    asked = making.asked.camera_cards
    assert asked is not None
    storeys: dict[str, Storey] = {}
    pages = []
    heading = making.heading("camera card")
    for n, told in enumerate(shots, 1):
        name = THE_PLAN if told.level is None else told.level.name
        if name not in storeys:
            storeys[name] = _storey(making, name)
        of = (1, 1) if asked.apart else (n, len(shots))
        pages.append(card_page(told, _setting(making, told, storeys[name]), asked.paper, heading, *of, measure))
    if not asked.apart:
        yield _called(making, KINDS["camera_cards"], "pdf"), _in(making, pages, "camera cards")
        return
    last = shots[-1].number
    for told, page in zip(shots, pages, strict=True):
        what = f"{number_words(told.number, last)} {told.name}"
        pictures = {key: data for key, data in making.pictures.items() if key.startswith(told.key)}
        yield _called(making, f"camera card {what}", "pdf"), write_pdf([page], pictures, f"{making.project}, {what}")


def _setting(making: _Making, told: ShotTold, storey: Storey) -> Setting:
    """Where a tripod stands, off the walls of its floor."""
    floor, pose = told.sheet.pose.floor_z, resolve(told.shot.stand)
    stand: Floats = pose.position[:2]
    if told.ruler.unit != "m":
        return Setting(storey, off_edges(stand, pose.heading_deg, making.working.body[:, :2]))
    if floor is None:
        return Setting(storey, None)
    faces = faces_of(making.working.cut(plan_plane(floor + WALL_HEIGHT_M)))
    return Setting(storey, off_walls(stand, pose.heading_deg, faces))
