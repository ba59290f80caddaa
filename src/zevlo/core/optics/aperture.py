"""The shape of the stop, which is the shape of the blur: blades, how they are turned, the weight of the rim against the
middle, and what the edges of the barrel take off it towards the corners.

Lengths across the stop are in radii of the round one of the same f-number: a bladed one has its area, so that the
exposure is the same. A light behind the focus is drawn in this shape upright, one before it turned over.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from math import cos, hypot, pi, radians, sin, sqrt
from typing import Any

import numpy as np
from shapely.geometry import Polygon
from shapely.geometry.polygon import orient

from zevlo.core.arrays import Floats
from zevlo.core.optics.falloff import Corners, rim_shift

FEWEST_BLADES = 3
"""Under these the stop is round."""
_TURN = 2.0 * pi
_SIDES = 40
_ROUND_ABOUT: Floats = np.array([(cos(n * _TURN / _SIDES), sin(n * _TURN / _SIDES)) for n in range(_SIDES)])
"""Places all round a circle of radius 1."""


@dataclass(frozen=True)
class Edge:
    """A rim of the barrel before the stop: seen from film place ``x``, ``y`` (mm) it lets through what lies within
    ``radius`` of its own middle, which has moved by ``by`` · (-x, -y), all in radii of the stop."""

    radius: float
    by: float

    def clear(self, xp: Any, x: Any, y: Any, across: Any, up: Any) -> Any:
        """Whether places of the stop are seen past it.

        ``xp``: the array library; ``x``, ``y``: the film place, in mm; ``across``, ``up``: places of the stop, in
        its radii."""
        a, b = across + self.by * x, up + self.by * y
        return a * a + b * b <= self.radius * self.radius


def mechanical_edge(corners: Corners) -> Edge | None:
    """The edge that mechanical falloff darkens the corners by; None where there is none."""
    if corners.shift == 0.0:
        return None
    return Edge(1.0 / corners.pupil, corners.shift / corners.corner_mm / corners.pupil)


@dataclass(frozen=True)
class Aperture:
    """A stop. ``rim_weight``: from -1, all light in the middle, to 1, all at the rim. ``squeeze``: share of its disc
    that the edge of the barrel hides from the corner of the fitted back, ``corner_mm`` off the axis; the picture is as
    bright for that."""

    blades: int = 0
    turned_deg: float = 0.0
    rim_weight: float = 0.0
    squeeze: float = 0.0
    corner_mm: float = 1.0

    @property
    def round(self) -> bool:
        """Whether it has no blades that show."""
        return self.blades < FEWEST_BLADES

    @property
    def reach(self) -> float:
        """How far its corners reach: a polygon of n corners at R has the area n/2·sin(2π/n)·R²."""
        n = self.blades
        return 1.0 if self.round else sqrt(_TURN / (n * sin(_TURN / n)))

    @property
    def first_corner(self) -> float:
        """The angle from the right at which its first corner lies: above, before the blades are turned."""
        return radians(self.turned_deg) + pi / 2.0

    @property
    def mean_square(self) -> float:
        """Mean of the squared distances from its middle, over its area: R²/2 of a disc, R²(2 + cos 2π/n)/6 of a
        polygon."""
        return 0.5 if self.round else self.reach**2 * (2.0 + cos(_TURN / self.blades)) / 6.0

    @property
    def weights(self) -> tuple[float, float]:
        """How much light goes through a place r from the middle, a + b·r²: 1 over all of it in the mean."""
        mean = self.mean_square
        most = max(1.0, self.reach**2 / mean - 1.0)
        return 1.0 - self.rim_weight / most, self.rim_weight / most / mean

    @property
    def edge(self) -> Edge | None:
        """The edge that squeezes it; None where nothing does."""
        if self.squeeze == 0.0:
            return None
        return Edge(self.reach, rim_shift(self.squeeze) * self.reach / self.corner_mm)

    def radii(self, angles: Floats) -> Floats:
        """How far it reaches in directions (n,), radians from the right."""
        if self.round:
            return np.ones(len(angles))
        step = _TURN / self.blades
        beside = np.mod(angles - self.first_corner, step) - step / 2.0
        found: Floats = self.reach * cos(step / 2.0) / np.cos(beside)
        return found

    @property
    def corners(self) -> Floats:
        """Its outline (n, 2), all within which is clear; of a round one, places all round it."""
        if self.round:
            return _ROUND_ABOUT
        angles = self.first_corner + np.arange(self.blades) * (_TURN / self.blades)
        return self.reach * np.column_stack([np.cos(angles), np.sin(angles)])

    def outline(self, x: float, y: float, edges: tuple[Edge, ...]) -> Floats:
        """What is left of it (n, 2) as seen from film place ``x``, ``y`` (mm) past edges; anticlockwise, and empty
        where nothing is."""
        left = Polygon(self.corners)
        for edge in edges:
            left = left.intersection(Polygon(edge.radius * _ROUND_ABOUT - edge.by * np.array([x, y])))
        if left.is_empty or left.geom_type != "Polygon":
            return np.zeros((0, 2))
        found: Floats = np.array(orient(left).exterior.coords)[:-1]
        return found

    def clear_shares(self) -> ClearShares:
        """How much of its light comes past the edge that squeezes it, place by place."""
        return _clear_shares(self)


@dataclass(frozen=True)
class ClearShares:
    """Shares (directions, distances) of a stop's light that come past an edge that has moved so far, in radii of the
    edge, from 0 to 2; directions all round, the first again at the end."""

    shares: Floats

    def at(self, edge: Edge, x: float, y: float) -> float:
        """The share as seen from film place ``x``, ``y`` (mm)."""
        columns = self.shares.shape[1] - 1
        rows = self.shares.shape[0] - 1
        row = (np.arctan2(y, x) / _TURN % 1.0) * rows
        column = min(edge.by * hypot(x, y) / edge.radius / 2.0, 1.0) * columns
        a, b = min(int(row), rows - 1), min(int(column), columns - 1)
        s, t = row - a, column - b
        low, high = ((1.0 - t) * self.shares[one, b] + t * self.shares[one, b + 1] for one in (a, a + 1))
        return float((1.0 - s) * low + s * high)


_DIRECTIONS, _DISTANCES, _RINGS, _ROUND_A_RING = 60, 48, 40, 240


@lru_cache(maxsize=16)
def _clear_shares(aperture: Aperture) -> ClearShares:
    """Summed over rings of the stop of equal area, weighted as the rim is."""
    angles = np.linspace(0.0, _TURN, _ROUND_A_RING, endpoint=False)
    share = np.sqrt((np.arange(_RINGS) + 0.5) / _RINGS)
    radii = aperture.radii(angles)
    r = (share[:, None] * radii).ravel()
    area = np.broadcast_to(radii**2, (_RINGS, _ROUND_A_RING)).ravel()
    a, b = aperture.weights
    light = area * (a + b * r * r)
    light = light / light.sum()
    across, up = (r * np.tile(one, _RINGS) for one in (np.cos(angles), np.sin(angles)))
    turns = np.linspace(0.0, _TURN, _DIRECTIONS + 1)
    moved = 2.0 * aperture.reach * np.linspace(0.0, 1.0, _DISTANCES + 1)
    found = np.empty((_DIRECTIONS + 1, _DISTANCES + 1))
    for row, turn in enumerate(turns):
        # How far along that direction each place may have the edge move before it is hidden.
        along, beside = across * cos(turn) + up * sin(turn), up * cos(turn) - across * sin(turn)
        until = np.sqrt(np.maximum(aperture.reach**2 - beside**2, 0.0)) - along
        order = np.argsort(until)
        hidden = np.concatenate([[0.0], np.cumsum(light[order])])
        found[row] = 1.0 - hidden[np.searchsorted(until[order], moved, side="left")]
    return ClearShares(np.maximum(found, 0.0))
