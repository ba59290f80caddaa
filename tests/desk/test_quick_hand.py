"""A hand that is faster than the line: what it typed and pressed is what is done, in its order."""

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
    menu,
    named,
    now,
    open_demo,
    settled,
    slow,
)

NAME = "Wheel room, looking NW"


@pytest.fixture
def frame(page):
    slow(page, "/api/measure")
    project = open_demo(page)
    choose(page, NAME)
    return project


def shot(api, project, name=NAME):
    return named(api, project, name)["shot"]


def test_a_number_that_comes_while_a_field_is_selected_gives_way_to_what_is_typed(page, api, frame):
    instrument(page, "Lens")
    box = page.get_by_role("textbox", name="Focal length", exact=True)
    box.click()
    row = named(api, frame, NAME)
    api.patch(
        f"/api/shots/{row['id']}", json={"version": row["version"], "patch": {"lens": {"focal_length_mm": 31.37}}}
    )
    expect(box).to_have_value("31.37 mm")
    page.keyboard.type("45")
    expect(box).to_have_value("45")
    # A number that comes while something is typed leaves that alone.
    row = named(api, frame, NAME)
    api.patch(f"/api/shots/{row['id']}", json={"version": row["version"], "patch": {"lens": {"focal_length_mm": 77.7}}})
    expect(page.locator("[data-instrument=Lens] h2")).to_contain_text("77.7 mm")
    expect(box).to_have_value("45")
    box.press("Enter")
    eventually(lambda: _is(shot(api, frame)["lens"]["focal_length_mm"], 45))
    # Selected and told another number in one breath, before the browser tells of the selection.
    page.keyboard.type("0")
    selected = box.evaluate("""async (box) => {
        box.select();
        box.dispatchEvent(new KeyboardEvent("keydown", {key: "Escape", bubbles: true}));
        while (box.value !== "45 mm") await new Promise(requestAnimationFrame);
        return box.value.slice(box.selectionStart, box.selectionEnd);
    }""")
    assert selected == "45 mm"


def held_back(page, address):
    """The first answer from an address, once it is there: with its route, and told to nobody yet."""
    held = []

    def hold_the_first(route):
        if held:
            route.continue_()
        else:
            held.append((route, route.fetch()))

    page.route(address, hold_the_first)
    return held


def one_is(page, held):
    """Waits until one is held back: what a page asks is only handed on while it is asked something itself."""
    eventually(lambda: page.evaluate("0") or _is(len(held), 1))


def test_a_list_that_comes_late_takes_no_write_back(page, api, frame):
    """News of somebody's change brought the shots as they were before a write of this hand: the next one clashed."""
    instrument(page, "Lens")
    held = held_back(page, re.compile(r"/api/projects/[^/]+/shots$"))
    other = next(one for one in now(api, frame)["shots"] if one["shot"]["name"] != NAME)
    patch = {"version": other["version"], "patch": {"focus": {"distance_m": 2.34}}}
    assert api.patch(f"/api/shots/{other['id']}", json=patch).status_code == 200
    one_is(page, held)
    box = page.get_by_role("textbox", name="Focal length", exact=True)
    box.fill("45")
    box.press("Enter")
    expect(page.locator("[data-instrument=Lens] h2")).to_contain_text("45 mm")
    eventually(lambda: _is(shot(api, frame)["lens"]["focal_length_mm"], 45))
    route, answer = held[0]
    route.fulfill(response=answer)
    settled(page)
    instrument(page, "Stand")
    page.get_by_role("button", name="Move by steps").click()
    before = shot(api, frame)["stand"]["position"][0]
    page.get_by_role("button", name="East east").click()
    eventually(lambda: _is(shot(api, frame)["stand"]["position"][0] > before, True))
    expect(page.get_by_role("alert")).to_have_count(0)


def test_an_answer_that_comes_late_takes_nobodys_write_back(page, api, frame):
    """A write was answered with what it left, but later than the news of somebody's next change: the desk showed the
    shot, and what undo takes back, as they were before that."""
    instrument(page, "Lens")
    held = held_back(page, "**/api/shots/*")
    box = page.get_by_role("textbox", name="Focal length", exact=True)
    box.fill("45")
    box.press("Enter")
    one_is(page, held)
    eventually(lambda: _is(shot(api, frame)["lens"]["focal_length_mm"], 45))
    row = named(api, frame, NAME)
    change = {"version": row["version"], "label": "Somebody's stop", "patch": {"focus": {"f_number": 45}}}
    with page.expect_response(re.compile(r"/api/projects/[^/]+/shots$")):
        assert api.patch(f"/api/shots/{row['id']}", json=change).status_code == 200
    route, answer = held[0]
    route.fulfill(response=answer)
    settled(page)
    expect(page.locator("[data-instrument=Lens] h2")).to_contain_text("45 mm")
    instrument(page, "Focus")
    stop = page.get_by_role("textbox", name="Aperture", exact=True)
    expect(stop).to_have_value("f/45")
    page.get_by_role("button", name="Undo: Somebody's stop").click()
    expect(stop).not_to_have_value("f/45")
    expect(page.get_by_role("alert")).to_have_count(0)


def test_a_project_that_comes_late_takes_no_write_back(page, api, frame):
    """The same of the whole project, which is asked for when somebody changed more than shots."""
    instrument(page, "Lens")
    held = held_back(page, re.compile(r"/api/projects/[^/]+$"))
    project = now(api, frame)
    assert api.patch(
        f"/api/projects/{project['id']}", json={"version": project["version"], "plan_height": 1.3}
    ).is_success
    one_is(page, held)
    box = page.get_by_role("textbox", name="Focal length", exact=True)
    box.fill("45")
    box.press("Enter")
    expect(page.locator("[data-instrument=Lens] h2")).to_contain_text("45 mm")
    eventually(lambda: _is(shot(api, frame)["lens"]["focal_length_mm"], 45))
    route, answer = held[0]
    route.fulfill(response=answer)
    settled(page)
    expect(page.locator("[data-instrument=Lens] h2")).to_contain_text("45 mm")
    expect(box).to_have_value("45 mm")


def test_a_step_goes_by_the_size_that_was_typed_before_it_was_pressed(page, api, frame):
    instrument(page, "Stand")
    page.get_by_role("button", name="Move by steps").click()
    before = shot(api, frame)["stand"]["position"][0]
    field(page, "One step", "25 cm")
    page.get_by_role("button", name="East east").click()
    eventually(lambda: _is(shot(api, frame)["stand"]["position"][0], before + 0.25))
    assert now(api, frame)["habits"]["step_m"] == 0.25


def test_a_mark_is_made_at_the_height_that_was_typed_before_it_was_pressed(page, api, frame):
    instrument(page, "Stand")
    height = "Above floor" if page.get_by_role("textbox", name="Above floor").count() else "Above zero"
    field(page, height, "1.07")
    page.get_by_role("button", name="Mark this height").click()
    eventually(lambda: _is(len(now(api, frame)["habits"]["marks"]), 1))
    assert now(api, frame)["habits"]["marks"][0]["height_m"] == pytest.approx(1.07)


def test_the_plan_is_cut_at_what_was_typed_before_an_undo_is_pressed(page, api, frame):
    before = now(api, frame)["plan_height"]
    field(page, "Cut at", "2.5")
    page.keyboard.press("Control+z")

    def taken_back():
        found = now(api, frame)
        assert (found["plan_height"], found["redo"]) == (before, "Cut the plan at 2.50 m")

    eventually(taken_back)


def test_what_cannot_be_read_is_told_before_anything_is_made_of_it(page, api, frame):
    instrument(page, "Stand")
    page.get_by_role("button", name="Move by steps").click()
    before = shot(api, frame)["stand"]
    field(page, "One step", "25 cn")
    page.get_by_role("button", name="East east").click()
    expect(page.get_by_role("textbox", name="One step")).to_have_attribute("aria-invalid", "true")
    settled(page)
    assert shot(api, frame)["stand"] == before
    # Told of it, a hand may go on.
    page.get_by_role("button", name="East east").click()
    step = now(api, frame)["step_m"]
    eventually(lambda: _is(shot(api, frame)["stand"]["position"][0], before["position"][0] + step))


def test_a_dialog_makes_what_was_typed_into_it_last(page, api, frame):
    menu(page, NAME, "Duplicate with one change…")
    dialog = page.get_by_role("dialog")
    field(page, "Focal length", "50")
    dialog.get_by_role("button", name="Make it").click()
    expect(page.get_by_role("button", name=f"Shot 3, {NAME} 2", exact=True)).to_be_visible()
    assert shot(api, frame, f"{NAME} 2")["lens"]["focal_length_mm"] == 50


KEYS = [
    ("Heading on the compass", "ArrowRight", lambda sheet: sheet["pose"]["heading_deg"], 1.0, 0.06),
    ("Lens height on the staff", "ArrowUp", lambda sheet: sheet["drawings"]["section"]["stand"][1], 0.05, 1e-6),
    ("Stand in plan", "ArrowRight", lambda sheet: sheet["drawings"]["plan"]["stand"][0], 0.05, 1e-3),
    ("Aim in plan", "ArrowUp", lambda sheet: sheet["drawings"]["plan"]["aim"][1], 0.05, 1e-3),
    ("Focus on the lens barrel", "ArrowLeft", lambda sheet: sheet["focus"]["barrel"]["focus_at"], -0.01, 1e-6),
]


def test_each_press_of_a_key_is_a_step_however_fast_they_come(page, api, frame):
    for slider, key, found, step, by in KEYS:
        instrument(page, "Focus" if "barrel" in slider else "Stand")
        settled(page)

        def there(found=found):
            return found(api.post("/api/solve", json=shot(api, frame)).json())

        wanted = there() + 6 * step
        page.get_by_role("slider", name=slider, exact=True).focus()
        for _ in range(6):
            page.keyboard.press(key)
        eventually(lambda there=there, wanted=wanted, by=by: _is(there(), wanted, by))


PAIRS = [
    ("Back", ("Wide, px", "1000"), ("High, px", "700"), lambda s: s["back"]["output_px"], [1000, 700]),
    ("Stand", ("Stand east", "5.5 m"), ("Stand north", "1.25 m"), lambda s: s["stand"]["position"][:2], [5.5, 1.25]),
    ("Stand", ("Aim east", "3 m"), ("Aim north", "4 m"), lambda s: s["stand"]["aim"][:2], [3, 4]),
]


def test_two_numbers_of_one_pair_typed_one_after_the_other_both_hold(page, api, frame):
    for where, one, other, found, wanted in PAIRS:
        instrument(page, where)
        if where == "Back":
            page.get_by_role("button", name=re.compile("^Ratio .* held$")).click()
        field(page, *one)
        field(page, *other, at_rest=False)
        eventually(lambda found=found, wanted=wanted: _is(found(shot(api, frame)), wanted))


def _is(found, wanted, by=1e-9):
    assert found == pytest.approx(wanted, abs=by)


def test_an_undo_takes_back_what_was_typed_before_it_was_pressed(page, api, frame):
    instrument(page, "Lens")
    field(page, "Focal length", "45")
    back = page.get_by_role("button", name="Undo: Focal length")
    expect(back).to_be_enabled()
    field(page, "Focal length", "60")
    back.click()
    expect(page.get_by_role("button", name="Redo: Focal length")).to_be_visible()
    settled(page)
    assert shot(api, frame)["lens"]["focal_length_mm"] == 45


def test_what_a_hand_wrote_is_not_asked_for_again(page, api, frame):
    """A drag let go, and a number typed and read: one request each, beside the small picture of another framing."""
    instrument(page, "Lens")
    settled(page)
    asked = []
    page.on("request", lambda request: asked.append((request.method, re.sub(r"[0-9a-f-]{36}", "…", request.url))))

    def moved():
        x, y = handle(page, "Plan", "Stand in plan")
        drag(page, (x, y), (x + 20, y + 6))

    def typed():
        field(page, "Focal length", "41")

    for doing in (moved, typed):
        before = shot(api, frame)
        settled(page)
        asked.clear()
        doing()
        eventually(lambda before=before: _is(float(shot(api, frame) == before), 0))
        settled(page)
        given = [(method, url.partition("/api")[2]) for method, url in asked]
        assert [one for one in given if not re.search("thumbnail|measure", one[1])] == [("PATCH", "/shots/…")], (
            doing.__name__
        )
