"""A product day in the browser: six things on a table out of an OBJ in centimetres, from the first page to a framed shot."""

import re

import numpy as np
import pytest
from playwright.sync_api import expect
from tests.core.test_product_set import things
from tests.desk.hands import (
    before_all,
    drag,
    eventually,
    field,
    instrument,
    lose_first_answer,
    now,
    paper_place,
    settled,
)

from zevlo.core.shot import Stand
from zevlo.core.stand.pose import resolve
from zevlo.store.database import engine_for


def obj_in_cm(path):
    """The things as an OBJ with Y up that says neither."""
    model = things(100.0)
    lines, at = [], 1
    for part in model.parts:
        faces = model.faces[part.first_face : part.first_face + part.face_count]
        used, own = np.unique(faces, return_inverse=True)
        lines.append(f"o {part.name}")
        lines += [f"v {x:.4f} {z:.4f} {-y:.4f}" for x, y, z in model.vertices[used]]
        lines += [f"f {a + at} {b + at} {c + at}" for a, b, c in own.reshape(-1, 3)]
        at += len(used)
    path.write_text("\n".join(lines))
    return path


@pytest.fixture
def product(page, served, brought_in):
    key = brought_in(engine_for(served.url), "tabletop.obj", "Tabletop", obj_in_cm)
    page.goto(f"/{key}/set")
    page.wait_for_selector("[data-finder=ready]")
    return str(key)


@pytest.fixture
def product_by_hand(page, tmp_path):
    page.goto("/")
    page.locator("input[type=file]").set_input_files(obj_in_cm(tmp_path / "tabletop.obj"))
    expect(page.get_by_text("Does the size look right beside a grown-up's hand")).to_be_visible()
    page.get_by_role("button", name="Look at the set first").click()
    page.wait_for_selector("[data-finder=ready]")
    return page.url.split("/")[3]


def shoot(page, api, product):
    """To the Frame room, and the first shot of what is seen there."""
    page.get_by_role("button", name="Frame", exact=True).click()
    page.wait_for_selector("[data-finder=ready]")
    page.get_by_role("button", name="New shot of this view").first.click()
    eventually(lambda: _shots(api, product, 1))


def wait_for_scout(page):
    expect(page.get_by_role("application", name="Scout view of the set")).to_be_visible()


def test_a_product_day_from_the_file_to_a_framed_shot(page, api, product_by_hand):
    product = product_by_hand
    found = now(api, product)["set"]
    assert (found["unit"], found["placing"]["up"], found["guessed"], found["small"]) == (
        "cm",
        "y",
        ["unit", "up"],
        True,
    )
    wait_for_scout(page)
    page.get_by_role("row", name="Jar", exact=True).click()
    page.get_by_role("button", name="Go to the chosen part (Shift Home)").click()
    page.keyboard.press("Home")
    instrument(page, "Stand-ins")
    page.get_by_role("button", name="Sweep", exact=True).click()
    eventually(lambda: _stand_ins(api, product, 1))
    sweep = now(api, product)["stand_ins"][0]
    assert sweep["at"] == pytest.approx([-0.1, 0.11, 0.0], abs=0.01), "under what is chosen"
    assert 0.2 < sweep["width_m"] < 1.0
    field(page, "Name", "Paper")
    eventually(lambda: _called(api, product, "Paper"))
    assert now(api, product)["stand_ins"][0]["id"] == sweep["id"]

    page.get_by_role("button", name="Frame", exact=True).click()
    page.wait_for_selector("[data-finder=ready]")
    page.get_by_role("button", name="Place a shot").click()
    drag(page, paper_place(page, "Plan", 0.0, -0.5), paper_place(page, "Plan", 0.0, 0.0))
    eventually(lambda: _shots(api, product, 1))
    stand = now(api, product)["shots"][0]["shot"]["stand"]
    assert stand["position"][2] < 0.5, "no lens height of a living room"
    assert stand["aim"][2] == pytest.approx(0.08, abs=0.01)
    expect(page.locator("[data-drawing=Section]")).to_contain_text("above floor")
    for drawing in ("Plan", "Section"):
        scale = float(page.locator(f"[data-drawing={drawing}]").get_attribute("data-eye").split(",")[2])
        assert scale > 150, "the set is no speck"


def _stand_ins(api, project, count):
    assert len(now(api, project)["stand_ins"]) == count


def _called(api, project, name):
    assert now(api, project)["stand_ins"][0]["name"] == name


def _shots(api, project, count):
    assert len(now(api, project)["shots"]) == count


def test_a_drawing_keeps_where_it_was_looked_at_until_it_is_fitted(page, product):
    wait_for_scout(page)
    plan = page.locator("[data-drawing=Plan]")
    fitted = plan.get_attribute("data-eye")
    box = plan.bounding_box()
    page.mouse.move(box["x"] + 60, box["y"] + box["height"] / 2)
    page.mouse.wheel(0, -100)
    expect(plan).not_to_have_attribute("data-eye", fitted)
    looked = plan.get_attribute("data-eye")
    page.wait_for_function(
        "(eye) => Object.values(localStorage).some((kept) => kept.includes(eye.split(',')[0]))", arg=looked
    )
    page.reload()
    expect(page.locator("[data-drawing=Plan]")).to_have_attribute("data-eye", looked)
    page.get_by_role("button", name="Fit: show all of the plan again").click()
    expect(page.locator("[data-drawing=Plan]")).to_have_attribute("data-eye", fitted)


@pytest.mark.parametrize("room", ["frame", "set"])
def test_a_drawing_looked_at_before_its_lines_are_there_stays_so_when_they_come(page, served, room):
    held = []
    page.route("**/plan?*", lambda route: held.append(route))
    project = page.request.get("/api/projects").json()["projects"][0]["id"]
    page.goto(f"/{project}/{room}")
    plan, fit = page.locator("[data-drawing=Plan]"), page.get_by_role("button", name="Fit: show all of the plan again")
    expect(plan.locator("svg").first).to_be_visible()
    fitted, box = plan.get_attribute("data-eye"), plan.bounding_box()
    page.mouse.move(box["x"] + 60, box["y"] + box["height"] / 2)
    page.mouse.wheel(0, -100)
    expect(fit).to_be_visible()
    looked = plan.get_attribute("data-eye")
    assert looked != fitted
    for route in held:
        route.continue_()
    page.unroute("**/plan?*")
    settled(page)
    expect(plan).to_have_attribute("data-eye", looked)
    for _ in range(2):
        expect(fit).to_be_visible()
        page.reload()
        settled(page)
        expect(plan).to_have_attribute("data-eye", looked)


def test_what_a_hand_does_while_the_server_is_away_is_sent_after(page, api, product):
    shoot(page, api, product)
    refused = []
    page.told_on_purpose.append("status of 503")

    def away(route):
        if route.request.method == "PATCH" and len(refused) < 2:
            refused.append(route.request.url)
            route.fulfill(
                status=503, headers={"Retry-After": "1"}, json={"detail": "The database does not answer for now."}
            )
        else:
            route.continue_()

    page.route("**/api/shots/*", away)
    instrument(page, "Lens")
    # Two quick changes of one instrument: both count, whichever key the other left.
    field(page, "Focal length", "50")
    field(page, "Mechanical vignetting", "50 %", at_rest=False)
    expect(page.get_by_text("Waiting.")).to_be_visible()
    expect(page.get_by_text("Waiting.")).to_have_count(0)
    expect(page.locator("[data-instrument=Lens]")).to_contain_text("50 mm")
    page.unroute("**/api/shots/*")
    eventually(lambda: _two_keys(api, product, 50.0, 0.5))
    assert len(refused) == 2


def _two_keys(api, project, focal, mechanical):
    lens = now(api, project)["shots"][0]["shot"]["lens"]
    assert (lens["focal_length_mm"], lens["falloff"]["mechanical"]) == (focal, mechanical)


def _lens(api, project, focal, near):
    lens = now(api, project)["shots"][0]["shot"]["lens"]
    assert (lens["focal_length_mm"], lens["near_m"]) == (focal, near)


def test_a_quick_hand_is_never_in_its_own_way(page, api, product):
    """Steps of one key faster than their answers come: each counts, and nobody else is blamed."""
    shoot(page, api, product)
    near = now(api, product)["shots"][0]["shot"]["lens"]["near_m"]
    instrument(page, "Lens")
    focal = page.get_by_role("textbox", name="Focal length", exact=True)
    focal.click()
    for _ in range(6):
        page.keyboard.press("ArrowUp")
    page.keyboard.press("Enter")
    eventually(lambda: _lens(api, product, 34.0, near))
    expect(page.get_by_role("alert")).to_have_count(0)


def test_two_hands_at_one_shot_lose_nothing(page, api, product):
    """Somebody else changes another key of the same instrument while this desk still shows the old shot."""
    shoot(page, api, product)
    row = now(api, product)["shots"][0]
    instrument(page, "Lens")
    focal = page.get_by_role("textbox", name="Focal length", exact=True)
    focal.fill("50")
    answer = api.patch(
        f"/api/shots/{row['id']}", json={"version": row["version"], "patch": {"lens": {"near_m": 0.004}}}
    )
    assert answer.status_code == 200
    focal.press("Enter")
    eventually(lambda: _lens(api, product, 50.0, 0.004))


def test_a_shot_whose_answer_got_lost_is_there_once(page, api, product):
    """The server makes it, and is cut off before it can say so: the desk asks again."""
    page.get_by_role("button", name="Frame", exact=True).click()
    page.wait_for_selector("[data-finder=ready]")
    lost = lose_first_answer(page, "**/api/projects/*/shots")
    page.get_by_role("button", name="New shot of this view").first.click()
    expect(page.get_by_text("Waiting.")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^Shot 1, Looking"))).to_be_visible()
    settled(page)
    assert lost == [201]
    _shots(api, product, 1)


def test_a_page_that_came_over_plain_http_takes_a_model_and_makes_a_shot(page, api, tmp_path):
    """Beyond this machine a page has no secure context, and browsers then keep some things from it."""
    before_all(page, "delete Crypto.prototype.randomUUID; delete window.crypto.subtle")
    page.goto("/")
    page.locator("input[type=file]").set_input_files(obj_in_cm(tmp_path / "tabletop.obj"))
    page.get_by_role("button", name="Open it").click()
    page.wait_for_selector("[data-finder=ready]")
    page.get_by_role("button", name="New shot of this view").first.click()
    expect(page.get_by_role("button", name=re.compile("^Shot 1, Looking"))).to_be_visible()


def test_an_undo_whose_answer_got_lost_takes_one_change_back(page, api, product):
    shoot(page, api, product)
    near = now(api, product)["shots"][0]["shot"]["lens"]["near_m"]
    instrument(page, "Lens")
    for focal in (50, 60):
        field(page, "Focal length", str(focal))
        eventually(lambda focal=focal: _lens(api, product, focal, near))
        settled(page)
    lost = lose_first_answer(page, "**/undo")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Undo: ").click()
    expect(page.get_by_text("Waiting.")).to_be_visible()
    expect(page.get_by_text("Waiting.")).to_have_count(0)
    settled(page)
    assert lost == [200]
    _lens(api, product, 50, near)
    expect(page.get_by_role("alert")).to_have_count(0)


def test_a_turn_whose_answer_got_lost_turns_once(page, api, product):
    shoot(page, api, product)
    before = resolve(Stand.model_validate(now(api, product)["shots"][0]["shot"]["stand"])).heading_deg
    instrument(page, "Stand")
    settled(page)
    lost = lose_first_answer(page, "**/api/shots/*", "PATCH")
    page.get_by_role("button", name="Turn 90° right").click()
    expect(page.get_by_text("Waiting.")).to_be_visible()
    expect(page.get_by_text("Waiting.")).to_have_count(0)
    settled(page)
    assert lost == [200]
    after = resolve(Stand.model_validate(now(api, product)["shots"][0]["shot"]["stand"])).heading_deg
    assert (after - before) % 360 == pytest.approx(90.0)


def test_a_small_set_is_told_typed_and_stepped_in_its_own_measure(page, api, product):
    """In centimetres: bare numbers count in what the field shows, keys step by what is to be seen of the set."""
    figure = page.locator("[data-instrument='Size and axes'] figcaption")
    expect(figure).to_have_text(re.compile(r"^39\.0 cm wide, .* beside a hand of 18 cm$"))
    shoot(page, api, product)
    instrument(page, "Stand")
    height = page.get_by_role("textbox", name="Above floor")
    field(page, "Above floor", "12.5")
    eventually(lambda: _stand(api, product, 2, 0.125))
    expect(height).to_have_value("12.5 cm")
    expect(page.locator("[data-instrument=Stand] h2")).to_contain_text("12.5 cm")
    height.press("ArrowUp")
    eventually(lambda: _stand(api, product, 2, 0.13))
    field(page, "Above floor", "0.2 m")
    eventually(lambda: _stand(api, product, 2, 0.2))
    settled(page)
    page.get_by_role("button", name="Mark this height").click()
    expect(page.get_by_role("button", name="Lens at 20.0 cm")).to_be_visible()
    staff = page.get_by_role("slider", name="Lens height on the staff")
    staff.press("ArrowDown")
    eventually(lambda: _stand(api, product, 2, 0.195))
    page.get_by_role("button", name="Move by steps").click()
    expect(page.get_by_role("textbox", name="One step")).to_have_value("1.0 cm")
    settled(page)
    page.get_by_role("button", name="Height up").click()
    eventually(lambda: _stand(api, product, 2, 0.205))
    field(page, "Cut at", "3")
    eventually(lambda: check_near(now(api, product)["plan_height"], 0.03))
    before = now(api, product)["shots"][0]["shot"]["stand"]["position"]
    page.get_by_role("button", name="On tripod").click()
    page.get_by_role("application", name="Finder, through the lens").press("PageUp")
    eventually(lambda: _stand(api, product, 2, before[2] + 0.01))
    settled(page)
    expect(page.locator("[data-drawing=Plan]")).to_contain_text(" cm")


def _stand(api, project, axis, wanted):
    check_near(now(api, project)["shots"][0]["shot"]["stand"]["position"][axis], wanted)


def check_near(found, wanted):
    assert found == pytest.approx(wanted, abs=1e-6)
