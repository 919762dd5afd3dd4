"""What journeys through the pages do again and again."""

from __future__ import annotations

import os
import re
import signal
import subprocess
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from typing import Any

from playwright.sync_api import Locator, Page, expect

from tests.support.site import Site


def open_project(page: Page, name: str, waypoint: str = "Ground") -> None:
    page.goto("/")
    page.get_by_role("link", name=f"Open {name}", exact=True).click()
    go(page, waypoint)


def own_project(page: Page, name: str, heights: bytes, waypoint: str) -> None:
    """A project of its own, of a heightmap from 0 to 300 m and every 5 m with water in it, open at a waypoint."""
    # The shelf brings the token that changes need.
    page.request.get("/")
    token = next(cookie["value"] for cookie in page.context.cookies() if cookie["name"] == "csrftoken")

    def post(path: str, **content: Any) -> Any:
        answer = page.request.post(path, headers={"X-CSRFToken": token}, **content)
        assert answer.ok, answer.text()
        return answer.json()

    file = {"name": f"{name}.png", "mimeType": "image/png", "buffer": heights}
    found = post("/api/heightmaps", multipart={"file": file})
    measures = {"heights": "range", "low": 0, "high": 300, "spacing_x": 5, "spacing_y": 5, "water": 40}
    source = {"asset": found["asset"], "name": found["name"]}
    made = post("/api/projects", data={"name": name, "source": source, **measures})
    page.goto(f"/project/{made['id']}/{waypoint}")
    expect(page.get_by_label("Computing the map")).to_be_hidden(timeout=30000)
    # What comes in above moves what is below, perhaps between pressing and letting go.
    expect(page.get_by_text("Looking for stairs")).to_be_hidden(timeout=30000)


def go(page: Page, waypoint: str) -> None:
    page.get_by_role("navigation").get_by_role("link", name=waypoint).click()
    expect(page.get_by_role("region", name=waypoint, exact=True)).to_be_visible()
    # On a ground that was never opened, whole-ground runs come first.
    expect(page.get_by_label("Computing the map")).to_be_hidden(timeout=30000)


def painted(page: Page) -> str:
    """What the plan's canvas holds once it has been drawn, without the labels that lie over it."""
    expect(page.get_by_label("Computing the map")).to_be_hidden(timeout=30000)
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


def make_layers(page: Page, *masks: str) -> None:
    """Layers of some masks, on top, in one go."""
    page.get_by_role("button", name="+ Layers").click()
    for mask in masks:
        page.get_by_role("dialog").get_by_label(mask, exact=False).first.check()
    page.get_by_role("button", name=re.compile("^Make [0-9]+ layer")).click()
    for mask in masks:
        expect(page.get_by_role("listitem", name=f"Layer {mask}")).to_be_visible()


def started(page: Page) -> tuple[int, Locator]:
    """Deliver: the number it got, and what the card says of it. The site may hold deliveries of other journeys."""
    with page.expect_response(lambda r: r.url.endswith("/deliveries") and r.request.method == "POST") as answer:
        page.get_by_role("button", name=re.compile("^Deliver [0-9]+ files?$")).click()
    number = int(answer.value.json()["number"])
    return number, page.get_by_role("group", name=f"Delivery {number}", exact=True)


def checked(page: Page, number: int) -> Locator:
    """The verdict on a delivery, once it is there."""
    go(page, "Fit check")
    expect(page.get_by_role("button", name="Which delivery")).to_contain_text(f"delivery {number}")
    page.get_by_role("button", name=re.compile("^Check (the fit|again)$")).click()
    verdict = page.get_by_test_id("verdict")
    expect(verdict).to_be_visible(timeout=60000)
    return verdict


@contextmanager
def held(page: Page, site: Site) -> Iterator[int]:
    """The worker's process, held still once something of the newest delivery is made: it may be done before the page
    looks again. Afterwards it goes on, if it is still there."""
    project = page.url.split("/project/")[1].split("/")[0]
    latest = time.monotonic() + 60
    while (job := page.request.get(f"/api/projects/{project}/deliveries").json()[0]["job"])["progress"] < 0.1:
        assert job["state"] in ("waiting", "running")
        assert time.monotonic() < latest, "nothing of it was made"
    worker = ["pgrep", "-P", str(site.process.pid), "-f", "django worker"]
    pid = int(subprocess.run(worker, capture_output=True, text=True, check=True).stdout)
    os.kill(pid, signal.SIGSTOP)
    try:
        yield pid
    finally:
        with suppress(ProcessLookupError):
            os.kill(pid, signal.SIGCONT)


def add_coat(page: Page, kind: str) -> None:
    """A coat of a kind, on top."""
    before = page.get_by_role("list", name="Coats, top first").get_by_role("listitem").count()
    page.get_by_role("button", name="Coat", exact=True).click()
    page.get_by_role("menuitem", name=re.compile(f"^{kind}")).click()
    expect(page.get_by_role("list", name="Coats, top first").get_by_role("listitem")).to_have_count(before + 1)


def undo_all(page: Page) -> None:
    """Back to how the project was found, step by step."""
    undo = page.get_by_role("button", name=re.compile("^Undo"))
    while undo.is_enabled():
        with page.expect_response(re.compile("/undo$")):
            undo.click()
        expect(page.get_by_text("Saved", exact=True)).to_be_visible()


def recipe(page: Page, name: str) -> Locator:
    return page.get_by_role("list", name=f"Recipe of {name}")


def line(page: Page, number: int) -> Locator:
    return page.get_by_role("listitem", name=f"Line {number}", exact=True)


def then(page: Page, verb: str) -> None:
    lines = page.get_by_role("listitem", name=re.compile("^Line "))
    count = lines.count()
    page.get_by_role("button", name=re.compile(r"^\+ (Then|Take)…")).click()
    page.get_by_role("menuitem", name=re.compile(f"^{verb}")).first.click()
    expect(lines).to_have_count(count + 1)


def read(scope: Locator, page: Page, choice: str, label: str = "What is read") -> None:
    scope.get_by_label(label).click()
    page.get_by_role("menuitem", name=choice, exact=True).click()
    expect(page.get_by_role("menu")).to_be_hidden()
    expect(scope).not_to_contain_text("is coming…")


def number(scope: Locator, page: Page, label: str, value: str) -> None:
    scope.get_by_role("spinbutton", name=label, exact=True).click()
    field = page.get_by_label(f"{label}, typed")
    field.fill(value)
    field.press("Enter")
    expect(field).to_be_hidden()


def between(scope: Locator, page: Page, low: str, high: str) -> None:
    """A band with two edges."""
    scope.get_by_role("button", name="Which side of the edge").click()
    page.get_by_role("menuitem", name="between two edges").click()
    edges = [("Lower edge", low), ("Upper edge", high)]
    # One edge ends where the other stands: the one that makes room goes first.
    stands = scope.get_by_role("spinbutton", name="Upper edge", exact=True).get_attribute("aria-valuenow")
    for edge, value in reversed(edges) if float(low) > float(stands or 0) else edges:
        number(scope, page, edge, value)


def covers(page: Page, name: str) -> float:
    """Hundredths of the ground that a mask covers; its tile says so, once the newest numbers are there."""
    expect(page.get_by_text("Saved", exact=True)).to_be_visible()
    project = f"/api/projects/{page.url.split('/project/')[1].split('/')[0]}"
    masks = page.request.get(project).json()["document"]["masks"]
    mask = next(mask["id"] for mask in masks if mask["name"] == name)
    mean = float(page.request.get(f"{project}/stats", params={"name": f"mask:{mask}"}).json()["mean"])
    tile = page.get_by_role("button", name=re.compile(f"^{name} \\d"))
    expect(tile).to_contain_text(f"{mean * 100:.0f} %")
    return mean * 100


def spot(page: Page, x: float, y: float) -> tuple[float, float]:
    """A place on the plan by its share of the ground, the whole of which is in view."""
    box = page.get_by_test_id("plan").bounding_box()
    assert box
    side = min(box["width"], box["height"]) - 36
    return box["x"] + box["width"] / 2 + (x - 0.5) * side, box["y"] + box["height"] / 2 + (y - 0.5) * side


def opens(button: Locator, what: Locator) -> None:
    """Press until it opens: on a busy machine, what comes in above may move a button away under the finger."""
    for _ in range(3):
        button.click()
        with suppress(AssertionError):
            expect(what).to_be_visible(timeout=10000)
            return
    expect(what).to_be_visible()


def choose_size(page: Page, size: str) -> None:
    """The size nearest to one that is typed, on the delivery's card."""
    typed = page.get_by_label("Samples, or columns × rows")
    opens(page.get_by_role("button", name=re.compile("^Size: ")), typed)
    typed.fill(size)
    page.get_by_role("listbox", name="Sizes that are taken").get_by_role("option").first.click()
    expect(page.get_by_role("dialog")).to_be_hidden(timeout=30000)


def choose_target(page: Page, title: str) -> None:
    option = page.get_by_role("option", name=title, exact=False).first
    opens(page.get_by_role("button", name=re.compile("^Target: ")), option)
    option.click()
    page.get_by_role("button", name=f"Deliver to {title}", exact=True).click()
    expect(page.get_by_role("dialog")).to_be_hidden(timeout=30000)
