"""Files that pass through unchanged, through the pages: cells as cells, a new peak, sizes and names of one's own."""

from __future__ import annotations

import io
import re
import zipfile
from pathlib import Path

import cv2
import numpy as np
import pytest
import tifffile
from playwright.sync_api import Page, expect

from tests.support.ground import hills
from tests.support.pages import checked, choose_target, go, number, open_project, started, undo_all

pytestmark = pytest.mark.e2e


def archive_of(page: Page) -> tuple[int, zipfile.ZipFile]:
    """Deliver, and take what is written as a zip."""
    order, group = started(page)
    expect(group.get_by_role("link", name=re.compile("^Zip"))).to_be_visible(timeout=120000)
    with page.expect_download() as download:
        group.get_by_role("link", name=re.compile("^Zip")).click()
    return order, zipfile.ZipFile(io.BytesIO(Path(download.value.path()).read_bytes()))


def height(archive: zipfile.ZipFile) -> np.ndarray:
    """By a reader that knows nothing of us."""
    name = next(name for name in archive.namelist() if "height" in name and name.endswith(".tif"))
    return tifffile.imread(io.BytesIO(archive.read(name)))


def test_cells_of_a_raw_file_go_through_and_a_new_peak_moves_nothing(page: Page, tmp_path: Path) -> None:
    codes = hills(256, 256, seed=9) // 2 + 700
    raw = tmp_path / "cells_256.raw"
    raw.write_bytes(codes.astype("<u2").tobytes())
    page.goto("/")
    page.get_by_role("button", name="New from a heightmap").click()
    page.get_by_test_id("heightmap").set_input_files(raw)
    expect(page.get_by_test_id("inspection")).to_contain_text("256 × 256")
    page.get_by_label("Name", exact=True).fill("Cells unchanged")
    page.get_by_role("radio", name="black to white").click()
    page.get_by_label("Black, m").fill("-20")
    page.get_by_label("White, m").fill("300")
    page.get_by_role("radio", name="half a cell inside").click()
    page.get_by_label("Spacing east–west, m").fill("1")
    page.get_by_label("Spacing north–south, m").fill("1")
    expect(page.get_by_text("256 m wide")).to_be_visible()
    page.get_by_role("button", name="Make the project").click()
    measures = page.get_by_test_id("measures")
    expect(measures).to_contain_text("256 × 256")
    expect(page.get_by_label("Black is", exact=True)).to_contain_text("20")
    go(page, "Delivery")
    choose_target(page, "RGB over a base")
    page.get_by_role("button", name="Look at cells_unchanged_height.tif").click()
    details = page.get_by_role("group", name="Details of cells_unchanged_height.tif")
    expect(details).to_contain_text("on cells")
    expect(details).to_contain_text("on the samples of the ground")
    expect(details).to_contain_text("Both are the heightmap’s own")
    order, archive = archive_of(page)
    with archive:
        np.testing.assert_array_equal(height(archive), codes)
        assert "256 m × 256 m" in archive.read("import_note.txt").decode()
    expect(checked(page, order)).to_contain_text("Everything fits")

    peak = codes.copy()
    peak[100, 120] = 65000
    raw.write_bytes(peak.astype("<u2").tobytes())
    go(page, "Ground")
    page.get_by_role("button", name="Replace").click()
    page.get_by_test_id("heightmap").set_input_files(raw)
    expect(page.get_by_test_id("what-changes")).to_contain_text("Every stored number keeps its metres")
    page.get_by_role("dialog").get_by_role("button", name="Replace", exact=True).click()
    expect(page.get_by_role("dialog")).to_be_hidden()
    go(page, "Delivery")
    _, archive = archive_of(page)
    with archive:
        assert np.argwhere(height(archive) != codes).tolist() == [[100, 120]]


def test_five_sizes_and_names_of_ones_own_in_one_run(page: Page) -> None:
    open_project(page, "Skerry Sound", "Delivery")
    page.get_by_role("button", name=re.compile("^Size: ")).click()
    dialog = page.get_by_role("dialog")
    for kind, cols, rows in (
        ("Weights", 256, 128),
        ("Near colour", 600, 300),
        ("Normals", 200, 100),
        ("Occlusion", 300, 150),
    ):
        group = dialog.get_by_role("group", name=f"Size of {kind}")
        number(group, page, f"Columns of {kind}", str(cols))
        expect(group.get_by_label(f"Columns of {kind}", exact=True)).to_contain_text(str(cols))
        number(group, page, f"Rows of {kind}", str(rows))
        expect(group.get_by_label(f"Rows of {kind}", exact=True)).to_contain_text(str(rows))
    dialog.get_by_role("button", name="Close").click()
    for find, title in (("normal", "Normal"), ("near", "Colour map"), ("occlusion", "Occlusion")):
        page.get_by_label("Another map").click()
        page.get_by_label("Find: Another map").fill(title if find == "near" else find)
        page.get_by_role("menuitem", name=title, exact=True).first.click()
    for name in ("skerry_sound_splat_a.png", "skerry_sound_normal.png"):
        page.get_by_role("checkbox", name=f"Choose {name}").check()
    page.get_by_label("Name of all that are chosen").fill("own-{map}-{size}")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Look at own-normal-200x100.png")).to_be_visible()
    page.get_by_role("button", name="Look at skerry_sound_height.png").click()
    number(page.get_by_role("group", name="Details of skerry_sound_height.png"), page, "White stands for", "100")
    cut = page.get_by_role("region", name="Heights that are cut off")
    expect(cut).to_contain_text("lie higher: they are cut off flat.")
    cut.get_by_role("button", name=re.compile("too high")).first.click()
    expect(page.get_by_test_id("view-label")).to_contain_text("amber: heights beyond")
    page.get_by_role("button", name=re.compile("^Undo ")).click()
    expect(cut).to_be_hidden()
    # Looked at otherwise it stays so.
    page.get_by_role("radio", name="Shade").click()
    expect(page.get_by_test_id("view-label")).to_contain_text("hill shade")
    order, archive = archive_of(page)
    with archive:
        sizes = {}
        for name in archive.namelist():
            if name.endswith(".png"):
                read = cv2.imdecode(np.frombuffer(archive.read(name), np.uint8), cv2.IMREAD_UNCHANGED)
                sizes[name] = (read.shape[1], read.shape[0])
    assert sizes["own-splat_a-256x128.png"] == (256, 128)
    assert sizes["own-normal-200x100.png"] == (200, 100)
    assert len(set(sizes.values())) == 5, sizes
    expect(checked(page, order)).to_contain_text("Everything fits")
    go(page, "Delivery")
    undo_all(page)


def test_a_trial_of_nine_regions_and_one_of_them_written_again(page: Page) -> None:
    open_project(page, "Skerry Sound", "Delivery")
    page.get_by_role("button", name="Only a part, to try…").click()
    page.get_by_role("button", name="Deliver only this").click()
    number(page.get_by_role("region", name="Delivery", exact=True), page, "Regions a side", "3")
    expect(page.get_by_text("× 3 regions, each a file of its own.")).to_be_visible()
    expect(page.get_by_test_id("written-shape").locator("line")).to_have_count(4)
    order, archive = archive_of(page)
    with archive:
        before = {name: archive.read(name) for name in archive.namelist() if name.endswith(".png")}
    heights = [name for name in before if "height" in name]
    assert len(heights) == 9, heights
    assert len(before) == 18
    expect(checked(page, order)).to_contain_text("Everything fits")

    # A delivery of all of the ground between does not stand in its way.
    go(page, "Delivery")
    page.get_by_role("button", name="Deliver all of the ground").click()
    archive_of(page)[1].close()
    page.get_by_role("button", name=re.compile("^Undo ")).click()
    expect(page.get_by_text("× 3 regions, each a file of its own.")).to_be_visible()
    # A mask is changed; of the nine, one alone is made of it.
    go(page, "Layers")
    page.get_by_role("listitem", name=re.compile("^Layer ")).first.get_by_label("Strength").first.press("ArrowLeft")
    go(page, "Delivery")
    page.get_by_role("button", name="Only some tiles…").click()
    tiles = page.get_by_role("group", name="Tiles of the height")
    tiles.get_by_role("button", name="Tile 2 from the west, 3 from the north").click()
    with page.expect_response(lambda r: r.url.endswith("/deliveries") and r.request.method == "POST") as answer:
        tiles.get_by_role("button", name="Write them again").click()
    again = int(answer.value.json()["number"])
    group = page.get_by_role("group", name=f"Delivery {again}", exact=True)
    expect(group.get_by_role("link", name=re.compile("^Zip"))).to_be_visible(timeout=120000)
    with page.expect_download() as download:
        group.get_by_role("link", name=re.compile("^Zip")).click()
    with zipfile.ZipFile(Path(download.value.path())) as archive:
        after = {name: archive.read(name) for name in archive.namelist() if name.endswith(".png")}
    assert set(after) == set(before)
    changed = {name for name in after if after[name] != before[name]}
    assert changed <= {name for name in after if name.endswith("_x1_y2.png")}
    assert any("splat" in name for name in changed), changed
    page.get_by_role("button", name="Deliver all of the ground").click()
    undo_all(page)
