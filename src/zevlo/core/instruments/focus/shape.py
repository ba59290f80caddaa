"""The shape of the blur as it is told: for whoever draws it, and in the middle and the corner of a picture."""

from __future__ import annotations

from functools import lru_cache
from math import hypot

import numpy as np

from zevlo.core.arrays import Floats
from zevlo.core.bases import SheetGroup
from zevlo.core.camera.from_shot import Framing
from zevlo.core.optics.aperture import Aperture, Edge, mechanical_edge
from zevlo.core.optics.lens import Window

DIRECTIONS = 72
"""In how many directions it is told how far a stop with blades reaches."""
_TURNS = np.linspace(0.0, 2.0 * np.pi, DIRECTIONS, endpoint=False)


class EdgeSeen(SheetGroup):
    """An edge of the barrel: it lets through what lies within ``radius`` of its middle, which lies at x[0] + x[1]·u to
    the right and y[0] + y[1]·v above that of the disc, as seen from the share u, v of the frame."""

    radius: float
    x: tuple[float, float]
    y: tuple[float, float]


class DiscSeen(SheetGroup):
    """What a light behind the focus is drawn as, in a place of the picture."""

    outline: list[tuple[float, float]]
    """Anticlockwise; empty where nothing is left of it."""
    share: float
    """Of the whole disc's light that is left."""


class BlurShape(SheetGroup):
    """What the disc of the blur looks like. Lengths in half its breadth, of the round disc of the same stop; as a light
    behind the focus is drawn, one before it turned over."""

    radii: list[float] | None
    """How far it reaches in directions evenly all round, anticlockwise from the right; null where it is round."""
    weights: tuple[float, float]
    """How bright it is r from its middle: a + b·r²."""
    edges: list[EdgeSeen]
    middle: DiscSeen
    corner: DiscSeen
    """In the corner of the frame that lies farthest from the lens axis, the upper right one where they are alike."""


_PLACES: Floats = np.array([(1.0, 1.0), (0.0, 1.0), (0.0, 0.0), (1.0, 0.0), (0.5, 0.5)])
"""The corners of a frame, and its middle."""


def shape_seen(framing: Framing) -> BlurShape | None:
    """The shape of a shot's blur; None where everything is sharp."""
    aperture, camera = framing.aperture, framing.camera
    if aperture is None:
        return None
    found = (mechanical_edge(camera.corners), aperture.edge)
    edges = tuple(edge for edge in found if edge is not None)
    window = camera.window
    film = [(x, y) for x, y in camera.film(_PLACES).tolist()]
    far = max(range(4), key=lambda n: round(hypot(*film[n]), 9))
    return BlurShape.model_construct(
        radii=None if aperture.round else np.round(aperture.radii(_TURNS), 4).tolist(),
        weights=aperture.weights,
        edges=[_edge_seen(edge, window) for edge in edges],
        middle=_disc(aperture, edges, *film[4]),
        corner=_disc(aperture, edges, *film[far]),
    )


def _edge_seen(edge: Edge, window: Window) -> EdgeSeen:
    return EdgeSeen.model_construct(
        radius=edge.radius,
        x=(-edge.by * window.left, -edge.by * window.width),
        y=(-edge.by * window.bottom, -edge.by * window.height),
    )


@lru_cache(maxsize=256)
def _disc(aperture: Aperture, edges: tuple[Edge, ...], x: float, y: float) -> DiscSeen:
    share = 1.0 if aperture.edge is None else aperture.clear_shares().at(aperture.edge, x, y)
    outline = [(a, b) for a, b in np.round(aperture.outline(x, y, edges), 3).tolist()]
    return DiscSeen.model_construct(outline=outline, share=share)
