"""Many at once on the real server, while its worker delivers: nothing crashes, nothing differs."""

from __future__ import annotations

import hashlib
import json
import threading
import urllib.request
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.support.pages import open_project
from tests.support.site import Site

pytestmark = pytest.mark.e2e
MAPS = ("reading:slope", "reading:flow", "mask:scree", "mask:wet", "weight:base", "sheet:splat_a", "channel:data:r")


def get(url: str) -> bytes:
    with urllib.request.urlopen(url, timeout=60) as answer:
        data: bytes = answer.read()
        return data


def lantern(site: Site) -> str:
    cards: list[dict[str, Any]] = json.loads(get(f"{site.url}/api/projects"))
    return next(str(card["id"]) for card in cards if card["name"] == "Lantern Moor")


def test_concurrent_maps_while_delivering(page: Page, site: Site) -> None:
    project = lantern(site)
    base = f"{site.url}/api/projects/{project}/maps"
    expected = {name: hashlib.sha256(get(f"{base}/{name}")).hexdigest() for name in MAPS}
    open_project(page, "Lantern Moor", "Delivery")
    page.get_by_role("button", name="Deliver 4 files").click()
    seen: list[tuple[str, str]] = []
    troubles: list[str] = []

    def ask(offset: int) -> None:
        try:
            for i in range(2 * len(MAPS)):
                name = MAPS[(offset + i) % len(MAPS)]
                size = f"?size={64 + 32 * offset}" if i % 3 == 2 else ""
                data = get(f"{base}/{name}{size}")
                if not size:
                    seen.append((name, hashlib.sha256(data).hexdigest()))
        except OSError as error:
            troubles.append(str(error))

    threads = [threading.Thread(target=ask, args=(n,)) for n in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(120)
    assert troubles == []
    assert len(seen) > 50
    assert all(expected[name] == digest for name, digest in seen)
    newest = page.get_by_role("group", name="Delivery").first
    expect(newest).to_contain_text("4 files", timeout=90000)
    assert site.process.poll() is None


def test_fast_drags_never_show_an_old_position(page: Page) -> None:
    """Positions are asked for faster than they can be answered; what stays on screen is the last one."""
    open_project(page, "Lantern Moor", "Masks")
    edge = (
        page.get_by_role("list", name="Recipe of Scree").get_by_role("spinbutton", name="Lower edge", exact=True).first
    )
    handle = page.locator("[data-handle=low]")
    box = handle.bounding_box()
    assert box
    x, y = box["x"] + 12, box["y"] + 12
    page.mouse.move(x, y)
    page.mouse.down()
    for i in range(80):
        page.mouse.move(x - 40 + (i * 7) % 81, y)
    page.mouse.move(x + 30, y)
    page.mouse.up()
    expect(page.get_by_role("button", name="Undo lower edge")).to_be_visible()
    value = float(edge.get_attribute("aria-valuenow") or 0)
    assert value > 32
    label = page.get_by_test_id("view-label")
    project = page.url.split("/")[4]
    mean = page.request.get(f"/api/projects/{project}/stats?name=mask:scree").json()["mean"]
    expect(label).to_contain_text(f"covers {mean * 100:.1f} %" if mean < 0.1 else f"covers {mean * 100:.0f} %")
    page.get_by_role("button", name="Undo lower edge").click()
    expect(edge).to_have_attribute("aria-valuenow", "32")
