"""Deliveries through the pages: every target to a zip that other programs open, own targets, parts, packed images."""

from __future__ import annotations

import io
import re
import zipfile
from pathlib import Path

import cv2
import numpy as np
import OpenEXR
import pytest
import tifffile
from PIL import Image
from playwright.sync_api import Page, expect

from tests.support.pages import checked, choose_size, choose_target, go, make_layers, open_project, started, undo_all
from tests.support.site import Site

pytestmark = pytest.mark.e2e


def delivered(page: Page) -> tuple[int, zipfile.ZipFile]:
    """Deliver, wait for it, take the zip: its number and what it holds."""
    number, group = started(page)
    expect(group.get_by_role("link", name=re.compile("^Zip"))).to_be_visible(timeout=120000)
    with page.expect_download() as download:
        group.get_by_role("link", name=re.compile("^Zip")).click()
    return number, zipfile.ZipFile(io.BytesIO(Path(download.value.path()).read_bytes()))


def png(archive: zipfile.ZipFile, name: str) -> np.ndarray:
    """By OpenCV, which does not know us; colours as red, green, blue."""
    read = cv2.imdecode(np.frombuffer(archive.read(name), np.uint8), cv2.IMREAD_UNCHANGED)
    assert read is not None, name
    return read if read.ndim == 2 else read[..., [2, 1, 0, 3][: read.shape[2]]]


def tiff(archive: zipfile.ZipFile, name: str) -> np.ndarray:
    return tifffile.imread(io.BytesIO(archive.read(name)))


def exr(archive: zipfile.ZipFile, name: str, into: Path) -> np.ndarray:
    path = into / name
    path.write_bytes(archive.read(name))
    return OpenEXR.File(str(path), separate_channels=True).channels()["Y"].pixels


def height_of(archive: zipfile.ZipFile, target: str, into: Path) -> np.ndarray:
    """Metres, north up, as somebody at the target would make them of the note's numbers."""
    note = archive.read("import_note.txt").decode()
    rows = {line[2:30].strip(): line[31:59].strip() for line in note.splitlines() if line.startswith("  ")}
    if target == "Scene renderer":
        return exr(archive, next(n for n in archive.namelist() if n.endswith(".exr")), into)
    step, zero = float(rows["Metres a step"].split()[0]), float(rows["Metres at stored 0"].split()[0])
    if target == "Power of two and one":
        stored = np.frombuffer(archive.read("height_513.r16"), "<u2").reshape(513, 513)[::-1]
    elif target == "Raw pair":
        stored = np.frombuffer(archive.read("height.r16"), "<u2").reshape(512, 1024)
    elif target == "RGB over a base":
        stored = tiff(archive, "skerry_sound_height.tif")
    elif target == "Whole metres":
        tiles = [[png(archive, f"height_x{x}_y{y}.png") for x in range(4)] for y in range(2)]
        stored = np.block(tiles)
    else:
        stored = png(archive, next(n for n in archive.namelist() if "height" in n and n.endswith(".png")))
    assert stored.dtype == np.uint16
    return zero + stored.astype(float) * step


def test_every_target_fits_and_comes_as_a_zip_that_others_open(page: Page, tmp_path: Path) -> None:
    open_project(page, "Skerry Sound", "Delivery")
    ground: np.ndarray | None = None
    titles = [
        "Scene renderer",
        "Block grid",
        "Power of two and one",
        "Raw pair",
        "Equal maps, two distances",
        "RGB over a base",
        "Whole metres",
        "Plain files",
    ]
    for title in titles:
        choose_target(page, title)
        number, archive = delivered(page)
        with archive:
            assert archive.testzip() is None
            names = archive.namelist()
            assert {"import_note.html", "shading_recipe.glsl", "shading_recipe.mtlx", "manifest.json"} <= set(names)
            metres = height_of(archive, title, tmp_path)
            if ground is None:
                ground = metres
            tall = metres.shape[0] / ground.shape[0]
            low, high = float(ground.min()), float(ground.max())
            if title == "RGB over a base":
                metres = metres + (float(ground[0, 0]) - float(metres[0, 0]))
            if tall == 1:
                assert np.abs(metres - ground).max() < 0.01
            assert metres.min() == pytest.approx(low, abs=1.5)
            assert metres.max() == pytest.approx(high, abs=1.5)
            _check_maps(archive, title)
        verdict = checked(page, number)
        expect(verdict).to_contain_text("Everything fits")
        expect(verdict).to_contain_text("sample by sample")
        expect(page.get_by_role("list", name="Maps read back")).not_to_contain_text("as delivered")
        go(page, "Delivery")
    undo_all(page)


def _check_maps(archive: zipfile.ZipFile, title: str) -> None:
    """Depth, channels, sums, tags and alpha of the other files."""
    names = archive.namelist()
    if title in ("Block grid", "Plain files", "Power of two and one", "Scene renderer"):
        name = next(n for n in names if "splat_a" in n)
        sheet = png(archive, name)
        full = 65535 if title == "Scene renderer" else 255
        assert (sheet.astype(int).sum(axis=2) == full).all()
        info = Image.open(io.BytesIO(archive.read(name))).info
        assert not {"gamma", "srgb", "icc_profile"} & set(info)
    if title == "Raw pair":
        masks = [n for n in names if n.endswith(".r8")]
        assert {len(archive.read(n)) for n in masks} == {256 * 512}
        total = sum(np.frombuffer(archive.read(n), np.uint8).astype(int) for n in masks)
        assert (total == 255).all()
    if title == "Equal maps, two distances":
        sizes = {n: Image.open(io.BytesIO(archive.read(n))).size for n in names if n.endswith(".png")}
        assert set(sizes.values()) == {(512, 512)}
        assert {n.rsplit("_", 1)[0] for n in sizes} >= {"colour", "far_colour", "occlusion", "height", "splat_a"}
        assert "srgb" in Image.open(io.BytesIO(archive.read("colour_512.png"))).info
    if title == "RGB over a base":
        assert tiff(archive, "skerry_sound_colour.tif").shape == (*tiff(archive, "skerry_sound_height.tif").shape, 3)
        assert Image.open(io.BytesIO(archive.read("skerry_sound_colour.tif"))).info["icc_profile"]
        assert tiff(archive, "skerry_sound_splat_a.tif").shape[2] == 3
    if title == "Whole metres":
        classes = np.asarray(Image.open(io.BytesIO(archive.read("classes_x0_y0.png"))))
        assert classes.max() < 4


def test_an_own_target_a_part_to_try_and_files_of_ones_own(page: Page, site: Site, tmp_path: Path) -> None:
    open_project(page, "Skerry Sound", "Delivery")
    page.get_by_role("button", name=re.compile("^Target: ")).click()
    page.get_by_role("option", name="Plain files").click()
    page.get_by_role("button", name="Copy as an own one…").click()
    page.get_by_label("Title").fill("Our own place")
    page.get_by_role("button", name=re.compile("^Sizes: ")).first.click()
    page.get_by_role("menuitem", name="Multiples").click()
    example = page.get_by_role("status", name="What it makes of this project")
    expect(example).to_contain_text("1024 × 512")
    page.get_by_label("Names", exact=True).fill("nothing")
    expect(example).to_contain_text("need {map}")
    expect(page.get_by_role("button", name="Keep it")).to_be_disabled()
    page.get_by_label("Names", exact=True).fill("{map}_ours")
    expect(example).to_contain_text("height_ours.png")
    page.get_by_role("button", name="Keep it").click()
    with page.expect_download() as saved:
        page.get_by_role("link", name="Save it out").click()
    assert '"Our own place"' in Path(saved.value.path()).read_text()
    page.get_by_role("button", name="Deliver to Our own place").click()
    expect(page.get_by_role("button", name="Size: 1024 × 512")).to_be_visible()

    page.get_by_role("button", name=re.compile("^Another map")).click()
    page.get_by_label("Find: Another map").fill("occlusion")
    page.get_by_role("menuitem", name="Occlusion", exact=True).first.click()
    page.get_by_role("button", name="Look at occlusion_ours.png").click()
    details = page.get_by_role("group", name="Details of occlusion_ours.png")
    expect(page.get_by_test_id("view-label")).to_contain_text("as it will be written · 1024 × 512")
    details.get_by_label(re.compile("^Name")).fill("soft_shade")
    details.get_by_label(re.compile("^Name")).press("Enter")
    page.get_by_role("button", name=re.compile("^Format of soft_shade")).click()
    page.get_by_role("menuitem", name="TIFF 8", exact=True).click()
    expect(page.get_by_role("button", name="Look at soft_shade.tif")).to_be_visible()

    page.get_by_role("button", name="Only a part, to try…").click()
    page.get_by_role("button", name="Deliver only this").click()
    expect(page.get_by_text(re.compile("Only a part, to try: [0-9]+ × [0-9]+ samples"))).to_be_visible()
    with delivered(page)[1] as archive:
        part = tiff(archive, "soft_shade.tif")
        assert part.shape[1] < 1024
        assert part.shape == png(archive, "height_ours.png").shape
        assert "Only a part" in archive.read("import_note.txt").decode()
    page.get_by_role("button", name="Deliver all of the ground").click()
    page.get_by_role("button", name="Height only, to look").click()
    newest = page.get_by_role("group", name=re.compile("^Delivery [0-9]+$")).first
    expect(newest).to_contain_text("1 file, only some", timeout=60000)
    undo_all(page)


def test_a_packed_image_is_taken_apart_bent_and_packed_again(fell: Page, tmp_path: Path) -> None:
    rng = np.random.default_rng(3)
    pixels = np.zeros((253, 253, 4), np.uint8)
    pixels[..., 0] = np.linspace(0, 255, 253)[None, :]
    pixels[..., 1] = rng.integers(0, 256, (253, 253))
    pixels[..., 2] = 90
    pixels[60:120, :, 3] = 255
    Image.fromarray(pixels).save(tmp_path / "old_splat.png")
    page = fell
    go(page, "Packing")
    page.get_by_role("button", name="Take an image apart…").click()
    page.get_by_test_id("apart-file").set_input_files(tmp_path / "old_splat.png")
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("alert")).to_contain_text("Alpha is data here")
    expect(dialog).to_contain_text("the same everywhere")
    dialog.get_by_label("Name of R").fill("Old rock")
    dialog.get_by_role("checkbox", name="Take G").uncheck()
    dialog.get_by_role("button", name="Make 2 masks").click()
    expect(page.get_by_role("region", name="Masks", exact=True)).to_be_visible()
    page.get_by_role("button", name=re.compile("^Old rock")).first.click()
    page.get_by_role("button", name=re.compile(r"^\+ (Then|Take)…")).click()
    page.get_by_role("menuitem", name=re.compile("^Turn over")).first.click()
    expect(page.get_by_role("list", name="Recipe of Old rock").get_by_role("listitem")).to_have_count(2)

    go(page, "Packing")
    page.get_by_role("button", name="Propose sheets").click()
    page.get_by_role("menuitem", name="Unpacked masks, three to a sheet").click()
    sheet = page.get_by_role("group", name="Sheet attributes_a")
    expect(sheet.get_by_role("button", name="What R of attributes_a carries: Old rock mask")).to_be_visible()
    # Dragged from one channel to another, they change places; pressed, a map asks where it goes.
    red, green = (sheet.get_by_role("group", name=f"Channel {c} of attributes_a", exact=True) for c in "RG")
    red.drag_to(green)
    expect(sheet.get_by_role("button", name="What G of attributes_a carries: Old rock mask")).to_be_visible()
    page.get_by_role("button", name="Put Old rock mask into a channel").click()
    page.get_by_role("menuitem", name="B of attributes_a, empty").click()
    expect(page.get_by_text("carries the same as")).to_be_visible()
    sheet.get_by_role("button", name="Turn B of attributes_a over").click()

    go(page, "Delivery")
    with delivered(page)[1] as archive:
        packed = png(archive, next(n for n in archive.namelist() if "attributes_a" in n))
    ramp = np.linspace(0, 255, 253)[None, :].repeat(253, 0)
    assert np.abs(packed[..., 1].astype(float) - (255 - ramp)).max() <= 1.5
    assert np.abs(packed[..., 2].astype(int) - (255 - packed[..., 1].astype(int))).max() == 0


def test_eight_kinds_of_ground_become_four_in_one_sheet(page: Page) -> None:
    open_project(page, "Lantern Moor", "Layers")
    make_layers(page, "Water margin", "Reed margin", "Old track")
    expect(page.get_by_test_id("budget")).to_contain_text("8 layers with the base")
    for name, layers in (
        ("Growth", ("Heather", "Reed margin")),
        ("Bare", ("Scree", "Old track")),
        ("Wet", ("Water margin", "Wet runs", "Peat")),
    ):
        page.get_by_role("button", name="More for layers").click()
        page.get_by_role("menuitem", name="Merge layers…").click()
        for layer in layers:
            page.get_by_role("checkbox", name=f"Merge {layer}").check()
        page.get_by_role("button", name=f"Merge {len(layers)}…").click()
        page.get_by_role("textbox", name="Name").fill(name)
        page.get_by_role("button", name="Merge", exact=True).click()
        expect(page.get_by_role("button", name=f"Undo merge into {name}")).to_be_visible()
    go(page, "Packing")
    page.get_by_role("button", name="Propose sheets").click()
    page.get_by_role("menuitem", name="Every layer, as the target takes them").click()
    expect(page.get_by_text("add up to full scale at every sample")).to_be_visible()
    go(page, "Delivery")
    with delivered(page)[1] as archive:
        sheets = [n for n in archive.namelist() if "splat_" in n]
        assert len(sheets) == 1
        assert (png(archive, sheets[0]).astype(int).sum(axis=2) == 255).all()
        assert png(archive, sheets[0]).shape[2] == 4
    undo_all(page)


def test_names_that_clash_are_refused_before_the_run(page: Page) -> None:
    open_project(page, "Skerry Sound", "Delivery")
    page.get_by_role("button", name=re.compile("^Names of files")).click()
    page.get_by_role("textbox", name="Names of files").fill("{project}")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_text(re.compile("would both be called"))).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^Deliver"))).to_be_disabled()
    choose_size(page, "505")
    undo_all(page)
