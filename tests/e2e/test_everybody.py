"""Everything can be used by everybody: every waypoint and dialog, in both schemes, held against WCAG 2.2 A and AA."""

from __future__ import annotations

import re
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.support.pages import go, open_project
from tests.support.site import ROOT

pytestmark = pytest.mark.e2e
RULES = "frontend/node_modules/axe-core/axe.min.js"
LEVELS = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]
WAYPOINTS = ["Ground", "Readings", "Masks", "Layers", "Colour", "Packing", "Delivery", "Fit check"]
DIALOG, MENU, PART = "[role=dialog]", "[role=menu]", "[role=region]"
# A waypoint, the button (and the entry of its menu) that opens something there, and what that is.
OPENED = [
    ("Ground", "Replace…", None, DIALOG),
    ("Masks", "New mask", None, DIALOG),
    ("Masks", "More for masks", "Overlap and gaps…", f"{PART}[aria-label='Overlap and gaps']"),
    ("Masks", "More for masks", "Bring in finished masks…", DIALOG),
    ("Masks", "More for Scree", "Rename…", DIALOG),
    ("Masks", "More for Scree", "Delete", DIALOG),
    ("Masks", "More for Scree", "Take the edited one back…", f"{PART}[aria-label='Take Scree back']"),
    ("Masks", "More for line 1", "Add a note…", DIALOG),
    ("Masks", "More for line 1", "Copy to another mask…", DIALOG),
    ("Masks", "More for line 1", "Make a piece from here…", DIALOG),
    ("Layers", "More for Scree", "Rename…", DIALOG),
    ("Layers", "+ Layers", None, DIALOG),
    ("Layers", "More for layers", "Bring textures in…", DIALOG),
    ("Colour", "Coat", None, MENU),
    ("Colour", "More for Ramp", "Make a piece from here up…", DIALOG),
    ("Packing", "New sheet", None, DIALOG),
    ("Packing", "More for splat_a", "Rename…", DIALOG),
    ("Packing", "Take an image apart…", None, DIALOG),
    ("Packing", "Propose sheets", None, MENU),
    ("Delivery", "Target: Block grid", None, DIALOG),
    ("Delivery", "Size: 1009 × 1009", None, DIALOG),
]


def faults(page: Page, where: str = "html", only: list[str] | None = None) -> list[str]:
    """What breaks a rule (or one of some rules) within ``where``, with the first place of each."""
    page.evaluate("rules => { if (!window.axe) window.eval(rules); }", (ROOT / RULES).read_text())
    run = "([where, rules]) => axe.run(where, {runOnly: rules})"
    found: dict[str, Any] = page.evaluate(run, [where, only or LEVELS])
    assert len(found["passes"]) >= (len(only) if only else 6), "the rules were not run"
    return [f"{fault['id']}: {fault['nodes'][0]['html'][:200]}" for fault in found["violations"]]


def settled(page: Page, opened: str = "html") -> None:
    expect(page.locator(opened)).to_be_visible()
    expect(page.get_by_label("Computing the map")).to_be_hidden()
    page.evaluate("() => Promise.all(document.getAnimations().map(a => a.finished.catch(() => undefined)))")


@pytest.mark.parametrize("scheme", ["day", "dusk"])
def test_every_waypoint(page: Page, scheme: str) -> None:
    page.goto("/")
    expect(page.get_by_role("link", name="Open Lantern Moor", exact=True)).to_be_visible()
    # Only colours change with the scheme.
    only = ["color-contrast"] if scheme == "dusk" else None
    found = {"Shelf": faults(page, only=only)}
    open_project(page, "Lantern Moor")
    if scheme == "dusk":
        page.get_by_role("button", name="Dusk colours").click()
        expect(page.locator("html")).to_have_attribute("data-scheme", re.compile("dark"))
    for waypoint in WAYPOINTS:
        go(page, waypoint)
        settled(page)
        found[waypoint] = faults(page, only=only)
    page.get_by_role("link", name="Threads").click()
    settled(page)
    found["Threads"] = faults(page, only=only)
    assert {where: said for where, said in found.items() if said} == {}


def test_every_dialog_and_menu(page: Page) -> None:
    open_project(page, "Lantern Moor")
    found, here = {}, "Ground"
    for waypoint, button, entry, what in OPENED:
        if here != waypoint:
            go(page, waypoint)
            here = waypoint
        page.get_by_role("button", name=button, exact=True).first.click()
        if entry is not None:
            page.get_by_role("menuitem", name=entry).click()
            expect(page.get_by_role("menu")).to_have_count(0)
        settled(page, what)
        found[f"{button}, {entry}"] = faults(page, what)
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog").or_(page.get_by_role("menu"))).to_have_count(0)
    page.get_by_role("button", name="Names of files", exact=False).first.click()
    settled(page, "[role=presentation] input[aria-describedby]")
    found["Names of files"] = faults(page)
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Target: Block grid", exact=True).click()
    page.get_by_role("button", name="Copy as an own one…").click()
    expect(page.get_by_role("status", name="What it makes of this project")).to_contain_text("It holds together")
    found["The rules of a target"] = faults(page, DIALOG)
    page.get_by_role("button", name="Back").click()
    page.get_by_role("button", name="Close").click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.keyboard.press("?")
    settled(page, DIALOG)
    found["?"] = faults(page, DIALOG)
    page.goto("/")
    page.get_by_role("button", name="New from a heightmap").click()
    settled(page, DIALOG)
    found["New from a heightmap"] = faults(page, DIALOG)
    assert {where: said for where, said in found.items() if said} == {}


def test_a_whole_journey_by_keyboard(page: Page) -> None:
    """From the shelf to a mask, a layer, a channel and a plan of the delivery, without a pointer."""

    def press(name: str, role: Any = "button") -> None:
        found = page.get_by_role(role, name=name, exact=True).first
        found.focus()
        expect(found).to_be_focused()
        page.keyboard.press("Enter")

    page.goto("/")
    press("Open Skerry Sound", "link")
    expect(page.get_by_role("region", name="Ground", exact=True)).to_be_visible()
    page.keyboard.press("3")
    expect(page.get_by_role("region", name="Masks", exact=True)).to_be_visible()
    press("New mask")
    page.keyboard.type("Ledges")
    page.keyboard.press("Enter")
    press("+ Take…")
    expect(page.get_by_role("menuitem").first).to_be_focused()
    page.keyboard.press("Enter")
    line = page.get_by_role("list", name="Recipe of Ledges").get_by_role("listitem").first
    expect(line).to_be_visible()
    page.get_by_role("slider", name="Lower edge").focus()
    before = page.get_by_role("slider", name="Lower edge").get_attribute("aria-valuenow")
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("button", name=re.compile("Undo lower edge to"))).to_be_visible()
    assert page.get_by_role("slider", name="Lower edge").get_attribute("aria-valuenow") != before
    view = page.get_by_role("radiogroup", name="Look at the mask as").or_(page.get_by_role("radiogroup")).first
    view.get_by_role("radio", checked=True).focus()
    page.keyboard.press("ArrowRight")
    expect(view.get_by_role("radio").nth(1)).to_be_focused()
    expect(view.get_by_role("radio").nth(1)).to_be_checked()
    page.keyboard.press("ArrowLeft")
    page.keyboard.press("4")
    expect(page.get_by_role("region", name="Layers", exact=True)).to_be_visible()
    press("+ Layers")
    page.get_by_role("checkbox", name="Ledges").focus()
    page.keyboard.press("Space")
    press("Make 1 layer")
    expect(page.get_by_role("listitem", name="Layer Ledges")).to_be_visible()
    page.keyboard.press("6")
    expect(page.get_by_role("region", name="Packing", exact=True)).to_be_visible()
    press("Propose sheets")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Undo propose sheets")).to_be_visible()
    page.keyboard.press("7")
    expect(page.get_by_role("region", name="Delivery", exact=True)).to_contain_text("splat_a")
    for done in ("propose sheets", "new layer Ledges", "lower edge", "add take", "new mask Ledges"):
        expect(page.get_by_role("button", name=re.compile(f"Undo {done}", re.I))).to_be_visible()
        page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name="Redo new mask Ledges")).to_be_visible()
