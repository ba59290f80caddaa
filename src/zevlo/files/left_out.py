"""What a model tells that a set does not take, in words: nothing is dropped in silence."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from zevlo.files.glb import Json

LAMPS = "Its lamps are left out: shots are lit by light setups"
POSED = "What hangs on a skeleton is read as it is modelled, not as it is posed"
BLENDED = "What is blended of several shapes (morph targets) is read as it is without them"
MOVING = "What moves in it is read as it stands at rest"
NO_SURFACES = "Its lines and points are left out: they are no surfaces"
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


def told_by(names: Iterable[str]) -> str:
    """What is told by words of the file's kind that are not read."""
    return f"What it tells by {', '.join(names)} is left out"


def left_out_of_gltf(document: Json, nodes: Iterable[int]) -> list[str]:
    """What is not taken of a description, of which these nodes are read."""
    meshes, read = document.get("meshes", []), [document["nodes"][node] for node in nodes]
    own = [(one, meshes[one["mesh"]]) for one in read if "mesh" in one]
    used = {str(name) for name in document.get("extensionsUsed", [])}
    found = []
    if used & set(LIGHTS):
        found.append(LAMPS)
    if strange := sorted(used - TAKEN - set(LIGHTS)):
        found.append(told_by(strange))
    if any("skin" in node for node, _ in own):
        found.append(POSED)
    if any(_blends(node, mesh) for node, mesh in own):
        found.append(BLENDED)
    if document.get("animations"):
        found.append(MOVING)
    if any(one.get("mode", 4) in _POINTS_AND_LINES for _, mesh in own for one in mesh.get("primitives", [])):
        found.append(NO_SURFACES)
    if len(document.get("scenes", [])) > 1:
        found.append(f"Of its {len(document['scenes'])} scenes the one it opens with is read")
    return found


def _blends(node: Json, mesh: Json) -> bool:
    """Whether a mesh is drawn as a blend of shapes: some of them have a weight."""
    weights: Any = node.get("weights", mesh.get("weights", []))
    return any(one.get("targets") for one in mesh.get("primitives", [])) and any(weights)
