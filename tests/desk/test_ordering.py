"""Finals ordered by hand in the Lab, followed and stopped there; a picture let fall on the desk leads to its shot."""

import base64
import re
import uuid

import numpy as np
import pytest
from playwright.sync_api import expect
from pxr import Gf, Usd, UsdGeom
from tests.desk.hands import named, now, open_demo, settled, undo

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


def to_lab(page):
    page.get_by_role("button", name="Lab", exact=True).click()
    page.get_by_role("button", name="Order finals…").click()


def tick(page, name):
    page.locator("label").filter(has=page.get_by_role("checkbox", name=name)).click()


def test_pictures_are_chosen_from_the_list_and_ordered(page, api):
    project = open_demo(page)
    to_lab(page)
    card = page.get_by_role("dialog")
    expect(card.get_by_role("button", name="Order", exact=True)).to_be_disabled()
    tick(page, "2, Wheel room, looking NW")
    tick(page, "4, Teapot hero")
    expect(card.get_by_text("04_Loft_N_85-mm.png", exact=True).first).to_be_visible()
    page.get_by_role("button", name="each its own").click()
    page.get_by_role("option", name="longest side").click()
    pixels = page.get_by_label("Pixels")
    pixels.fill("400")
    pixels.press("Enter")
    expect(card.get_by_text("400 × 225")).to_be_visible()
    page.get_by_role("button", name="draft").click()
    page.locator("button[aria-haspopup=listbox]").filter(has_text="none").last.click()
    page.get_by_role("option", name="half").click()
    page.locator("label").filter(has_text="Depth in metres").click()
    pattern = page.get_by_label("Pattern of names")
    pattern.fill("{number")
    expect(card.get_by_role("alert")).to_contain_text("stands alone")
    expect(card.get_by_role("button", name="Order 2 pictures")).to_be_disabled()
    pattern.fill("{number} {name}")
    expect(card.get_by_text("02 Wheel-room-looking-NW.png, .exr")).to_be_visible()
    card.get_by_role("button", name="Order 2 pictures").click()
    cards = page.get_by_role("list", name="Prints").get_by_role("listitem")
    expect(cards).to_have_count(2)
    finals = now(api, project)["prints"]
    assert [(one["kind"], max(one["size"]), one["state"]) for one in finals] == [("final", 400, "waiting")] * 2
    bar = page.locator("[data-order='1']")
    expect(bar).to_contain_text("2 pictures, longest side 400 px, draft: 2 to come")
    second = cards.filter(has_text="Teapot hero")
    second.get_by_role("button", name="First this one").click()
    settled(page)
    ranks = {one["name"]: one["rank"] for one in now(api, project)["prints"]}
    assert ranks["Teapot hero"] < ranks["Wheel room, looking NW"]
    second.get_by_role("button", name="Pause").click()
    expect(second).to_contain_text("Paused")
    second.get_by_role("button", name="Go on").click()
    expect(second).to_contain_text("Waiting")
    bar.get_by_role("button", name="Cancel").click()
    expect(bar).to_contain_text("2 stopped")
    bar.get_by_role("button", name="Order again…").click()
    expect(page.get_by_role("button", name="Order 2 pictures")).to_be_enabled()
    expect(page.get_by_label("Pattern of names")).to_have_value("{number} {name}")
    page.get_by_role("button", name="Leave it").click()


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
    page.get_by_role("button", name="Those of the model").click()
    expect(page.get_by_role("alert")).to_contain_text("there is no camera in it")
    broken = tmp_path / "broken.glb"
    broken.write_bytes(b"glTF")
    page.locator("input[type=file]").set_input_files(broken)
    expect(page.get_by_role("alert")).to_contain_text("broken.glb")
    expect(page.get_by_role("button", name="Nothing to bring in")).to_be_disabled()
