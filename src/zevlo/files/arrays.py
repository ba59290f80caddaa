"""A set as one file of arrays, for the database: NumPy's open .npz with a JSON table beside the arrays."""

from __future__ import annotations

import json
from dataclasses import asdict
from typing import IO

import numpy as np

from zevlo.core.scene.model.set_model import Material, Part, SetModel


def pack_set(model: SetModel, file: IO[bytes]) -> None:
    """Write the set; :func:`unpack_set` gives the same set again."""
    table = {
        "materials": [asdict(m) for m in model.materials],
        "parts": [[p.name, p.parent, p.first_face, p.face_count, p.id] for p in model.parts],
        "pictures": [len(p) for p in model.pictures],
    }
    arrays: dict[str, np.ndarray] = {
        "vertices": model.vertices,
        "faces": model.faces,
        "face_material": model.face_material,
        "table": np.frombuffer(json.dumps(table).encode(), dtype=np.uint8),
        "pictures": np.frombuffer(b"".join(model.pictures), dtype=np.uint8),
    }
    if model.normals is not None:
        arrays["normals"] = model.normals
    if model.uv is not None:
        arrays["uv"] = model.uv
    np.savez(file, allow_pickle=False, **arrays)


def unpack_set(file: IO[bytes]) -> SetModel:
    """The set from :func:`pack_set`."""
    with np.load(file, allow_pickle=False) as stored:
        table = json.loads(stored["table"].tobytes())
        raw, at, pictures = stored["pictures"].tobytes(), 0, []
        for size in table["pictures"]:
            pictures.append(raw[at : at + size])
            at += size
        return SetModel(
            vertices=stored["vertices"],
            faces=stored["faces"],
            face_material=stored["face_material"],
            parts=tuple(Part(*row) for row in table["parts"]),
            materials=tuple(_material(m) for m in table["materials"]),
            normals=stored["normals"] if "normals" in stored else None,
            uv=stored["uv"] if "uv" in stored else None,
            pictures=tuple(pictures),
        )


def _material(row: dict[str, object]) -> Material:
    return Material(**{k: tuple(v) if isinstance(v, list) else v for k, v in row.items()})  # type: ignore[arg-type]
