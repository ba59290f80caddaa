"""The set as arrays: triangles by part and material, in metres, Z up."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from zevlo.core.arrays import Floats, Floats32, Integers
from zevlo.core.compiled import compiled
from zevlo.core.scene.model.part_ids import ids_of, numbers_by_id
from zevlo.text import scene as say


@dataclass(frozen=True)
class Material:
    """Surface by metallic-roughness (glTF 2.0): linear colours 0 to 1; ``texture`` indexes the set's pictures.

    ``holes``: what there is by the picture's own alpha: nothing where that is below this, as with a leaf on a card; at
    0 as much as alpha says; None: all of it, whatever alpha says."""

    name: str
    base_color: tuple[float, float, float] = (0.8, 0.8, 0.8)
    alpha: float = 1.0
    metallic: float = 0.0
    roughness: float = 0.7
    emissive: tuple[float, float, float] = (0.0, 0.0, 0.0)
    texture: int | None = None
    holes: float | None = None
    seen_tint: tuple[float, float, float] = (1.0, 1.0, 1.0)
    """Mean colour of the texture, linear: what it looks like from afar."""

    @property
    def seen_color(self) -> tuple[float, float, float]:
        r, g, b = self.base_color
        tr, tg, tb = self.seen_tint
        return r * tr, g * tg, b * tb


@dataclass(frozen=True)
class Part:
    """A named piece of the set. Its own faces are ``first_face`` to ``first_face + face_count``.

    ``id``: what it is known by for good; empty in a set that was read before parts had ids.
    """

    name: str
    parent: int | None
    first_face: int
    face_count: int
    id: str = ""


@dataclass(frozen=True)
class SetModel:
    """A whole set.

    ``vertices`` (V, 3) float64 metres; ``faces`` (F, 3) int32, anticlockwise from outside;
    ``face_material`` (F,) int32; ``normals`` (V, 3) and ``uv`` (V, 2) float32, NaN where a part has none;
    ``pictures`` encoded PNG or JPEG files of the textures.
    """

    vertices: Floats
    faces: Integers
    face_material: Integers
    parts: tuple[Part, ...]
    materials: tuple[Material, ...]
    normals: Floats32 | None = None
    uv: Floats32 | None = None
    pictures: tuple[bytes, ...] = field(default=())

    def __post_init__(self) -> None:
        if len(self.faces) == 0:
            raise ValueError(say.A_SET_NEEDS_AT_LEAST)
        if len(self.face_material) != len(self.faces):
            raise ValueError(say.EVERY_FACE_NEEDS_A_MATERIAL)

    @cached_property
    def bounds(self) -> Floats:
        """Lowest and highest corner, (2, 3) metres."""
        return np.array([self.vertices.min(axis=0), self.vertices.max(axis=0)])

    @cached_property
    def boxes(self) -> Floats:
        """Lowest and highest corner of each part's own faces, (P, 2, 3); inf and -inf of one without."""
        first = np.array([part.first_face for part in self.parts], dtype=np.int64)
        count = np.array([part.face_count for part in self.parts], dtype=np.int64)
        return _boxes_of(self.vertices, self.faces, first, first + count)

    @cached_property
    def parents(self) -> list[int | None]:
        """The parent of each part."""
        return [part.parent for part in self.parts]

    @cached_property
    def ids(self) -> tuple[str, ...]:
        """What each part is known by in a shot; see :mod:`zevlo.core.scene.model.part_ids`."""
        return ids_of([(part.id, part.name, part.parent) for part in self.parts])

    @cached_property
    def _numbers(self) -> dict[str, int]:
        return numbers_by_id(self.ids, [(part.name, part.parent) for part in self.parts])

    def parts_at(self, ids: Iterable[str]) -> frozenset[int]:
        """Numbers of parts by their ids, or by a path that only one has; one that is not there is passed over."""
        return frozenset(self._numbers[one] for one in ids if one in self._numbers)

    @cached_property
    def _spans(self) -> tuple[NDArray[np.int64], Integers]:
        """First face and number of each part that has faces, by first face."""
        owners = [number for number, part in enumerate(self.parts) if part.face_count]
        first = np.array([self.parts[number].first_face for number in owners], dtype=np.int64)
        order = np.argsort(first, kind="stable")
        return first[order], np.array(owners, dtype=np.int32)[order]

    def owner_of(self, faces: NDArray[np.integer]) -> Integers:
        """The part that owns each of some faces, (n,)."""
        first, owners = self._spans
        found: Integers = owners[np.searchsorted(first, faces, side="right") - 1]
        return found

    def box_of(self, number: int) -> Floats:
        """The box (2, 3) of a part with all below it. Raises ``ValueError`` where it has no faces."""
        family = self.boxes[with_all_below([number], self.parents)]
        box = np.array([family[:, 0].min(axis=0), family[:, 1].max(axis=0)])
        if not np.isfinite(box).all():
            raise ValueError(say.the_part_has_no_faces(self.parts[number].name))
        return box

    def faces_without(self, lifted: frozenset[int]) -> NDArray[np.bool_]:
        """Mask (F,) of the faces that stay when parts (with all below them) are lifted off."""
        keep = np.ones(len(self.faces), dtype=bool)
        if not lifted:
            return keep
        for index in with_all_below(lifted, self.parents):
            part = self.parts[index]
            keep[part.first_face : part.first_face + part.face_count] = False
        return keep


def distinct_names(model: SetModel) -> tuple[str, ...]:
    """What the parts of a set are called, by their numbers, no two alike: by name, with what they are in where a name
    comes twice, and with their ids where that does too."""
    paths: list[str] = []
    for part in model.parts:
        paths.append(part.name if part.parent is None else f"{paths[part.parent]}/{part.name}")
    names, whole = Counter(part.name for part in model.parts), Counter(paths)
    return tuple(
        part.name if names[part.name] == 1 else path if whole[path] == 1 and path not in names else f"{path} ({id_})"
        for part, path, id_ in zip(model.parts, paths, model.ids, strict=True)
    )


@compiled
def _boxes_of(vertices: Floats, faces: Integers, first: NDArray[np.int64], stop: NDArray[np.int64]) -> Floats:
    boxes = np.empty((len(first), 2, 3))
    for part in range(len(first)):
        for axis in range(3):
            low, high = np.inf, -np.inf
            for face in range(first[part], stop[part]):
                for corner in range(3):
                    here = vertices[faces[face, corner], axis]
                    low, high = min(low, here), max(high, here)
            boxes[part, 0, axis], boxes[part, 1, axis] = low, high
    return boxes


def with_all_below(chosen: Iterable[int], parents: Sequence[int | None]) -> list[int]:
    """Parts with all below them, in order. A parent comes before its children in every set."""
    found = {number for number in chosen if 0 <= number < len(parents)}
    for number, parent in enumerate(parents):
        if parent in found:
            found.add(number)
    return sorted(found)


_NO_AREA = (np.zeros((3, 3)), np.array([[0, 1, 2]], np.int32), np.zeros(1, np.int32))
EMPTY = SetModel(*_NO_AREA, (Part("Nothing", None, 0, 1),), (Material("Plain"),))
"""What stands for no set: a triangle without any area, which nothing meets."""
