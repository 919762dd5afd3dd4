"""Ground and readings through the real pages: bring in, find, mend, prepare, measure, compare."""

from __future__ import annotations

import re
from pathlib import Path

import imagecodecs
import numpy as np
import pytest
import tifffile
from playwright.sync_api import Page, expect

from tests.support.ground import hills, png16
from tests.support.pages import go, make_mask, painted

pytestmark = pytest.mark.e2e


def terraced(rows: int, cols: int) -> bytes:
    """A ground of 8 bits whose slopes are stairs."""
    y, x = np.mgrid[0:rows, 0:cols]
    z = 110 * np.exp(-(((y - rows / 2) / (rows / 3)) ** 2 + ((x - cols / 2) / (cols / 3)) ** 2)) + 0.2 * x
    return bytes(imagecodecs.png_encode(np.round(z / z.max() * 90).astype(np.uint8)))


def test_an_eight_bit_picture_becomes_a_clean_ground(page: Page, tmp_path: Path) -> None:
    path = tmp_path / "old_map.png"
    path.write_bytes(terraced(190, 253))
    page.goto("/")
    page.get_by_role("button", name="New from a heightmap").click()
    page.get_by_test_id("heightmap").set_input_files(path)
    expect(page.get_by_test_id("inspection")).to_contain_text("PNG 8 · 253 × 190")
    page.get_by_label("High, m").fill("180")
    page.get_by_role("button", name="Make the project").click()
    finding = page.get_by_test_id("finding-stairs")
    expect(finding).to_contain_text("Stair steps on")
    finding.get_by_role("button", name="Show where").click()
    expect(page.get_by_test_id("view-label")).to_contain_text("where the finding is")
    finding.get_by_role("button", name="Un-terrace").click()
    expect(finding).to_be_hidden()
    step = page.get_by_test_id("step-un_terrace")
    expect(step).to_contain_text("Slope after; the line is before")

    page.get_by_role("button", name="+ Then…").last.click()
    page.get_by_role("menuitem", name="Erode").click()
    erode = page.get_by_test_id("step-erode")
    erode.get_by_role("button", name="+ only where…").click()
    page.get_by_role("menuitem", name=re.compile("^Take")).first.click()
    expect(erode.get_by_role("spinbutton", name="Lower edge")).to_be_visible()
    after = painted(page)
    page.get_by_role("radio", name="Before | after").click()
    expect(page.get_by_test_id("view-label")).to_contain_text("before | after")
    assert painted(page) != after
    erode.get_by_label("Mute this step").click()
    expect(page.get_by_role("button", name="Undo mute erode")).to_be_visible()
    step.get_by_label("Later").click()
    expect(page.get_by_role("button", name="Undo move un-terrace")).to_be_visible()

    page.get_by_role("radio", name="Heights").click()
    page.get_by_role("button", name="+ Then…").last.click()
    page.get_by_role("menuitem", name="Crop").click()
    page.get_by_role("button", name="Crop to this").click()
    expect(page.get_by_test_id("measures")).to_contain_text("190 × 143")
    for _ in range(5):
        page.keyboard.press("Control+z")
    expect(page.get_by_test_id("step-erode")).to_be_hidden()
    expect(page.get_by_test_id("measures")).to_contain_text("253 × 190")


def test_a_square_from_the_survey_desk_is_measured(page: Page) -> None:
    page.goto("/")
    page.get_by_role("button", name="New from a heightmap").click()
    page.get_by_role("button", name="Or take a square from the survey desk…").click()
    page.get_by_test_id("survey-map").focus()
    page.keyboard.press("-")
    page.get_by_label("How the desk answers").click()
    page.get_by_role("menuitem", name="is closed").click()
    page.get_by_label("Samples across").click()
    page.get_by_label("Samples across, typed").fill("253")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Get this square").click()
    expect(page.get_by_role("alert")).to_contain_text("too busy to answer")
    page.get_by_label("How the desk answers").click()
    page.get_by_role("menuitem", name="often refuses").click()
    page.get_by_role("button", name="Get this square").click()
    expect(page.get_by_test_id("inspection")).to_contain_text("253 × 253", timeout=60000)
    expect(page.get_by_label("Spacing east–west, m")).to_have_value("32")
    page.get_by_label("Name", exact=True).fill("Surveyed")
    page.get_by_role("button", name="Make the project").click()
    expect(page.get_by_role("region", name="Ground", exact=True)).to_contain_text("8 064 m".replace(" ", "\u202f", 1))
    go(page, "Readings")
    for reading in ("Flow", "Aerial image"):
        page.get_by_role("button", name=reading, exact=True).click()
        expect(page.get_by_test_id("view-label")).to_contain_text(reading)
        expect(page.get_by_label("Computing the map")).to_be_hidden(timeout=60000)
    page.get_by_label("Turned of aerial image").focus()
    before = painted(page)
    page.keyboard.press("PageUp")
    expect(page.get_by_role("button", name="Undo turned of aerial image to 10 °")).to_be_visible()
    assert painted(page) != before


def new_project(page: Page, folder: Path, name: str) -> None:
    """A project of its own: the demos belong to all journeys."""
    path = folder / "own.png"
    path.write_bytes(png16(hills(200, 253)))
    page.goto("/")
    page.get_by_role("button", name="New from a heightmap").click()
    page.get_by_test_id("heightmap").set_input_files(path)
    page.get_by_label("Name", exact=True).fill(name)
    page.get_by_label("Spacing east–west, m").fill("12")
    page.get_by_label("Spacing north–south, m").fill("12")
    page.get_by_role("button", name="Make the project").click()
    expect(page.get_by_test_id("measures")).to_contain_text("253 × 200")


def test_readings_are_found_compared_and_read_along_a_line(page: Page, tmp_path: Path) -> None:
    new_project(page, tmp_path, "Found and compared")
    go(page, "Readings")
    page.keyboard.press("1")
    expect(page.get_by_role("region", name="Ground", exact=True)).to_be_visible()
    page.keyboard.press("/")
    expect(page.get_by_label("Find a reading")).to_be_focused()
    page.keyboard.type("reeds")
    expect(page.get_by_role("button", name="Height over water")).to_be_visible()
    expect(page.get_by_role("button", name="Aspect")).to_be_hidden()
    page.get_by_label("Find a reading").fill("nothing at all")
    expect(page.get_by_text("No reading is called")).to_be_visible()
    page.get_by_label("Find a reading").fill("")
    page.get_by_role("button", name="Hold H").click()
    page.get_by_role("button", name="Relative height", exact=True).click()
    expect(page.get_by_test_id("view-label")).to_contain_text("Relative height")
    page.get_by_role("button", name="Compare", exact=True).click()
    expect(page.get_by_text("Slope · degrees")).to_be_visible()
    plan = page.get_by_test_id("plan").bounding_box()
    assert plan
    page.mouse.move(plan["x"] + plan["width"] * 0.25, plan["y"] + plan["height"] * 0.5)
    expect(page.get_by_test_id("probe")).to_contain_text("Relative height")
    expect(page.get_by_test_id("probe")).to_contain_text("Slope")
    page.get_by_role("button", name="Compare", exact=True).click()

    page.get_by_role("button", name="Profile line").click()
    panel = page.get_by_test_id("profile")
    expect(panel).to_contain_text(re.compile("3.024 m long"))
    token = panel.get_by_label("East of the line’s end")
    token.click()
    page.get_by_label("East of the line’s end, typed").fill("1512")
    page.keyboard.press("Enter")
    expect(panel).to_contain_text(re.compile("1.512 m long"))
    page.get_by_label("Take the profile line off").click()
    expect(panel).to_be_hidden()

    page.get_by_label("Radius of relative height").focus()
    page.keyboard.press("ArrowUp")
    expect(page.get_by_role("button", name=re.compile("Undo radius of relative height"))).to_be_visible()
    page.get_by_label("More for Relative height").click()
    page.get_by_role("menuitem", name="Another with other numbers").click()
    expect(page.get_by_role("button", name="Relative height 2", exact=True)).to_be_visible()
    page.get_by_role("button", name="Start a mask from it").click()
    expect(page.get_by_role("region", name="Masks", exact=True)).to_contain_text("By relative height 2")


def test_another_heightmap_under_the_same_masks(page: Page, tmp_path: Path) -> None:
    path = tmp_path / "bigger.tif"
    tifffile.imwrite(path, (hills(300, 600) / 300).astype(np.float32))
    new_project(page, tmp_path, "Replaced")
    go(page, "Masks")
    make_mask(page, "Bare rock")
    go(page, "Ground")
    page.get_by_role("button", name="Replace…").click()
    page.get_by_test_id("heightmap").set_input_files(path)
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("It has 600 × 300 samples; before there were 253 × 200")
    dialog.get_by_role("button", name="Replace", exact=True).click()
    expect(dialog).to_be_hidden()
    expect(page.get_by_test_id("measures")).to_contain_text("600 × 300")
    go(page, "Masks")
    expect(page.get_by_role("list", name="Recipe of Bare rock")).to_be_visible()
    page.get_by_role("button", name=re.compile("Undo replace")).click()
    go(page, "Ground")
    expect(page.get_by_test_id("measures")).to_contain_text("253 × 200")


def test_what_a_file_does_not_say_can_be_said(page: Page, tmp_path: Path) -> None:
    page.goto("/")
    page.get_by_role("button", name="New from a heightmap").click()
    raw = tmp_path / "land.raw"
    raw.write_bytes(b"HEAD" * 3 + (hills(60, 80) / 100).astype("<f4").tobytes())
    page.get_by_test_id("heightmap").set_input_files(raw)
    expect(page.get_by_role("alert")).to_contain_text("not a square")
    page.get_by_role("radio", name="32-bit float").click()
    page.get_by_label("Columns").fill("80")
    page.get_by_label("Rows").fill("60")
    page.get_by_role("button", name="Read it so").click()
    expect(page.get_by_role("alert")).to_contain_text("samples of 32 bits need 19200")
    page.get_by_label("Bytes to skip").fill("12")
    page.get_by_role("button", name="Read it so").click()
    expect(page.get_by_test_id("inspection")).to_contain_text("raw 32f · 80 × 60")
    page.get_by_role("button", name="Another file").click()
    coloured = tmp_path / "coloured.png"
    pixels = np.random.default_rng(1).integers(0, 255, (40, 40, 3)).astype(np.uint8)
    coloured.write_bytes(imagecodecs.png_encode(pixels))
    page.get_by_test_id("heightmap").set_input_files(coloured)
    page.get_by_role("button", name="metres and 256ths").click()
    expect(page.get_by_test_id("inspection")).to_contain_text("24 in RGB")
