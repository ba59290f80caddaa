"""Documents asked for by hand in the Lab, followed, downloaded, made anew, thrown away and brought back."""

import io
import re
import zipfile

import pypdf
from playwright.sync_api import expect
from tests.desk.hands import choose, field, instrument, now, open_demo, settled, undo


def tick(page, name):
    page.locator("label").filter(has=page.get_by_role("checkbox", name=name, exact=True)).click()


def test_documents_are_asked_for_made_and_taken_away(page, api, served, tmp_path):
    project = open_demo(page)
    page.get_by_role("button", name="Lab", exact=True).click()
    page.get_by_role("button", name="Documents…").click()
    card = page.get_by_role("dialog")
    make = card.get_by_role("button", name="Make documents")
    expect(card).to_contain_text("12 shots")
    card.get_by_role("button", name="None").click()
    expect(make).to_be_disabled()
    tick(page, "2, Wheel room, looking NW")
    tick(page, "4, Teapot hero")
    card.get_by_role("button", name="Contact sheet").click()
    expect(card).to_contain_text("Choose what is to be made")
    card.get_by_role("button", name="Plans with the stands").click()
    tick(page, "PDF")
    expect(make).to_be_disabled()
    tick(page, "SVG")
    card.get_by_role("button", name="as large as fits").click()
    page.get_by_role("option", name="1:200", exact=True).click()
    card.get_by_role("button", name="Camera cards").click()
    card.get_by_role("button", name="A file for each").click()
    card.get_by_role("button", name="Levels you choose").click()
    levels = [level["name"] for level in now(api, project)["places"]["levels"]]
    for level in levels:
        tick(page, level)
    expect(card).to_contain_text("Choose the levels.")
    expect(make).to_be_disabled()
    card.get_by_role("button", name="Levels a shot stands on").click()
    make.click()
    row = page.locator("[data-documents='1']")
    expect(row).to_contain_text("2 shots: plans with the stands, camera cards, waiting for the lab")
    with served.worker():
        expect(row).to_have_attribute("data-state", "done")
    files = row.get_by_role("link")
    expect(files).to_have_count(5)
    expect(files).to_contain_text(
        ["camera card 02 Wheel room, looking NW.pdf", "camera card 04 Teapot hero.pdf", "plan Drying loft.svg",
         "plan Workshop floor.svg", "All in a folder, ZIP"]
    )  # fmt: skip
    with page.expect_download() as saved:
        row.get_by_role("link", name="All in a folder, ZIP").click()
    assert saved.value.suggested_filename == "Tide Tower Pottery documents 1.zip"
    saved.value.save_as(tmp_path / "all.zip")
    with zipfile.ZipFile(tmp_path / "all.zip") as folder:
        cards = next(name for name in folder.namelist() if "Teapot hero" in name)
        said = pypdf.PdfReader(io.BytesIO(folder.read(cards))).pages[0].extract_text()
    assert "85 mm" in said
    assert "Off the wall" in said
    assert now(api, project)["undo"] is None
    page.get_by_role("button", name="Frame", exact=True).click()
    choose(page, "Teapot hero")
    instrument(page, "Stand")
    field(page, "Above floor", "1.3")
    settled(page)
    page.get_by_role("button", name="Lab", exact=True).click()
    expect(row).to_contain_text("changed since they were made")
    row.get_by_role("button", name="Others like these…").click()
    expect(page.get_by_role("dialog")).to_contain_text("2 shots")
    expect(page.get_by_role("button", name="1:200")).to_be_visible()
    page.get_by_role("button", name="Cancel").click()
    row.get_by_role("button", name="Make anew").click()
    expect(row).to_have_attribute("data-state", "waiting")
    expect(files).to_have_count(5)
    row.get_by_role("button", name="Cancel").click()
    expect(row).to_contain_text("cancelled")
    row.get_by_role("button", name="Throw away").click()
    expect(row).to_have_count(0)
    undo(page)
    expect(row).to_contain_text(re.compile("cancelled"))
