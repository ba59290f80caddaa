"""Uprights, the image circle and the tilted lens, by hand at the desk."""

import re

import numpy as np
import pytest
from playwright.sync_api import expect
from tests.desk.hands import choose, drag, eventually, field, instrument, named, open_demo, paper_place, settled, undo

from zevlo.core.framing.solve import solve
from zevlo.core.shot import Shot
from zevlo.core.stand.pose import resolve

TOWER, TEAPOT = "Tower from the slip", "Teapot hero"


def press_in_finder(page, u, v):
    finder = page.get_by_label("Finder, through the lens")
    left, top, width, height = map(float, finder.locator("svg").get_attribute("data-frame").split(","))
    box = finder.bounding_box()
    page.mouse.click(box["x"] + left + u * width, box["y"] + top + (1 - v) * height)


@pytest.fixture
def at(page, api):
    """Opens a shot of the demonstration with its movements; gives what there is now, as the API tells it."""
    project = open_demo(page)

    def opened(name):
        choose(page, name)
        instrument(page, "Movements")
        return lambda: Shot.model_validate(named(api, project, name)["shot"])

    return opened


def test_a_tower_is_straightened_by_shares_kept_true_and_squared(page, at):
    now = at(TOWER)
    before = now()
    slider = page.get_by_role("slider", name="Straightened")
    expect(slider).to_have_value("1")
    # Set up level and risen by hand: the way back is to turn the camera up.
    slider.press("PageDown")
    eventually(lambda: np.testing.assert_allclose(solve(now()).movements.straightened, 0.9, atol=1e-3))
    expect(page.get_by_text(re.compile(r"^rise \d+(\.\d{1,2})?$"))).to_be_visible()
    slider.press("Home")
    eventually(lambda: np.testing.assert_allclose(now().movements.rise_mm, 0.0, atol=1e-9))
    assert resolve(now().stand).pitch_deg == pytest.approx(np.degrees(np.arctan(7.2 / 24)), abs=1e-6)
    expect(page.get_by_label("The back in the image circle")).to_contain_text("together")
    page.get_by_role("button", name="Straighten", exact=True).click()
    eventually(lambda: np.testing.assert_allclose(now().movements.rise_mm, 7.2, atol=1e-9))
    assert resolve(now().stand).pitch_deg == pytest.approx(0, abs=1e-9)
    assert now().focus.distance_m == pytest.approx(before.focus.distance_m)
    page.get_by_role("button", name="Square on a wall").click()
    press_in_finder(page, 0.5, 0.35)
    eventually(lambda: np.testing.assert_array_less(0.5, abs(now().movements.cross_mm)))
    assert solve(now()).movements.uprights == "true"
    page.get_by_role("button", name="Reset").click()
    eventually(lambda: np.testing.assert_allclose(now().movements.cross_mm, 0.0, atol=1e-9))
    page.get_by_role("button", name="Straighten", exact=True).click()
    page.get_by_role("button", name="Keep uprights true").click()
    page.get_by_role("button", name="On tripod").click()
    settled(page)
    finder = page.get_by_label("Finder, through the lens").bounding_box()
    middle = (finder["x"] + finder["width"] / 2, finder["y"] + finder["height"] / 2)
    drag(page, middle, (middle[0], middle[1] + 30))
    eventually(lambda: np.testing.assert_array_less(7.3, now().movements.rise_mm))
    assert resolve(now().stand).pitch_deg == pytest.approx(0, abs=1e-7)


def _rested_on(page, offer):
    """The hand comes to an offer anew: one that is drawn under a hand at rest is not felt."""
    page.mouse.move(5, 400)
    offer.hover()
    settled(page)
    assert page.locator("[data-supposed]").count()


def test_the_circle_is_used_passed_and_got_back_into(page, at):
    now = at(TOWER)
    circle = page.get_by_label("The back in the image circle")
    frame = page.get_by_role("slider", name="Rise and cross in the image circle")
    frame.press("ArrowUp")
    frame.press("ArrowRight")
    eventually(lambda: np.testing.assert_allclose([now().movements.rise_mm, now().movements.cross_mm], [7.7, 0.5]))
    box = frame.bounding_box()
    middle = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    drag(page, middle, (middle[0], middle[1] - 40))
    expect(circle).to_contain_text("Beyond the circle")
    eventually(lambda: np.testing.assert_array_less(15, now().movements.rise_mm))
    beyond = page.get_by_label("Beyond the image circle")
    for remedy in ("enlarged", "higher"):
        offer = beyond.get_by_role("button").filter(has_text=remedy).first
        eventually(lambda offer=offer: _rested_on(page, offer))
        offer.click()
        expect(beyond).to_have_count(0)
        assert solve(now()).movements.circle_ok
        undo(page)
        expect(beyond).to_be_visible()
    page.get_by_role("button", name="Back to the middle").click()
    eventually(lambda: np.testing.assert_allclose(now().movements.rise_mm, 0))
    page.locator("button[aria-haspopup=listbox]").filter(has_text="mm of film").click()
    page.get_by_role("option", name="degrees").click()
    field(page, "Rise", "10")
    eventually(lambda: np.testing.assert_allclose(now().movements.rise_mm, 24 * np.tan(np.radians(10))))
    page.get_by_role("button", name="Lean lines").click()
    expect(page.locator("[data-guide=lean_lines]").first).to_contain_text("true")


def test_the_focus_is_laid_on_a_table_and_its_hinge_moved(page, at):
    now = at(TEAPOT)
    field(page, "Limit", "20")
    page.get_by_role("button", name="Lay on a surface").click()
    press_in_finder(page, 0.08, 0.1)
    eventually(lambda: np.testing.assert_array_less(5, now().movements.tilt_deg))
    laid = now()
    expect(page.get_by_text("Plane of focus: level")).to_be_visible()
    three = page.get_by_role("button", name="Lay on three points")
    where = three.bounding_box()
    page.get_by_role("button", name="Parallel", exact=True).click()
    expect(page.get_by_text("Plane of focus: parallel")).to_be_visible()
    settled(page)
    # The words on the plane are shorter now. No button moves from under the hand that goes on to it.
    assert three.bounding_box() == where
    np.testing.assert_allclose(now().movements.tilt_deg, 0)
    three.click()
    for n, place in enumerate(((0.1, 0.12), (0.9, 0.12), (0.1, 0.2))):
        expect(page.get_by_text(f"Press three places that are to be sharp ({n + 1} of 3)")).to_be_visible()
        press_in_finder(page, *place)
    eventually(lambda: np.testing.assert_allclose(now().movements.tilt_deg, laid.movements.tilt_deg, atol=0.05))
    settled(page)
    hinge = page.get_by_label("Hinge in section")
    hinge.press("ArrowDown")
    eventually(lambda: np.testing.assert_array_less(now().movements.tilt_deg, laid.movements.tilt_deg - 0.2))
    assert now().focus.distance_m == pytest.approx(laid.focus.distance_m, rel=1e-3)
    end = page.get_by_label("Tilt: end of the plane of focus in section")
    before = now().movements.tilt_deg
    x, y = map(float, end.get_attribute("aria-valuetext").split(", "))
    start = paper_place(page, "Section", x, y)
    drag(page, start, (start[0], start[1] - 25))
    eventually(lambda: np.testing.assert_array_less(0.1, abs(now().movements.tilt_deg - before)))
    field(page, "Swing", "1.5")
    eventually(lambda: np.testing.assert_allclose(now().movements.swing_deg, 1.5))
    expect(page.get_by_label("Hinge in plan")).to_be_attached()
