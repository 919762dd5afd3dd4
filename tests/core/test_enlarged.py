"""Aerial images that are coarser than the map: enlarged sharply, with the grain of what is worn in their colours."""

from __future__ import annotations

import imagecodecs
import numpy as np
import pytest

from tests.support.painting import painted, painted_document
from zigzag_meadow.core.colour.coats.grain import with_grain
from zigzag_meadow.core.errors import BadNumber, NotFound
from zigzag_meadow.core.readings.colours import sample_of
from zigzag_meadow.core.readings.enlarged import enlarged
from zigzag_meadow.core.reports.detail import enlarged_beside_plain
from zigzag_meadow.core.srgb import linear
from zigzag_meadow.core.stripes import Stripes

PIXELS = np.random.default_rng(5).integers(40, 160, (12, 10, 3), np.uint8)


def spread(values, down, across):
    down, across = np.float64(down) + 0 * np.float64(across), np.float64(across) + 0 * np.float64(down)
    return enlarged(np.float32(values)[..., None], np.ones(down.shape, bool), down, across, Stripes(1))[..., 0]


def laid(tmp_path, pixels=PIXELS, base="scree", **fields):
    """(evaluation of) ground 504 m long and 630 wide, with nothing on it but a picture of a few samples."""
    image = {"kind": "image", "id": "i", "picture": "aerial", **fields}
    data = painted_document(127, 127, coats=[image]) | {"layers": [], "sheets": []}
    data["base"]["dressing"] = {"look": base, "size": 30.0} if base else {}
    data["readings"][0]["numbers"]["samples"] = "cells"
    _, ev = painted(tmp_path, data)
    (tmp_path / "aerial.png").write_bytes(bytes(imagecodecs.png_encode(pixels)))
    return ev


def test_what_is_cubic_comes_out_as_it_is_and_edges_have_no_rims():
    y, x = np.mgrid[0:12, 0:15].astype(float)

    def cubic(y, x):
        return 0.002 * (y - 5) ** 3 + 0.001 * x**3 - 0.03 * x * y + 0.5

    down, across = np.linspace(2, 9, 41)[:, None], np.linspace(2, 12, 57)[None, :]
    assert np.abs(spread(cubic(y, x), down, across) - cubic(down, across)).max() < 2e-6
    edge = np.repeat([[0.2, 0.2, 0.2, 0.2, 0.9, 0.9, 0.9, 0.9]], 3, axis=0)
    walk = spread(edge, 1.0, np.linspace(0, 7, 141)[None, :])
    assert (walk.min(), walk.max()) == pytest.approx((0.2, 0.9))
    # Half-way up a wave four samples long: two straight lines would give 0.5 of the 0.7071 that it has there.
    wave = np.tile(np.cos(np.pi / 2 * np.arange(16)), (3, 1))
    assert spread(wave, 1.0, [[7.5]])[0, 0] == pytest.approx(2 / 3)
    assert spread([[0.4]], 0.0, [[0.0]])[0, 0] == np.float32(0.4)


@pytest.mark.parametrize("flip", ["none", "east_west"])
def test_on_its_own_samples_a_picture_is_itself(tmp_path, flip):
    ev = laid(tmp_path, enlarged="sharply")
    first, *others = ev.project.readings
    turned = first.model_copy(update={"numbers": {**first.numbers, "flip": flip}})
    ev = ev.engine.evaluation(ev.project.model_copy(update={"readings": (turned, *others)}))
    image, own = ev.graph.pictured("aerial", sharp=True), ev.home.resized(12, 10, "area")
    wanted = PIXELS[:, ::-1] if flip == "east_west" else PIXELS
    assert np.abs(ev.window(image, own, own.whole)[..., :3] - linear(wanted.astype(np.float32) / 255)).max() < 1e-5
    assert sample_of(image, np.array([12, 10])) == pytest.approx((42, 63))
    image.params["place"] |= {"turn": 90.0, "wide": 2.0, "samples": "border"}
    assert sample_of(image, np.array([12, 10])) == pytest.approx((140, 1008 / 11))


def test_grain_leaves_the_colours_of_the_picture_as_they_are_on_average(tmp_path):
    even = np.full((8, 8, 3), (150, 110, 70), np.uint8)
    ev, plain = laid(tmp_path, even, grain=1.0), laid(tmp_path, even)
    fine = ev.home.resized(1008, 1008, "area")
    made = ev.window(ev.graph.painting.coats(), fine, fine.whole)
    brown = linear(np.float32([150, 110, 70]) / 255)
    assert np.abs(plain.window(plain.graph.painting.coats(), fine, fine.whole) - brown).max() < 1e-5
    for block in (made[:126, :126], made[504:630, 252:378]):
        assert block.mean(axis=(0, 1)) == pytest.approx(brown, rel=0.03)
        assert block.std(axis=(0, 1)).min() > 0.05 * brown.min()
    half = laid(tmp_path, even, grain=0.5)
    assert np.abs(half.window(half.graph.painting.coats(), fine, fine.whole) - (made + brown) / 2).max() < 1e-3
    # A picture as fine as the map holds all that there is to see.
    same = laid(tmp_path, np.repeat(np.repeat(even, 16, 0), 16, 1), grain=1.0)
    assert np.abs(same.window(same.graph.painting.coats(), same.home, same.home.whole) - brown).max() < 1e-5


def test_grain_is_the_share_of_the_mean_around_within_bounds():
    image = np.float32([[[0.2, 0.4, 0.1, 0.5]]])
    ones = np.ones((1, 1, 3), np.float32)
    assert with_grain(image, 0.3 * ones, 0.2 * ones, 0.5)[0, 0] == pytest.approx([0.25, 0.5, 0.125, 0.5], rel=1e-3)
    assert with_grain(image, ones, 1e-3 * ones, 1.0)[0, 0] == pytest.approx([0.8, 1.0, 0.4, 0.5])
    assert with_grain(image, 0.3 * ones, 0.2 * ones, 2.0)[0, 0] == pytest.approx([0.4, 0.8, 0.2, 0.5], rel=2e-3)
    assert with_grain(image, 0 * ones, ones, 1.0)[0, 0] == pytest.approx([0.05, 0.1, 0.025, 0.5], rel=1e-3)


def test_it_is_shown_beside_plain_enlargement_and_says_what_is_missing(tmp_path):
    ev = laid(tmp_path, enlarged="sharply", grain=0.8)
    beside = enlarged_beside_plain(ev, "i", 60, 60)
    made, plain = np.split(beside.pixels.astype(float), 2, axis=1)
    assert beside.sample == pytest.approx(63)
    assert made.mean() == pytest.approx(plain.mean(), abs=4)
    assert np.abs(np.diff(made, axis=1)).mean() > 1.5 * np.abs(np.diff(plain, axis=1)).mean()
    assert ev.project.coats[0].trouble(ev.graph.painting.around()) is None
    bare = laid(tmp_path, base=None, grain=0.8)
    assert "no grain" in bare.project.coats[0].trouble(bare.graph.painting.around())
    for coat in ("x", "aerial"):
        with pytest.raises(NotFound, match="lays no picture"):
            enlarged_beside_plain(ev, coat, 60, 60)
    with pytest.raises(BadNumber, match="on the ground"):
        enlarged_beside_plain(ev, "i", 60, 127)
