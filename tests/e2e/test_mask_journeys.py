"""Masks: whole journeys from a first sentence to scattered stones, through the real pages."""

from __future__ import annotations

import json
import re
from pathlib import Path

import imagecodecs
import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.support.ground import hills, png16
from tests.support.pages import (
    between,
    covers,
    drag_handle,
    go,
    line,
    make_mask,
    number,
    painted,
    read,
    recipe,
    spot,
    then,
)

pytestmark = pytest.mark.e2e


def test_scree_a_reed_margin_and_grass_as_what_neither_takes(fell: Page) -> None:
    page = fell
    make_mask(page, "Scree")
    number(line(page, 1), page, "Lower edge", "38")
    expect(line(page, 1)).to_contain_text("38° or steeper")

    make_mask(page, "Reeds")
    read(line(page, 1), page, "height over water")
    between(line(page, 1), page, "0", "4")
    then(page, "Keep only within")
    read(line(page, 2), page, "distance to water")
    between(line(page, 2), page, "0", "60")
    then(page, "Leave out")
    read(line(page, 3), page, "Scree")

    make_mask(page, "Grass")
    read(line(page, 1), page, "the number")
    number(line(page, 1), page, "Value", "1")
    for place, other in ((2, "Scree"), (3, "Reeds")):
        then(page, "Leave out")
        read(line(page, place), page, other)
    expect(recipe(page, "Grass").get_by_role("listitem")).to_have_count(3)
    page.get_by_role("button", name="More for masks").click()
    page.get_by_role("menuitem", name="Overlap and gaps…").click()
    together = page.get_by_role("region", name="Overlap and gaps")
    together.get_by_label("Grass").check()
    expect(together.get_by_role("status")).to_contain_text("None of them is strong on")
    expect(page.get_by_test_id("view-label")).to_contain_text("gaps in amber")
    together.get_by_role("button", name="Close").click()
    total = sum(covers(page, name) for name in ("Scree", "Reeds", "Grass"))
    assert 97 <= total <= 103

    page.get_by_role("button", name=re.compile("^Scree \\d")).click()
    page.get_by_role("button", name="More for Scree").click()
    page.get_by_role("menuitem", name="Delete").click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("by the mask Reeds, the mask Grass")
    dialog.get_by_role("button", name="Delete and take it out there").click()
    page.get_by_role("button", name=re.compile("^Grass \\d")).click()
    expect(recipe(page, "Grass").get_by_role("listitem")).to_have_count(2)
    page.get_by_role("button", name="Undo delete Scree").click()
    expect(recipe(page, "Grass").get_by_role("listitem")).to_have_count(3)


def test_a_faint_flow_image_is_cleaned_and_two_of_its_bands_are_used(fell: Page, tmp_path: Path) -> None:
    page = fell
    y, x = np.mgrid[0:253, 0:253]
    faint = 700 + 1500 * np.exp(-(((x - y) / 40.0) ** 2))
    (tmp_path / "rain_flow.png").write_bytes(png16(faint.astype(np.uint16)))
    (tmp_path / "readme.png").write_bytes(b"not a picture")
    page.get_by_role("button", name="More for masks").click()
    page.get_by_role("menuitem", name="Bring in finished masks…").click()
    page.get_by_test_id("finished-files").set_input_files([tmp_path / "rain_flow.png", tmp_path / "readme.png"])
    files = page.get_by_role("list", name="Files")
    expect(files).to_contain_text("becomes a new mask, Rain flow")
    expect(files).to_contain_text("readme.png")
    page.get_by_role("button", name="Bring in 1 mask").click()
    expect(recipe(page, "Rain flow").get_by_role("listitem")).to_have_count(1)
    assert covers(page, "Rain flow") <= 4

    then(page, "Levels")
    number(line(page, 2), page, "Brightest input", "0.034")
    number(line(page, 2), page, "Darkest input", "0.011")
    expect(page.get_by_role("button", name=re.compile(r"^Rain flow [1-9]\d"))).to_be_visible()
    then(page, "Cut into bands")
    bands = page.get_by_role("list", name="Bands of Rain flow")
    expect(bands.get_by_role("listitem")).to_have_count(5)
    for band in (2, 5):
        page.get_by_role("button", name=re.compile("^Rain flow \\d")).click()
        bands.get_by_role("listitem").nth(band - 1).get_by_role("button", name="Make a mask").click()
        expect(recipe(page, f"Rain flow band {band}")).to_contain_text(f"Rain flow, band {band}")
    page.get_by_role("button", name=re.compile("^Rain flow \\d")).click()
    bands.get_by_role("button", name=re.compile("^Band 5")).click()
    expect(page.get_by_test_id("view-label")).to_contain_text("Rain flow, band 5")
    bands.get_by_role("button", name=re.compile("^Band 5")).click()
    expect(page.get_by_test_id("view-label")).to_contain_text("as bands of strength")


def test_heather_is_thinned_hung_on_the_slope_and_kept_as_a_piece(fell: Page) -> None:
    page = fell
    make_mask(page, "Heather")
    read(line(page, 1), page, "height")
    number(line(page, 1), page, "Lower edge", "120")
    then(page, "Leave out")
    number(line(page, 2), page, "Lower edge", "50")
    number(line(page, 2), page, "Strength", "70")
    then(page, "Leave out")
    read(line(page, 3), page, "occlusion, mid")
    plain = painted(page)
    then(page, "Fray")
    then(page, "Drift")
    number(line(page, 5), page, "Distance", "60")
    read(line(page, 5), page, "slope, from black to white", "What steers it")
    assert painted(page) != plain
    expect(page.get_by_role("button", name=re.compile("^Undo"))).to_be_visible()
    page.get_by_role("button", name="More for line 5").click()
    page.get_by_role("menuitem", name="Add a note…").click()
    page.get_by_role("textbox", name="Note").fill("so that it hangs in the gullies")
    page.get_by_role("button", name="Keep the note").click()
    expect(line(page, 5)).to_contain_text("so that it hangs in the gullies")
    page.get_by_role("button", name="More for line 5").click()
    page.get_by_role("menuitem", name="Before | after this line").click()
    expect(page.get_by_test_id("view-label")).to_contain_text("before | after the chosen line")
    page.get_by_role("radio", name="Over", exact=True).click()
    whole = painted(page)

    page.get_by_role("button", name="More for line 4").click()
    page.get_by_role("menuitem", name="Make a piece from here…").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("textbox", name="Name").fill("Hung")
    dialog.get_by_label("Drift: distance").check()
    dialog.get_by_role("button", name="Make the piece").click()
    expect(recipe(page, "Heather").get_by_role("listitem")).to_have_count(4)
    expect(line(page, 4)).to_contain_text("Use the piece Hung")
    assert painted(page) == whole
    number(line(page, 4), page, "Drift, distance", "5")
    expect(page.get_by_role("button", name="Undo change use a piece")).to_be_visible()
    assert painted(page) != whole
    make_mask(page, "Bracken")
    then(page, "Use a piece")
    expect(line(page, 2)).to_contain_text("Hung")
    page.get_by_role("button", name="More for line 2").click()
    page.get_by_role("menuitem", name="Take the piece apart").click()
    expect(recipe(page, "Bracken").get_by_role("listitem")).to_have_count(3)

    page.get_by_role("button", name=re.compile("^Heather \\d")).click()
    page.get_by_role("button", name=re.compile("^Draft against final")).click()
    came_out = page.get_by_role("region", name="What came out of Heather")
    expect(came_out.get_by_role("status")).to_contain_text(re.compile("looks the same|Differs by up to"))
    expect(page.get_by_test_id("view-label")).to_contain_text("delivered size")


def test_a_mask_is_touched_up_sent_out_changed_and_taken_back(fell: Page, tmp_path: Path) -> None:
    page = fell
    make_mask(page, "Cliff")
    number(line(page, 1), page, "Lower edge", "60")
    then(page, "Touch up")
    expect(page.get_by_role("button", name="Put the brush away")).to_be_visible()
    before = painted(page)
    page.mouse.move(*spot(page, 0.3, 0.5))
    page.mouse.down()
    page.mouse.move(*spot(page, 0.6, 0.5), steps=12)
    page.mouse.up()
    expect(line(page, 2)).to_contain_text("1 stroke")
    one = painted(page)
    assert one != before
    page.get_by_role("radio", name="Take away").click()
    page.get_by_role("radio", name="Area", exact=True).click()
    for place in ((0.4, 0.4), (0.5, 0.4), (0.45, 0.6)):
        page.mouse.click(*spot(page, *place))
    page.keyboard.press("Enter")
    expect(line(page, 2)).to_contain_text("2 strokes")
    assert painted(page) != one
    page.keyboard.press("Control+z")
    expect(line(page, 2)).to_contain_text("1 stroke")
    assert painted(page) == one
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="Brush", exact=True)).to_be_visible()

    page.get_by_role("button", name="More for Cliff").click()
    with page.expect_download() as download:
        page.get_by_role("menuitem", name="Send out as PNG, 16 bits").click()
    image = imagecodecs.png_decode(Path(download.value.path()).read_bytes())
    assert image.shape == (253, 253)
    image[100:150, 20:90] = 65535
    back = tmp_path / "cliff_edited.png"
    back.write_bytes(png16(np.ascontiguousarray(image[:, ::-1])))
    page.get_by_role("button", name="More for Cliff").click()
    page.get_by_role("menuitem", name="Take the edited one back…").click()
    panel = page.get_by_role("region", name="Take Cliff back")
    panel.get_by_test_id("take-back-file").set_input_files(back)
    expect(panel.get_by_role("alert")).to_contain_text("flipped east–west; it is laid right")
    changed = painted(page)
    panel.get_by_role("radio", name="As it came back").click()
    expect(panel.get_by_role("button", name="Keep the file as it is")).to_be_visible()
    page.wait_for_function("before => document.querySelector('[data-testid=plan]').toDataURL() !== before", arg=changed)
    panel.get_by_role("radio", name="What was changed").click()
    panel.get_by_role("button", name="Keep what was changed").click()
    expect(line(page, 3)).to_contain_text("cliff_edited.png")
    expect(line(page, 3)).to_contain_text("Lay over what was changed outside, at 100")
    # The recipe above is alive: a slope dragged afterwards changes the mask.
    kept = painted(page)
    line(page, 1).get_by_role("spinbutton", name="Lower edge").press("ArrowRight")
    page.wait_for_function("before => document.querySelector('[data-testid=plan]').toDataURL() !== before", arg=kept)
    drawn = page.get_by_role("button", name=re.compile("^Cliff \\d"))
    expect(drawn).to_be_visible()


def test_a_recipe_is_proposed_by_pointing(fell: Page) -> None:
    page = fell
    page.get_by_role("button", name="New mask", exact=True).click()
    page.get_by_role("textbox", name="Name").fill("High")
    page.get_by_role("button", name="Make it").click()
    page.get_by_role("button", name="or point at the ground").click()
    panel = page.get_by_role("region", name="Point at the ground")
    height = hills(253, 253).astype(int)
    order = np.argsort(height[20:233, 20:233].ravel())
    places = [divmod(int(k), 213) for k in (*order[-3000::1000], *order[2000:5000:1000])]
    for i, (row, col) in enumerate(places):
        if i == 3:
            panel.get_by_role("radio", name="Should not · 0").click()
        page.mouse.click(*spot(page, (col + 20) / 252, (row + 20) / 252))
    proposal = panel.get_by_role("button", name=re.compile("^Take height")).first
    expect(proposal).to_be_visible()
    expect(proposal).to_contain_text("Holds every mark")
    expect(page.get_by_test_id("view-label")).to_contain_text(re.compile(r"covers \d"))
    proposal.click()
    panel.get_by_role("button", name="Take this recipe").click()
    expect(recipe(page, "High")).to_contain_text("Take ground where height is")
    expect(page.get_by_role("button", name=re.compile("^Mark"))).to_have_count(0)
    undo = page.get_by_role("button", name=re.compile("^Undo"))
    expect(undo).to_be_visible()


def test_paths_are_drawn_followed_and_scattered_around(fell: Page, tmp_path: Path) -> None:
    page = fell
    page.get_by_role("radio", name="Drawn").click()
    page.get_by_role("button", name="Line", exact=True).click()
    for place in ((0.2, 0.2), (0.5, 0.35), (0.8, 0.3)):
        page.mouse.click(*spot(page, *place))
    page.keyboard.press("Enter")
    drawn = page.get_by_role("list", name="Drawn lines").get_by_role("listitem")
    expect(drawn).to_have_count(1)
    expect(drawn.first).to_contain_text("3 points")
    point = page.get_by_role("button", name=re.compile("^Point 2 of Path"))
    x, y = spot(page, 0.5, 0.35)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y + 40, steps=4)
    page.mouse.up()
    expect(page.get_by_role("button", name="Undo move Path")).to_be_visible()
    point.press("ArrowRight")
    page.get_by_role("button", name="Down the flow").click()
    page.mouse.click(*spot(page, 0.6, 0.6))
    expect(drawn).to_have_count(2)
    with page.expect_download() as download:
        page.get_by_role("link", name="Send out as GeoJSON").click()
    sent = json.loads(Path(download.value.path()).read_bytes())
    assert [f["geometry"]["type"] for f in sent["features"]] == ["LineString", "LineString"]
    page.get_by_test_id("geojson-file").set_input_files(download.value.path())
    expect(page.get_by_role("alert").or_(drawn.nth(3))).to_be_visible()
    expect(drawn).to_have_count(4)
    page.get_by_role("button", name="More for Path", exact=True).click()
    page.get_by_role("menuitem", name="Make a mask of it").click()
    expect(recipe(page, "Path")).to_contain_text("Take Path as wide as 10 m")
    number(line(page, 1), page, "Width of the line", "40")

    page.get_by_role("radio", name="Scatter").click()
    page.get_by_role("button", name="Scatter something").click()
    stand = page.get_by_role("status").filter(has_text="stand on the ground")
    expect(stand).to_be_visible()
    dots = page.get_by_test_id("scatter-dots")
    expect(dots).to_have_attribute("data-dots", re.compile("[1-9]"))
    few = int(dots.get_attribute("data-dots") or 0)
    number(page.get_by_role("region", name="Masks"), page, "Density", "20")
    expect(dots).not_to_have_attribute("data-dots", str(few))
    assert int(dots.get_attribute("data-dots") or 0) > 2 * few
    number(page.get_by_role("region", name="Masks"), page, "Least distance", "4")
    expect(stand).to_contain_text("leaves room for at most 3.75 on 100 m²")
    page.get_by_role("radio", name="Relief").click()
    expect(page.get_by_test_id("relief")).to_be_visible()
    page.get_by_role("radio", name="Plan").click()
    go(page, "Delivery")
    expect(page.get_by_role("button", name="Look at fell_stones_points.csv")).to_be_visible()


def test_kits_travel_between_projects(fell: Page, tmp_path: Path) -> None:
    page = fell
    page.get_by_role("radio", name="Kits").click()
    kits = page.get_by_role("list", name="Kits", exact=True)
    kits.get_by_role("listitem").filter(has_text="High alp").get_by_role("button", name="Use").click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("to this ground's 0 – 300 m")
    expect(dialog.get_by_role("list", name="Ranges that move")).to_contain_text("Firn, line 1")
    dialog.get_by_role("button", name="Use it").click()
    expect(dialog).to_be_hidden()
    page.get_by_role("radio", name="Recipes").click()
    expect(page.get_by_role("list", name="Masks", exact=True).get_by_role("listitem")).to_have_count(5)
    page.get_by_role("button", name=re.compile("^Firn \\d")).click()
    expect(recipe(page, "Firn")).to_contain_text("Drift it downhill")
    page.get_by_role("radio", name="Kits").click()
    page.get_by_role("button", name="Save a kit…").click()
    page.get_by_role("textbox", name="Name").fill("My alp")
    page.get_by_role("button", name="Save the kit").click()
    mine = kits.get_by_role("listitem").filter(has_text="My alp")
    expect(mine).to_contain_text("Firn")
    mine.get_by_role("button", name="More for the kit My alp").click()
    with page.expect_download() as download:
        page.get_by_role("menuitem", name="Send out as a file").click()
    kit = json.loads(Path(download.value.path()).read_bytes())
    assert len(kit["masks"]) == 5
    mine.get_by_role("button", name="More for the kit My alp").click()
    page.get_by_role("menuitem", name="Delete").click()
    expect(mine).to_have_count(0)
    bad = tmp_path / "bad.json"
    bad.write_text(json.dumps({**kit, "masks": [{"id": "x", "name": "X", "lines": [{"id": "y", "verb": "melt"}]}]}))
    page.get_by_test_id("kit-file").set_input_files(bad)
    expect(page.get_by_role("alert")).to_contain_text("The kit is wrong at masks.0.lines.0")


def test_a_held_mask_is_wiped_against_another_and_a_curve_is_bent(fell: Page) -> None:
    page = fell
    make_mask(page, "One")
    page.get_by_role("button", name=re.compile("^Hold")).click()
    make_mask(page, "Two")
    then(page, "Bend")
    curve = page.get_by_role("slider", name="Point 2 of the curve")
    before = painted(page)
    curve.press("ArrowUp")
    expect(page.get_by_role("button", name="Undo change bend")).to_be_visible()
    curve.press("ArrowUp")
    assert painted(page) != before
    page.get_by_role("button", name="Wipe", exact=True).click()
    slider = page.get_by_label("Where before ends and after begins")
    expect(slider).to_be_visible()
    half = painted(page)
    slider.fill("90")
    assert painted(page) != half
    page.get_by_role("button", name="Wipe", exact=True).click()
    page.get_by_role("button", name=re.compile("^Tint colour")).click()
    assert painted(page) != half
    line(page, 1).click(position={"x": 5, "y": 5})
    drag_handle(page, "low", 20)
    page.mouse.up()
    expect(page.get_by_role("button", name=re.compile("Undo lower edge to"))).to_be_visible()
