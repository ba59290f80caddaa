"""Another back, or another size of the picture, with the lens or the angle of view as it was."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from zevlo.core.camera.from_shot import Framing
from zevlo.core.constraints.same_picture import on_back, scale_kept
from zevlo.core.instruments.instrument import Gesture, Scene
from zevlo.core.optics.picture_size import px_on_paper, sides_held
from zevlo.core.shot import Shot
from zevlo.core.shot.back import Back, Bleed, Dpi, Enlarge, Fit, Pixels, SideMm, Trim

PaperMm = Annotated[float, Field(ge=1.0, le=10_000.0)]
_OTHER_SIDE: dict[Fit, Fit] = {"inside": "inside", "width": "height", "height": "width"}


class FocalKeep(Gesture):
    """Another back or another size of the picture; what is not told stays. Size: by its pixels, by one side with the
    ratio held, or by a sheet of paper, to whose sides the bleed is added."""

    kind: Literal["focal_keep"] = "focal_keep"
    what: Literal["lens", "angle"] = "lens"
    """What stays: the lens; or the angle of view across the side that the fit keeps, and with it the framing. Enlarging
    is tighter whichever stays, with lens and stand untouched."""
    width_mm: SideMm | None = None
    height_mm: SideMm | None = None
    fit: Fit | None = None
    enlarge: Enlarge | None = None
    output_px: tuple[Pixels, Pixels] | None = None
    wide_px: Pixels | None = None
    high_px: Pixels | None = None
    hold_ratio: bool = False
    paper_mm: tuple[PaperMm, PaperMm] | None = None
    dpi: Dpi | None = None
    bleed_mm: Bleed | None = None
    turned: bool = False
    """Whether the back is turned upright, or to lie: film, picture and what is trimmed off."""

    def apply(self, framing: Framing, scene: Scene) -> Shot:
        shot = framing.shot
        back = self._back(shot.back)
        if self.turned:
            return scale_kept(shot, shot.with_groups(back=back))
        if self.what == "lens":
            return shot.with_groups(back=back)
        # Enlarging is always tighter: the lens makes up for another film, never for that.
        as_enlarged = back.model_copy(update={"enlarge": shot.back.enlarge})
        framed = on_back(framing, Framing(shot.with_groups(back=as_enlarged)))
        return framed.with_groups(back=back)

    def _back(self, old: Back) -> Back:
        given = {
            name: getattr(self, name)
            for name in ("width_mm", "height_mm", "fit", "enlarge", "dpi", "bleed_mm")
            if getattr(self, name) is not None
        }
        back = old.model_copy(update=given)
        back = back.model_copy(update={"output_px": self._size(back)})
        return _turned(back) if self.turned else back

    def _size(self, back: Back) -> tuple[int, int]:
        if self.paper_mm is not None:
            wide, high = (px_on_paper(side, back.dpi, back.bleed_mm) for side in self.paper_mm)
            return wide, high
        if self.output_px is not None:
            return self.output_px
        if self.hold_ratio:
            return sides_held(back.output_px, self.wide_px, self.high_px)
        return self.wide_px or back.output_px[0], self.high_px or back.output_px[1]


def _turned(back: Back) -> Back:
    """As if the camera were turned a quarter to the left: what was the right side is the top."""
    (columns, rows), trim = back.output_px, back.trim
    return back.model_copy(
        update={
            "width_mm": back.height_mm,
            "height_mm": back.width_mm,
            "output_px": (rows, columns),
            "fit": _OTHER_SIDE[back.fit],
            "trim": Trim(left=trim.top, right=trim.bottom, top=trim.right, bottom=trim.left),
        }
    )
