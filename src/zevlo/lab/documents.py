"""Documents made from the database: pages laid out and files written, whatever comes."""

from __future__ import annotations

import logging
import uuid
from collections.abc import Callable, Iterator, Mapping, Sequence
from itertools import count

from sqlalchemy import Engine
from sqlalchemy.exc import InterfaceError, OperationalError

from zevlo.core.arrays import Floats
from zevlo.core.documents.camera_card import Setting, card_page
from zevlo.core.documents.contact_sheet import contact_pages
from zevlo.core.documents.from_walls import WALL_HEIGHT_M, faces_of, off_edges, off_walls
from zevlo.core.documents.page.paper import Page
from zevlo.core.documents.plan import Storey, levels_asked, plan_pages
from zevlo.core.documents.request import KINDS, Documents
from zevlo.core.documents.shot_list import list_pages
from zevlo.core.documents.shot_summary import ShotSummary
from zevlo.core.finals.naming import file_of, number_words
from zevlo.core.scene.cuts.cut import plan_plane
from zevlo.core.scene.places.levels import level_at
from zevlo.core.stand.pose import resolve
from zevlo.files.documents.dxf import write_dxf
from zevlo.files.documents.fonts import measure
from zevlo.files.documents.pdf import write_pdf
from zevlo.files.documents.png import pages_as_png
from zevlo.files.documents.svg import write_svg
from zevlo.files.documents.tables import write_list_csv, write_list_xlsx
from zevlo.lab.document_data import DocumentData, Late, read_document_data, summaries_of
from zevlo.store import documents
from zevlo.store.blobs import put_blob
from zevlo.store.database import transaction
from zevlo.store.documents import FileMade, Made
from zevlo.store.projects import PLAN_CUT_M
from zevlo.text import everywhere
from zevlo.text import lab as say

MEDIA = {
    "pdf": "application/pdf", "png": "image/png", "svg": "image/svg+xml", "dxf": "image/vnd.dxf", "csv": "text/csv",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
}  # fmt: skip
THE_PLAN = say.PLAN
"""What the plan of a set without levels is called."""
log = logging.getLogger("zevlo.lab")


def make_documents(engine: Engine, key: uuid.UUID, job: int | None = None) -> None:
    """Make documents, whatever comes: they end done, failed with a reason, or stay for another worker."""
    with transaction(engine) as session:
        row = documents.claim_piece(session, key, job)
        if row is None:
            return
        attempt, asked = row.attempt, documents.asked_in(row)
    try:
        made = _made(engine, key, attempt, asked)
        with transaction(engine) as session:
            documents.finish(session, key, attempt, made)
    except Late:
        return
    except (OperationalError, InterfaceError):
        raise  # the database is away: nothing can be said now, and the job comes again
    except MemoryError:
        _fail(engine, key, attempt, say.THERE_WAS_NOT_ENOUGH)
    except Exception as error:
        log.exception("documents %s failed", key)
        _fail(engine, key, attempt, say.the_documents_could_not_be_made(type(error).__name__, error))


def _fail(engine: Engine, key: uuid.UUID, attempt: uuid.UUID | None, why: str) -> None:
    with transaction(engine) as session:
        documents.fail(session, key, attempt, why)


def _made(engine: Engine, key: uuid.UUID, attempt: uuid.UUID | None, asked: Documents) -> Made:
    with transaction(engine) as session:
        if not documents.report_progress(session, key, attempt, 0.02, say.READING_THE_SET):
            raise Late
    making = read_document_data(engine, key, attempt, asked)
    shots = summaries_of(making)
    files: dict[str, FileMade] = {}
    for n, kind in enumerate(asked.kinds):
        making.going_on(0.7 + 0.3 * n / len(asked.kinds), say.writing_the(KINDS[kind].called))
        for name, data in WRITERS[kind](making, shots):
            media = MEDIA[name.rpartition(".")[2]]
            with transaction(engine) as session:
                files[_free(name, files)] = FileMade(put_blob(session, data, media), media, len(data))
    return Made(files, making.words, making.made_of)


def _free(name: str, taken: Mapping[str, FileMade]) -> str:
    """The name, or with a number behind it where another file is called so, also but for its capitals, as many disks
    have it: two levels may be called alike in files."""
    called, _, ending = name.rpartition(".")
    names = (name if n == 1 else f"{called} {n}.{ending}" for n in count(1))
    others = {other.casefold() for other in taken}
    return next(one for one in names if one.casefold() not in others)


Files = Iterator[tuple[str, bytes]]
"""Files of a document, each with its name."""


def _called(making: DocumentData, what: str, ending: str) -> str:
    return f"{file_of(making.project, what)}.{ending}"


def _in(making: DocumentData, pages: Sequence[Page], what: str) -> bytes:
    return write_pdf(pages, making.pictures, f"{making.project}, {what}")


def _contact_sheet(making: DocumentData, shots: Sequence[ShotSummary]) -> Files:
    asked = making.asked.contact_sheet
    assert asked is not None
    what = KINDS["contact_sheet"].called
    pictures = [one for summary in shots for one in (summary, *making.crops.get(summary.key, ()))]
    pages = contact_pages(pictures, asked, making.heading(what), measure)
    pdf = _in(making, pages, what)
    if "pdf" in asked.files:
        yield _called(making, what, "pdf"), pdf
    if "png" in asked.files:
        for n, data in enumerate(pages_as_png(pdf, asked.dpi), 1):
            number = "" if len(pages) == 1 else f" {number_words(n, len(pages))}"
            yield _called(making, f"{what}{number}", "png"), data


def _shot_list(making: DocumentData, shots: Sequence[ShotSummary]) -> Files:
    asked = making.asked.shot_list
    assert asked is not None
    what = KINDS["shot_list"].called
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


BELOW_FLOOR_M = 0.3
"""How far below a floor a plan still looks."""


def _storey(making: DocumentData, name: str) -> Storey:
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


def _plans(making: DocumentData, shots: Sequence[ShotSummary]) -> Files:
    asked = making.asked.plans
    assert asked is not None
    levels = [level.name for level in making.where.places.levels]
    names = levels or [THE_PLAN]
    making.words += [say.there_is_no_level(name) for name in asked.levels or () if name not in names]
    pages: list[Page] = []
    for name, own in levels_asked(shots, names, asked):
        storey = _storey(making, name)
        what = say.plan(name) if levels else "plan"
        made = plan_pages(storey, own, asked, making.heading(say.plan_of_level(name) if levels else what), measure)
        making.words += made.words
        pages += made.pages
        if "svg" in asked.files:
            for n, page in enumerate(made.pages, 1):
                yield _called(making, what if n == 1 else say.page(what, n), "svg"), write_svg(page)
        if "dxf" in asked.files:
            yield _called(making, what, "dxf"), write_dxf(made.pages[0], asked.dxf_unit)
            if len(made.pages) > 1:
                making.words.append(say.the_legend_of_does_not_go(name))
    if not pages:
        making.words.append(say.NO_SHOT_STANDS_ON_A_LEVEL)
    elif "pdf" in asked.files:
        yield _called(making, "plans", "pdf"), _in(making, pages, "plans")


def _camera_cards(making: DocumentData, shots: Sequence[ShotSummary]) -> Files:
    asked = making.asked.camera_cards
    assert asked is not None
    storeys: dict[str, Storey] = {}
    pages = []
    heading = making.heading(say.CAMERA_CARD)
    for n, summary in enumerate(shots, 1):
        name = THE_PLAN if summary.level is None else summary.level.name
        if name not in storeys:
            storeys[name] = _storey(making, name)
        of = (1, 1) if asked.apart else (n, len(shots))
        pages.append(card_page(summary, _setting(making, summary, storeys[name]), asked.paper, heading, *of, measure))
    if not asked.apart:
        yield _called(making, KINDS["camera_cards"].called, "pdf"), _in(making, pages, everywhere.CAMERA_CARDS)
        return
    last = shots[-1].number
    for summary, page in zip(shots, pages, strict=True):
        what = f"{number_words(summary.number, last)} {summary.name}"
        pictures = {key: data for key, data in making.pictures.items() if key.startswith(summary.key)}
        yield _called(making, say.camera_card(what), "pdf"), write_pdf([page], pictures, f"{making.project}, {what}")


def _setting(making: DocumentData, summary: ShotSummary, storey: Storey) -> Setting:
    """Where a tripod stands, off the walls of its floor."""
    floor, pose = summary.sheet.pose.floor_z, resolve(summary.shot.stand)
    stand: Floats = pose.position[:2]
    if summary.ruler.unit != "m":
        return Setting(storey, off_edges(stand, pose.heading_deg, making.working.body[:, :2]))
    if floor is None:
        return Setting(storey, None)
    faces = faces_of(making.working.cut(plan_plane(floor + WALL_HEIGHT_M)))
    return Setting(storey, off_walls(stand, pose.heading_deg, faces))


WRITERS: dict[str, Callable[[DocumentData, Sequence[ShotSummary]], Files]] = {
    "contact_sheet": _contact_sheet,
    "shot_list": _shot_list,
    "plans": _plans,
    "camera_cards": _camera_cards,
}
"""How each kind's files are written, by its key."""
