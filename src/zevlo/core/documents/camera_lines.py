"""What a photographer sets a camera by, line by line: metric, and in feet and inches."""

from __future__ import annotations

from dataclasses import dataclass

from zevlo.core.camera.from_shot import Framing
from zevlo.core.documents.shot_summary import ShotSummary
from zevlo.core.measures import tape_words
from zevlo.core.optics.back import format_words, ratio_name
from zevlo.core.optics.lens import focal_length_at
from zevlo.core.optics.picture_size import INCH_MM
from zevlo.core.scene.model.ruler import Ruler
from zevlo.core.shot import Shot
from zevlo.text import documents as say
from zevlo.text import everywhere


@dataclass(frozen=True)
class Line:
    """A line of a camera card: what is set, metric, and in feet and inches where it is a length."""

    what: str
    metric: str
    feet: str = ""


def exact(metres: float, ruler: Ruler) -> str:
    """A length to a millimetre, in a small set to a tenth of one: finer than a tape is read."""
    words = f"{metres + 0.0:.3f} m" if ruler.unit == "m" or abs(metres) >= 1.0 else f"{1000.0 * metres + 0.0:.1f} mm"
    return words.replace("-", "−")


def length_line(what: str, metres: float | None, ruler: Ruler) -> Line:
    """A length to a millimetre and as a tape in inches is read; None is infinity."""
    return Line(what, say.INFINITY) if metres is None else Line(what, exact(metres, ruler), tape_words(metres))


def _film(what: str, mm: float, digits: int = 2) -> Line:
    return Line(what, f"{mm:.{digits}f} mm", f"{mm / INCH_MM:.2f} in")


def _turned(what: str, deg: float, more: str, less: str, not_turned: str = everywhere.NONE) -> Line:
    """An angle with the way it is turned; what is not turned to a hundredth of a degree is not."""
    if abs(deg) < 0.005:
        return Line(what, not_turned)
    return Line(what, f"{more if deg > 0 else less} {abs(deg):.2f}°")


def _shifted(what: str, mm: float, more: str, less: str) -> Line:
    if mm == 0.0:
        return Line(what, everywhere.NONE)
    return Line(what, f"{more if mm > 0 else less} {abs(mm):.2f} mm", f"{abs(mm) / INCH_MM:.2f} in")


def camera_lines(summary: ShotSummary) -> list[tuple[str, list[Line]]]:
    """What a photographer sets, group by group, in the order one sets it. What looks along parallel rays no lens
    takes: it has neither movements nor focus."""
    groups = [(say.TRIPOD, _tripod_lines(summary)), (say.LENS_AND_BACK, _lens_lines(summary))]
    if not summary.parallel:
        groups += [(everywhere.MOVEMENTS, _movement_lines(summary)), (everywhere.FOCUS, _focus_lines(summary))]
    return [*groups, (everywhere.EXPOSURE, _exposure_lines(summary))]


def _tripod_lines(summary: ShotSummary) -> list[Line]:
    pose, stand = summary.sheet.pose, summary.shot.stand
    floor = (
        [] if pose.above_floor_m is None else [length_line(say.LENS_ABOVE_THE_FLOOR, pose.above_floor_m, summary.ruler)]
    )
    return [
        *floor,
        length_line(say.LENS_ABOVE_ZERO, stand.position[2], summary.ruler),
        Line(say.HEADING, say.from_north(pose.heading_deg, pose.compass)),
        _turned(say.PITCH, pose.pitch_deg, everywhere.UP, everywhere.DOWN, everywhere.LEVEL),
        _turned(say.ROLL, pose.roll_deg, say.CLOCKWISE, say.ANTICLOCKWISE),
        length_line(say.TO_THE_AIM, pose.aim_distance_m, summary.ruler),
    ]


def real_lens_mm(shot: Shot) -> float:
    """Focal length of the lens that sees this very picture where it moves out as a whole to focus: its film stands
    then as far behind it as that of the shot."""
    return focal_length_at(Framing(shot).film_distance_mm, 1000.0 * shot.focus.distance_m, Framing(shot).tilt.cosine)


REAL_LENS_SHARE = 1.0e-3
"""A lens that moves out to focus sees otherwise by more than this before it is told."""


def _lens_lines(summary: ShotSummary) -> list[Line]:
    shot, lens, back = summary.shot, summary.sheet.lens, summary.shot.back
    lines = [Line(everywhere.LENS, summary.lens), *([Line(say.DRAWS, summary.law)] if summary.law else [])]
    if lens.angle_deg is not None:
        across, upright = lens.angle_deg.horizontal, lens.angle_deg.vertical
        lines.append(Line(say.ANGLE_OF_VIEW, say.across_upright(across, upright)))
    if lens.equivalent_focal_length_mm is not None:
        lines.append(Line(say.SEES_AS_ON_36, f"{lens.equivalent_focal_length_mm:.1f} mm"))
    if not summary.parallel and abs(real_lens_mm(shot) / shot.lens.focal_length_mm - 1.0) >= REAL_LENS_SHARE:
        lines.append(Line(say.IF_IT_MOVES_OUT, say.a_lens_of_mm(real_lens_mm(shot))))
    return [
        *lines,
        _film_size(everywhere.BACK, back.width_mm, back.height_mm, format_words(back.width_mm, back.height_mm)),
        _film_size(say.USED_OF_IT, *summary.sheet.back.fitted_mm),
        Line(say.PICTURE, f"{summary.size}, {ratio_name(*summary.sheet.back.output_px)}"),
    ]


def _film_size(what: str, width: float, height: float, metric: str = "") -> Line:
    return Line(what, metric or f"{width:.2f} × {height:.2f} mm", f"{width / INCH_MM:.2f} × {height / INCH_MM:.2f} in")


def _movement_lines(summary: ShotSummary) -> list[Line]:
    own = summary.shot.movements
    return [
        _shifted(say.RISE, own.rise_mm, everywhere.RISE, everywhere.FALL),
        _shifted(say.CROSS, own.cross_mm, everywhere.RIGHT, everywhere.LEFT),
        _turned(say.TILT, own.tilt_deg, say.FORWARD, say.BACK),
        _turned(say.SWING, own.swing_deg, everywhere.LEFT, everywhere.RIGHT),
        _film(say.IMAGE_CIRCLE_NEEDED, summary.sheet.movements.circle_used_mm, 1),
    ]


def _focus_lines(summary: ShotSummary) -> list[Line]:
    shot, focus = summary.shot, summary.sheet.focus
    distance, film_mm = shot.focus.distance_m, Framing(shot).film_distance_mm
    lines = [
        Line(say.STOP, summary.stop),
        length_line(say.FROM_THE_LENS, distance, summary.ruler),
        length_line(say.FROM_THE_FILM, distance + film_mm / 1000.0, summary.ruler),
        _film(say.LENS_TO_FILM, film_mm),
    ]
    if focus.stop is not None:
        lines += [
            length_line(say.SHARP_FROM, focus.sharp_from_m, summary.ruler),
            length_line(say.SHARP_TO, focus.sharp_to_m, summary.ruler),
            Line(say.COUNTS_AS_SHARP, say.a_blur_of_mm(focus.blur_limit_mm, focus.blur_limit_px)),
        ]
    if summary.sheet.movements.hinge_m is not None:
        lines.append(Line(say.PLANE_OF_FOCUS, summary.sheet.movements.focus_plane))
    return lines


CLOSE_FACTOR = 1.05
"""From this extension on, in focal lengths, a photographer gives more time (common practice, no source)."""


def _exposure_lines(summary: ShotSummary) -> list[Line]:
    shot, sheet = summary.shot, summary.sheet.exposure
    stop = "f/8 counted" if summary.sheet.focus.stop is None else summary.stop
    lines = [
        Line(say.SHUTTER_STOP_FILM, f"{sheet.shutter}, {stop}, ISO {shot.exposure.iso:g}"),
        Line(say.EV_AT_ISO_100, f"{sheet.ev100:.2f}".replace("-", "−")),
    ]
    if summary.parallel or shot.lens.focus_breathing:
        return lines
    longer = Framing(shot).film_distance_mm / real_lens_mm(shot)
    if longer >= CLOSE_FACTOR:
        lines.append(Line(say.TIME_SO_CLOSE, say.a_lens_that_moves(longer**2)))
    return lines
