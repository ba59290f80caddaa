"""Focus at the desk: brackets and stops, what is followed, what is wanted sharp, and probes."""

import re

import numpy as np
import pytest
from playwright.sync_api import expect
from tests.desk.hands import choose, drag, eventually, field, instrument, named, open_demo, settled
from tests.desk.test_movements_by_hand import press_in_finder

from zevlo.core.framing.solve import solve
from zevlo.core.shot import Shot

ROOM = "Wheel room, looking NW"


@pytest.fixture
def now(page, api):
    """A room of the demonstration with its focus; gives what there is now, as the API tells it."""
    project = open_demo(page)
    choose(page, ROOM)
    instrument(page, "Focus")
    return lambda: Shot.model_validate(named(api, project, ROOM)["shot"])


def aperture(page, name):
    page.locator("[data-instrument=Focus]").get_by_role("button", name="Aperture").click()
    page.get_by_role("option", name=name, exact=True).click()
    settled(page)


def test_brackets_and_stops(page, now):
    before = solve(now()).exposure.ev100
    bracket = page.get_by_role("slider", name="Near bracket of the stop")
    bracket.press("ArrowLeft")
    eventually(lambda: np.testing.assert_allclose(now().focus.f_number, 5.6 * 2 ** (1 / 6)))
    box = bracket.bounding_box()
    middle = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    drag(page, middle, (middle[0] - 30, middle[1]))
    eventually(lambda: np.testing.assert_array_less(9, now().focus.f_number))
    assert 6 * np.log2(now().focus.f_number) == pytest.approx(round(6 * np.log2(now().focus.f_number)))
    aperture(page, "List half stops")
    aperture(page, "f/9.5")
    eventually(lambda: np.testing.assert_allclose(now().focus.f_number, 2 ** (13 / 4)))
    field(page, "Aperture", "6.8")
    eventually(lambda: np.testing.assert_allclose(now().focus.f_number, 6.8))
    assert solve(now()).exposure.ev100 == pytest.approx(before)
    field(page, "Circle of confusion", "4")
    eventually(lambda: np.testing.assert_allclose(now().focus.blur_limit.px, 4))
    aperture(page, "everything sharp")
    expect(page.get_by_role("button", name="These two sharp")).to_be_disabled()
    expect(bracket).to_have_count(0)


def test_what_is_wanted_sharp_is_got_and_followed(page, now):
    page.get_by_role("button", name="These two sharp").click()
    for n, place in enumerate(((0.44, 0.18), (0.88, 0.3))):
        expect(page.get_by_text(f"({n + 1} of 2)")).to_be_visible()
        press_in_finder(page, *place)
    eventually(lambda: np.testing.assert_array_less(0.1, abs(now().focus.f_number - 5.6)))
    assert now().focus.f_number == pytest.approx(2 ** (round(6 * np.log2(now().focus.f_number)) / 6))
    field(page, "Sharp from", "2.2")
    eventually(lambda: np.testing.assert_allclose(solve(now()).focus.sharp_from_m, 2.2, rtol=1e-6))
    page.get_by_role("button", name="To infinity").click()
    eventually(lambda: np.testing.assert_equal(solve(now()).focus.sharp_to_m, None))
    page.get_by_role("button", name="Follow a part").click()
    press_in_finder(page, 0.29, 0.27)
    expect(page.get_by_text("Follow focus on Table crock")).to_be_visible()
    expect(page.locator("[data-follows]")).to_be_attached()
    kept = now().focus.follow.point
    page.get_by_role("button", name="On tripod").click()
    finder = page.get_by_label("Finder, through the lens")
    finder.press("ArrowUp")
    eventually(
        lambda: np.testing.assert_array_less(
            0.01, abs(np.subtract(now().focus.follow.point, kept)).max() + abs(now().stand.position[1] - 0.55)
        )
    )
    probed = now().focus.model_copy(update={"probes": (now().focus.follow.point,)})
    assert solve(now().with_groups(focus=probed)).focus.probes[0].blur_px == pytest.approx(0, abs=1e-6)
    page.get_by_role("button", name="Its middle instead").click()
    eventually(lambda: np.testing.assert_equal(now().focus.follow.where, "middle"))
    # What is beside it moves it when the answer is there.
    expect(page.get_by_role("button", name="Its nearest place instead")).to_be_visible()
    page.get_by_role("button", name="Let go").click()
    # Its lines go when the answer is there, and what is below them moves up.
    expect(page.get_by_role("button", name="Let go")).to_have_count(0)
    settled(page)
    assert now().focus.follow is None
    page.get_by_role("button", name="One sharp, one soft by").click()
    for n, place in enumerate(((0.44, 0.18), (0.88, 0.3))):
        expect(page.get_by_text(f"({n + 1} of 2)")).to_be_visible()
        press_in_finder(page, *place)
    settled(page)
    eventually(lambda: np.testing.assert_array_less(now().focus.f_number, 3))


def test_probes_are_pinned_one_after_the_other_and_taken_away(page, now):
    page.get_by_role("button", name="Pin probes").click()
    for place in ((0.44, 0.18), (0.88, 0.3), (0.3, 0.27)):
        press_in_finder(page, *place)
        settled(page)
    page.keyboard.press("Escape")
    eventually(lambda: np.testing.assert_equal(len(now().focus.probes), 3))
    rows = page.get_by_role("list", name="Probes").get_by_role("listitem")
    sheet = solve(now()).focus.probes
    for n, probe in enumerate(sheet):
        expect(rows.nth(n)).to_contain_text(probe.words)
        expect(page.locator(f"[data-probe='{n + 1}']")).to_contain_text(f"{float(f'{probe.blur_px:.1f}'):g} px")
    page.get_by_role("button", name="Take probe 2 away").click()
    expect(rows).to_have_count(2)
    assert now().focus.probes[1].part != now().focus.probes[0].part


def test_a_pair_and_a_stack_are_made_by_presses(page, api, now):
    project = page.url.split("/")[3]
    page.get_by_role("button", name="Pair and stack").click()
    page.get_by_role("button", name="A pair of two things").click()
    for place in ((0.44, 0.18), (0.88, 0.3)):
        press_in_finder(page, *place)
    expect(page.get_by_role("button", name=f"More for {ROOM}, front sharp")).to_be_visible()
    front, back = (named(api, project, f"{ROOM}, {which} sharp") for which in ("front", "back"))
    expect(page).to_have_url(re.compile(front["id"]))
    assert front["shot"]["focus"]["distance_m"] < 0.9 * back["shot"]["focus"]["distance_m"]
    choose(page, ROOM)
    aperture(page, "f/1.4")
    page.get_by_role("button", name="A stack from here to there").click()
    for place in ((0.44, 0.18), (0.88, 0.3)):
        press_in_finder(page, *place)
    eventually(lambda: np.testing.assert_equal(now().focus.stack is None, False))
    eventually(
        lambda: np.testing.assert_allclose(now().focus.stack.from_m, front["shot"]["focus"]["distance_m"], rtol=1e-6)
    )
    assert now().focus.stack.to_m == pytest.approx(back["shot"]["focus"]["distance_m"])
    wide = len(solve(now()).focus.stack_m)
    field(page, "Overlap", "80")
    eventually(lambda: np.testing.assert_allclose(now().focus.stack.overlap, 0.8))
    assert len(solve(now()).focus.stack_m) > wide
    field(page, "Stack from", "1.2")
    eventually(lambda: np.testing.assert_allclose(now().focus.stack.from_m, 1.2))
    expect(page.locator("[data-stacked]").first).to_be_attached()
    page.get_by_role("button", name="Print the stack").click()
    eventually(
        lambda: np.testing.assert_array_equal(
            [one["kind"] for one in api.get(f"/api/projects/{project}/prints").json()["prints"]], ["stack"]
        )
    )
    page.get_by_role("button", name="Take it away").click()
    eventually(lambda: np.testing.assert_equal(now().focus.stack, None))


def test_where_no_stop_does_it_each_alternative_is_one_press_away(page, now):
    page.get_by_role("button", name="To infinity").click()
    field(page, "to infinity, from", "0.25")
    offers = page.get_by_label("No stop does it")
    expect(offers).to_contain_text("the smallest stop is f/64")
    expect(page.get_by_role("alert")).to_contain_text("the smallest stop is f/64")
    eventually(lambda: np.testing.assert_allclose(now().focus.f_number, 64))
    offers.get_by_role("button", name="A stand").hover()
    expect(page.locator("[data-supposed]")).to_be_attached()
    offers.get_by_role("button", name="A stack").click()
    eventually(lambda: np.testing.assert_equal(now().focus.stack is None, False))
    expect(offers).to_have_count(0)
    assert now().focus.f_number < 12
    page.keyboard.press("Control+z")
    eventually(lambda: np.testing.assert_equal(now().focus.stack is None, True))
