"""From what shaped the ground to masks that follow it: through the real pages, on a project of its own."""

from __future__ import annotations

import json
import re
from pathlib import Path

import imagecodecs
import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.support.ground import png16
from tests.support.pages import (
    between,
    choose_size,
    go,
    line,
    make_mask,
    number,
    opens,
    painted,
    read,
    recipe,
    spot,
    then,
)

pytestmark = pytest.mark.e2e
REPAINTED = "was => document.querySelector('[data-testid=plan]').toDataURL() !== was"


def mask_on_ground(page: Page) -> np.ndarray:
    """The first mask of the project in view as the server gives it, 0 to 1."""
    project = re.findall(r"/projects?/([^/?#]+)", page.url)[0]
    [first, *_] = page.request.get(f"/api/projects/{project}").json()["document"]["masks"]
    answer = page.request.get(f"/api/projects/{project}/maps/mask:{first['id']}")
    shape = json.loads(answer.headers["x-map-shape"])
    values = np.frombuffer(answer.body(), np.uint8).reshape(shape["rows"], shape["cols"])
    return np.asarray(values / 255.0)


def test_fans_are_masked_by_what_an_erosion_laid_down(fell: Page) -> None:
    page = fell
    go(page, "Ground")
    erode = page.get_by_role("menuitem", name="Erode")
    opens(page.get_by_role("button", name="+ Then…"), erode)
    erode.click()
    erode = page.get_by_test_id("step-erode")
    expect(erode).to_be_visible()
    go(page, "Masks")
    make_mask(page, "Fans")
    read(line(page, 1), page, "deposition of erode")
    expect(recipe(page, "Fans")).to_contain_text("deposition of erode")
    expect(page.get_by_role("button", name="Undo read deposition of erode")).to_be_visible()
    fans = mask_on_ground(page)
    assert 0.02 < fans.mean() < 0.6

    go(page, "Ground")
    number(erode, page, "Strength of the step", "60")
    expect(page.get_by_role("button", name="Undo change erode")).to_be_visible()
    go(page, "Masks")
    painted(page)
    weaker = mask_on_ground(page)
    assert np.corrcoef(fans.ravel(), weaker.ravel())[0, 1] > 0.8
    assert weaker.mean() > fans.mean() / 3
    go(page, "Ground")
    erode.get_by_label("Mute this step").click()
    go(page, "Masks")
    expect(page.get_by_role("region", name="Masks")).to_contain_text("Erode, is muted: it left nothing")


def fields(rows: int, cols: int) -> bytes:
    """An aerial image: green, with a brown field in its north-west."""
    image = np.empty((rows, cols, 3), np.uint8)
    image[:] = (84, 122, 60)
    image[: rows // 2, : cols // 2] = (150, 112, 70)
    return bytes(imagecodecs.png_encode(image))


def test_a_road_is_drawn_over_an_aerial_image_and_kept_clear_of_plants(fell: Page, tmp_path: Path) -> None:
    page = fell
    (tmp_path / "aerial.png").write_bytes(fields(253, 253))
    go(page, "Readings")
    page.get_by_test_id("picture-file").set_input_files(tmp_path / "aerial.png")
    expect(page.get_by_test_id("view-label")).to_contain_text("aerial")
    page.get_by_role("button", name="Likeness to a colour…").click()
    page.mouse.click(*spot(page, 0.25, 0.25))
    expect(page.get_by_role("button", name=re.compile("Undo .*colour"))).to_be_visible()

    go(page, "Masks")
    make_mask(page, "Field")
    read(line(page, 1), page, "likeness to a colour")
    expect(recipe(page, "Field")).to_contain_text("likeness to a colour")
    painted(page)
    field = mask_on_ground(page)
    assert field[40:90, 40:90].min() > 0.9
    assert field[160:, 160:].max() < 0.1

    page.get_by_label("Laid over").click()
    shaded = painted(page)
    page.get_by_role("menuitem", name="aerial").click()
    expect(page.get_by_test_id("view-label")).to_contain_text("over aerial")
    page.wait_for_function(REPAINTED, arg=shaded)
    page.get_by_role("radio", name="Drawn").click()
    page.get_by_label("Kind of line").click()
    page.get_by_role("menuitem", name="road").click()
    page.get_by_role("button", name="Line", exact=True).click()
    for place in ((0.1, 0.1), (0.4, 0.4)):
        page.mouse.click(*spot(page, *place))
    page.keyboard.press("Enter")
    road = page.get_by_role("list", name="Drawn lines").get_by_role("listitem")
    expect(road).to_contain_text("Road")

    page.get_by_role("radio", name="Scatter").click()
    page.get_by_role("button", name="Scatter something").click()
    dots = page.get_by_test_id("scatter-dots")
    expect(dots).to_have_attribute("data-dots", re.compile("[1-9]"))
    everywhere = int(dots.get_attribute("data-dots") or 0)
    page.get_by_role("button", name="+ keep away from…").click()
    page.get_by_role("menuitem", name="Road").click()
    number(page.get_by_role("region", name="Masks"), page, "Distance 1", "80")
    expect(page.get_by_role("region", name="Masks")).to_contain_text("none within 80 m of Road")
    expect(dots).not_to_have_attribute("data-dots", str(everywhere))
    assert 0 < int(dots.get_attribute("data-dots") or 0) < everywhere


def test_a_seed_is_chosen_among_eight(fell: Page) -> None:
    page = fell
    make_mask(page, "Patches")
    then(page, "Fray")
    before = painted(page)
    line(page, 2).get_by_label("Try seeds for seed").click()
    tries = page.get_by_role("group", name="Seeds for seed")
    expect(tries.locator("[data-state=there]")).to_have_count(8, timeout=20000)
    pictures = tries.locator("canvas").evaluate_all("all => all.map((one) => one.toDataURL())")
    assert len(set(pictures)) == 8
    fifth = tries.get_by_role("button", name=re.compile("^Seed ")).nth(4)
    seed = (fifth.get_attribute("aria-label") or "").removeprefix("Seed ")
    fifth.click()
    expect(line(page, 2).get_by_role("spinbutton", name="Seed")).to_have_attribute("aria-valuenow", seed)
    assert painted(page) != before


def smooth(side: int) -> np.ndarray:
    """A ground without roughness: what differs at another size differs by its recipe."""
    y, x = np.mgrid[0:side, 0:side] / side
    z = 1.2 + np.sin(6 * x + 1) * np.cos(5 * y)
    return np.round(z / z.max() * 60000).astype(np.uint16)


def test_the_final_is_looked_at_and_a_difference_is_mended(page: Page, tmp_path: Path) -> None:
    (tmp_path / "downs.png").write_bytes(png16(smooth(253)))
    page.goto("/")
    page.get_by_role("button", name="New from a heightmap").click()
    page.get_by_test_id("heightmap").set_input_files(tmp_path / "downs.png")
    page.get_by_label("High, m").fill("300")
    page.get_by_label("Spacing east–west, m").fill("5")
    page.get_by_role("button", name="Make the project").click()
    go(page, "Delivery")
    choose_size(page, "1009")
    go(page, "Masks")
    make_mask(page, "Terrace")
    read(line(page, 1), page, "height")
    between(line(page, 1), page, "120", "180")
    for fade in ("Lower fade", "Upper fade"):
        number(line(page, 1), page, fade, "0")

    page.get_by_role("switch", name=re.compile("^Final size")).click()
    panel = page.get_by_role("region", name="Draft and final")
    expect(panel).to_contain_text(
        "The view is made at the delivered size, 1 009 × 1 009".replace("1 009", "1\u202f009")
    )
    panel.get_by_role("button", name="Compare all").click()
    place = panel.get_by_role("button", name=re.compile("m E, ")).first
    expect(place).to_be_visible(timeout=30000)
    differs = page.get_by_role("region", name="Masks").get_by_title("Looks different at the delivered size")
    expect(differs).to_be_visible()
    # What is painted is made of both; until they are there the draft is seen from near by.
    shade, mask = (re.compile(f"maps/{kind}.*final=true") for kind in ("reading", "mask"))
    with page.expect_response(shade) as ground, page.expect_response(mask) as own:
        place.click()
    ground.value.finished()
    own.value.finished()
    final = painted(page)
    page.get_by_role("switch", name=re.compile("^Final size")).click()
    page.wait_for_function(REPAINTED, arg=final)
    for fade in ("Lower fade", "Upper fade"):
        number(line(page, 1), page, fade, "40")
    page.get_by_role("switch", name=re.compile("^Final size")).click()
    expect(panel).to_contain_text("changed since; compare again")
    panel.get_by_role("button", name="Compare all").click()
    expect(panel).to_contain_text("looks the same", timeout=30000)
    expect(differs).to_be_hidden()
