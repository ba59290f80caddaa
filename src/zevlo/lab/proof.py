"""Making one print: set and light from the database, passes of light, a first clean picture, then the last."""

from __future__ import annotations

import contextlib
import logging
import socket
import time
import uuid
from collections.abc import Callable
from dataclasses import replace
from functools import lru_cache
from pathlib import Path

from sqlalchemy import Engine
from sqlalchemy.exc import InterfaceError, OperationalError

from zevlo import __version__
from zevlo.core.light.setup import LightSetup
from zevlo.core.scene.arrangement import Arrangement, arranged
from zevlo.core.scene.model import SetModel
from zevlo.core.shot import Shot
from zevlo.core.solve import solve
from zevlo.files.arrays import unpack_set
from zevlo.lab.develop import clean, expose, exr, png
from zevlo.lab.mitsuba_setup import NoRenderer
from zevlo.lab.renderer import Exposure, MitsubaRenderer, Renderer
from zevlo.store import prints
from zevlo.store.blobs import open_blob, put_blob
from zevlo.store.database import transaction
from zevlo.store.prints import Watch
from zevlo.store.tables import Print, Revision

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


def develop(engine: Engine, key: uuid.UUID) -> None:
    """Make a print, whatever comes: it ends done, failed with a reason, or stays for another worker."""
    with transaction(engine) as session:
        entry = prints.take_up(session, key, watch_now())
        if entry is None:
            return
        if len(entry.interruptions) >= MOST_TRIES:
            prints.fail(session, key, entry.attempt, prints.interrupted_words(entry.interruptions))
            return
    try:
        _develop(engine, entry)
    except NoRenderer as missing:
        _fail(engine, entry, str(missing))
    except (OperationalError, InterfaceError):
        raise  # the database is away: nothing can be said now, and the job comes again
    except MemoryError:
        _fail(engine, entry, "There was not enough memory for this print. Close other programs and retry.")
    except Exception as error:
        log.exception("print %s failed", key)
        _fail(engine, entry, f"The renderer stopped: {type(error).__name__}: {error}")


def _fail(engine: Engine, entry: Print, why: str) -> None:
    with transaction(engine) as session:
        prints.fail(session, entry.id, entry.attempt, why)


def _develop(engine: Engine, entry: Print) -> None:
    shot, light = Shot.model_validate(entry.settings), LightSetup.model_validate(entry.light)
    arrangement = Arrangement.model_validate(entry.arrangement).model_dump_json()
    renderer = _renderer(engine, entry.revision_id, arrangement, light.model_dump_json(), shot.left_out)
    make_print(engine, entry, shot, renderer, time.perf_counter)


def make_print(engine: Engine, entry: Print, shot: Shot, renderer: Renderer, clock: Callable[[], float]) -> None:
    """Run the passes of a print and hang up its pictures; stops where it was cancelled."""
    size = (entry.width, entry.height)
    plan = passes_for(entry.samples, entry.width * entry.height)
    started, shown = clock(), 0
    for exposure in renderer.passes(shot, size, plan, entry.seed):
        share = exposure.samples / entry.samples
        left = (clock() - started) * (1.0 - share) / share
        with transaction(engine) as session:
            doing = f"Light {exposure.samples} of {entry.samples}"
            if not prints.follow_up(session, entry.id, entry.attempt, 0.97 * share, left + 1.0, doing):
                return
        last = exposure.samples >= entry.samples
        if last or (exposure.samples >= FIRST_CLEAN_AT and shown == 0):
            shown = exposure.samples
            if not _hang_up(engine, entry, shot, exposure, renderer.name, last):
                return


def words_of(shot: Shot) -> dict[str, str]:
    """What a picture tells of itself."""
    return {
        "Title": shot.name,
        "Software": f"Zevlo {__version__}",
        "Description": shot.model_dump_json(by_alias=True),
    }


def _hang_up(engine: Engine, entry: Print, shot: Shot, exposure: Exposure, made_by: str, last: bool) -> bool:
    white = solve(shot).exposure.white_cd_m2
    linear = expose(clean(exposure), white)
    words = words_of(shot)
    made_with: dict[str, object] = {"renderer": made_by, "zevlo": __version__, "samples": exposure.samples}
    picture = png(linear, words)
    film = exr(linear, white, {"comments": shot.name, "zevloShot": words["Description"]})
    with transaction(engine) as session:
        return prints.finish(
            session,
            entry.id,
            entry.attempt,
            put_blob(session, picture, "image/png"),
            put_blob(session, film, "image/x-exr"),
            made_with,
            last,
        )


@lru_cache(maxsize=1)
def _renderer(
    engine: Engine, revision_id: uuid.UUID, arrangement: str, light: str, left_out: tuple[str, ...]
) -> MitsubaRenderer:
    """The stage of a set in a light; the last one is kept, because the next print is often of the same."""
    with transaction(engine) as session:
        revision = session.get(Revision, revision_id)
        if revision is None:
            raise LookupError("the set of this print is not there any more")
        with open_blob(session, revision.arrays) as file:
            model = arranged(unpack_set(file), Arrangement.model_validate_json(arrangement))
    return renderer_of(model, LightSetup.model_validate_json(light), left_out)


def renderer_of(model: SetModel, light: LightSetup, left_out: tuple[str, ...]) -> MitsubaRenderer:
    """The stage of a set in a light, without what a shot leaves out. Raises ValueError where that is everything."""
    if left_out:
        kept = model.faces_without(model.parts_at(left_out))
        if not kept.any():
            raise ValueError("everything is left out of this shot")
        model = replace(model, faces=model.faces[kept], face_material=model.face_material[kept])
    return MitsubaRenderer(model, light)
