"""What a plane leaves of a mesh."""

from __future__ import annotations

import numpy as np

from zevlo.core.arrays import Floats, Integers
from zevlo.core.scene.model.visible import CuttingPlane


def cut_away(vertices: Floats, faces: Integers, plane: CuttingPlane) -> tuple[Floats, Integers, Integers]:
    """What a plane leaves of a mesh: vertices, faces, and which face each is a piece of.

    ``vertices`` (V, 3 or more): what a vertex has beside its place is cut with it. Triangles that reach through are
    cut, so that nothing beyond is left to be met by a ray or a drawing.
    """
    beyond = plane.over(vertices[:, :3])
    over = beyond > 0.0
    count = over[faces].sum(axis=1)
    whole = np.flatnonzero(count == 0)
    two, one = np.flatnonzero(count == 1), np.flatnonzero(count == 2)
    points = [vertices]
    pieces, owners = [faces[whole]], [whole]
    made = len(vertices)
    for chosen, lone_is_over in ((two, True), (one, False)):
        if len(chosen) == 0:
            continue
        corners = faces[chosen]
        lone = np.argmax(over[corners] == lone_is_over, axis=1)
        rows = np.arange(len(chosen))
        a, b, c = (corners[rows, (lone + step) % 3] for step in range(3))
        ab, ac = _crossing(vertices, beyond, a, b), _crossing(vertices, beyond, a, c)
        n_ab = np.arange(made, made + len(chosen), dtype=np.int32)
        n_ac = n_ab + len(chosen)
        made += 2 * len(chosen)
        points += [ab, ac]
        if lone_is_over:
            pieces += [np.stack([n_ab, b, c], axis=1), np.stack([n_ab, c, n_ac], axis=1)]
            owners += [chosen, chosen]
        else:
            pieces.append(np.stack([a, n_ab, n_ac], axis=1))
            owners.append(chosen)
    return (
        np.concatenate(points),
        np.concatenate(pieces).astype(np.int32),
        np.concatenate(owners).astype(np.int32),
    )


def _crossing(vertices: Floats, beyond: Floats, start: Integers, end: Integers) -> Floats:
    """Where sides meet the plane. From the end before it whichever way, so that neighbours agree on the point."""
    up = beyond[start] <= beyond[end]
    low, high = np.where(up, start, end), np.where(up, end, start)
    share = -beyond[low] / (beyond[high] - beyond[low])
    places: Floats = vertices[low] + share[:, None] * (vertices[high] - vertices[low])
    return places
