"""Finals ordered by hand in the Lab, followed and stopped there; a picture let fall on the desk leads to its shot."""

import base64
import re
import uuid

import numpy as np
import pytest
from playwright.sync_api import expect
from pxr import Gf, Usd, UsdGeom
from tests.desk.hands import named, now, open_demo, prints_of, settled, undo

from zevlo.core.shot import Shot
from zevlo.lab.develop import png
from zevlo.lab.history import History, words_of

DROP = """(data) => {
  const bytes = Uint8Array.from(atob(data), (letter) => letter.charCodeAt(0));
  const carried = new DataTransfer();
  carried.items.add(new File([bytes], 'picture.png'));
  const on = document.querySelector('[aria-label="Shot list"] li') ?? document.querySelector('main');
  for (const kind of ['dragover', 'drop'])
    on.dispatchEvent(new DragEvent(kind, { bubbles: true, cancelable: true, dataTransfer: carried }));
}"""


def to_order(page):
    page.get_by_role("button", name="Lab", exact=True).click()
    page.get_by_role("button", name="Order finals…").click()
    return page.get_by_role("region", name="What is made")


def tick(page, name):
    page.locator("label").filter(has=page.get_by_role("checkbox", name=name, exact=True)).click()


def choose(page, label, option):
    page.locator("button[aria-haspopup=listbox]").filter(has_text=label).last.click()
    page.get_by_role("option", name=option, exact=True).click()


def type_in(page, label, text):
    field = page.get_by_label(label, exact=True)
    field.fill(text)
    field.press("Enter")


def test_pictures_are_chosen_from_the_list_and_ordered(page, api):
    project = open_demo(page)
    made = to_order(page)
    listed = page.get_by_role("region", name="Pictures to order")
    expect(made.get_by_role("button", name="Order", exact=True)).to_be_disabled()
    expect(made.get_by_role("button", name="Try one small first")).to_be_disabled()
    tick(page, "2, Wheel room, looking NW")
    tick(page, "4, Teapot hero")
    expect(listed.get_by_text("04_Loft_N_85-mm.png", exact=True)).to_be_visible()
    choose(page, "each its own", "longest side")
    type_in(page, "Pixels", "400")
    expect(listed.get_by_text("400 × 225 px")).to_be_visible()
    page.get_by_role("button", name="draft").click()
    choose(page, "none", "half")
    page.locator("label").filter(has_text="Depth in metres").click()
    pattern = page.get_by_label("Pattern of names")
    pattern.fill("{number")
    expect(made.get_by_role("alert")).to_contain_text("stands alone")
    expect(made.get_by_role("button", name="Order 2 pictures")).to_be_disabled()
    pattern.fill("{number} {name}")
    expect(listed.get_by_text("02 Wheel-room-looking-NW.png, .exr")).to_be_visible()
    expect(page.get_by_label("Summary")).to_contain_text("Files4, about")
    made.get_by_role("button", name="Order 2 pictures").click()
    cards = page.get_by_role("list", name="Prints of order 1").get_by_role("listitem")
    expect(cards).to_have_count(2)
    finals = prints_of(api, project)
    assert [(one["kind"], max(one["size"]), one["state"]) for one in finals] == [("final", 400, "waiting")] * 2
    bar = page.locator("[data-order='1']")
    expect(bar).to_contain_text("2 pictures, longest side 400 px, draft: 2 to come")
    expect(page.get_by_label("Machines")).to_contain_text("2 prints to make")
    second = cards.filter(has_text="Teapot hero")
    second.get_by_role("button", name="First this one").click()
    settled(page)
    ranks = {one["name"]: one["rank"] for one in prints_of(api, project)}
    assert ranks["Teapot hero"] < ranks["Wheel room, looking NW"]
    second.get_by_role("button", name="Pause").click()
    expect(second).to_contain_text("Paused")
    second.get_by_role("button", name="Go on").click()
    expect(second).to_contain_text("Waiting")
    bar.get_by_role("button", name="Cancel").first.click()
    expect(bar).to_contain_text("2 stopped")
    bar.get_by_role("button", name="Order 1").click()
    expect(cards).to_have_count(0)
    bar.get_by_role("button", name="Order again…").click()
    expect(page.get_by_role("button", name="Order 2 pictures")).to_be_enabled()
    expect(page.get_by_label("Pattern of names")).to_have_value("{number} {name}")
    page.get_by_role("button", name="Cancel").click()
    expect(page.get_by_role("button", name="Order finals…")).to_be_visible()


def test_an_order_is_read_before_it_is_signed(page, api):
    """Sizes of their own, stacks, what speaks against it, one tried small; and it waits while one is elsewhere."""
    project = open_demo(page)
    hero, stack = named(api, project, "Teapot hero"), named(api, project, "Tea things, a stack")
    turned = {"version": hero["version"], "gesture": {"kind": "face", "heading_deg": 3}}
    assert api.patch(f"/api/shots/{hero['id']}", json=turned).status_code == 200
    made = to_order(page)
    listed = page.get_by_role("region", name="Pictures to order")
    page.get_by_role("button", name="Only what no final shows").click()
    everything = sum(1 + len(row["crops"]) for row in now(api, project)["shots"])
    expect(made.get_by_role("button", name=f"Order {everything} pictures")).to_be_enabled()
    page.get_by_role("button", name="None", exact=True).click()
    tick(page, "4, Teapot hero")
    tick(page, "11, Tea things, a stack")
    expect(listed).to_contain_text("▲ Changes not kept")
    listed.get_by_role("button", name="Keep them").click()
    expect(listed).not_to_contain_text("Changes not kept")
    assert named(api, project, "Teapot hero")["kept"]
    merged = listed.get_by_role("button", name="Stack of 11, merged")
    merged.click()
    expect(listed).to_contain_text("▲ One picture, focused as the shot is")
    listed.get_by_role("button", name="Its stack, merged").click()
    expect(merged).to_be_visible()
    listed.get_by_role("button", name="Size of Tea things, a stack").click()
    page.get_by_role("dialog").get_by_role("button", name="as framed").click()
    page.get_by_role("option", name="longest side").click()
    type_in(page, "Pixels", "320")
    expect(page.get_by_text("320 × 240 px")).to_be_visible()
    page.keyboard.press("Escape")
    expect(listed.get_by_role("button", name="Size of Tea things, a stack: 320 × 240 px, its own")).to_be_visible()
    made.get_by_role("button", name="Try one small first").click()
    expect(page.get_by_role("status").filter(has_text="Order 1 tries one picture small")).to_be_visible()
    page.get_by_role("button", name="Frame", exact=True).click()
    page.get_by_role("button", name="Lab", exact=True).click()
    expect(page.locator("[data-order='1']")).to_contain_text("1 picture, longest side 480 px")
    page.get_by_role("button", name="Go on with the order…").click()
    page.reload()
    page.route("**/orders", lambda route: route.fulfill(status=422, json={"detail": "The disk is full."}))
    made.get_by_role("button", name="Order 2 pictures").click()
    expect(page.get_by_role("alert")).to_contain_text("The disk is full")
    page.unroute("**/orders")
    made.get_by_role("button", name="Order 2 pictures").click()
    expect(page.get_by_role("list", name="Prints of order 2")).to_contain_text("merged of a stack of 11")
    ordered = {one["name"]: one for one in prints_of(api, project) if one["order"] == 2}
    assert ordered["Tea things, a stack"]["size"] == [320, 240]
    assert ordered["Tea things, a stack"]["merged_of"] == 11
    assert ordered["Teapot hero"]["size"] == hero["frame_px"]
    assert named(api, project, "Tea things, a stack")["shot"] == stack["shot"]


def test_one_order_in_several_sizes_and_again(page, api):
    """Two sizes for all, and others for one; repeated it is the same order."""
    project = open_demo(page)
    made = to_order(page)
    listed = page.get_by_role("region", name="Pictures to order")
    for name in ("2, Wheel room, looking NW", "4, Teapot hero"):
        tick(page, name)
    made.get_by_role("button", name="And in another size").click()
    type_in(page, "Pixels", "400")
    expect(made.get_by_role("button", name="Order 4 pictures")).to_be_enabled()
    made.get_by_role("button", name="And in another size").click()
    expect(made.get_by_role("button", name="Order 6 pictures")).to_be_enabled()
    made.get_by_role("button", name="Not this one").last.click()
    hero = listed.get_by_role("button", name="Size of Teapot hero")
    hero.click()
    dialog = page.get_by_role("dialog", name="Size of Teapot hero")
    dialog.get_by_role("button", name="And in another size").click()
    dialog.get_by_role("button", name="And in another size").click()
    page.keyboard.press("Escape")
    expect(hero).to_have_accessible_name(
        re.compile(r": 2400 × 2400 px and 1920 × 1920 px and 1200 × 1200 px, its own$")
    )
    page.get_by_label("Pattern of names").fill("{name} {size}")
    expect(listed.get_by_text("Teapot-hero 1920x1920.png")).to_be_visible()
    made.get_by_role("button", name="Order 5 pictures").click()
    expect(page.locator("[data-order='1']")).to_contain_text("5 pictures, in 4 sizes")
    page.locator("[data-order='1']").get_by_role("button", name="Order again…").click()
    expect(made.get_by_role("button", name="Order 5 pictures")).to_be_enabled()
    made.get_by_role("button", name="Order 5 pictures").click()
    expect(page.locator("[data-order='2']")).to_contain_text("5 pictures, in 4 sizes")
    first, second = (
        {(one["name"], *one["size"]) for one in prints_of(api, project) if one["order"] == number} for number in (1, 2)
    )
    assert first == second
    assert len(first) == 5


def test_a_picture_let_fall_on_the_desk_leads_to_its_shot(page, api):
    project = open_demo(page)
    row = named(api, project, "Shelf wall, square on")
    history = History(str(uuid.uuid4()), row["id"], project, None, now(api, project)["set"]["revision"], None)
    pixels = np.zeros((4, 4, 3), dtype=np.float32)
    ours = png(pixels, words_of(Shot.model_validate(row["shot"]), history))
    page.evaluate(DROP, base64.b64encode(ours).decode())
    expect(page).to_have_url(re.compile(rf"/{project}/frame/{row['id']}$"))
    expect(page.get_by_role("status").filter(has_text="as it is now")).to_be_visible()
    page.get_by_role("button", name="Lab", exact=True).click()
    expect(page.get_by_role("button", name="Order finals…")).to_be_visible()
    page.evaluate(DROP, base64.b64encode(png(pixels, {})).decode())
    expect(page.get_by_role("alert")).to_contain_text("does not tell of a shot")


def test_cameras_go_out_and_what_was_moved_elsewhere_comes_in(page, api, tmp_path):
    project = open_demo(page)
    page.get_by_role("button", name="Lab", exact=True).click()
    page.get_by_role("button", name="Cameras to another program…").click()
    expect(page.get_by_label("What is not said")).to_contain_text("tilt and swing")
    first = page.locator("label").filter(has=page.get_by_role("checkbox")).first
    first.click()
    save = page.get_by_role("link", name="Save 11 cameras")
    expect(save).to_have_attribute("href", re.compile(r"&but=[0-9a-f-]{36}$"))
    first.click()
    with page.expect_download() as saved:
        page.get_by_role("link", name="Save 12 cameras").click()
    path = tmp_path / "shots.usda"
    saved.value.save_as(path)
    shot = named(api, project, "Teapot hero")
    stage = Usd.Stage.Open(str(path))
    prim = next(one for one in stage.Traverse() if one.GetDisplayName() == "Teapot hero")
    moved = UsdGeom.Xformable(prim).GetOrderedXformOps()[0]
    moved.Set(moved.Get() * Gf.Matrix4d().SetTranslate(Gf.Vec3d(0.25, 0, 0)))
    stage.GetRootLayer().Save()
    page.get_by_role("button", name="Cameras from a file…").click()
    page.locator("input[type=file]").set_input_files(path)
    came = page.get_by_label("Cameras of the file")
    expect(came.get_by_text("changes the shot: moved 0.25 m")).to_be_visible()
    expect(came.get_by_text("the same as the shot")).to_have_count(11)
    page.get_by_role("button", name="Bring in 1 camera").click()
    settled(page)
    x, y, z = shot["shot"]["stand"]["position"]
    assert named(api, project, "Teapot hero")["shot"]["stand"]["position"] == pytest.approx([x + 0.25, y, z], abs=1e-5)
    undo(page)
    settled(page)
    assert named(api, project, "Teapot hero")["shot"] == shot["shot"]
    page.get_by_role("button", name="Cameras from a file…").click()
    # One that takes long to be read, and another that is chosen meanwhile: what is told is of that.
    held = []
    page.route("**/cameras?name=slow*", lambda route: held.append(route))
    slow = tmp_path / "slow.usda"
    slow.write_bytes(path.read_bytes())
    page.locator("input[type=file]").set_input_files(slow)
    expect(page.get_by_text("Reading…")).to_be_visible()
    poses = tmp_path / "poses.csv"
    poses.write_text("name,focal_length_mm\nOnly one,35\n")
    page.locator("input[type=file]").set_input_files(poses)
    expect(page.get_by_role("alert")).to_contain_text("poses.csv")
    with page.expect_response("**/cameras?name=slow*"):
        held.pop().continue_()
    settled(page)
    expect(page.get_by_role("alert")).to_contain_text("poses.csv")
    expect(came).to_have_count(0)
    page.get_by_role("button", name="Those of the model").click()
    expect(page.get_by_role("alert")).to_contain_text("there is no camera in it")
    broken = tmp_path / "broken.glb"
    broken.write_bytes(b"glTF")
    page.locator("input[type=file]").set_input_files(broken)
    expect(page.get_by_role("alert")).to_contain_text("broken.glb")
    expect(page.get_by_role("button", name="Nothing to bring in")).to_be_disabled()
