"""OBJ with its MTL: objects and groups by name, materials, textures. tinyobjloader parses.

Sources: Wavefront OBJ and MTL as commonly written; the physically based keys (Pr, Pm, Ke) as tinyobjloader names them.
"""

from __future__ import annotations

import re
from dataclasses import replace
from typing import Any

import numpy as np
import tinyobjloader

from zevlo.core.scene.model.placing import UNITS_M
from zevlo.core.scene.model.set_model import Material
from zevlo.files.build import PLAIN, Piece, SetBuilder, checked
from zevlo.files.left_out import NO_SURFACES, what_is_left_out
from zevlo.files.point_colors import MOST_COLOURED, coloured, in_palette
from zevlo.files.reading import Arrival, FromFile, Progress
from zevlo.files.refusal import CannotRead
from zevlo.files.textures import Color, Pictures, linear
from zevlo.files.units import text_of, unit_in_comment
from zevlo.text import models as say

_NO_NUMBER = re.compile(r"^v[nt]?[ \t][^\n#]*\b(?:nan|inf)", re.IGNORECASE | re.MULTILINE)
"""tinyobjloader takes these for zero."""
_FREE_FORM = re.compile(r"^(curv2?|surf)[ \t]", re.MULTILINE)


def read_obj(arrival: Arrival, progress: Progress) -> FromFile:
    """Read an OBJ with what came beside it. Raises :class:`CannotRead`."""
    text = text_of(arrival.path.read_bytes())
    if "\0" in text[:100_000]:
        raise CannotRead(say.THIS_IS_NOT_AN_OBJ)
    if _NO_NUMBER.search(text):
        raise CannotRead(say.BROKEN_SOME_OF_ITS_POINTS)
    text = _joined(text)
    remarks: list[str] = []
    materials = _material_text(text, arrival, remarks)
    config = tinyobjloader.ObjReaderConfig()
    config.triangulate = True
    first = re.search(r"^v[ \t].*", text, re.MULTILINE)
    has_colors = first is not None and len(first[0].split()) >= 7
    reader = tinyobjloader.ObjReader()
    progress(say.READING_THE_GEOMETRY, None)
    if not reader.ParseFromString(text, materials, config):
        line = re.search(r"\bLine (\d+)", reader.Error(), re.IGNORECASE)
        raise CannotRead(say.broken_its_geometry(line[1] if line else None))
    attributes = reader.GetAttrib()
    # As lists: what its numpy_… functions hand out is freed memory (2.0.0rc13).
    points = np.array(attributes.vertices, dtype=np.float64).reshape(-1, 3)
    normals = np.array(attributes.normals, dtype=np.float32).reshape(-1, 3)
    uv = np.array(attributes.texcoords, dtype=np.float32).reshape(-1, 2)
    colors = _colors(attributes) if has_colors else None
    build, pictures, given = SetBuilder(), Pictures(), reader.GetMaterials()
    shapes, added = reader.GetShapes(), list[Material]()
    for number, shape in enumerate(shapes):
        if number % 50 == 0:
            progress(say.PUTTING_PARTS_TOGETHER, number / len(shapes))
        corner = np.array(shape.mesh.vertex_indices(), dtype=np.int64)
        if len(shape.lines.indices) or len(shape.points.indices):
            remarks.append(NO_SURFACES)
        if len(corner) == 0 or len(corner) % 3:
            continue
        owners = np.array(shape.mesh.material_ids, dtype=np.int64) + 1
        of_uv = np.array(shape.mesh.texcoord_indices(), dtype=np.int64)
        of_normal = np.array(shape.mesh.normal_indices(), dtype=np.int64)
        piece, places = _piece(points, normals, uv, corner, of_normal, of_uv, owners)
        if colors is not None and (owners > 0).any():
            remarks.append(say.WHERE_A_MATERIAL_SAYS)
        elif colors is not None and len(piece.faces) > MOST_COLOURED:
            remarks.append(say.IT_HAS_SO_MANY_POINTS)
        elif colors is not None:
            shown, mean = coloured(replace(piece, uv=None), linear(colors[places]))
            added.append(
                Material(say.COLOURS_OF_THE_SCAN, (1.0, 1.0, 1.0), texture=in_palette(pictures), seen_tint=mean)
            )
            piece = replace(shown, material=len(given) + len(added))
        build.add(build.part(shape.name), piece)
    if names := sorted(set(_FREE_FORM.findall(text))):
        remarks.append(what_is_left_out(names))
    made = (*_materials(given, materials, arrival, pictures, remarks), *added)
    model = build.finish(made, pictures)
    unit = unit_in_comment(text)
    return FromFile(
        model,
        "OBJ",
        metres_per_unit=None if unit is None else UNITS_M[unit],
        likely_up="y",
        remarks=(*remarks, *pictures.remarks()),
    )


_GOES_ON = re.compile(r"\\[ \t]*\r?\n")
_REMARK = re.compile(r"^[ \t]*#[^\n]*$", re.MULTILINE)
"""Its end may be that of a folder's name, and lets nothing go on."""


def _joined(text: str) -> str:
    """The text with lines that go on behind a backslash put together, as tinyobjloader does not; and groups called by
    the object they are in as well, for it lets that go."""
    if "\\" in text:
        text = _GOES_ON.sub(" ", _REMARK.sub(lambda remark: remark[0].rstrip("\\ \t\r"), text))
    if not re.search(r"^o[ \t]", text, re.MULTILINE) or not re.search(r"^g[ \t]", text, re.MULTILINE):
        return text
    lines, within = [], ""
    for line in text.split("\n"):
        if line[:2] in ("o ", "o\t"):
            within = line[2:].strip()
        elif line[:2] in ("g ", "g\t") and within:
            line = f"o {within} / {line[2:].strip()}"
        lines.append(line)
    return "\n".join(lines)


def _colors(attributes: Any) -> np.ndarray:
    """Colours of all points (n, 3) as scans tell them behind x, y and z, taken as sRGB, 0 to 1 (common practice, no
    source)."""
    found = np.nan_to_num(np.array(attributes.colors, dtype=np.float64).reshape(-1, 3))
    return np.clip(found / (255.0 if float(found.max(initial=0.0)) > 1.0 else 1.0), 0.0, 1.0)


def _piece(
    points: np.ndarray, normals: np.ndarray, uv: np.ndarray, corner: np.ndarray, of_normal: np.ndarray,
    of_uv: np.ndarray, owners: np.ndarray,
) -> tuple[Piece, np.ndarray]:  # fmt: skip
    """One point for each different corner: OBJ counts places, normals and texture places apart. And which place each
    is, (V,)."""
    if int(corner.max()) >= len(points) or int(corner.min()) < 0:
        raise CannotRead(say.BROKEN_SOME_TRIANGLES)
    has_uv = len(of_uv) == len(corner) and len(uv) > int(of_uv.max()) >= 0
    if has_uv and int(of_uv.min()) < 0:
        # Faces without a place on the picture beside others that have one.
        uv, of_uv = np.vstack([uv, np.zeros((1, 2), uv.dtype)]), np.where(of_uv < 0, len(uv), of_uv)
    has_normals = len(of_normal) == len(corner) and len(normals) > int(of_normal.max()) and int(of_normal.min()) >= 0
    key = corner
    if has_uv:
        key = np.unique(key * (len(uv) + 1) + of_uv, return_inverse=True)[1]
    if has_normals:
        key = np.unique(key * (len(normals) + 1) + of_normal, return_inverse=True)[1]
    _, first, faces = np.unique(key, return_index=True, return_inverse=True)
    piece = Piece(
        vertices=points[corner[first]],
        faces=faces.reshape(-1, 3),
        material=owners,
        normals=normals[of_normal[first]] if has_normals else None,
        uv=uv[of_uv[first]] if has_uv else None,
    )
    return checked(piece), corner[first]


def _material_text(text: str, arrival: Arrival, remarks: list[str]) -> str:
    found = []
    for named in re.findall(r"^[ \t]*mtllib[ \t]([^\r\n]+)", text, re.MULTILINE):
        line = named.strip()
        path = arrival.companion(line) if line else None
        if path is None:
            remarks.append(say.its_materials_did_not_come(line[:60]))
        else:
            found.append(text_of(path.read_bytes()))
    return "\n".join(found)


_LEFT_OUT = re.compile(
    r"^[ \t]*(map_Ka|map_Ks|map_Ke|map_Ns|map_[Bb]ump|bump|disp|decal|refl|norm|map_P[rms])[ \t]", re.MULTILINE
)
"""Pictures of a material that are not taken."""
_PLACED = re.compile(r"^[ \t]*map_Kd[ \t](?:[^\n]*?[ \t])?(-(?:s|o|t|mm|clamp[ \t]+on))[ \t]", re.MULTILINE)
"""What is told of a colour's picture and not taken: its size, its place, how it is shaken, its tones, its edge."""


def _emissions(text: str) -> dict[str, Color]:
    """Ke of each material; tinyobjloader's Python side does not hand it on."""
    found: dict[str, Color] = {}
    name = ""
    for line in text.splitlines():
        words = line.split()
        if words[:1] == ["newmtl"]:
            name = line.strip()[6:].strip()
        elif words[:1] == ["Ke"] and len(words) == 4:
            try:
                r, g, b = (max(0.0, float(word)) for word in words[1:])
            except ValueError:
                continue
            if np.isfinite([r, g, b]).all():
                found[name] = (r, g, b)
    return found


def _materials(given: Any, text: str, arrival: Arrival, pictures: Pictures, remarks: list[str]) -> list[Material]:
    made = [PLAIN]
    glow = _emissions(text)
    placed = [f"map_Kd {name.split()[0]}" for name in _PLACED.findall(text)]
    if names := sorted({*_LEFT_OUT.findall(text), *placed}):
        remarks.append(what_is_left_out(names))
    for entry in given:
        diffuse = np.clip(np.nan_to_num(np.array(entry.diffuse, dtype=np.float64), nan=0.6), 0.0, 1.0)
        texture = None
        if entry.diffuse_texname:
            path = arrival.companion(entry.diffuse_texname)
            if path is None:
                remarks.append(say.the_texture_did_not_come(entry.diffuse_texname[:60]))
            else:
                texture = pictures.put(entry.diffuse_texname, path.read_bytes())
                if not diffuse.any():
                    diffuse[:] = 1.0
        holes = None
        if entry.alpha_texname and entry.alpha_texname == entry.diffuse_texname:
            holes = 0.0
        elif entry.alpha_texname:
            remarks.append(say.what_cuts_holes_is_another(entry.alpha_texname[:60]))
        r, g, b = linear(diffuse).tolist()
        # Phong exponent to roughness: α = √(2 / (n + 2)), Walter et al. 2007; roughness is its root (glTF 2.0).
        polished = (2.0 / (max(float(entry.shininess), 0.0) + 2.0)) ** 0.25
        made.append(
            Material(
                name=entry.name[:200] or say.material_number(len(made)),
                base_color=(r, g, b),
                alpha=float(np.clip(entry.dissolve, 0.02, 1.0)),
                metallic=float(np.clip(entry.metallic, 0.0, 1.0)),
                roughness=float(np.clip(entry.roughness, 0.0, 1.0)) if entry.roughness > 0.0 else polished,
                emissive=glow.get(entry.name, (0.0, 0.0, 0.0)),
                texture=texture,
                holes=holes,
            )
        )
    return made
