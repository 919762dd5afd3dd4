"""The fit check through the pages: faults are named and mended, a mistyped number is found, and a map from elsewhere is
brought onto its ground."""

from __future__ import annotations

import re
from pathlib import Path

import cv2
import imagecodecs
import numpy as np
import orjson
import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.support.delivery import rewrite
from tests.support.pages import checked, choose_size, choose_target, go, open_project, own_project, started, undo_all
from tests.support.pairs import DEMO
from tests.support.site import Site
from zigzag_meadow.core.fit.registering import shift_between

pytestmark = pytest.mark.e2e


def files_of(site: Site, page: Page, number: int) -> Path:
    project = page.url.split("/project/")[1].split("/")[0]
    return site.data / "deliveries" / project / f"{number:04d}" / "files"


def delivered(page: Page) -> int:
    number, group = started(page)
    expect(group.get_by_role("link", name=re.compile("^Zip"))).to_be_visible(timeout=120000)
    return number


def test_six_faults_are_named_and_mended(page: Page, site: Site) -> None:
    open_project(page, "Lantern Moor", "Delivery")
    choose_target(page, "Plain files")
    choose_size(page, "253")
    for title in ("Colour map", "Slope", "Peat"):
        page.get_by_label("Another map").click()
        page.get_by_role("menuitem", name=title, exact=True).click()
    number = delivered(page)
    folder = files_of(site, page, number)
    named = {path.name for path in folder.glob("*.png")}

    def harm(part: str, change) -> str:
        name = next(n for n in named if part in n)
        rewrite(folder / name, change)
        return name

    gaussian = lambda a: cv2.GaussianBlur(a, (0, 0), 2.0)  # noqa: E731
    bent = lambda a: np.round((a / 255.0) ** 0.6 * 255).astype(np.uint8)  # noqa: E731
    told = {
        harm("height", lambda a: (a >> 8) * 257): "holds 8 bits spread over 16",
        harm("splat_a", lambda a: a[:, ::-1]): "is mirrored east–west",
        harm("splat_b", lambda a: 255 - a): "is turned over",
        harm("data", lambda a: a[..., [2, 1, 0]]): "R and B are exchanged",
        harm("slope", gaussian): "is blurred, by about 2",
        harm("peat", bent): "was bent by a gamma of 0.6",
    }
    verdict = checked(page, number)
    expect(verdict).to_contain_text("6 things do not fit", timeout=60000)
    expect(page.get_by_role("navigation")).to_contain_text("a file does not fit")
    for name, words in told.items():
        finding = page.get_by_role("group", name=re.compile(f"^{re.escape(name)}.*{re.escape(words)}"))
        expect(finding.get_by_role("button", name="Write it again")).to_be_visible()
    mirrored = next(n for n in told if "splat_a" in n)
    page.get_by_role("button", name=f"Show where {mirrored} differs").click()
    expect(page.get_by_test_id("view-label")).to_contain_text("splat_a")
    for way, words in (("Wipe", "meant | rebuilt"), ("Checker", "in squares"), ("Meant", "as it was meant")):
        page.get_by_role("radio", name=way).click()
        expect(page.get_by_test_id("view-label")).to_contain_text(words)
    go(page, "Delivery")
    expect(page.get_by_role("img", name=re.compile("newest fit check.*mirrored"))).to_be_visible()
    go(page, "Fit check")
    page.get_by_role("button", name="Write it again").first.click()
    expect(page.get_by_role("button", name="Which delivery")).to_contain_text(f"delivery {number + 1}", timeout=120000)
    expect(verdict).to_contain_text("Everything fits", timeout=60000)
    report = page.request.get(page.get_by_role("link", name="as JSON").get_attribute("href") or "")
    assert report.json()["fits"]
    printed = page.request.get(page.get_by_role("link", name="As a page to print or send").get_attribute("href") or "")
    assert "Everything fits" in printed.text()
    go(page, "Delivery")
    undo_all(page)


def test_a_mistyped_number_is_found_from_three_places(page: Page, site: Site) -> None:
    open_project(page, "Lantern Moor", "Delivery")
    choose_size(page, "253")
    number = delivered(page)
    folder = files_of(site, page, number)
    note = orjson.loads((folder / "import_note.json").read_bytes())
    middle = note["height"]["stored"]["at_middle"]
    expect(checked(page, number)).to_contain_text("Everything fits", timeout=60000)
    page.get_by_role("button", name="Enter what I typed…").click()
    form = page.get_by_role("group", name="What I typed")
    # The multiplier was typed as 1.1 of what it is: so the heights there are those about the middle, times 1.1.
    for at, point in enumerate(note["check_points"][:3], 1):
        form.get_by_label(f"Place {at}, east").fill(str(point["east"]))
        form.get_by_label(f"Place {at}, north").fill(str(point["north"]))
        form.get_by_label(f"Place {at}, height").fill(f"{middle + (point['height'] - middle) * 1.1:.2f}")
    page.get_by_role("button", name="Check what I typed").click()
    finding = page.get_by_role("group", name=re.compile("^Heights there are 1.1 times those of the files"))
    expect(finding).to_be_visible(timeout=60000)
    expect(finding).to_contain_text("The multiplier of the step is at fault. Type 0.82")
    form.get_by_label("Multiplier of the step, typed").fill("0,9")
    for at in (1, 2, 3):
        form.get_by_label(f"Place {at}, height").fill("")
    page.get_by_role("button", name="Check what I typed").click()
    expect(
        page.get_by_role("group", name=re.compile("^With what was typed heights come out scaled by 1.097"))
    ).to_be_visible(timeout=60000)
    expect(finding).to_be_hidden()
    go(page, "Delivery")
    undo_all(page)


def test_a_map_from_elsewhere_is_brought_onto_its_ground(page: Page, site: Site, tmp_path: Path) -> None:
    ground = imagecodecs.png_decode((DEMO / "lantern_moor.png").read_bytes())[::3, ::3].copy()
    dy, dx = np.gradient(ground.astype(np.float32) / 65535 * 300, 5.0)
    steep = np.clip((np.degrees(np.arctan(np.hypot(dy, dx))) - 14) / 12, 0, 1)
    half = cv2.resize(steep, (168, 168), interpolation=cv2.INTER_AREA)
    moved = np.roll(half, (3, -5), (0, 1))
    moved[:3], moved[:, -5:] = 0, 0
    Image.fromarray(np.round(moved[:, ::-1] * 255).astype(np.uint8)).save(tmp_path / "steep_places.png")
    noise = np.random.default_rng(2).normal(size=(300, 300)).astype(np.float32)
    blotches = cv2.normalize(cv2.GaussianBlur(noise, (0, 0), 9), None, 0, 255, cv2.NORM_MINMAX)
    Image.fromarray(blotches.astype(np.uint8)).save(tmp_path / "blotches.png")

    own_project(page, "third", bytes(imagecodecs.png_encode(ground)), "fit")
    page.get_by_role("button", name="Line up a map…").click()
    told = page.get_by_test_id("aligned")
    page.get_by_test_id("foreign-map").set_input_files(tmp_path / "blotches.png")
    expect(told).to_contain_text("These do not belong together", timeout=60000)
    expect(page.get_by_role("button", name="Lay it over the ground")).to_be_hidden()
    page.get_by_test_id("foreign-map").set_input_files(tmp_path / "steep_places.png")
    expect(told).to_contain_text("It is mirrored east–west", timeout=60000)
    page.get_by_role("radio", name="Checker").click()
    page.get_by_role("button", name="Lay it over the ground").click()
    expect(page.get_by_role("region", name="Readings", exact=True)).to_be_visible(timeout=60000)
    go(page, "Delivery")
    choose_target(page, "Plain files")
    page.get_by_label("Another map").click()
    page.get_by_role("menuitem", name="steep_places", exact=True).click()
    number = delivered(page)
    made = imagecodecs.png_decode(next(files_of(site, page, number).glob("*steep_places*.png")).read_bytes())
    seen, meant = (
        cv2.resize(a.astype(np.float32), (168, 168), interpolation=cv2.INTER_AREA)[13:-13, 13:-13, None].astype(float)
        for a in (made, steep)
    )
    off = shift_between(seen / seen.max(), meant, 0.25)
    assert off is not None
    assert max(abs(off[0]), abs(off[1])) < 0.5
    assert np.corrcoef(seen.ravel(), meant.ravel())[0, 1] > 0.95
