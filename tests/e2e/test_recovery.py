"""What goes wrong on the way, on the real pages: lost requests, lost contexts, a project that cannot be read."""

from __future__ import annotations

import http.client
import json
import re
import sqlite3
import urllib.request

import pytest
from playwright.sync_api import Page, Route, expect

from tests.support.kills import wait_for
from tests.support.pages import go, open_project
from tests.support.site import Site

pytestmark = pytest.mark.e2e

CONTEXTS = """
(() => {
  const made = [];
  const real = HTMLCanvasElement.prototype.getContext;
  HTMLCanvasElement.prototype.getContext = function (kind, ...more) {
    const context = real.call(this, kind, ...more);
    if (context && String(kind).startsWith("webgl") && !made.includes(context)) made.push(context);
    return context;
  };
  window.aliveContexts = () => made.filter((context) => !context.isContextLost()).length;
  window.madeContexts = () => made.length;
})();
"""


def test_a_lost_request_does_not_end_live_previews(page: Page, site: Site) -> None:
    """Nobody answers in the middle of a drag: the drag goes on, and the next position is shown."""
    open_project(page, "Lantern Moor", "Masks")
    lost: list[str] = []
    asked: list[str] = []

    def lose(route: Route) -> None:
        asked.append(route.request.url)
        if len(asked) in (2, 3):
            lost.append(route.request.url)
            route.abort("connectionreset")
        else:
            route.continue_()

    page.route("**/preview", lose)
    token = (
        page.get_by_role("list", name="Recipe of Scree").get_by_role("spinbutton", name="Lower edge", exact=True).first
    )
    box = token.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    with page.expect_response(lambda answer: "/preview" in answer.url and len(lost) == 2 and answer.ok):
        for step in range(60):
            page.mouse.move(x + 4 + step, y)
            page.wait_for_function("() => new Promise((done) => setTimeout(() => done(true), 30))")
    assert len(lost) == 2
    page.keyboard.press("Escape")
    page.mouse.up()
    page.unroute("**/preview")


def test_contexts_are_given_back(fell: Page) -> None:
    """More often than a browser has contexts (sixteen): Relief and back."""
    page = fell
    page.add_init_script(CONTEXTS)
    warnings: list[str] = []
    page.on("console", lambda message: warnings.append(message.text) if "WebGL" in message.text else None)
    page.reload()
    expect(page.get_by_test_id("plan")).to_be_visible()
    for _ in range(18):
        page.keyboard.press("p")
        expect(page.get_by_test_id("relief")).to_be_visible()
        page.keyboard.press("p")
        expect(page.get_by_test_id("plan")).to_be_visible()
    page.wait_for_function("() => window.aliveContexts() === 0")
    assert page.evaluate("window.madeContexts()") >= 18
    assert [text for text in warnings if "Too many active" in text] == []


def test_a_project_that_cannot_be_read_is_led_back(page: Page, site: Site) -> None:
    page.goto("/")
    page.get_by_role("button", name="More for Skerry Sound").click()
    page.get_by_role("menuitem", name="Duplicate").click()
    copy = page.get_by_role("listitem", name="Skerry Sound copy")
    expect(copy).to_be_visible()
    copy.get_by_role("link", name="Open Skerry Sound copy").click()
    go(page, "Masks")
    page.get_by_role("button", name="New mask", exact=True).click()
    page.get_by_role("button", name="Make it").click()
    expect(page.get_by_role("button", name=re.compile("^Undo"))).to_be_visible()
    page.goto("/")
    expect(copy).to_be_visible()
    with sqlite3.connect(site.data / "meadow.sqlite3") as store:
        row = store.execute("SELECT id, head FROM server_project WHERE name = 'Skerry Sound copy'").fetchone()
        assert row[1] > 1
        told = "SELECT document FROM server_revision WHERE project_id = ? AND document IS NOT NULL"
        text = store.execute(told, row[:1]).fetchone()[0]
        newer = json.dumps({**json.loads(text), "version": 9})
        store.execute("UPDATE server_revision SET document = ? WHERE project_id = ? AND number = ?", (newer, *row))
        store.execute("UPDATE server_project SET summary = NULL WHERE id = ?", row[:1])
    store.close()
    page.reload()
    expect(copy).to_contain_text("This project cannot be opened.")
    expect(page.get_by_role("link", name="Open Lantern Moor", exact=True)).to_be_visible()
    with page.expect_download() as saved:
        copy.get_by_role("link", name="Save it out").click()
    assert saved.value.suggested_filename == "skerry_sound_copy.meadow.zip"
    copy.get_by_role("button", name="Go back to what can be read").click()
    expect(copy.get_by_role("link", name="Open Skerry Sound copy")).to_be_visible()
    page.get_by_role("button", name="More for Skerry Sound copy").click()
    page.get_by_role("menuitem", name="Delete").click()
    expect(copy).to_be_hidden()


def test_what_nobody_waits_for_is_stopped(page: Page, site: Site) -> None:
    """A page that goes away drops its connection, and the erosion that it asked for ends within a moment."""
    cards = json.loads(urllib.request.urlopen(f"{site.url}/api/projects", timeout=20).read())
    project = next(card["id"] for card in cards if card["name"] == "Lantern Moor")

    def working() -> list[dict[str, object]]:
        tasks: list[dict[str, object]] = json.loads(
            urllib.request.urlopen(f"{site.url}/api/projects/{project}/working", timeout=20).read()
        )
        return tasks

    state = json.loads(urllib.request.urlopen(f"{site.url}/api/projects/{project}", timeout=20).read())
    assert all(reading["name"] != "scour_long" for reading in state["readings"])
    wire = http.client.HTTPConnection("127.0.0.1", int(site.url.rpartition(":")[2]))
    # Erosion of the ground as it was never asked for before: rain that takes half a minute.
    page.goto("/")
    token = page.evaluate("document.cookie.match(/csrftoken=([^;]+)/)[1]")
    setting = {"id": "scour_long", "kind": "scour", "name": "Long scour", "numbers": {"rain": 4.0, "seed": 77}}
    body = {"base": state["revision"], "tab": "t", "operations": [{"op": "add_reading", "setting": setting}]}
    made = page.request.post(f"/api/projects/{project}/edits", data=body, headers={"X-CSRFToken": token})
    assert made.ok, made.text()
    wire.request("GET", f"/api/projects/{project}/maps/reading:scour_long")
    wait_for("the run on the board", lambda: bool(working()), 20)
    assert float(str(working()[0]["share"])) < 0.7
    wire.close()
    wait_for("the end of what nobody waits for", lambda: not working(), 5)
    undo = page.request.post(
        f"/api/projects/{project}/undo", data={"base": made.json()["revision"]}, headers={"X-CSRFToken": token}
    )
    assert undo.ok
