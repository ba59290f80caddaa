"""Guides in the frame against what geometry and the trade say of them."""

from math import sqrt

import numpy as np
import pytest
from pxr import Gf
from shapely.geometry import LineString

from zevlo.core.framing.solve import solve
from zevlo.core.shot import Back, Guides, Lens, Movements, Shot, Stand, Trim


def lines_of(name, **groups):
    (found,) = [guide.lines for guide in solve(Shot(**groups)).guides if guide.name == name]
    return np.array(found).reshape(-1, 2, 2)


def places(lines):
    return sorted({round(float(v), 6) for v in lines.ravel()})


def test_thirds_and_the_middle():
    """Rule of thirds: common practice, no source."""
    assert places(lines_of("thirds")) == [0.0, 0.333333, 0.666667, 1.0]
    assert places(lines_of("centre")) == [0.0, 0.5, 1.0]


def test_the_golden_section_divides_a_side_as_euclid_says():
    """Euclid, Elements VI, definition 3: the whole is to the larger part as the larger is to the smaller."""
    _, smaller, larger, whole = places(lines_of("golden"))
    assert whole / larger == pytest.approx(larger / smaller, rel=1e-5)
    assert larger == pytest.approx(0.618034, abs=1e-6), "OEIS A094214"


@pytest.mark.parametrize("pixels", [(3000, 2000), (1200, 1600), (1000, 1000), (4000, 1000), (1414, 1000)])
def test_reciprocals_stand_square_on_the_diagonals(pixels):
    back = Back(output_px=pixels)
    size = np.array(pixels, dtype=float)
    diagonals = [(b - a) * size for a, b in lines_of("diagonals", back=back)]
    found = lines_of("reciprocals", back=back)
    assert len(found) == 4
    assert {tuple(start) for start, _ in found.tolist()} == {(0, 0), (1, 0), (0, 1), (1, 1)}, "one from each corner"
    for start, end in found:
        direction = (end - start) * size
        assert any(abs(direction @ diagonal) < 1e-6 * size.max() ** 2 for diagonal in diagonals)
        assert (end >= -1e-12).all()
        assert (end <= 1 + 1e-12).all()
        assert np.isclose(end, 0).any() or np.isclose(end, 1).any(), "to the frame's side"
        crossed = [LineString(line).distance(LineString([start, end])) for line in lines_of("diagonals", back=back)]
        assert max(crossed) < 1e-9


@pytest.mark.parametrize("pixels", [(20000, 14142), (14142, 20000)])
def test_on_a_root_two_frame_reciprocals_halve_it(pixels):
    """ISO 216's ratio of 1 to √2: half of the sheet is as its whole, so both have the same diagonals."""
    ends = lines_of("reciprocals", back=Back(output_px=pixels))[:, 1]
    longer = 0 if pixels[0] > pixels[1] else 1
    assert ends[:, longer] == pytest.approx(0.5, abs=1e-4)
    assert max(pixels) / min(pixels) == pytest.approx(sqrt(2), abs=1e-4)


def test_a_margin_is_the_safe_area_of_its_share():
    """SMPTE ST 2046-1 (from memory): title safe is 90 %, action safe 93 % of width and of height."""
    assert places(lines_of("margin", guides=Guides(margin=0.05))) == [0.05, 0.95]
    assert places(lines_of("margin", guides=Guides(margin=0.035))) == [0.035, 0.965]
    assert places(lines_of("margin")) == [0.05, 0.95], "as it would be if it were shown"


@pytest.mark.parametrize("seed", range(40))
def test_what_is_level_and_far_lies_on_the_horizon(seed):
    """Against OpenUSD's Gf.Frustum: level places ten thousand kilometres away fall on the line, or it is not in view."""
    rng = np.random.default_rng(seed)
    heading, pitch, roll = rng.uniform(0, 360), rng.uniform(-25, 25), rng.uniform(-60, 60)
    h, p = np.radians(heading), np.radians(pitch)
    direction = np.array([np.sin(h) * np.cos(p), np.cos(h) * np.cos(p), np.sin(p)])
    position = rng.uniform(-5, 5, 3)
    shot = Shot(
        stand=Stand(position=tuple(position), aim=tuple(position + direction), roll_deg=roll),
        lens=Lens(focal_length_mm=float(rng.uniform(18, 60))),
        movements=Movements(rise_mm=float(rng.uniform(-6, 6)), cross_mm=float(rng.uniform(-6, 6))),
        back=Back(trim=Trim(left=0.2, top=0.1)),
    )
    sheet = solve(shot)
    (lines,) = [guide.lines for guide in sheet.guides if guide.name == "horizon"]
    frustum = Gf.Frustum()
    window, f = sheet.lens.window_mm, shot.lens.focal_length_mm
    frustum.window = Gf.Range2d(
        Gf.Vec2d(window.left / f, window.bottom / f), Gf.Vec2d(window.right / f, window.top / f)
    )
    frustum.nearFar = Gf.Range1d(1, 1e8)
    view = Gf.Matrix4d(*np.array(sheet.pose.view).reshape(4, 4).T.ravel().tolist())
    matrix = view * frustum.ComputeProjectionMatrix()
    seen = []
    for bearing in np.radians(heading + np.linspace(-50, 50, 400)):
        x, y, _ = matrix.Transform(Gf.Vec3d(*(position + 1e7 * np.array([np.sin(bearing), np.cos(bearing), 0]))))
        u, v = (x + 1) / 2, (y + 1) / 2
        if 0 <= u <= 1 and 0 <= v <= 1:
            seen.append((u, v))
    if not lines:
        assert not seen
        return
    line = LineString(np.array(lines[0]).reshape(2, 2))
    assert all(line.distance(LineString([place, place])) < 1e-5 for place in seen)
    ends = np.array(line.coords)
    assert (np.isclose(ends, 0, atol=1e-9) | np.isclose(ends, 1, atol=1e-9)).any(axis=1).all(), "from side to side"


def test_there_is_no_horizon_straight_down_nor_in_a_parallel_picture():
    assert lines_of("horizon", stand=Stand(position=(0, 0, 3), aim=(0, 0, 0))).size == 0
    assert lines_of("horizon", stand=Stand(position=(0, 0, 3), aim=(0, 1, 0))).size == 0
    assert lines_of("horizon", lens=Lens(projection="parallel", scale_m=3)).size == 0
    assert lines_of("horizon").tolist() == [[[0.0, 0.5], [1.0, 0.5]]], "level with the lens: through the middle"
