"""From masks to painted ground: layers shared and merged, brushed and dressed; a colour map of coats, near and far."""

from __future__ import annotations

import re
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.support.pages import add_coat, choose_target, go, make_layers, open_project, painted, undo_all
from tests.support.painting import aerial

pytestmark = pytest.mark.e2e

EXACT = "Weights add up to 1 everywhere"


def choose(page: Page, token: str, entry: str) -> None:
    page.get_by_role("button", name=re.compile(f"^{re.escape(token)}")).click()
    page.get_by_role("menuitem", name=re.compile(f"^{re.escape(entry)}")).first.click()


def shares(page: Page) -> list[str]:
    return page.get_by_role("list", name="Shares").get_by_role("listitem").all_inner_texts()


def test_six_layers_are_shared_three_ways_and_merged_to_three(page: Page) -> None:
    open_project(page, "Lantern Moor", "Layers")
    make_layers(page, "Reed margin", "Old track")
    expect(page.get_by_test_id("budget")).to_contain_text("7 layers with the base")
    expect(page.get_by_test_id("sum-check")).to_contain_text(EXACT)
    told = {"by cover": shares(page)}
    rows = page.get_by_role("list", name="Shares").get_by_role("listitem")
    for way in ("by strength", "led by relief"):
        before = shares(page)
        choose(page, "Sharing", way)
        expect(page.get_by_role("button", name=re.compile(f"Undo share {way}"))).to_be_visible()
        expect(rows).not_to_have_text(before, use_inner_text=True)
        expect(page.get_by_test_id("sum-check")).to_contain_text(EXACT)
        told[way] = shares(page)
    assert len({"|".join(lines) for lines in told.values()}) == 3

    for name, layers in (("Growth", ("Heather", "Reed margin")), ("Bare", ("Scree", "Old track"))):
        page.get_by_role("button", name="More for layers").click()
        page.get_by_role("menuitem", name="Merge layers…").click()
        for layer in layers:
            page.get_by_role("checkbox", name=f"Merge {layer}").check()
        page.get_by_role("button", name="Merge 2…").click()
        page.get_by_role("textbox", name="Name").fill(name)
        page.get_by_role("button", name="Merge", exact=True).click()
        expect(page.get_by_role("button", name=f"Undo merge into {name}")).to_be_visible()
    expect(page.get_by_test_id("budget")).to_contain_text("5 layers with the base")
    expect(page.get_by_test_id("sum-check")).to_contain_text(EXACT)
    page.get_by_role("radio", name="Strongest").click()
    expect(page.get_by_test_id("keys")).to_contain_text("Growth")
    go(page, "Packing")
    page.get_by_role("button", name="Propose sheets").click()
    page.get_by_role("menuitem", name="Every layer, as the target takes them").click()
    expect(page.get_by_text("add up to full scale at every sample")).to_be_visible()
    undo_all(page)


def test_a_place_is_brushed_asked_and_taken_back(page: Page) -> None:
    open_project(page, "Skerry Sound", "Layers")
    before = painted(page)
    box = page.get_by_test_id("plan").bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.get_by_role("button", name="Ask a place").click()
    page.mouse.click(x, y)
    why = page.get_by_test_id("why")
    expect(why).to_contain_text("The base takes what is left")
    told = why.inner_text()
    # What this journey began with is what others left: a brush shows where its layer is not all already.
    layer = "Shore" if "Bare rock\n100 %" in told else "Bare rock"
    page.get_by_role("button", name=f"Open {layer}").click()
    page.get_by_role("button", name=f"Brush {layer}").click()
    page.mouse.move(x - 60, y)
    page.mouse.down()
    page.mouse.move(x, y, steps=5)
    page.mouse.move(x + 60, y, steps=5)
    page.mouse.up()
    expect(page.get_by_role("button", name=f"Undo brush {layer}")).to_be_visible()
    expect(why).to_contain_text("The layer brush makes it")
    expect(page.get_by_role("list", name="Strokes on layers")).to_contain_text(f"1 stroke on {layer}")
    expect(page.get_by_test_id("sum-check")).to_contain_text(EXACT)
    assert painted(page) != before
    page.get_by_role("button", name="Put it away").click()
    page.get_by_role("button", name=f"More for the strokes on {layer}").click()
    page.get_by_role("menuitem", name="Take them away").click()
    expect(page.get_by_role("list", name="Strokes on layers")).to_be_hidden()
    expect(why).to_have_text(told.replace("\n", ""), use_inner_text=False)
    assert painted(page) == before
    undo_all(page)


def test_own_textures_are_matched_by_name_and_worn(page: Page, tmp_path: Path) -> None:
    stone = np.full((64, 64, 3), (120, 60, 30), np.uint8)
    flat = np.full((64, 64, 3), (128, 128, 255), np.uint8)
    files = []
    sets = {"Bare_Rock_Albedo": stone, "Bare_Rock_Normal": flat, "odd": stone[:40], "Crag_Height": stone[..., 0]}
    for name, pixels in sets.items():
        files.append(tmp_path / f"{name}.png")
        Image.fromarray(pixels).save(files[-1])
    open_project(page, "Skerry Sound", "Layers")
    page.get_by_role("button", name="More for layers").click()
    page.get_by_role("menuitem", name="Bring textures in…").click()
    page.get_by_test_id("texture-files").set_input_files(files)
    rock = page.get_by_role("region", name="Set Bare rock")
    expect(rock.get_by_role("button", name="Who wears Bare rock: Bare rock")).to_be_visible()
    expect(page.get_by_role("region", name="Set Odd")).to_contain_text("not square (64 × 40)")
    crag = page.get_by_role("region", name="Set Crag")
    expect(crag).to_contain_text("say which of its files is the colour")
    choose(page, "What Crag_Height.png is", "colour")
    expect(crag.get_by_role("button", name="Who wears Crag")).to_be_visible()
    page.get_by_role("button", name="Take 3 looks").click()
    expect(page.get_by_role("dialog")).to_be_hidden()
    page.get_by_role("button", name="Open Bare rock").click()
    expect(page.get_by_role("button", name="Look of Bare rock: Bare rock")).to_be_visible()
    expect(page.get_by_role("spinbutton", name="Size of Bare rock")).to_be_visible()
    own = page.get_by_role("group", name="The look Bare rock")
    choose(page, "Green of the look Bare rock", "down")
    expect(own.get_by_role("button", name="Green of the look Bare rock: down")).to_be_visible()
    own.get_by_role("button", name="Take it out of the project").click()
    expect(page.get_by_role("button", name="Look of Bare rock: a plain colour")).to_be_visible()
    undo_all(page)


def test_grey_scree_becomes_believable_ground(page: Page) -> None:
    """One grey, then patches, soil and worn edges: before | after, and both held beside each other."""
    open_project(page, "Skerry Sound", "Colour")
    add_coat(page, "Plain colour")
    plain = page.get_by_role("list", name="Coats, top first").get_by_label("Colour", exact=True)
    plain.fill("#8a8a86")
    plain.blur()
    expect(page.get_by_role("button", name=re.compile("Undo change plain colour"))).to_be_visible()
    grey = painted(page)
    for kind in ("Vary", "Soil", "Bleach"):
        add_coat(page, kind)
        expect(page.get_by_role("button", name=f"Undo add {kind.lower()}")).to_be_visible()
    alive = painted(page)
    assert alive != grey
    page.get_by_role("button", name="More for Vary").click()
    page.get_by_role("menuitem", name="Before | after from here up").click()
    expect(page.get_by_test_id("view-label")).to_contain_text("the lowest 1 | all coats")
    expect(page.get_by_label("Computing the map")).to_be_hidden()
    page.get_by_role("button", name=re.compile("^Hold")).click()
    page.get_by_role("radio", name="Lit").click()
    page.get_by_role("button", name=re.compile("^Hold")).click()
    token = page.get_by_role("listitem", name=re.compile("Bleach")).get_by_role("spinbutton", name="Strength")
    token.focus()
    page.keyboard.press("ArrowDown")
    expect(page.get_by_role("button", name=re.compile("Undo bleach: strength to"))).to_be_visible()
    expect(page.get_by_test_id("colour-histogram").locator("path")).to_have_count(3)
    page.get_by_role("button", name="Ask a place").click()
    box = page.get_by_test_id("plan").bounding_box()
    assert box
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    expect(page.get_by_test_id("why")).to_contain_text("Bleach")
    undo_all(page)


def test_a_far_colour_map_of_a_non_square_ground_and_one_four_times_as_fine(page: Page) -> None:
    open_project(page, "Skerry Sound", "Delivery")
    choose_target(page, "Block grid")
    go(page, "Colour")
    page.get_by_role("button", name="A first colour", exact=True).click()
    expect(page.get_by_role("button", name="Undo a first colour")).to_be_visible()
    choose(page, "Map", "Far colour")
    expect(page.get_by_test_id("view-label")).to_contain_text("Far colour")

    def written(size: str) -> Image.Image:
        choose(page, "Size to write", size)
        with page.expect_download(timeout=90000) as download:
            page.get_by_role("link", name="Write the file").click()
        return Image.open(download.value.path())

    far = written("256 × 128")
    assert (far.size, far.mode, far.info["srgb"]) == ((256, 128), "RGB", 0)
    assert np.asarray(far).std() > 5
    choose(page, "Map", "Colour")
    fine = written("4097 × 2017")
    assert fine.size == (4097, 2017)
    near = np.asarray(fine.resize((256, 128), Image.Resampling.BOX)).astype(float)
    assert np.abs(near - np.asarray(far)).mean() < 6
    page.get_by_role("button", name="What does it gain?").click()
    expect(page.get_by_test_id("gained")).to_be_visible()
    undo_all(page)


def test_an_aerial_image_is_laid_on_corrected_and_seen_far_away_only(page: Page, tmp_path: Path) -> None:
    (tmp_path / "aerial.png").write_bytes(aerial(200, 400))
    open_project(page, "Skerry Sound", "Colour")
    page.get_by_role("button", name="A first colour", exact=True).click()
    page.get_by_test_id("picture-file").set_input_files(tmp_path / "aerial.png")
    expect(page.get_by_text("It is there: lay it with + Coat")).to_be_visible()
    before = painted(page)
    add_coat(page, "Aerial image")
    expect(page.get_by_role("button", name="Undo add aerial image")).to_be_visible()
    laid = painted(page)
    assert laid != before
    page.get_by_role("button", name="Look beside plain enlargement").click()
    expect(page.get_by_text("A sample of the picture covers 7.7\u00a0m")).to_be_visible()
    page.get_by_role("button", name="Samples here").click()
    page.get_by_role("menuitem", name="0.188\u00a0m").click()
    expect(page.get_by_role("button", name="Samples here")).to_have_text("0.188\u00a0m")
    expect(page.get_by_test_id("enlarged")).to_be_visible()
    go(page, "Readings")
    page.get_by_role("button", name="aerial", exact=True).click()
    east = page.get_by_label("East of aerial")
    east.focus()
    page.keyboard.press("ArrowUp")
    expect(page.get_by_role("button", name=re.compile("Undo east of"))).to_be_visible()
    go(page, "Colour")
    add_coat(page, "Match")
    expect(page.get_by_role("button", name=re.compile("Undo add match"))).to_be_visible()
    page.get_by_role("button", name="More for Aerial image").click()
    page.get_by_role("menuitem", name="Seen far away only").click()
    expect(page.get_by_role("button", name=re.compile("Undo aerial image: seen"))).to_be_visible()
    near = painted(page)
    choose(page, "Map", "Far colour")
    assert painted(page) != near
    undo_all(page)
