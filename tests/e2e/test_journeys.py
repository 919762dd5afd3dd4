"""Whole artist's journeys through the real pages."""

from __future__ import annotations

import os
import re
import signal
import zipfile
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.support.delivery import rewrite
from tests.support.ground import hills, png16
from tests.support.pages import (
    choose_size,
    drag_handle,
    go,
    held,
    make_layers,
    make_mask,
    open_project,
    painted,
    started,
)
from tests.support.site import Site

pytestmark = pytest.mark.e2e


def test_from_a_heightmap_to_a_checked_delivery(page: Page, site: Site, tmp_path: Path) -> None:
    path = tmp_path / "north_fell.png"
    path.write_bytes(png16(hills(253, 253)))
    page.goto("/")
    page.get_by_role("button", name="New from a heightmap").click()
    page.get_by_test_id("heightmap").set_input_files({"name": "fell.png", "mimeType": "image/png", "buffer": b"no"})
    expect(page.get_by_role("alert")).to_contain_text("named like PNG but does not start like one")
    page.get_by_test_id("heightmap").set_input_files(path)
    expect(page.get_by_test_id("inspection")).to_contain_text("PNG 16 · 253 × 253")
    page.get_by_label("High, m").fill("400,0")
    page.get_by_label("Spacing east–west, m").fill("5")
    page.get_by_label("Water level, m").fill("30")
    page.get_by_role("button", name="Make the project").click()
    expect(page.get_by_test_id("view-label")).to_contain_text("0 to 400 m")

    go(page, "Readings")
    page.get_by_role("button", name="Flow", exact=True).click()
    expect(page.get_by_test_id("view-label")).to_contain_text("square metres")
    go(page, "Masks")
    make_mask(page, "Scree")
    expect(page.get_by_test_id("view-label")).to_contain_text("covers")
    before = painted(page)
    drag_handle(page, "low", -60)
    expect(page.get_by_test_id("view-label")).to_contain_text(re.compile("covers"))
    page.wait_for_function("before => document.querySelector('[data-testid=plan]').dataset.painted !== before", arg="1")
    page.mouse.up()
    undo = page.get_by_role("button", name=re.compile("Undo lower edge to"))
    expect(undo).to_be_visible()
    assert painted(page) != before
    undo.click()
    expect(page.get_by_role("button", name="Undo add take")).to_be_visible()
    assert painted(page) == before

    make_mask(page, "Hollows")
    page.get_by_label("What is read").click()
    page.get_by_role("menuitem", name="height", exact=True).click()
    go(page, "Layers")
    for name in ("Hollows", "Scree"):
        make_layers(page, name)
    expect(page.get_by_test_id("sum-check")).to_contain_text("Weights add up to 1 everywhere")
    page.get_by_role("button", name="Propose sheets for these").click()
    go(page, "Packing")
    expect(page.get_by_text("add up to full scale at every sample")).to_be_visible()
    page.get_by_role("button", name="Look at R of splat_a alone").click()
    expect(page.get_by_test_id("view-label")).to_contain_text("splat_a · R")

    go(page, "Delivery")
    page.get_by_role("button", name="Deliver 2 files").click()
    first = page.get_by_role("group", name="Delivery 1")
    expect(first).to_contain_text("2 files", timeout=60000)
    with page.expect_download() as download:
        first.get_by_role("link", name="Zip").click()
    with zipfile.ZipFile(download.value.path()) as archive:
        assert {"import_note.html", "manifest.json", "north_fell_splat_a.png"} <= set(archive.namelist())

    go(page, "Fit check")
    page.get_by_role("button", name="Check the fit").click()
    verdict = page.get_by_test_id("verdict")
    expect(verdict).to_contain_text("Everything fits", timeout=60000)
    expect(page.get_by_role("table", name="What was measured")).to_contain_text("255 at 64 009 of 64 009")
    expect(page.get_by_test_id("view-label")).to_contain_text("rebuilt − meant")

    folder = next(site.data.glob("deliveries/*/0001/files/north_fell_height.png")).parent
    rewrite(folder / "north_fell_splat_a.png", lambda a: a[::-1])
    rewrite(folder / "north_fell_height.png", lambda a: a[:-1, :-1])
    page.get_by_role("button", name="Check again").click()
    expect(verdict).to_contain_text("2 things do not fit", timeout=60000)
    expect(page.get_by_text("north_fell_splat_a.png is flipped north–south")).to_be_visible()
    expect(page.get_by_text("north_fell_height.png is 252 × 252")).to_be_visible()
    expect(page.get_by_role("navigation")).to_contain_text("2 do not fit")
    page.get_by_role("button", name="Write it again").first.click()
    expect(page.get_by_role("button", name="Which delivery")).to_contain_text("delivery 2", timeout=60000)
    expect(verdict).to_contain_text("Everything fits", timeout=60000)


def test_a_recipe_line_by_line_with_the_keyboard(page: Page) -> None:
    open_project(page, "Lantern Moor", "Masks")
    recipe = page.get_by_role("list", name="Recipe of Scree")
    expect(recipe.get_by_role("listitem")).to_have_count(2)
    edge = recipe.get_by_role("spinbutton", name="Lower edge", exact=True).first
    edge.focus()
    for _ in range(3):
        page.keyboard.press("ArrowUp")
    expect(edge).to_have_attribute("aria-valuenow", "33.5")
    page.keyboard.press("Control+z")
    expect(edge).to_have_attribute("aria-valuenow", "32")
    edge.press("Enter")
    page.get_by_label("Lower edge, typed").fill("41.5")
    page.keyboard.press("Enter")
    expect(edge).to_have_attribute("aria-valuenow", "41.5")
    expect(page.get_by_role("button", name="Undo lower edge to 41.5°")).to_be_visible()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Undo lower edge to 41.5°").click()

    page.get_by_role("listitem", name="Line 2").get_by_label("Mute this line").click()
    expect(page.get_by_role("button", name="Undo mute leave out")).to_be_visible()
    page.get_by_label("More for line 2").click()
    page.get_by_role("menuitem", name="Move up").click()
    expect(page.get_by_role("listitem", name="Line 1")).to_contain_text("Leave out")
    for label in ("move a line", "mute leave out"):
        page.get_by_role("button", name=f"Undo {label}").click()
    page.get_by_role("button", name="+ Then…").click()
    page.get_by_role("menuitem", name="Turn over").click()
    expect(page.get_by_test_id("view-label")).to_contain_text("covers 83 %")
    page.get_by_role("button", name="Undo add turn over").click()
    expect(page.get_by_test_id("view-label")).to_contain_text("covers 17 %")


def test_looking(page: Page) -> None:
    """Plan, relief, wipe, hold, zoom and probe; single keys do nothing in fields."""
    open_project(page, "Lantern Moor", "Masks")
    over = painted(page)
    page.keyboard.press("m")
    expect(page.get_by_role("radio", name="Alone")).to_be_checked()
    assert painted(page) != over
    page.keyboard.press("w")
    expect(page.get_by_label("Where before ends and after begins")).to_be_visible()
    page.keyboard.press("h")
    expect(page.get_by_role("list", name="Held views").get_by_role("listitem")).to_have_count(1)
    page.keyboard.press("p")
    expect(page.get_by_test_id("relief")).to_be_visible()
    expect(page.get_by_label("Exaggeration of heights")).to_be_attached()
    page.keyboard.press("p")
    page.keyboard.press("1")
    expect(page.get_by_role("region", name="Ground", exact=True)).to_be_visible()
    box = page.get_by_test_id("plan").bounding_box()
    assert box
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    expect(page.get_by_test_id("probe")).to_contain_text("2\u202f016 m")
    expect(page.get_by_test_id("probe")).to_contain_text(re.compile(r"Height\s*95 m"))
    before = painted(page)
    page.mouse.wheel(0, -900)
    expect(page.get_by_test_id("plan")).to_be_visible()
    assert painted(page) != before
    page.get_by_label("All of it").click()
    page.get_by_role("button", name="Lantern Moor", exact=True).click()
    field = page.get_by_role("textbox", name="Name")
    field.fill("")
    field.type("12phw")
    expect(field).to_have_value("12phw")
    page.get_by_role("button", name="Cancel").click()
    page.get_by_role("link", name="Threads").click()
    expect(page.get_by_role("heading", name="Threads")).to_be_visible()


def test_the_shelf(page: Page, tmp_path: Path) -> None:
    page.goto("/")
    shelf = page.get_by_role("list", name="Projects")
    page.get_by_label("More for Skerry Sound").click()
    page.get_by_role("menuitem", name="Duplicate").click()
    copy = shelf.get_by_role("listitem", name="Skerry Sound copy")
    expect(copy).to_be_visible()
    page.get_by_label("More for Skerry Sound copy").click()
    page.get_by_role("menuitem", name="Rename…").click()
    page.get_by_role("textbox", name="Name").fill("Gull Rock")
    page.get_by_role("button", name="Rename", exact=True).click()
    expect(shelf.get_by_role("listitem", name="Gull Rock")).to_be_visible()
    page.get_by_label("More for Gull Rock").click()
    with page.expect_download() as download:
        page.get_by_role("menuitem", name="Save out a project file").click()
    path = tmp_path / download.value.suggested_filename
    assert path.name == "gull_rock.meadow.zip"
    download.value.save_as(path)
    page.get_by_label("More for Gull Rock").click()
    page.get_by_role("menuitem", name="Delete").click()
    expect(shelf.get_by_role("listitem", name="Gull Rock")).to_be_hidden()
    page.get_by_role("button", name="Undo").click()
    expect(shelf.get_by_role("listitem", name="Gull Rock")).to_be_visible()
    page.get_by_label("More for Gull Rock").click()
    page.get_by_role("menuitem", name="Delete").click()
    expect(shelf.get_by_role("listitem", name="Gull Rock")).to_be_hidden()
    page.get_by_test_id("bring-in").set_input_files(path)
    expect(page.get_by_role("button", name="Gull Rock")).to_be_visible()
    expect(page.get_by_test_id("view-label")).to_contain_text("-40 to 180 m")


def test_two_tabs(page: Page, site: Site) -> None:
    """The second tab is told; its edit is kept and can be made on top."""
    open_project(page, "Skerry Sound", "Masks")
    other = page.context.new_page()
    other.goto(page.url)
    expect(other.get_by_role("list", name="Recipe of Bare rock")).to_be_visible()
    page.get_by_role("listitem", name="Line 1").get_by_label("Mute this line").click()
    expect(page.get_by_role("button", name="Undo mute take")).to_be_visible()
    edge = other.get_by_role("spinbutton", name="Lower edge", exact=True).first
    edge.press("ArrowUp")
    dialog = other.get_by_role("dialog")
    expect(dialog).to_contain_text("This project changed elsewhere")
    expect(dialog).to_contain_text("mute take")
    expect(dialog).to_contain_text("Both changed the line take of the mask Bare rock")
    dialog.get_by_role("button", name="Make mine on top").click()
    expect(other.get_by_role("button", name=re.compile("Undo"))).to_be_enabled()
    expect(edge).to_have_attribute("aria-valuenow", "30.5")
    other.close()


def test_a_killed_worker_loses_nothing(page: Page, site: Site) -> None:
    """The job is picked up again and its files are the same, byte for byte."""
    open_project(page, "Lantern Moor", "Delivery")
    choose_size(page, "2017")
    project = page.url.split("/")[4]
    number, last = started(page)
    with held(page, site) as pid:
        expect(last).to_contain_text(re.compile(r"[1-9]\d? %"))
        os.kill(pid, signal.SIGKILL)
    expect(last).to_contain_text("4 files", timeout=90000)
    folder = site.data / "deliveries" / project / f"{number:04}" / "files"
    first = {path.name: path.read_bytes() for path in folder.iterdir()}
    # Without its manifest nothing of it is taken over: the second is made anew.
    (folder / "manifest.json").unlink()
    number, again = started(page)
    expect(again).to_contain_text("4 files", timeout=90000)
    folder = folder.parents[1] / f"{number:04}" / "files"
    second = {path.name: path.read_bytes() for path in folder.iterdir()}
    assert first == second
    jobs = page.request.get(f"/api/projects/{project}/deliveries").json()
    assert [item["job"]["attempt"] for item in jobs[:2]] == [1, 2]
