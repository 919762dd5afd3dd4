"""What journeys through the pages do again and again."""

from __future__ import annotations

from playwright.sync_api import Page, expect


def open_project(page: Page, name: str, waypoint: str = "Ground") -> None:
    page.goto("/")
    page.get_by_role("link", name=f"Open {name}", exact=True).click()
    go(page, waypoint)


def go(page: Page, waypoint: str) -> None:
    page.get_by_role("navigation").get_by_role("link", name=waypoint).click()
    expect(page.get_by_role("region", name=waypoint, exact=True)).to_be_visible()
    expect(page.get_by_label("Computing the map")).to_be_hidden()


def painted(page: Page) -> str:
    """What the plan's canvas holds once it has been drawn, without the labels that lie over it."""
    expect(page.get_by_label("Computing the map")).to_be_hidden()
    drawn = "c => new Promise(r => requestAnimationFrame(() => requestAnimationFrame(() => r(c.toDataURL()))))"
    return str(page.get_by_test_id("plan").evaluate(drawn))


def drag_handle(page: Page, name: str, pixels: int) -> None:
    box = page.locator(f"[data-handle={name}]").bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + pixels / 2, y, steps=4)
    page.mouse.move(x + pixels, y, steps=4)


def make_mask(page: Page, name: str) -> None:
    page.get_by_role("button", name="New mask", exact=True).click()
    page.get_by_role("textbox", name="Name").fill(name)
    page.get_by_role("button", name="Make it").click()
    page.get_by_role("button", name="+ Take…").click()
    page.get_by_role("menuitem", name="Take", exact=False).first.click()
    expect(page.get_by_role("list", name=f"Recipe of {name}").get_by_role("listitem")).to_have_count(1)
