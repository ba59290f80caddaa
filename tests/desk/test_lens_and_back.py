"""Lens and back by hand: pulled, chosen, looked at before it is let go, kept; each against what the core makes of it."""

import re

import pytest
from playwright.sync_api import expect
from tests.desk.hands import (
    choose,
    drag,
    eventually,
    field,
    handle,
    instrument,
    named,
    now,
    open_demo,
    option,
    prints_of,
    settled,
    undo,
)

from zevlo.core.instruments.lens.views import VIEWS
from zevlo.core.optics.back import FORMATS

NAME = "Shelf wall, square on"


@pytest.fixture
def desk(page, api):
    project = open_demo(page)
    choose(page, NAME)
    return page, api, project


def place(page, label):
    box = page.locator(f'[data-finder] [data-handle="{label}"]').bounding_box()
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def frame(page):
    left, top, width, height = map(float, page.locator("[data-frame]").first.get_attribute("data-frame").split(","))
    return left, top, width, height


def shot(api, project):
    return named(api, project, NAME)["shot"]


def test_the_frame_is_pulled(desk):
    page, api, project = desk
    instrument(page, "Back")
    settled(page)
    start, (_, _, width, height) = place(page, "Frame’s right edge"), frame(page)
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move(start[0] - width / 4, start[1], steps=4)
    expect(page.locator("[data-supposed]")).to_be_visible()
    expect(page.get_by_role("status").filter(has_text="trimmed otherwise")).to_be_visible()
    assert shot(api, project)["back"]["trim"]["right"] == 0, "nothing is written before the hand lets go"
    page.mouse.up()
    eventually(lambda: _trimmed(shot(api, project), right=0.25))
    expect(page.locator("[data-supposed]")).to_have_count(0)
    settled(page)
    page.keyboard.down("Shift")
    page.keyboard.down("Alt")
    corner = place(page, "Frame’s top left corner")
    drag(page, corner, (corner[0] + width / 16, corner[1] + height / 16))
    page.keyboard.up("Alt")
    page.keyboard.up("Shift")

    def about_its_middle():
        trim, found = shot(api, project)["back"]["trim"], named(api, project, NAME)["frame_px"]
        assert trim["left"] > 0.01
        assert trim["right"] - 0.25 == pytest.approx(trim["left"], abs=2e-3)
        assert trim["top"] == pytest.approx(trim["bottom"], abs=2e-3)
        assert found[0] / found[1] == pytest.approx(2880 / 1600, abs=3e-3), "the ratio is held"

    eventually(about_its_middle)
    settled(page)
    page.get_by_role("button", name="Whole frame", exact=True).click()
    eventually(lambda: _trimmed(shot(api, project), right=0))
    settled(page)
    option(page, "Pulled beyond the frame", "the back grows")
    out = place(page, "Frame’s left edge")
    drag(page, out, (out[0] - 30, out[1]))

    def grown():
        back, shifts = shot(api, project)["back"], shot(api, project)["movements"]
        assert back["output_px"][0] > 3840
        assert shifts["cross_mm"] == pytest.approx(-(back["width_mm"] - 36) / 2), "the right side stays"

    eventually(grown)
    undo(page)
    eventually(lambda: _is(shot(api, project)["back"]["width_mm"], 36))
    field(page, "Top", "10%")
    eventually(lambda: _trimmed(shot(api, project), top=0.1))


def _trimmed(given, **sides):
    for side, share in sides.items():
        assert given["back"]["trim"][side] == pytest.approx(share, abs=4e-3)


def _is(a, b):
    assert a == (b if isinstance(b, list) and b and isinstance(b[0], tuple) else pytest.approx(b))


def test_another_back_is_seen_before_it_is_chosen(desk):
    page, api, project = desk
    instrument(page, "Back")
    settled(page)
    page.get_by_role("button", name="Format", exact=False).filter(has_text="Format").first.focus()
    page.get_by_label("Formats to scale, and the fitted back").get_by_role(
        "button", name=f"Back {FORMATS[0].name}"
    ).hover()
    expect(page.locator("[data-supposed]")).to_be_visible()
    expect(page.get_by_role("status").filter(has_text="36 × 24 → 17.3 × 13")).to_be_visible()
    page.get_by_role("button", name="the angle of view").click()
    option(page, "Format", f"{FORMATS[0].name} mm")
    eventually(lambda: _is(shot(api, project)["lens"]["focal_length_mm"], 35 * 17.3 / 36))
    page.get_by_role("button", name="the lens", exact=True).click()
    settled(page)
    field(page, "Wide, px", "297 mm")
    eventually(lambda: _is(shot(api, project)["back"]["output_px"], [3508, 1462]))
    page.get_by_role("button", name=re.compile("^Ratio .* held$")).click()
    field(page, "High, px", "8.27in")
    eventually(lambda: _is(shot(api, project)["back"]["output_px"], [3508, 2481]))
    settled(page)
    page.get_by_role("button", name="Turn it upright").click()
    eventually(lambda: _is(shot(api, project)["back"]["output_px"], [2481, 3508]))
    settled(page)
    page.get_by_role("slider", name="Enlarge, by the corner").press("ArrowLeft")
    eventually(lambda: _is(shot(api, project)["back"]["enlarge"], 1.05))
    expect(page.get_by_text("pixels of film are left")).to_be_visible()
    settled(page)
    page.get_by_role("button", name="Keep this format…").click()
    field(page, "Name of this format", "Small square", at_rest=False)
    eventually(lambda: _is([one["width_mm"] for one in now(api, project)["kept"]["formats"]], [17.3]))
    expect(page.get_by_role("button", name="Keep Small square no longer")).to_be_visible()
    undo(page)
    eventually(lambda: _is(len(now(api, project)["kept"]["formats"]), 0))


def test_cuts_are_pictures_of_their_own(desk):
    page, api, project = desk
    instrument(page, "Back")
    settled(page)
    page.get_by_role("button", name="Add a set of crops").click()
    page.get_by_role("option").first.click()
    settled(page)
    page.get_by_label("Crops of this shot").get_by_role("button", name="1:1", exact=True).click()
    middle, (_, _, width, _) = place(page, "Crop 1:1"), frame(page)
    drag(page, middle, (middle[0] + width / 10, middle[1] + 60))

    def cut(name="1:1"):
        return next(one for one in shot(api, project)["back"]["crops"] if one["name"] == name)

    wide = 1600 / 3840
    eventually(lambda: _close(cut()["at"][0], 0.5 + 0.1 / (1 - wide)))
    settled(page)
    corner = place(page, "bottom left corner of 1:1")
    drag(page, corner, (corner[0] + width * wide / 2, corner[1] - 5))
    eventually(lambda: _close(cut()["size"], 0.98))
    settled(page)
    page.get_by_role("button", name="Look at 9:16 alone").click()
    settled(page)
    assert page.locator("[data-finder] [data-handle*='edge']").count() == 0
    _, _, whole_width, whole_height = frame(page)
    area = page.get_by_label("Finder, through the lens").bounding_box()
    assert whole_height <= area["height"] < whole_width, "the cut fills the room there is; the frame goes beyond it"
    page.get_by_role("button", name="Make a proof of 9:16").click()
    eventually(
        lambda: _is(
            [(one["crop"], one["size"]) for one in prints_of(api, project) if one["crop"]], [("9:16", [540, 960])]
        )
    )
    shown = named(api, project, NAME)["crops"]
    assert [one["name"] for one in shown] == ["16:9", "1:1", "4:5", "9:16"]
    assert page.request.get(shown[3]["thumbnail"]).ok
    page.get_by_role("button", name="Take the crop 9:16 out").click()
    eventually(lambda: _is(len(shot(api, project)["back"]["crops"]), 3))
    stale = next(one["stale"] for one in prints_of(api, project) if one["crop"])
    assert "the crop" in stale


def _close(a, b):
    assert a == pytest.approx(b, abs=0.025)


def test_primes_views_and_cuts_on_paper(desk):
    page, api, project = desk
    instrument(page, "Lens")
    settled(page)
    page.keyboard.press("+")
    eventually(lambda: _is(shot(api, project)["lens"]["focal_length_mm"], 50))
    settled(page)
    side = page.get_by_role("slider", name="right side of the fan").bounding_box()
    at = side["x"] + side["width"] / 2, side["y"] + side["height"] / 2
    drag(page, at, (at[0] + 30, at[1] + 10))
    eventually(lambda: _more(48, shot(api, project)["lens"]["focal_length_mm"]))
    undo(page)
    page.get_by_label("Fan of angles of view").hover()
    page.mouse.wheel(0, 120)
    eventually(lambda: _is(shot(api, project)["lens"]["focal_length_mm"], 35))
    settled(page)
    page.get_by_role("button", name="Keep this set of primes…").click()
    field(page, "Name of this set of primes", "My own", at_rest=False)
    eventually(lambda: _is(len(now(api, project)["kept"]["prime_sets"]), 1))
    settled(page)
    page.get_by_role("button", name="Take 35 mm out").click()
    eventually(lambda: _not_in(35, now(api, project)["kept"]["prime_sets"][0]["focal_lengths_mm"]))
    settled(page)
    expect(page.get_by_label("Fan of angles of view").get_by_role("button", name="35 mm", exact=True)).to_have_count(0)
    instrument(page, "Opening")
    page.get_by_role("button", name="Add a far clip").click()
    settled(page)
    field(page, "Near clip", "1")
    settled(page)
    at = handle(page, "Plan", "Near clip in plan")
    drag(page, at, (at[0], at[1] - 20))
    eventually(lambda: _more(shot(api, project)["lens"]["near_m"], 1.1))
    settled(page)
    instrument(page, "Lens")
    for view in VIEWS:
        option(page, "Parallel view", view.words)
        eventually(lambda: _more(shot(api, project)["lens"]["scale_m"], 1))
        settled(page)
    option(page, "Scale on paper", "1 : 50")
    eventually(lambda: _is(shot(api, project)["lens"]["scale_m"], 3840 / 300 * 0.0254 * 50))


def _not_in(one, some):
    assert one not in some


def _more(a, b):
    assert a is not None
    assert a > b


def press(page, u, v):
    left, top, width, height = frame(page)
    area = page.get_by_label("Finder, through the lens").bounding_box()
    page.mouse.click(area["x"] + left + u * width, area["y"] + top + (1 - v) * height)
    settled(page)


def test_the_set_is_opened_by_a_wall_and_by_a_line(desk):
    page, api, project = desk
    choose(page, "Tower from the slip")
    instrument(page, "Opening")
    settled(page)

    def plane():
        return named(api, project, "Tower from the slip")["shot"]["lens"]["cutting_plane"]

    page.get_by_role("button", name="Open by a wall").click()
    press(page, 0.5, 0.45)
    eventually(lambda: _is(plane()["normal"], [0, -1, 0]))
    settled(page)
    expect(page.locator("[data-taken-away]")).to_have_count(2)
    y = plane()["point"][1]
    at = handle(page, "Plan", "Cutting plane in plan")
    drag(page, at, (at[0], at[1] - 12))
    eventually(lambda: _more(plane()["point"][1], y + 0.1))
    settled(page)
    end = handle(page, "Plan", "Second end of the cutting plane in plan")
    drag(page, end, (end[0], end[1] - 20), steps=10)
    turn = (20**2 + 88**2) ** 0.5
    eventually(lambda: _close(abs(plane()["normal"][1]), 88 / turn))
    settled(page)
    row = named(api, project, "Tower from the slip")
    closed = api.get(f"/api/shots/{row['id']}/cap").json()
    assert len(closed["triangles"]) > 30
    page.get_by_role("button", name="Close the set again").click()
    eventually(lambda: _is(plane(), None))
    settled(page)
    assert api.get(f"/api/shots/{row['id']}/cap").json() is None
    page.get_by_role("button", name="Open by a line").click()
    box = page.locator("[data-drawing=Section] [data-paper]").bounding_box()
    x = box["x"] + 0.45 * box["width"]
    drag(page, (x, box["y"] + 40), (x, box["y"] + 180))
    settled(page)
    eventually(lambda: _is(abs(plane()["normal"][2]), 0))
    settled(page)
    undo(page)
    eventually(lambda: _is(plane(), None))
    field(page, "Behind it by", "3")
    page.get_by_role("button", name="Stand behind a wall").click()
    press(page, 0.5, 0.45)
    eventually(lambda: _more(-1, -abs(plane()["normal"][1]) - 0.01))
    assert plane()["normal"] == pytest.approx([0, 1, 0]), "it looks back through the wall it stands behind"
