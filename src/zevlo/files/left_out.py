"""What a model tells that a set does not take, in words: nothing is dropped in silence."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from zevlo.files.glb import Json
from zevlo.text import models as say

LAMPS = say.ITS_LAMPS_ARE_LEFT
POSED = say.WHAT_HANGS_ON_A_SKELETON
BLENDED = say.WHAT_IS_BLENDED_OF_SEVERAL
MOVING = say.WHAT_MOVES_IN_IT_IS_READ
NO_SURFACES = say.ITS_LINES_AND_POINTS
LIGHTS = ("KHR_lights_punctual", "EXT_lights_image_based", "EXT_lights_ies")
TAKEN = frozenset(
    {
        "KHR_materials_emissive_strength", "KHR_materials_transmission", "KHR_texture_transform", "KHR_xmp_json_ld",
        "KHR_mesh_quantization", "KHR_draco_mesh_compression", "EXT_meshopt_compression", "KHR_meshopt_compression",
        "EXT_texture_webp", "EXT_mesh_gpu_instancing",
    }
)  # fmt: skip
"""Extensions after whose reading nothing is missing that a set shows, or that are about something else."""
_POINTS_AND_LINES = (0, 1, 2, 3)


def what_is_left_out(names: Iterable[str]) -> str:
    """What is told by words of the file's kind that are not read."""
    return say.what_it_tells_by_is_left(", ".join(names))


def left_out_of_gltf(document: Json, nodes: Iterable[int]) -> list[str]:
    """What is not taken of a description, of which these nodes are read."""
    meshes, read = document.get("meshes", []), [document["nodes"][node] for node in nodes]
    own = [(one, meshes[one["mesh"]]) for one in read if "mesh" in one]
    used = {str(name) for name in document.get("extensionsUsed", [])}
    found = []
    if used & set(LIGHTS):
        found.append(LAMPS)
    if strange := sorted(used - TAKEN - set(LIGHTS)):
        found.append(what_is_left_out(strange))
    if any("skin" in node for node, _ in own):
        found.append(POSED)
    if any(_blends(node, mesh) for node, mesh in own):
        found.append(BLENDED)
    if document.get("animations"):
        found.append(MOVING)
    if any(one.get("mode", 4) in _POINTS_AND_LINES for _, mesh in own for one in mesh.get("primitives", [])):
        found.append(NO_SURFACES)
    if len(document.get("scenes", [])) > 1:
        found.append(say.of_its_scenes_the_one(len(document["scenes"])))
    return found


def _blends(node: Json, mesh: Json) -> bool:
    """Whether a mesh is drawn as a blend of shapes: some of them have a weight."""
    weights: Any = node.get("weights", mesh.get("weights", []))
    return any(one.get("targets") for one in mesh.get("primitives", [])) and any(weights)
