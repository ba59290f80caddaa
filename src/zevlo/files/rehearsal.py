"""A first reading of next to nothing in the formats whose loops are compiled: no artist waits for a compiler."""

from __future__ import annotations

import numpy as np

from zevlo.files.ply import read_ply
from zevlo.files.reading import Arrival, unheard
from zevlo.files.scratch import scratch
from zevlo.files.stl import read_stl

_HEAD = """ply
format {order} 1.0
element vertex 3
property float x
property float y
property float z
element face 1
property list uchar int vertex_indices
end_header
"""


def rehearse_reading() -> None:
    """Read a triangle as STL, and as PLY in text and binary: some seconds where nothing is compiled yet."""
    corners = np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0]], dtype="<f4")
    facet = b"\0" * 12 + corners.tobytes() + b"\0\0"
    text = " ".join(str(number) for number in corners.ravel().tolist()) + " 3 0 1 2\n"
    face = b"\3" + np.arange(3, dtype="<i4").tobytes()
    files = {
        "a.stl": b"\0" * 80 + (1).to_bytes(4, "little") + facet,
        "b.ply": (_HEAD.format(order="ascii") + text).encode(),
        "c.ply": _HEAD.format(order="binary_little_endian").encode() + corners.tobytes() + face,
    }
    with scratch("rehearsal") as folder:
        for name, raw in files.items():
            path = folder / name
            path.write_bytes(raw)
            (read_stl if name.endswith("stl") else read_ply)(Arrival(path, name), unheard)
