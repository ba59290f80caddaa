"""From a shot, and the set it looks at, to its sheet. The one place where the rules come together."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache
from math import hypot, inf

import numpy as np

from zevlo.core.camera import Camera, camera_of, law_of
from zevlo.core.compose.guides import guide_lines
from zevlo.core.optics import exposure, focus, lens, movements
from zevlo.core.optics.back import FORMATS, Cut, cut_back, ratio_name
from zevlo.core.optics.barrel import barrel
from zevlo.core.scene.cut import plan_plane, section_plane
from zevlo.core.scene.levels import NOWHERE, Where, level_at
from zevlo.core.scene.model import Floats
from zevlo.core.scene.sight import Zone, draw_sight, fans, thin_lines
from zevlo.core.scene.working import WorkingSet
from zevlo.core.sheet import (
    Angles,
    BackSheet,
    Drawings,
    ExposureSheet,
    FocusSheet,
    GuideLines,
    LensSheet,
    Matrix,
    MovementsSheet,
    Polyline,
    PoseSheet,
    PrimeMark,
    Probe,
    Sheet,
    WindowMm,
)
from zevlo.core.shot import Back, Exposure, Focus, Lens, Movements, Shot, Stand
from zevlo.core.stand.pose import Pose, compass_point, resolve, view_matrix

SECTION_DEPTH_M = 12.0


def blur_limit_of(shot: Shot, cut: Cut) -> float:
    """The ruling blur limit in mm on film."""
    return focus.blur_limit_mm(shot.focus.blur_limit, shot.back, cut)


def effective_f_number(shot: Shot) -> float | None:
    """N, or N(1+m) where the lens breathes, for exposure."""
    n = shot.focus.f_number
    if n is None or not shot.lens.focus_breathing:
        return n
    return n * (1.0 + lens.magnification(shot.lens.focal_length_mm, shot.focus.distance_m * 1000.0))


def sharp_zone_of(shot: Shot, cut: Cut) -> Zone:
    """Focus and sharp zone in metres; a pinhole is sharp from the lens to infinity."""
    u = shot.focus.distance_m * 1000.0
    if shot.focus.f_number is None or not law_of(shot).blurs:
        return Zone(u / 1000.0, 0.0, inf)
    near, far = focus.sharp_zone_mm(shot.lens.focal_length_mm, shot.focus.f_number, blur_limit_of(shot, cut), u)
    return Zone(u / 1000.0, near / 1000.0, far / 1000.0)


def ev_of(shot: Shot) -> float:
    """EV100 the shot is exposed for."""
    return exposure.ev100(effective_f_number(shot), shot.exposure.shutter_s, shot.exposure.iso)


@dataclass(frozen=True)
class _Outfit:
    """What of a sheet does not depend on where the camera stands."""

    camera: Camera
    zone: Zone
    lens: LensSheet
    back: BackSheet
    focus: FocusSheet
    exposure: ExposureSheet


@lru_cache(maxsize=64)
def _outfit(glass: Lens, back: Back, shifts: Movements, focused: Focus, exposed: Exposure) -> _Outfit:
    """Worked out once while only the stand moves."""
    shot = Shot(lens=glass, back=back, movements=shifts, focus=focused, exposure=exposed)
    camera, cut = camera_of(shot), cut_back(shot.back)
    return _Outfit(
        camera=camera,
        zone=sharp_zone_of(shot, cut),
        lens=_lens_sheet(shot, camera, cut),
        back=_back_sheet(shot, cut),
        focus=_focus_sheet(shot, cut),
        exposure=_exposure_sheet(shot),
    )


def probed(shot: Shot, camera: Camera) -> list[Probe]:
    """Where the probes of a shot fall in its picture, and how sharp a point is there."""
    cut = cut_back(shot.back)
    places = camera.places(np.array(shot.focus.probes))
    blur = blur_px_at(shot, camera, cut, places.depth)
    limit = blur_limit_of(shot, cut) / cut.pixel_mm
    return [
        Probe(
            at=(places.uv[n, 0], places.uv[n, 1]) if places.seen[n] else None,
            in_frame=bool(places.in_frame[n]),
            depth_m=places.depth[n],
            blur_px=blur[n] if places.seen[n] else None,
            sharp=bool(places.seen[n] and blur[n] <= limit * (1.0 + 1.0e-9)),
        )
        for n in range(len(blur))
    ]


def blur_px_at(shot: Shot, camera: Camera, cut: Cut, depth: Floats) -> Floats:
    """How many pixels a point at each depth is blurred over, (n,)."""
    if shot.focus.f_number is None or not camera.law.blurs:
        return np.zeros(len(depth))
    f, u = shot.lens.focal_length_mm, shot.focus.distance_m * 1000.0
    held = np.maximum(depth * 1000.0, 1.0e-6)
    blurred: Floats = focus.blur_mm(f, shot.focus.f_number, u, held) / cut.pixel_mm
    return blurred


def solve(shot: Shot, working: WorkingSet | None = None, where: Where = NOWHERE) -> Sheet:
    """The sheet of a shot. With a set, floor and drawings are of it; ``where`` names its place and its north."""
    outfit = _outfit(shot.lens, shot.back, shot.movements, shot.focus, shot.exposure)
    camera = replace(outfit.camera, pose=resolve(shot.stand))
    floor = None if working is None else working.whole.floor_under(camera.pose.position)
    shown = guide_lines(shot.guides)
    return Sheet(
        pose=_pose_sheet(camera.pose, floor, where),
        lens=outfit.lens,
        back=outfit.back,
        movements=_movements_sheet(shot, camera),
        focus=outfit.focus
        if not shot.focus.probes
        else outfit.focus.model_copy(update={"probes": probed(shot, camera)}),
        exposure=outfit.exposure,
        guides=[GuideLines(name=name, lines=list(lines)) for name, lines in shown.items()],
        drawings=_drawings(shot, camera, outfit.zone, working),
    )


def _matrix(matrix: Floats | None) -> Matrix:
    assert matrix is not None, "every law there is so far can be told as a matrix"
    numbers: Matrix = matrix.ravel().tolist()
    return numbers


def _pose_sheet(pose: Pose, floor: float | None, where: Where) -> PoseSheet:
    heading = where.heading(pose.heading_deg)
    x, y, z = pose.position.tolist()
    level, room = (
        level_at(where.places, z if floor is None else floor),
        where.room_at(x, y, z if floor is None else floor),
    )
    return PoseSheet(
        heading_deg=heading,
        compass=compass_point(heading),
        level=None if level is None else level.name,
        room=None if room is None else room.name,
        pitch_deg=pose.pitch_deg,
        roll_deg=pose.roll_deg,
        aim_distance_m=pose.aim_distance,
        floor_z=floor,
        above_floor_m=None if floor is None else float(pose.position[2]) - floor,
        view=_matrix(view_matrix(pose)),
    )


def _lens_sheet(shot: Shot, camera: Camera, cut: Cut) -> LensSheet:
    width, height = cut.size_mm
    horizontal, vertical, diagonal = (camera.law.angle_deg(size) for size in (width, height, hypot(width, height)))
    angles, same_view = None, None
    if horizontal is not None and vertical is not None and diagonal is not None:
        angles = Angles(horizontal=horizontal, vertical=vertical, diagonal=diagonal)
        same_view = lens.equivalent_focal_length_mm(shot.lens.focal_length_mm, *cut.size_mm)
    return LensSheet(
        angle_deg=angles,
        equivalent_focal_length_mm=same_view,
        projection=_matrix(camera.matrix()),
        window_mm=WindowMm(
            left=camera.window.left, right=camera.window.right, bottom=camera.window.bottom, top=camera.window.top
        ),
        primes=_prime_marks(width),
    )


@lru_cache(maxsize=64)
def _prime_marks(width_mm: float) -> list[PrimeMark]:
    return [PrimeMark(focal_length_mm=f, angle_deg=lens.angle_deg(width_mm, f)) for f in lens.PRIMES_MM]


def format_name(width_mm: float, height_mm: float) -> str:
    """The trade's name for a back size, else its size."""
    for known in FORMATS:
        if {known.width_mm, known.height_mm} == {width_mm, height_mm}:
            return known.name
    return f"{width_mm:g} × {height_mm:g}"


def _back_sheet(shot: Shot, cut: Cut) -> BackSheet:
    return BackSheet(
        format=format_name(shot.back.width_mm, shot.back.height_mm),
        ratio=ratio_name(*cut.output_px),
        cut_mm=cut.size_mm,
        pixel_mm=cut.pixel_mm,
        output_px=cut.output_px,
    )


def _movements_sheet(shot: Shot, camera: Camera) -> MovementsSheet:
    used = movements.circle_used_mm(camera.window)
    circle = shot.movements.image_circle_mm
    rise_room = cross_room = None
    if circle is not None:
        rise_room, cross_room = movements.rooms_mm(cut_back(shot.back), shot.movements, circle)
    return MovementsSheet(
        lean_deg=movements.lean_deg(camera.law, camera.window.width, camera.pose.pitch_deg),
        circle_used_mm=used,
        circle_ok=circle is None or used <= circle + 1e-9,
        rise_room_mm=rise_room,
        cross_room_mm=cross_room,
    )


def _focus_sheet(shot: Shot, cut: Cut) -> FocusSheet:
    f, n, u = shot.lens.focal_length_mm, shot.focus.f_number, shot.focus.distance_m * 1000.0
    limit = blur_limit_of(shot, cut)
    zone = sharp_zone_of(shot, cut)
    return FocusSheet(
        stop=None if n is None else focus.stop_name(n),
        blur_limit_mm=limit,
        blur_limit_px=limit / cut.pixel_mm,
        hyperfocal_m=None if n is None or not law_of(shot).blurs else focus.hyperfocal_mm(f, n, limit) / 1000.0,
        sharp_from_m=zone.sharp_from,
        sharp_to_m=None if zone.sharp_to == inf else zone.sharp_to,
        diffraction_mm=None if n is None else focus.diffraction_mm(n, lens.magnification(f, u)),
        barrel=barrel(f, n, limit, u),
    )


def shutter_name(seconds: float) -> str:
    """``1/40 s`` below a third of a second, ``0.8 s`` above; three digits that count."""
    if seconds >= 0.3:
        return f"{float(f'{seconds:.3g}'):g} s"
    return f"1/{float(f'{1.0 / seconds:.3g}'):g} s"


def _exposure_sheet(shot: Shot) -> ExposureSheet:
    ev = ev_of(shot)
    return ExposureSheet(
        ev100=ev, white_cd_m2=exposure.white_luminance(ev), shutter=shutter_name(shot.exposure.shutter_s)
    )


def _drawings(shot: Shot, camera: Camera, zone: Zone, working: WorkingSet | None) -> Drawings:
    pose = camera.pose
    reach = max(2.0 * pose.aim_distance, 1.5 * zone.focus) if working is None else working.reach
    aim = np.array(shot.stand.aim)
    upright = section_plane(pose.position, pose.level_axis)
    plan, section = fans(camera, None if working is None else working.rays, reach)
    outlines = None if working is None else working.cut(upright)
    return Drawings(
        plan=draw_sight(camera, aim, zone, plan_plane(0.0), plan, reach),
        section=draw_sight(camera, aim, zone, upright, section, reach, outlines),
    )


def section_beyond(stand: Stand, working: WorkingSet) -> Polyline:
    """The thin lines of a stand's section: edges beyond its cut that the reader can see. Takes longer than a sheet."""
    pose = resolve(stand)
    span = working.reach
    within = np.array([[-0.35 * span, working.bounds[0, 2]], [span, working.bounds[1, 2]]])
    plane = section_plane(pose.position, pose.level_axis)
    return thin_lines(working.beyond(plane, SECTION_DEPTH_M, within), working.scale)
