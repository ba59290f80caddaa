"""How surfaces of a stage look: preview materials with their pictures (UsdPreviewSurface), and display colours."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from pxr import Ar, Sdf, UsdGeom, UsdShade

from zevlo.core.scene.model.set_model import Material
from zevlo.files.build import PLAIN
from zevlo.files.point_colors import in_palette
from zevlo.files.textures import Pictures
from zevlo.text import models as say

Look = str | tuple[float, float, float] | None
"""The material a surface is bound to, by its path; or the mean of its display colours."""
USUAL_SET = "st"


@dataclass(frozen=True)
class Placed:
    """Where a picture lies on a surface: by which values of its points, and how they are moved, (2, 3) on (u, v, 1)
    with v upwards. ``repeats``: whether it goes on beyond its edge from the other side, as all are drawn here."""

    name: str = USUAL_SET
    moved: NDArray[np.float64] | None = None
    repeats: bool = True


BEYOND = 1.0e-3
"""So far beyond its edge, in shares of it, a picture is not yet seen there."""
_PICTURED = {"normal": "relief", "roughness": "roughness", "metallic": "metal", "emissiveColor": say.OWN_LIGHT}


class Looks:
    """The materials of a stage as they are met, read at one moment."""

    def __init__(self, stage: Any, room: Path, at: Any, remarks: set[str]) -> None:
        self._stage, self._room, self._at, self._remarks = stage, room, at, remarks
        self.pictures = Pictures()
        self.materials: list[Material] = [PLAIN]
        self._numbers: dict[Any, int] = {}
        self._placed: dict[int, Placed] = {}

    def of(self, prim: Any) -> Look:
        """What a surface looks like."""
        material = UsdShade.MaterialBindingAPI(prim).ComputeBoundMaterial()[0]
        if material:
            return str(material.GetPath())
        colors = UsdGeom.Gprim(prim).GetDisplayColorAttr().Get(self._at) if prim.IsA(UsdGeom.Gprim) else None
        if colors is None or len(colors) == 0:
            return None
        r, g, b = np.clip(np.array(colors, dtype=np.float64).mean(axis=0), 0.0, 1.0).tolist()
        return round(r, 4), round(g, 4), round(b, 4)

    def number_of(self, prim: Any) -> int:
        """The number of a surface's material."""
        look = self.of(prim)
        if look is None:
            return 0
        if look not in self._numbers:
            if isinstance(look, str):
                number = self._preview(UsdShade.Material(self._stage.GetPrimAtPath(look)))
            else:
                number = self._put(Material(say.display_colour(len(self._numbers) + 1), look))
            self._numbers[look] = number
        return self._numbers[look]

    def palette(self, mean: tuple[float, float, float]) -> int:
        """The number of the material whose surfaces take their own colours of a picture of all, ``mean`` on average."""
        key = ("displays", *(round(part, 4) for part in mean))
        if key not in self._numbers:
            named = say.display_colours(len(self._numbers) + 1)
            own = Material(named, (1.0, 1.0, 1.0), texture=in_palette(self.pictures), seen_tint=mean)
            self._numbers[key] = self._put(own)
        return self._numbers[key]

    def placed(self, number: int) -> Placed | None:
        """Where a material, by its number, has its picture; None where it has none."""
        return self._placed.get(number)

    def note_edges(self, number: int, uv: NDArray[np.floating]) -> None:
        """Say so where a picture is seen beyond its edge, and the file does not have it repeat there."""
        if not self._placed[number].repeats and len(uv) and (uv.min() < -BEYOND or uv.max() > 1.0 + BEYOND):
            self._remarks.add(say.the_picture_of_is_repeated(self.materials[number].name))

    def _put(self, material: Material) -> int:
        self.materials.append(material)
        return len(self.materials) - 1

    def _value(self, given: Any) -> Any:
        """What an input is told to be, there or where a material offers it; None where nothing is told, or a shader
        works it out."""
        for attribute in UsdShade.Utils.GetValueProducingAttributes(given) if given else ():
            if UsdShade.Utils.GetType(attribute.GetName()) == UsdShade.AttributeType.Input:
                return attribute.Get(self._at)
        return None

    def _shader(self, given: Any) -> Any:
        """The shader that works an input out; None where none does."""
        for attribute in UsdShade.Utils.GetValueProducingAttributes(given) if given else ():
            if UsdShade.Utils.GetType(attribute.GetName()) == UsdShade.AttributeType.Output:
                return UsdShade.Shader(attribute.GetPrim())
        return None

    def _preview(self, material: Any) -> int:
        """UsdPreviewSurface: colour or its texture, opacity, metallic, roughness, own light."""
        name = material.GetPrim().GetName()
        shader = material.ComputeSurfaceSource()[0]
        if not shader or shader.GetIdAttr().Get() != "UsdPreviewSurface":
            self._remarks.add(say.the_material_is_no_preview(name))
            return self._put(Material(name[:200], PLAIN.base_color))

        def value(key: str, otherwise: float) -> float:
            found = self._value(shader.GetInput(key))
            return otherwise if found is None else float(found)

        def color(key: str, otherwise: float) -> tuple[float, float, float]:
            found = self._value(shader.GetInput(key))
            given = np.array((otherwise,) * 3 if found is None else found, dtype=np.float64).reshape(-1)
            r, g, b = np.maximum(np.nan_to_num(given[:3] if len(given) >= 3 else np.full(3, otherwise)), 0.0).tolist()
            return r, g, b

        drawn = self._shader(shader.GetInput("diffuseColor"))
        texture, crop_by = self._texture(drawn), self._texture(self._shader(shader.GetInput("opacity")))
        threshold = float(np.clip(value("opacityThreshold", 0.0), 0.0, 1.0))
        if crop_by is not None and crop_by != texture:
            self._remarks.add(say.what_cuts_holes_into_is_another(name))
        for key, words in _PICTURED.items():
            if self._shader(shader.GetInput(key)):
                self._remarks.add(say.the_picture_of_the_of_is_left(words, name))
        base = color("diffuseColor", 0.18)
        if texture is not None:
            base = self._tint(drawn, name)
        elif drawn and drawn.GetIdAttr().Get() != "UsdUVTexture":
            self._remarks.add(say.the_colour_of_is_worked(name, drawn.GetIdAttr().Get()))
        number = self._put(
            Material(
                name=name[:200],
                base_color=(min(1.0, base[0]), min(1.0, base[1]), min(1.0, base[2])),
                alpha=float(np.clip(value("opacity", 1.0), 0.02, 1.0)),
                metallic=float(np.clip(value("metallic", 0.0), 0.0, 1.0)),
                roughness=float(np.clip(value("roughness", 0.5), 0.0, 1.0)),
                emissive=color("emissiveColor", 0.0),
                texture=texture,
                holes=threshold if crop_by is not None and crop_by == texture else None,
            )
        )
        if texture is not None:
            self._placed[number] = self._placing(drawn)
        return number

    def _tint(self, drawn: Any, name: str) -> tuple[float, float, float]:
        """What a picture is multiplied by; what is added to it is left out, and told."""
        found = [self._value(drawn.GetInput(key)) for key in ("scale", "bias")]
        scale, bias = (None if one is None else np.nan_to_num(np.array(one, dtype=np.float64)) for one in found)
        if bias is not None and bias[:3].any():
            self._remarks.add(say.what_is_added_to_the_picture(name))
        if scale is None:
            return 1.0, 1.0, 1.0
        r, g, b = np.maximum(scale[:3], 0.0).tolist()
        return r, g, b

    def _placing(self, drawn: Any) -> Placed:
        """Where a picture lies: by a reader of values of points, perhaps through a UsdTransform2d."""
        wraps = {str(self._value(drawn.GetInput(key)) or "repeat") for key in ("wrapS", "wrapT")}
        reader, moved = self._shader(drawn.GetInput("st")), None
        if reader and reader.GetIdAttr().Get() == "UsdTransform2d":
            turn = np.radians(float(self._value(reader.GetInput("rotation")) or 0.0))
            sizes, by = (self._value(reader.GetInput(key)) for key in ("scale", "translation"))
            u, v = (1.0, 1.0) if sizes is None else (float(one) for one in sizes)
            x, y = (0.0, 0.0) if by is None else (float(one) for one in by)
            c, s = np.cos(turn), np.sin(turn)
            # Scaled, then turned anticlockwise, then moved.
            moved = np.array([[c * u, -s * v, x], [s * u, c * v, y]])
            reader = self._shader(reader.GetInput("in"))
        name = self._value(reader.GetInput("varname")) if reader else None
        return Placed(str(name or USUAL_SET), moved, wraps <= {"repeat"})

    def _texture(self, source: Any) -> int | None:
        """The number of the picture a shader shows; None where it shows none, or that did not come along."""
        file = source.GetInput("file") if source and source.GetIdAttr().Get() == "UsdUVTexture" else None
        asset = self._value(file)
        if not isinstance(asset, Sdf.AssetPath) or not asset.path:
            return None
        resolved = asset.resolvedPath
        if not resolved or not Path(resolved.split("[", 1)[0]).resolve().is_relative_to(self._room):
            self._remarks.add(say.the_texture_did_not_come(asset.path[:60]))
            return None
        opened = Ar.GetResolver().OpenAsset(Ar.ResolvedPath(resolved))
        return None if opened is None else self.pictures.put(resolved, bytes(opened.GetBuffer()))
