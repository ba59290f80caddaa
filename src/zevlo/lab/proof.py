"""Making one print: set and light from the database, passes of light, a first clean picture, then the last."""

from __future__ import annotations

import contextlib
import logging
import socket
import time
import uuid
from collections.abc import Callable
from functools import lru_cache
from pathlib import Path

from sqlalchemy import Engine
from sqlalchemy.exc import InterfaceError, OperationalError

from zevlo import __version__
from zevlo.core.camera import cutting_of
from zevlo.core.instruments.back.cuts import picture_of
from zevlo.core.recipe import Recipe
from zevlo.core.scene.arrangement import Arrangement, arranged
from zevlo.core.scene.as_shown import model_as_shown
from zevlo.core.scene.visible import CuttingPlane
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot
from zevlo.core.solve import solve
from zevlo.files.arrays import unpack_set
from zevlo.lab.develop import clean, expose, exr, png
from zevlo.lab.mitsuba_setup import NoRenderer
from zevlo.lab.renderer import Exposure, MitsubaRenderer, Renderer
from zevlo.lab.stage import Stage
from zevlo.store import prints
from zevlo.store.blobs import open_blob, put_blob
from zevlo.store.database import transaction
from zevlo.store.prints import Output, Watch
from zevlo.store.tables import Piece, Revision

PASS_SAMPLES = 4
FIRST_CLEAN_AT = 8
MOST_TRIES = 3
log = logging.getLogger("zevlo.lab")


def watch_now() -> Watch:
    """This machine, and how often its kernel has ended a program for want of memory."""
    kills = 0
    for path in ("/sys/fs/cgroup/memory.events", "/proc/vmstat"):
        with contextlib.suppress(OSError):
            told = dict(line.split()[:2] for line in Path(path).read_text().splitlines() if line)
            kills += int(told.get("oom_kill", 0))
    return Watch(socket.gethostname(), kills)


def passes_for(samples: int, pixels: int) -> list[int]:
    """Samples per pixel of each pass: about two million rays at a time keep the machine's memory calm."""
    each = max(1, min(PASS_SAMPLES, 2_400_000 // max(pixels, 1)))
    plan = [each] * (samples // each)
    return plan + ([samples - sum(plan)] if sum(plan) < samples else [])


def develop(engine: Engine, key: uuid.UUID, number: int = 0) -> None:
    """Make a piece of a print, whatever comes: it ends done, failed with a reason, or stays for another worker."""
    with transaction(engine) as session:
        piece = prints.take_up(session, key, watch_now(), number)
        if piece is None:
            return
        if len(piece.interruptions) >= MOST_TRIES:
            prints.fail(session, key, piece.attempt, prints.interrupted_words(piece.interruptions))
            return
        recipe = prints.recipe_of(prints.print_row(session, key))
    try:
        renderer = MitsubaRenderer(
            _stage(engine, recipe.revision, recipe.arrangement, cutting_of(recipe.shot)),
            recipe.light,
            recipe.shot.left_out,
        )
        make_piece(engine, piece, recipe, renderer, time.perf_counter)
    except NoRenderer as missing:
        _fail(engine, piece, str(missing))
    except (OperationalError, InterfaceError):
        raise  # the database is away: nothing can be said now, and the job comes again
    except MemoryError:
        _fail(engine, piece, "There was not enough memory for this print. Close other programs and retry.")
    except Exception as error:
        log.exception("print %s failed", key)
        _fail(engine, piece, f"The renderer stopped: {type(error).__name__}: {error}")


def _fail(engine: Engine, piece: Piece, why: str) -> None:
    with transaction(engine) as session:
        prints.fail(session, piece.print_id, piece.attempt, why)


def make_piece(engine: Engine, piece: Piece, recipe: Recipe, renderer: Renderer, clock: Callable[[], float]) -> None:
    """Run the passes of a piece and hang up its pictures; stops where its print was cancelled."""
    width, height = recipe.size_px
    plan = passes_for(recipe.samples, width * height)
    started, shown = clock(), 0
    frame, _ = picture_of(recipe.shot, recipe.cut)
    for exposure in renderer.passes(recipe.shot, recipe.size_px, plan, recipe.seed, frame):
        share = exposure.samples / recipe.samples
        left = (clock() - started) * (1.0 - share) / share
        with transaction(engine) as session:
            doing = f"Light {exposure.samples} of {recipe.samples}"
            if not prints.follow_up(session, piece.print_id, piece.attempt, 0.97 * share, left + 1.0, doing):
                return
        last = exposure.samples >= recipe.samples
        if last or (exposure.samples >= FIRST_CLEAN_AT and shown == 0):
            shown = exposure.samples
            if not _hang_up(engine, piece, recipe.shot, exposure, renderer.name, last):
                return


def words_of(shot: Shot) -> dict[str, str]:
    """What a picture tells of itself."""
    return {
        "Title": shot.name,
        "Software": f"Zevlo {__version__}",
        "Description": shot.model_dump_json(by_alias=True),
    }


def _hang_up(engine: Engine, piece: Piece, shot: Shot, exposure: Exposure, made_by: str, last: bool) -> bool:
    white = solve(shot).exposure.white_cd_m2
    linear = expose(clean(exposure), white)
    words = words_of(shot)
    made_with: dict[str, object] = {"renderer": made_by, "zevlo": __version__, "samples": exposure.samples}
    picture = png(linear, words)
    film = exr(linear, white, {"comments": shot.name, "zevloShot": words["Description"]})
    with transaction(engine) as session:
        outputs = {
            "picture.png": Output(put_blob(session, picture, "image/png"), "image/png"),
            "film.exr": Output(put_blob(session, film, "image/x-exr"), "image/x-exr"),
        }
        return prints.finish(session, piece.print_id, piece.attempt, outputs, made_with, last)


@lru_cache(maxsize=1)
def _stage(engine: Engine, revision_id: uuid.UUID, arrangement: Arrangement, plane: CuttingPlane | None) -> Stage:
    """A set as it stands, opened if a plane does, ready for the renderer; the last one is kept, because the next print
    is often of the same, in another light, or without something."""
    with transaction(engine) as session:
        revision = session.get(Revision, revision_id)
        if revision is None:
            raise LookupError("the set of this print is not there any more")
        with open_blob(session, revision.arrays) as file:
            model = arranged(unpack_set(file), arrangement)
    return Stage(model_as_shown(WorkingSet(model), plane))
