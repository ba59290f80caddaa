"""Finals: light gathered tile by tile by any worker, looked at early, and closed by one: cleaned, developed, kept."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np
from sqlalchemy import Engine

from zevlo import __version__
from zevlo.core.finals.pieces import Tile, frame_of, samples_next, seed_of, tiles_of
from zevlo.core.finals.recipe import Recipe
from zevlo.core.framing.solve import solve
from zevlo.core.instruments.back.crops import picture_of
from zevlo.files.scratch import scratch
from zevlo.lab import stacked
from zevlo.lab.develop import cleaned, expose, png
from zevlo.lab.history import History, words_of
from zevlo.lab.layers import MEASURED
from zevlo.lab.pictures import Layers, written
from zevlo.lab.renderer import Gathered, Image, Renderer
from zevlo.lab.stacked import pictures_in, rays_each, taken_in
from zevlo.store import attempts, finals, prints
from zevlo.store.attempts import Output
from zevlo.store.blobs import put_blob, put_file
from zevlo.store.database import transaction
from zevlo.store.finals import Pass
from zevlo.store.machines import speed_of_all
from zevlo.store.prints import SMALL_VIEW
from zevlo.store.tables import Piece
from zevlo.text import lab as say

LOOK_PX = 1600
"""Longest side of a picture that is there to be looked at in the Lab."""
SURFACE = ("albedo", "normal")
"""What is gathered beside the light: it helps to clean it, and may be a layer of its own."""


def gather_tile(engine: Engine, piece: Piece, recipe: Recipe, renderer: Renderer) -> float:
    """One pass of a tile; what follows it is put in the queue. The rays a second it went at."""
    assert recipe.quality is not None
    size, tile = recipe.size_px, _tile(piece)
    frame, _ = picture_of(recipe.shot, recipe.crop)
    with transaction(engine) as session:
        kept = finals.gathered(session, piece.print_id, piece.number)
    pixels = tile[2] - tile[0], tile[3] - tile[1]
    before = None if kept is None else Gathered.unpacked(kept[0], pixels, kept[1])
    first = 0 if before is None else before.samples
    white = solve(recipe.shot).exposure.white_cd_m2
    taken = taken_in(renderer, recipe, tile, frame) if recipe.stack else ()
    pictures = pictures_in(taken, tile) if taken else 1
    samples = samples_next(first, recipe.samples, pictures)
    started = time.perf_counter()
    if not taken:
        seed = seed_of(recipe.seed, piece.number, first)
        made = renderer.tile(recipe.shot, pixels, frame_of(tile, size, frame), samples, seed, white)
    else:
        made = stacked.gathered(renderer, recipe, taken, tile, frame, samples, (piece.number, first), white)
    took = time.perf_counter() - started
    now = made if before is None else before + made
    grain = now.grain
    enough = now.samples >= recipe.samples or (now.samples >= recipe.quality.least and grain <= recipe.quality.noise)
    own = pixels[0] * pixels[1] * samples * (rays_each(taken, tile) if taken else 1.0) / took
    with transaction(engine) as session:
        everyone = speed_of_all(session)
        following = finals.gather(
            session, piece.print_id, piece.attempt, Pass(now.packed(), now.samples, pictures, grain, enough),
            everyone or own, piece.job,
        )  # fmt: skip
    if following is not None and following.look is not None:
        _look(engine, piece, recipe, following.look)
    return own


def _tile(piece: Piece) -> Tile:
    left, top, right, bottom = piece.tile
    return left, top, right, bottom


def _tiles_in(engine: Engine, piece: Piece, recipe: Recipe) -> Iterator[tuple[Tile, Gathered]]:
    """What the tiles of a print gathered, one after the other; one is in memory at a time."""
    for number, tile in enumerate(tiles_of(recipe.size_px)):
        with transaction(engine) as session:
            kept = finals.gathered(session, piece.print_id, number)
        if kept is not None:
            yield tile, Gathered.unpacked(kept[0], (tile[2] - tile[0], tile[3] - tile[1]), kept[1])


def _look(engine: Engine, piece: Piece, recipe: Recipe, samples: int) -> None:
    """Hang up a small picture of what there is so far."""
    width, height = recipe.size_px
    by = max(1, -(-max(width, height) // LOOK_PX))
    small = np.zeros((-(-height // by), -(-width // by), 9), dtype=np.float64)
    counts = np.zeros((*small.shape[:2], 1))
    for (left, top, right, bottom), gathered in _tiles_in(engine, piece, recipe):
        rows, columns = np.arange(top, bottom) // by, np.arange(left, right) // by
        first_row, first_column = rows[0], columns[0]
        part = np.zeros((rows[-1] - first_row + 1, columns[-1] - first_column + 1, 9))
        starts = [np.flatnonzero(np.diff(line, prepend=-1)) for line in (rows, columns)]
        part += np.add.reduceat(np.add.reduceat(gathered.planes[..., :9], starts[0], axis=0), starts[1], axis=1)
        here = np.s_[first_row : first_row + part.shape[0], first_column : first_column + part.shape[1]]
        small[here] += part
        sizes = [np.diff([*start, len(line)]) for start, line in zip(starts, (rows, columns), strict=True)]
        counts[here] += (sizes[0][:, None] * sizes[1])[..., None]
    mean = (small / np.maximum(counts, 1.0)).astype(np.float32)
    light = cleaned(mean[..., :3].copy(), mean[..., 3:6].copy(), mean[..., 6:9].copy())
    picture = png(expose(light, solve(recipe.shot).exposure.white_cd_m2), {})
    with transaction(engine) as session:
        shown = Output(put_blob(session, picture, "image/png"), "image/png")
        finals.store_outputs(session, piece.print_id, {SMALL_VIEW: shown}, {"samples": samples, "zevlo": __version__})


class _Stopped(Exception):
    """A final was cancelled or paused, or is closed by another meanwhile."""


def close(engine: Engine, piece: Piece, recipe: Recipe, renderer: Renderer) -> None:
    """Make the files of a final whose tiles are all there."""

    def going_on(share: float, doing: str) -> None:
        with transaction(engine) as session:
            if not attempts.report_progress(session, piece.print_id, piece.attempt, share, None, doing):
                raise _Stopped

    try:
        with scratch("final") as folder:
            _close(engine, piece, recipe, renderer, folder, going_on)
    except _Stopped:
        return


def _close(
    engine: Engine, piece: Piece, recipe: Recipe, renderer: Renderer, folder: Path,
    going_on: Callable[[float, str], None],
) -> None:  # fmt: skip
    assert recipe.formats is not None
    assert recipe.called is not None
    going_on(0.0, say.PUTTING_THE_TILES_TOGETHER)
    width, height = recipe.size_px
    formats = recipe.formats
    light = np.empty((height, width, 3), dtype=np.float32)
    # Half is as fine as a surface's colour and its normal are known; a layer in full precision is given it.
    kinds = {name: np.float32 if formats.exr == "float" and name in formats.layers else np.float16 for name in SURFACE}
    surface = {name: np.empty((height, width, 3), dtype=kind) for name, kind in kinds.items()}
    most = 0
    for (left, top, right, bottom), gathered in _tiles_in(engine, piece, recipe):
        here = np.s_[top:bottom, left:right]
        light[here], surface["albedo"][here], surface["normal"][here] = np.split(gathered.planes[..., :9], 3, axis=2)
        most = max(most, gathered.samples)
    going_on(0.1, say.CLEANING_THE_WHOLE_PICTURE)
    light = cleaned(light, surface["albedo"], surface["normal"])
    kept: dict[str, Any] = {name: plane for name, plane in surface.items() if name in formats.layers}
    del surface
    frame, _ = picture_of(recipe.shot, recipe.crop)
    measured: dict[str, Any] = {
        name: partial(by_band, renderer, recipe, frame=frame)
        for name, by_band in MEASURED.items()
        if name in formats.layers
    }
    layers = Layers(**kept, **measured)
    white = solve(recipe.shot).exposure.white_cd_m2
    light /= np.float32(white)
    with transaction(engine) as session:
        history = History.of(prints.print_row(session, piece.print_id))
    words = words_of(recipe.shot, history)

    def writing(ending: str, share: float) -> None:
        going_on(0.3 + 0.65 * share, say.writing(ending.upper()))

    outputs: dict[str, Output] = {}
    for made in written(folder, light, white, recipe, words, layers, renderer.part_names, writing):
        with transaction(engine) as session:
            kept_as = put_file(session, made.path, made.media_type)
            outputs[f"{recipe.called}.{made.ending}"] = Output(kept_as, made.media_type)
        made.path.unlink()
    with transaction(engine) as session:
        seen = put_blob(session, png(_for_looking(light), words), "image/png")
        outputs[SMALL_VIEW] = Output(seen, "image/png")
        made_with: dict[str, object] = {"renderer": renderer.name, "zevlo": __version__, "samples": most}
        if attempts.finish(session, piece.print_id, piece.attempt, outputs, made_with, True):
            finals.drop_samples(session, piece.print_id)


def _for_looking(linear: Image) -> Image:
    """A picture made small enough for the Lab, by means of whole pixels."""
    height, width = linear.shape[:2]
    by = -(-max(width, height) // LOOK_PX)
    if by <= 1:
        return linear
    rows, columns = (np.arange(0, side, by) for side in (height, width))
    total = np.add.reduceat(np.add.reduceat(linear, rows, axis=0), columns, axis=1)
    counts = np.diff([*rows, height])[:, None] * np.diff([*columns, width])
    return np.asarray(total / counts[..., None], dtype=np.float32)
