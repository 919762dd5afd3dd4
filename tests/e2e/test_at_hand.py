"""What a hand does first: it finds its place on the screen, types, drags, renames and reads off."""

from __future__ import annotations

import io
import re
from unittest.mock import ANY

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Page, Route, expect

from tests.support.pages import drag_handle, go, line, make_mask, open_project, recipe, then

pytestmark = pytest.mark.e2e
# One of each kind that can be reached by Tab, as they look: what looks alike has its ring from the same place.
STOPS = """
() => {
  const seen = (window.seen ??= new Set()), found = [];
  for (const stop of document.querySelectorAll('[data-stop]')) delete stop.dataset.stop;
  for (const stop of document.querySelectorAll('a[href], button:not([disabled]), [tabindex="0"]')) {
    const box = stop.getBoundingClientRect(), kind = stop.tagName + stop.getAttribute('class');
    if (stop.tabIndex < 0 || box.width < 2 || box.bottom > innerHeight - 6 || seen.has(kind)) continue;
    seen.add(kind);
    stop.dataset.stop = String(found.length);
    found.push(stop.getAttribute('aria-label') || stop.textContent || kind);
  }
  return found;
}
"""


def pixels(page: Page, clip: tuple[float, float, float, float]) -> np.ndarray:
    x, y, width, height = clip
    box = {"x": x, "y": y, "width": width, "height": height}
    shot = page.screenshot(clip=box, animations="disabled")  # type: ignore[arg-type]
    return np.asarray(Image.open(io.BytesIO(shot)).convert("RGB")).astype(int)


def bare_stops(page: Page, least: int) -> list[str]:
    """What shows no ring of two pixels when it has the focus, that it does not show without."""
    expect(page.get_by_label("Computing the map")).to_be_hidden()
    names = page.evaluate(STOPS)
    assert len(names) >= least
    page.keyboard.press("Tab")
    bare = []
    for number, name in enumerate(names):
        stop = page.locator(f"[data-stop='{number}']")
        box = stop.bounding_box()
        if box is None:
            continue
        left, top = max(box["x"] - 6, 0), max(box["y"] - 6, 0)
        right, bottom = min(box["x"] + box["width"] + 6, 1280), min(box["y"] + box["height"] + 6, 800)
        clip = (left, top, right - left, bottom - top)
        stop.evaluate("stop => stop.blur()")
        without = pixels(page, clip)
        stop.focus()
        changed = (np.abs(pixels(page, clip) - without).max(axis=2) > 40).sum()
        if changed < box["width"] + box["height"]:
            bare.append(f"{name}: {changed} pixels of {box}")
    return bare


def test_the_place_of_the_keyboard_is_seen_everywhere(page: Page) -> None:
    open_project(page, "Lantern Moor", "Masks")
    assert bare_stops(page, 12) == []
    page.get_by_role("radiogroup", name="View").get_by_role("radio", name="Relief").click()
    expect(page.get_by_role("button", name="All of it in relief")).to_be_visible()
    assert bare_stops(page, 1) == []


@pytest.mark.parametrize("waypoint", ["Masks", "Layers", "Packing"])
def test_nothing_runs_over_the_card(page: Page, waypoint: str) -> None:
    open_project(page, "Lantern Moor", waypoint)
    for size in ((1024, 720), (1280, 800), (1920, 1080)):
        page.set_viewport_size({"width": size[0], "height": size[1]})
        # What folds is drawn once more.
        expect(page.get_by_role("button", name="Shown as…")).to_have_count(1 if size[0] < 1100 else 0)
        edge = page.get_by_role("region", name=waypoint, exact=True).bounding_box()
        hold = page.get_by_role("button", name="Hold H").bounding_box()
        assert edge is not None
        assert hold is not None
        assert hold["x"] + hold["width"] <= edge["x"]
        over = "view => [...view.querySelectorAll('button')].filter(b => b.scrollWidth > b.clientWidth + 1).length"
        assert page.get_by_role("region", name="View", exact=True).evaluate(over) == 0
    page.set_viewport_size({"width": 1024, "height": 720})
    page.get_by_role("button", name="Shown as…").click()
    menu = page.get_by_role("dialog", name="Shown as")
    style = menu.get_by_role("radio").nth(1)
    place = menu.bounding_box()
    style.click()
    expect(style).to_be_checked()
    # It stays where it is, though what is shown takes another bar.
    assert place is not None
    assert menu.bounding_box() == {**place, "width": ANY, "height": ANY, "x": ANY}
    page.keyboard.press("Escape")
    # A page that was just opened is drawn in other fonts at first: what they fold is unfolded when its own are there.
    fonts: list[Route] = []
    page.route("**/*.woff2", lambda route: fonts.append(route))
    page.set_viewport_size({"width": 1280, "height": 800})
    page.reload(wait_until="commit")
    expect(page.get_by_role("button", name="Hold H")).to_be_visible()
    assert fonts
    page.route("**/*.woff2", lambda route: route.continue_())
    for font in fonts:
        font.continue_()
    expect(page.get_by_role("button", name="Shown as…")).to_have_count(0)
    page.set_viewport_size({"width": 1024, "height": 720})
    # Trail and words keep clear of each other.
    trail = page.get_by_role("navigation", name="Trail of waypoints")
    assert trail.evaluate("t => [...t.querySelectorAll('p')].every(p => p.getBoundingClientRect().right < 152)")


def test_a_recipe_is_written_from_where_the_focus_is(fell: Page) -> None:
    page = fell
    make_mask(page, "Crags")
    then(page, "Leave out")
    # The next thing to be done is in the new line, and it leaves something of what there was.
    expect(line(page, 2).get_by_role("button").first).to_be_focused()
    expect(line(page, 2)).not_to_contain_text("slope")
    expect(page.get_by_test_id("view-label")).to_contain_text(re.compile(r"covers ([1-9]|\d\d)"))
    # A digit on a number edits it: to the page it would be a waypoint.
    edge = line(page, 1).get_by_role("spinbutton", name="Lower edge", exact=True)
    edge.focus()
    page.keyboard.type("21")
    page.keyboard.press("Enter")
    expect(edge).to_have_text("21°")
    expect(page.get_by_role("region", name="Masks", exact=True)).to_be_visible()
    # Neither edge moves the other.
    line(page, 1).get_by_role("button", name="Which side of the edge").click()
    page.get_by_role("menuitem", name="between two edges").click()
    upper = line(page, 1).get_by_role("spinbutton", name="Upper edge", exact=True)
    upper.focus()
    page.keyboard.type("40")
    page.keyboard.press("Enter")
    expect(upper).to_have_text("40°")
    edge.focus()
    page.keyboard.type("55")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_have_text("At most 40°, the upper edge.")
    page.keyboard.press("Escape")
    expect(edge).to_have_text("21°")
    # The middle of the band takes both edges along.
    drag_handle(page, "middle", 40)
    page.mouse.up()
    expect(page.get_by_role("button", name=re.compile("^Undo"))).to_be_visible()
    expect(edge).not_to_have_text("21°")
    low, high = (float(str(one.get_attribute("aria-valuenow"))) for one in (edge, upper))
    assert high - low == pytest.approx(19, abs=0.1)
    # A double click on the name renames.
    page.get_by_role("button", name=re.compile("^Crags ")).dblclick()
    page.get_by_role("textbox", name="Name").fill("Cliffs")
    page.keyboard.press("Enter")
    expect(recipe(page, "Cliffs")).to_be_visible()


def test_relief_is_read_off_and_layers_are_dragged_by_their_cards(page: Page) -> None:
    open_project(page, "Lantern Moor", "Readings")
    page.get_by_role("radiogroup", name="View").get_by_role("radio", name="Relief").click()
    box = page.get_by_test_id("relief").bounding_box()
    assert box
    expect(page.get_by_test_id("legend")).to_be_visible()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2, steps=3)
    expect(page.get_by_test_id("probe")).to_contain_text(re.compile(r"Height\s*\d+\.\d"))
    page.mouse.move(box["x"] + 30, box["y"] + 200)
    expect(page.get_by_test_id("probe")).to_be_hidden()
    go(page, "Layers")
    cards = page.get_by_role("listitem", name=re.compile("^Layer "))
    before = [card.get_attribute("aria-label") for card in cards.all()]
    # Taken at its name, not at the six dots.
    cards.nth(0).get_by_text(str(before[0])[6:], exact=True).first.drag_to(cards.nth(1))
    expect(cards.nth(1)).to_have_attribute("aria-label", str(before[0]))
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(cards.nth(0)).to_have_attribute("aria-label", str(before[0]))
