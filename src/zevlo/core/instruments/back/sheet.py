"""The back in use, as the sheet tells it, and what of it is other than it was."""

from __future__ import annotations

from zevlo.core.bases import SheetGroup
from zevlo.core.camera.camera import Frame
from zevlo.core.instruments.back.crops import picture_of
from zevlo.core.instruments.instrument import Called, SheetContext, StalenessKey
from zevlo.core.optics.back import FittedBack, fit_back, format_name, ratio_name
from zevlo.core.optics.picture_size import mm_on_paper
from zevlo.core.shot import Back, Shot
from zevlo.text import back as say


class CropSheet(SheetGroup):
    """A crop as it lies in the frame."""

    name: str
    frame: tuple[float, float, float, float]
    """Left, bottom, right, top in shares of the output frame."""
    output_px: tuple[int, int]
    film_px: tuple[float, float]
    """How many pixels of the shot's own picture it takes up: fewer than its own, and it is drawn larger than those."""


class BackSheet(SheetGroup):
    """The back in use."""

    format: str
    """The trade's name of the film size."""
    ratio: str
    fitted_mm: tuple[float, float]
    """Width and height of the film that makes the picture."""
    pixel_mm: float
    """Side of one output pixel on the film."""
    output_px: tuple[int, int]
    """Size of the picture, what is trimmed off taken off."""
    trimmed: bool
    """Whether anything is trimmed off."""
    film_px: tuple[float, float]
    """How many pixels of the film are left for it, were all of the fitted film as fine as the picture."""
    blur_px: float
    """How large in the picture one of those pixels is: what was sharp to a pixel is that soft."""
    print_mm: tuple[float, float]
    """How large it is in print, its bleed with it."""
    bleed: Frame | None
    """What is left of it, in shares of the frame, when the bleed is cut off; null where there is none."""
    crops: list[CropSheet]


def compute_sheet(context: SheetContext) -> BackSheet:
    """The back in use."""
    fitted, back = context.framing.fitted, context.shot.back
    columns, rows = fitted.output_px
    wide, high = mm_on_paper(columns, back.dpi), mm_on_paper(rows, back.dpi)
    return BackSheet(
        format=format_name(back.width_mm, back.height_mm),
        ratio=ratio_name(columns, rows),
        fitted_mm=fitted.size_mm,
        pixel_mm=fitted.pixel_mm,
        output_px=fitted.output_px,
        trimmed=fitted.output_px != back.output_px,
        film_px=(columns / back.enlarge, rows / back.enlarge),
        blur_px=back.enlarge,
        print_mm=(wide, high),
        bleed=_bleed(back, wide, high),
        crops=[_crop(context.shot, one.name, fitted) for one in back.crops],
    )


def _bleed(back: Back, wide_mm: float, high_mm: float) -> Frame | None:
    across, up = back.bleed_mm / wide_mm, back.bleed_mm / high_mm
    return (across, up, 1.0 - across, 1.0 - up) if 0.0 < max(across, up) < 0.5 else None


def _crop(shot: Shot, name: str, whole: FittedBack) -> CropSheet:
    frame, output_px = picture_of(shot, name)
    (columns, rows), enlarge = whole.output_px, shot.back.enlarge
    film_px = ((frame[2] - frame[0]) * columns / enlarge, (frame[3] - frame[1]) * rows / enlarge)
    return CropSheet(name=name, frame=frame, output_px=output_px, film_px=film_px)


def differs(before: Shot, after: Shot, _: Called) -> list[str]:
    """Another film size, ratio, size in pixels, or fitted."""
    a, b = before.back, after.back
    words = []
    if (a.width_mm, a.height_mm) != (b.width_mm, b.height_mm):
        words.append(f"{format_name(a.width_mm, a.height_mm)} → {format_name(b.width_mm, b.height_mm)}")
    if a.output_px != b.output_px:
        first, then = ratio_name(*a.output_px), ratio_name(*b.output_px)
        pixels = f"{a.output_px[0]} × {a.output_px[1]} → {b.output_px[0]} × {b.output_px[1]} px"
        words.append(pixels if first == then else f"{first} → {then}")
    if a.enlarge != b.enlarge:
        words.append(say.enlarged_times(a.enlarge, b.enlarge))
    if a.trim != b.trim:
        words.append(say.TRIMMED_OTHERWISE if fit_back(b).output_px != b.output_px else say.THE_WHOLE_FRAME)
    if a.fit != b.fit:
        words.append(say.CUT_OTHERWISE)
    if (a.dpi, a.bleed_mm) != (b.dpi, b.bleed_mm):
        words.append(say.PRINTED_OTHERWISE)
    if a.crops != b.crops:
        words.append(say.crops(len(a.crops), len(b.crops)) if len(a.crops) != len(b.crops) else say.OTHER_CROPS)
    return words


def staleness_key(shot: Shot) -> StalenessKey:
    """The film in use."""
    fitted = fit_back(shot.back)
    return tuple(round(side, 9) for side in (fitted.left, fitted.right, fitted.bottom, fitted.top))
