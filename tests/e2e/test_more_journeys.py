"""Journeys off the main road: raw files, non-square grounds, channels, stopping, dusk, everything by keyboard."""

from __future__ import annotations

import re
import zipfile
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Locator, Page, expect

from tests.support.ground import hills
from tests.support.pages import choose_size, go, held, open_project, painted, started
from tests.support.site import Site

pytestmark = pytest.mark.e2e


def test_a_raw_file_of_unknown_shape(page: Page, tmp_path: Path) -> None:
    """A headerless, big-endian, non-square file: size typed, byte order guessed, shown and turned."""
    path = tmp_path / "old_quarry.heights"
    path.write_bytes(hills(127, 253).astype(">u2").tobytes())
    page.goto("/")
    page.get_by_role("button", name="New from a heightmap").click()
    page.get_by_test_id("heightmap").set_input_files(path)
    expect(page.get_by_role("alert")).to_contain_text("has no header")
    page.get_by_label("Columns", exact=True).fill("253")
    page.get_by_label("Rows", exact=True).fill("120")
    page.get_by_role("button", name="Read it so").click()
    expect(page.get_by_role("alert")).to_contain_text("253 × 120 samples of 16 bits need 60720")
    page.get_by_label("Columns", exact=True).fill("253")
    page.get_by_label("Rows", exact=True).fill("127")
    page.get_by_role("button", name="Read it so").click()
    expect(page.get_by_test_id("inspection")).to_contain_text("raw 16 · 253 × 127")
    expect(page.get_by_role("alert")).to_contain_text("guessed as big endian")
    expect(page.get_by_role("radio", name="big endian")).to_be_checked()
    page.get_by_role("radio", name="little endian").click()
    expect(page.get_by_role("radio", name="little endian")).to_be_checked()
    page.get_by_role("radio", name="big endian").click()
    expect(page.get_by_role("radio", name="big endian")).to_be_checked()
    page.get_by_label("Spacing north–south, m").fill("3")
    page.get_by_label("Low, m").fill("600")
    page.get_by_role("button", name="Make the project").click()
    expect(page.get_by_role("dialog")).to_contain_text("The highest height must be above the lowest")
    page.get_by_label("High, m").fill("900")
    page.get_by_role("button", name="Make the project").click()
    card = page.get_by_role("region", name="Ground", exact=True)
    expect(card).to_contain_text("old_quarry.heights · raw 16 · big endian · 253 × 127")
    expect(card).to_contain_text("1\u202f008 m")
    expect(card).to_contain_text("378 m")


def test_measures_of_the_ground_are_edited_in_sentences(page: Page) -> None:
    open_project(page, "Skerry Sound")
    card = page.get_by_role("region", name="Ground", exact=True)
    high = card.get_by_label("High", exact=True)
    high.click()
    page.get_by_label("High, typed").fill("260,5")
    page.keyboard.press("Enter")
    expect(high).to_have_attribute("aria-valuenow", "260.5")
    expect(card).to_contain_text("300.5 m")
    expect(page.get_by_test_id("view-label")).to_contain_text("-40 to 260.5 m")
    expect(page.get_by_test_id("legend")).to_contain_text(re.compile("26[01] m"))
    page.get_by_role("button", name="No water").click()
    expect(card).to_contain_text("No water here.")
    expect(page.get_by_role("button", name="Water", exact=True)).to_be_hidden()
    for _ in range(2):
        page.keyboard.press("Control+z")
    expect(high).to_have_attribute("aria-valuenow", "180")
    expect(card).to_contain_text("Water stands at")
    high.click()
    page.get_by_label("High, typed").fill("-90")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("The highest height must be above the lowest")
    expect(card.get_by_label("High", exact=True)).to_have_attribute("aria-valuenow", "180")


def drag_sideways(page: Page, token: Locator, pixels: int) -> None:
    box = token.bounding_box()
    assert box
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2 + pixels, box["y"] + box["height"] / 2, steps=6)


def test_tokens_are_dragged_and_taken_back(page: Page) -> None:
    open_project(page, "Lantern Moor", "Masks")
    edge = (
        page.get_by_role("list", name="Recipe of Scree").get_by_role("spinbutton", name="Lower edge", exact=True).first
    )
    expect(page.get_by_test_id("view-label")).to_contain_text("covers 17 %")
    before = painted(page)
    drag_sideways(page, edge, -60)
    expect(edge).not_to_have_attribute("aria-valuenow", "32")
    expect(page.get_by_test_id("view-label")).not_to_contain_text("covers 17 %")
    page.keyboard.press("Escape")
    expect(edge).to_have_attribute("aria-valuenow", "32")
    page.mouse.up()
    expect(page.get_by_test_id("view-label")).to_contain_text("covers 17 %")
    assert painted(page) == before
    drag_sideways(page, edge, -60)
    page.mouse.up()
    undo = page.get_by_role("button", name=re.compile("Undo lower edge to"))
    undo.click()
    expect(edge).to_have_attribute("aria-valuenow", "32")
    page.get_by_role("button", name=re.compile("Redo lower edge to")).click()
    expect(undo).to_be_visible()
    undo.click()
    expect(edge).to_have_attribute("aria-valuenow", "32")


def test_band_handles_by_keyboard(page: Page) -> None:
    open_project(page, "Lantern Moor", "Masks")
    page.get_by_role("button", name=re.compile("^Wet runs \\d")).click()
    handle = page.get_by_role("slider", name="Lower fade begins")
    start = float(handle.get_attribute("aria-valuenow") or 0)
    assert start == 4000
    handle.focus()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("button", name=re.compile("Undo lower fade to .* doublings"))).to_be_visible()
    assert float(handle.get_attribute("aria-valuenow") or 0) > start
    page.keyboard.press("Control+z")
    expect(handle).to_have_attribute("aria-valuenow", "4000")


def test_masks_are_copied_reordered_and_protected(page: Page) -> None:
    open_project(page, "Skerry Sound", "Masks")
    masks = page.get_by_role("list", name="Masks", exact=True)
    page.get_by_label("More for Bare rock").click()
    page.get_by_role("menuitem", name="Delete").click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("by the layer Bare rock")
    dialog.get_by_role("button", name="Keep it").click()
    page.get_by_label("More for Bare rock").click()
    page.get_by_role("menuitem", name="Copy").click()
    expect(masks.get_by_role("button", name=re.compile("Bare rock copy"))).to_have_attribute("aria-pressed", "true")
    page.get_by_label("More for Bare rock copy").click()
    page.get_by_role("menuitem", name="Rename…").click()
    page.get_by_role("textbox", name="Name").fill("Crag")
    page.get_by_role("button", name="Rename", exact=True).click()
    page.get_by_label("More for Crag").click()
    page.get_by_role("menuitem", name="Move earlier").click()
    expect(masks.get_by_role("listitem").first).to_contain_text("Crag")
    page.get_by_label("What is read").first.click()
    page.get_by_role("menuitem", name="Shore").click()
    expect(page.get_by_role("list", name="Recipe of Crag")).to_contain_text("Take the mask Shore")
    page.get_by_label("More for Crag").click()
    page.get_by_role("menuitem", name="Delete").click()
    expect(masks.get_by_role("listitem")).to_have_count(2)


def test_channels_are_chosen_and_looked_at(page: Page) -> None:
    open_project(page, "Lantern Moor", "Packing")
    page.get_by_role("button", name="New sheet", exact=True).click()
    page.get_by_role("textbox", name="Name").fill("extra")
    page.get_by_role("button", name="Make it").click()
    sheet = page.get_by_role("group", name="Sheet extra")
    expect(page.get_by_text("Channel R of extra is empty")).to_be_visible()
    expect(page.get_by_role("navigation")).to_contain_text("4 to look at")
    for letter, what in (("R", "Height"), ("G", "Scree mask"), ("B", "Rest of this sheet")):
        sheet.get_by_label(f"What {letter} of extra carries").click()
        page.get_by_role("menuitem", name=what, exact=True).click()
        expect(sheet.get_by_label(f"What {letter} of extra carries")).to_have_text(what)
    expect(sheet.get_by_label(re.compile("^Black of ")).first).to_have_attribute("aria-valuenow", "38")
    sheet.get_by_label("Channels of extra").click()
    page.get_by_role("menuitem", name="RGB 8").click()
    expect(page.get_by_text("Channel A of extra is empty")).to_be_hidden()
    each = painted(page)
    page.get_by_role("radio", name="Together").click()
    assert painted(page) != each
    page.get_by_label("More for extra").click()
    page.get_by_role("menuitem", name="Delete").click()
    expect(sheet).to_be_hidden()


def test_a_non_square_ground_is_delivered_raw_and_a_running_delivery_is_stopped(page: Page, site: Site) -> None:
    open_project(page, "Skerry Sound", "Delivery")
    choose_size(page, "4097")
    _, running = started(page)
    with held(page, site), page.expect_response(re.compile("/cancel$")):
        running.get_by_role("button", name="Stop").click()
    expect(running).to_contain_text("nothing kept", timeout=60000)
    choose_size(page, "1025")
    page.get_by_role("button", name=re.compile("^Format of skerry_sound_height.png")).click()
    page.get_by_role("menuitem", name=re.compile("^raw 16")).click()
    expect(page.get_by_role("button", name="Look at skerry_sound_height.r16")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Names of files")).click()
    page.get_by_role("textbox", name="Names of files").fill("gull_{map}_{size}")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Look at gull_height_1025x505.r16")).to_be_visible()
    _, done = started(page)
    expect(done.get_by_role("link", name="Zip")).to_be_visible(timeout=60000)
    with page.expect_download() as download:
        done.get_by_role("link", name="Zip").click()
    with zipfile.ZipFile(download.value.path()) as archive:
        data = archive.read("gull_height_1025x505.r16")
        assert len(data) == 2 * 1025 * 505
        heights = np.frombuffer(data, "<u2").reshape(505, 1025)
        assert (heights.min(), heights.max()) == (0, 65535)
        assert "little end first, no header" in archive.read("import_note.txt").decode()
    with page.context.expect_page() as opened:
        done.get_by_role("link", name="Import note").click()
    note = opened.value
    expect(note.get_by_role("heading", name="Which channel is which")).to_be_visible()
    expect(note.get_by_text("Bare rock").first).to_be_visible()
    note.close()
    go(page, "Fit check")
    page.get_by_role("button", name="Check the fit").click()
    expect(page.get_by_test_id("verdict")).to_contain_text("Everything fits", timeout=60000)


def test_a_changed_project_says_what_needs_delivering_again(page: Page) -> None:
    open_project(page, "Skerry Sound", "Delivery")
    started(page)
    expect(page.get_by_role("navigation")).to_contain_text(re.compile("files, whole"), timeout=60000)
    go(page, "Layers")
    page.get_by_label("Switch Shore off").click()
    expect(page.get_by_role("navigation")).to_contain_text("needs running again")
    expect(page.get_by_test_id("sum-check")).to_contain_text("add up to 1 everywhere")
    go(page, "Delivery")
    expect(page.get_by_text("The project has changed since").first).to_be_visible()
    page.get_by_role("button", name="Undo switch off Shore").click()
    expect(page.get_by_role("navigation")).to_contain_text("files, whole")


def test_dusk_and_keys_off(page: Page) -> None:
    open_project(page, "Lantern Moor")
    page.get_by_role("button", name="Dusk colours").click()
    expect(page.locator("html")).to_have_attribute("data-scheme", "dark")
    page.keyboard.press("?")
    page.get_by_label("Single keys work").click()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_be_hidden()
    page.keyboard.press("3")
    expect(page.get_by_role("region", name="Ground", exact=True)).to_be_visible()
    page.keyboard.press("?")
    page.get_by_label("Single keys work").click()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_be_hidden()
    page.keyboard.press("3")
    expect(page.get_by_role("region", name="Masks", exact=True)).to_be_visible()


def test_a_missing_project_says_so(page: Page) -> None:
    page.goto("/project/nothing/masks")
    expect(page.get_by_role("heading", name="This project cannot be opened")).to_be_visible()
    page.get_by_role("link", name="To the shelf").click()
    expect(page.get_by_role("list", name="Projects")).to_be_visible()
