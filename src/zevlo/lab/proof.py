"""Making one print: set and light from the database, passes of light, a first clean picture, then the last."""

from __future__ import annotations

import contextlib
import logging
import socket
import time
import uuid
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

from sqlalchemy import Engine
from sqlalchemy.exc import InterfaceError, OperationalError

from zevlo import __version__
from zevlo.core.camera.from_shot import cutting_of
from zevlo.core.finals.recipe import Recipe
from zevlo.core.framing.solve import solve
from zevlo.core.instruments.back.crops import picture_of
from zevlo.core.instruments.focus.stacks import frame_at
from zevlo.core.scene.arrangement import Arrangement
from zevlo.core.scene.as_shown import model_as_shown
from zevlo.core.scene.model.visible import CuttingPlane
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot
from zevlo.lab import finals
from zevlo.lab.develop import clean, expose, exr, png, read_exr
from zevlo.lab.history import HISTORY_KEY, SHOT_KEY, History, words_of
from zevlo.lab.merge import merged, shares
from zevlo.lab.mitsuba_setup import NoRenderer
from zevlo.lab.renderer import BOUNCES, Image, MitsubaRenderer, Renderer
from zevlo.lab.sets import model_of
from zevlo.lab.stage import Stage
from zevlo.store import attempts, prints
from zevlo.store.attempts import Output, Watch
from zevlo.store.blobs import get_blob, put_blob
from zevlo.store.database import transaction
from zevlo.store.jobs import AT_LEISURE, enqueue_due
from zevlo.store.prints import FILM, PICTURE
from zevlo.store.tables import Piece
from zevlo.text import everywhere
from zevlo.text import lab as say

PASS_SAMPLES = 4
FIRST_CLEAN_AT = 8
log = logging.getLogger("zevlo.lab")


def watch_now() -> Watch:
    """This machine, and how often its kernel has ended a program for want of memory."""
    kills = 0
    for path in ("/sys/fs/cgroup/memory.events", "/proc/vmstat"):
        with contextlib.suppress(OSError):
            sizes = dict(line.split()[:2] for line in Path(path).read_text().splitlines() if line)
            kills += int(sizes.get("oom_kill", 0))
    return Watch(socket.gethostname(), kills)


def passes_for(samples: int, pixels: int) -> list[int]:
    """Samples per pixel of each pass: about two million rays at a time keep the machine's memory calm."""
    each = max(1, min(PASS_SAMPLES, 2_400_000 // max(pixels, 1)))
    plan = [each] * (samples // each)
    return plan + ([samples - sum(plan)] if sum(plan) < samples else [])


def develop(engine: Engine, key: uuid.UUID, number: int = 0, job: int | None = None) -> float | None:
    """Make a piece of a print, whatever comes: it ends done, failed with a reason, or stays for another worker. The
    rays a second a tile of a final went at."""
    with transaction(engine) as session:
        piece = attempts.claim_piece(session, key, watch_now(), number, job)
        if piece is None:
            return None
        if attempts.too_often(piece.interruptions):
            attempts.fail(session, key, piece.attempt, attempts.interrupted_words(piece.interruptions))
            return None
        recipe = prints.recipe_of(prints.print_row(session, key))
    try:
        renderer = MitsubaRenderer(
            _stage(engine, recipe.revision, recipe.arrangement, cutting_of(recipe.shot)),
            recipe.light,
            recipe.shot.left_out,
            BOUNCES if recipe.quality is None else recipe.quality.bounces,
        )
        if recipe.quality is not None:
            if piece.samples[1]:
                return finals.gather_tile(engine, piece, recipe, renderer)
            else:
                finals.close(engine, piece, recipe, renderer)
        elif recipe.stack and piece.number == len(recipe.stack):
            merge_stack(engine, piece, recipe, renderer)
        else:
            make_piece(engine, piece, recipe, renderer, time.perf_counter)
    except NoRenderer as missing:
        _fail(engine, piece, str(missing))
    except (OperationalError, InterfaceError):
        raise  # the database is away: nothing can be said now, and the job comes again
    except MemoryError:
        _fail(engine, piece, say.THERE_WAS_NOT_ENOUGH_MEMORY)
    except Exception as error:
        log.exception("print %s failed", key)
        _fail(engine, piece, say.the_renderer_stopped(type(error).__name__, error))
    return None


def _fail(engine: Engine, piece: Piece, why: str) -> None:
    with transaction(engine) as session:
        attempts.fail(session, piece.print_id, piece.attempt, why)


FILES = (PICTURE, FILM)


def make_piece(engine: Engine, piece: Piece, recipe: Recipe, renderer: Renderer, clock: Callable[[], float]) -> None:
    """Run the passes of a piece and hang up its pictures; stops where its print was cancelled.

    ``engine``: of the database; ``recipe``: of the print; ``renderer``: of its set; ``clock``: seconds, for how long
    passes may take."""
    width, height = recipe.size_px
    plan = passes_for(recipe.samples, width * height)
    started, shown = clock(), 0
    frame, _ = picture_of(recipe.shot, recipe.crop)
    count = len(recipe.stack)
    shot = frame_at(recipe.shot, recipe.stack[piece.number]) if count else recipe.shot
    which = say.picture_of_light(piece.number + 1, count) if count else everywhere.LIGHT
    with transaction(engine) as session:
        at_leisure = prints.print_row(session, piece.print_id).rank >= AT_LEISURE
    for exposure in renderer.passes(shot, recipe.size_px, plan, recipe.seed + piece.number, frame):
        share = exposure.samples / recipe.samples
        left = (clock() - started) * (1.0 - share) / share
        with transaction(engine) as session:
            doing = say.samples_of(which, exposure.samples, recipe.samples)
            if not attempts.report_progress(session, piece.print_id, piece.attempt, 0.97 * share, left + 1.0, doing):
                return
            if at_leisure and attempts.step_back(session, piece.print_id, piece.attempt, piece.job):
                return
        last = exposure.samples >= recipe.samples
        # Of a stack nobody waits for the first look at each picture.
        if last or (exposure.samples >= FIRST_CLEAN_AT and shown == 0 and not count):
            shown = exposure.samples
            made = Made(clean(exposure), solve(shot).exposure.white_cd_m2, shot, _made_with(renderer, exposure.samples))
            names = (prints.frame_name(piece.number, "png"), prints.frame_name(piece.number, "exr")) if count else FILES
            if not _hang_up(engine, piece, made, last, names):
                return


def merge_stack(engine: Engine, piece: Piece, recipe: Recipe, renderer: Renderer) -> None:
    """Make one picture of a stack's, all of which are there."""
    frame, _ = picture_of(recipe.shot, recipe.crop)
    shots = [frame_at(recipe.shot, distance) for distance in recipe.stack]
    taken = shares(renderer.per_metre, shots, recipe.size_px, frame)
    white = solve(shots[0]).exposure.white_cd_m2

    def pictures() -> Iterator[Image]:
        for number in range(len(shots)):
            with transaction(engine) as session:
                doing = say.merging_picture_of(number + 1, len(shots))
                if not attempts.report_progress(
                    session, piece.print_id, piece.attempt, number / len(shots), None, doing
                ):
                    raise _Late
                output = prints.print_row(session, piece.print_id).outputs[prints.frame_name(number, "exr")]
                film = get_blob(session, output["blob"])
            yield read_exr(film)

    try:
        light = merged(pictures(), taken) * white
    except _Late:
        return
    _hang_up(engine, piece, Made(light, white, recipe.shot, _made_with(renderer, recipe.samples)), True, FILES)


class _Late(Exception):
    """The print was cancelled, or another is at it."""


@dataclass(frozen=True)
class Made:
    """Light on film in cd/m², the luminance that reaches white, the shot it is of and what it was made with."""

    light: Image
    white_cd_m2: float
    shot: Shot
    made_with: dict[str, object]


def _made_with(renderer: Renderer, samples: int) -> dict[str, object]:
    return {"renderer": renderer.name, "zevlo": __version__, "samples": samples}


def _hang_up(engine: Engine, piece: Piece, made: Made, last: bool, names: tuple[str, str]) -> bool:
    linear = expose(made.light, made.white_cd_m2)
    with transaction(engine) as session:
        words = words_of(made.shot, History.of(prints.print_row(session, piece.print_id)))
    picture = png(linear, words)
    header = {"comments": made.shot.name, "zevloShot": words[SHOT_KEY], "zevloHistory": words[HISTORY_KEY]}
    film = exr(linear, made.white_cd_m2, header)
    with transaction(engine) as session:
        shown = Output(put_blob(session, picture, "image/png"), "image/png")
        outputs = {names[0]: shown, names[1]: Output(put_blob(session, film, "image/x-exr"), "image/x-exr")}
        if names != FILES and piece.number == 0:
            # Until they are merged a stack is seen by its first picture.
            outputs[FILES[0]] = shown
        if not attempts.finish(session, piece.print_id, piece.attempt, outputs, made.made_with, last):
            return False
        if last:
            # Of a stack the last one brings the merging.
            enqueue_due(session, [piece.print_id], ending=piece.job)
        return True


@lru_cache(maxsize=1)
def _stage(engine: Engine, revision_id: uuid.UUID, arrangement: Arrangement, plane: CuttingPlane | None) -> Stage:
    """A set as it stands, opened if a plane does, ready for the renderer; the last one is kept, because the next print
    is often of the same, in another light, or without something."""
    return Stage(model_as_shown(WorkingSet(model_of(engine, revision_id, arrangement)), plane))
