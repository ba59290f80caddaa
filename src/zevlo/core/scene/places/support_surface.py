"""What lies under a part: the paper that is put under it goes there, be the part a jar on a table or a table top."""

from __future__ import annotations

import numpy as np

from zevlo.core.scene.model.set_model import with_all_below
from zevlo.core.scene.working import WorkingSet

_ACROSS = 9
_INTO_IT = 0.02
"""From how far above its lowest point one looks down, as a share of its size: things sink a little into what they
stand on."""
_MOST_SURFACES = 32


def under_it(working: WorkingSet, part: int) -> float:
    """Height of the surface most of a part's foot looks down on; of its own lowest point where that is nothing.

    Raises ``ValueError`` where neither the part nor what is below it in the tree has faces.
    """
    low, high = working.model.box_of(part)
    rise = _INTO_IT * float((high - low).max())
    sides = [np.linspace(low[axis], high[axis], _ACROSS + 2)[1:-1] for axis in (0, 1)]
    x, y = (grid.ravel() for grid in np.meshgrid(*sides))
    height = np.full(len(x), low[2] + rise)
    found = np.full(len(x), -np.inf)
    down = np.array([0.0, 0.0, -1.0])
    own = np.array(with_all_below([part], working.model.parents))
    on = np.arange(len(x))
    for _ in range(_MOST_SURFACES):
        hits = working.rays.first(np.stack([x[on], y[on], height[on]], axis=1), np.broadcast_to(down, (len(on), 3)))
        met = hits.face >= 0
        on, below = on[met], height[on[met]] - hits.distance[met]
        others = ~np.isin(working.model.owner_of(working.kept[hits.face[met]]), own)
        found[on[others]] = below[others]
        height[on] = below - 1.0e-4 * working.scale
        on = on[~others]
        if len(on) == 0:
            break
    middle = float(np.median(found))
    return middle if np.isfinite(middle) else float(low[2])
