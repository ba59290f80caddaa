"""The formulas of docs/optics.md against its check values, and against each other."""

from math import inf, isinf

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from zevlo.core.camera.from_shot import Framing, camera_of
from zevlo.core.constraints.uprights import straightened
from zevlo.core.framing.solve import solve
from zevlo.core.instruments.focus.stop_solver import SharpAsked, stop_wanted
from zevlo.core.optics import back, exposure, focus, lens, movements
from zevlo.core.optics.barrel import barrel_distance_mm
from zevlo.core.optics.laws import Perspective
from zevlo.core.shot import Back, BlurLimit, Focus, Lens, Movements, Shot, Stand, Trim


@pytest.mark.parametrize(
    ("f", "n", "c", "u", "hyperfocal", "near", "far"),
    [
        (50, 8, 0.03, 3000, 10466.7, 2337.9, 4185.3),
        (28, 5.6, 0.03, 3200, 4694.7, 1905.1, 9991.1),
        (85, 16, 0.03, 900, 15137.1, 853.8, 951.5),
        (24, 8, 0.03, 2560, 2424.0, 1244.7, inf),
    ],
)
def test_sharp_zone(f, n, c, u, hyperfocal, near, far):
    assert focus.hyperfocal_mm(f, n, c) == pytest.approx(hyperfocal, abs=0.06)
    found = focus.sharp_zone_mm(f, n, c, u)
    assert found[0] == pytest.approx(near, abs=0.06)
    assert isinf(found[1]) if far == inf else found[1] == pytest.approx(far, abs=0.06)


@given(
    f=st.floats(10, 300), n=st.floats(1, 45), c=st.floats(0.005, 0.1), u=st.floats(500, 100_000)
)  # fmt: skip
def test_reciprocals_of_the_sharp_zone(f, n, c, u):
    near, far = focus.sharp_zone_mm(f, n, c, u)
    if not isinf(far):
        assert 1 / near + 1 / far == pytest.approx(2 / u, rel=1e-9)
        assert 1 / near - 1 / far == pytest.approx(2 * n * c * (u - f) / (u * f * f), rel=1e-6)
    for d in (near, far):
        if not isinf(d):
            assert focus.blur_times_mm(f, n, u) * abs(1 / d - 1 / u) == pytest.approx(c, rel=1e-6)


def test_two_things_sharp_gives_distance_and_stop():
    shot = Shot(lens=Lens(focal_length_mm=50), focus=Focus(blur_limit={"mm": 0.03}))
    u, n = stop_wanted(Framing(shot), SharpAsked(near_per_m=1 / 1.8, far_per_m=1 / 4.2))
    assert u == pytest.approx(2520)
    assert n == pytest.approx(13.495, abs=5e-4)
    assert focus.stop_name(focus.next_third_stop(n)) == "f/14"
    assert focus.sharp_zone_mm(50, n, 0.03, 2520) == pytest.approx((1800, 4200))


def test_stops_by_name():
    assert [focus.stop_name(focus.exact_f_number(k)) for k in (0, 3, 6, 9, 12, 15, 18, 21)] == [
        "f/1", "f/1.4", "f/2", "f/2.8", "f/4", "f/5.6", "f/8", "f/11",
    ]  # fmt: skip
    assert focus.stop_name(13.495) == "f/13.5"


def test_blur_limit_by_each_criterion():
    film = Back(output_px=(3840, 2160))
    cut = back.fit_back(film)
    assert focus.blur_limit_mm(BlurLimit(px=1.5), film, cut) == pytest.approx(1.5 * 36 / 3840)
    assert focus.blur_limit_mm(BlurLimit(mm=0.03), film, cut) == 0.03
    assert focus.blur_limit_mm(BlurLimit(diagonal_over=1500), film, cut) == pytest.approx(43.2666 / 1500, rel=1e-5)
    one_minute_on_film = focus.blur_limit_mm(BlurLimit(print_width_mm=360, seen_from_mm=500), film, cut)
    assert one_minute_on_film == pytest.approx(500 * 2.9089e-4 / 10, rel=1e-4)


@pytest.mark.parametrize(("cut", "size"), [("inside", (36, 20.25)), ("width", (36, 20.25)), ("height", (42.6667, 24))])
def test_cut_of_a_wide_picture(cut, size):
    assert back.fitted_size(36, 24, cut, 16 / 9) == pytest.approx(size, rel=1e-5)


def test_cut_past_the_back_keeps_the_named_side():
    assert back.fitted_size(36, 24, "width", 0.8) == pytest.approx((36, 45))
    assert back.fitted_size(36, 24, "inside", 0.8) == pytest.approx((19.2, 24))


def test_trim_is_whole_pixels_and_leaves_square_ones():
    cut = back.fit_back(Back(output_px=(1000, 500), trim=Trim(left=0.1004, top=0.25)))
    assert cut.output_px == (900, 375)
    width, height = cut.size_mm
    assert width / 900 == pytest.approx(cut.pixel_mm)
    assert height / 375 == pytest.approx(cut.pixel_mm)
    assert cut.left == pytest.approx(-18 + 100 * cut.pixel_mm)


def test_enlarge_is_a_tighter_window_about_the_same_centre():
    plain, tight = (camera_of(Shot(back=Back(enlarge=e))).window for e in (1.0, 2.0))
    assert tight.width == pytest.approx(plain.width / 2)
    assert tight.left == pytest.approx(plain.left / 2)


def test_straighten_and_lean():
    for f, pitch, rise in ((24, 10, 4.232), (35, 12, 7.439)):
        stand = Stand(aim=(0, 10, 1.6 + 10 * np.tan(np.radians(pitch))))
        shot = straightened(Framing(Shot(stand=stand, lens=Lens(focal_length_mm=f))), 1.0)
        assert shot.movements.rise_mm == pytest.approx(rise, abs=5e-4)
    assert movements.lean_deg(Perspective(24), 36, 10) == pytest.approx(7.53, abs=5e-3)


def test_room_in_the_image_circle():
    assert movements.room_mm(12, 18, 60) == pytest.approx(12.0)
    assert movements.room_mm(18, 12, 60) == pytest.approx(9.495, abs=5e-4)
    assert movements.room_mm(18, 12, 40) is None
    cut = back.fit_back(Back(output_px=(3600, 2400)))
    window = movements.shifted_window(cut, Movements(rise_mm=12))
    assert movements.circle_used_mm(window) == pytest.approx(60.0)


@pytest.mark.parametrize(("n", "t", "iso", "ev"), [(16, 1 / 125, 100, 14.97), (5.6, 1 / 40, 200, 9.29), (32, 1, 100, 10.0)])  # fmt: skip
def test_exposure_value(n, t, iso, ev):
    assert exposure.ev100(n, t, iso) == pytest.approx(ev, abs=6e-3)
    assert exposure.shutter_for(exposure.ev100(n, t, iso), n, iso) == pytest.approx(t)


def test_white_and_meter():
    assert exposure.white_luminance(9) == pytest.approx(614.4)
    assert exposure.ev_for_luminance(12.5 * 2**5 / 100) == pytest.approx(5)


def test_diffraction():
    assert focus.diffraction_mm(32, 0) == pytest.approx(0.0429, abs=5e-5)


def test_breathing_narrows_the_angle_and_darkens():
    still = Shot.model_validate({"focus": {"distance_m": 0.4}})
    breathing = Shot.model_validate({"focus": {"distance_m": 0.4}, "lens": {"focus_breathing": True}})
    a, b = solve(still), solve(breathing)
    assert b.lens.angle_deg.horizontal < a.lens.angle_deg.horizontal
    assert b.exposure.ev100 > a.exposure.ev100
    v = lens.image_distance_mm(35, 400)
    assert b.lens.angle_deg.horizontal == pytest.approx(lens.angle_deg(36, v))


def test_brackets_lie_symmetrically_about_the_focus_mark():
    barrel = solve(Shot.model_validate({"focus": {"distance_m": 3.2, "f_number": 5.6}})).focus.barrel
    assert barrel.focus_at - barrel.sharp_from_at == pytest.approx(barrel.sharp_to_at - barrel.focus_at)
    assert barrel_distance_mm(3200, barrel.focus_at) == pytest.approx(3200)
    assert barrel_distance_mm(3200, barrel.sharp_from_at) == pytest.approx(
        1000 * solve(Shot.model_validate({"focus": {"distance_m": 3.2, "f_number": 5.6}})).focus.sharp_from_m
    )
    assert barrel_distance_mm(3200, barrel.metres[-1].at) == barrel_distance_mm(3200, 5.0) == float("inf")
    assert [m.label for m in barrel.metres][-1] == "∞"


@pytest.mark.parametrize("left", [0.0, 0.25, 0.5])
def test_what_counts_as_sharp_on_a_print_goes_by_what_is_printed(left):
    """A trimmed picture fills the same sheet: its blur is drawn larger there, and its pixels as well."""
    shot = Shot(
        back=Back(output_px=(4000, 2000), trim=Trim(left=left)),
        focus=Focus(blur_limit={"print_width_mm": 400, "seen_from_mm": 500}),
    )
    sheet = solve(shot).focus
    on_print = 500 * np.tan(np.radians(1 / 60))
    assert sheet.blur_limit_px == pytest.approx(on_print / 400 * 4000 * (1 - left))
    assert sheet.blur_limit_mm == pytest.approx(on_print / 400 * 36 * (1 - left))


def test_a_camera_that_is_straightened_keeps_what_its_focus_is_kept_on():
    on = {"point": (0.3, 6, 2), "where": "point"}
    shot = Shot(stand=Stand(aim=(0, 5, 2.5)), focus=Focus(distance_m=6, follow=on))
    assert straightened(Framing(shot), 1.0).focus.follow == shot.focus.follow
