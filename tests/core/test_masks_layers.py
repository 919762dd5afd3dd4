"""Mask algebra, sharing and whole numbers that add up."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.support.ground import band as source
from tests.support.ground import document, evaluation, small_tiles
from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.layers.sharing import cover, uncover
from zigzag_meadow.core.masks.algebra import band, combine, levels, turn_over
from zigzag_meadow.core.packing.sheets import rest_of_sheet
from zigzag_meadow.core.readings.uses import stretched
from zigzag_meadow.core.rounding import quantise_mask, quantise_weights


def row(*values: float) -> np.ndarray:
    return np.array([values], np.float32)


def test_a_band_is_one_inside_and_fades_outside():
    v = row(20, 25, 26, 29, 32, 60, 70, 75, 80)
    assert band(v, 32, 70, 6, 10)[0] == pytest.approx([0, 0, 0, 0.5, 1, 1, 1, 0.5, 0], abs=1e-6)
    assert band(v, 32, 70, 0, 0)[0].tolist() == [0, 0, 0, 0, 1, 1, 1, 0, 0]
    assert band(row(29), 32, 70, 6, 0, smooth=True)[0, 0] == 0.5
    assert band(row(27.5), 32, 70, 6, 0, smooth=True)[0, 0] == pytest.approx(0.15625, abs=1e-6)
    assert band(row(250, 500, 1000, 4000), 1000, 2000, 2, 1, log=True)[0] == pytest.approx([0, 0.5, 1, 0], abs=1e-6)
    with pytest.raises(BadNumber, match="must not be above"):
        band(v, 5, 4, 0, 0)
    with pytest.raises(BadNumber, match="above 0"):
        band(v, 0, 4, 0, 0, log=True)


def test_lines_are_put_together_by_the_rules():
    a, b = row(0.8), row(0.25)
    assert combine(a, b, "take")[0, 0] == pytest.approx(0.25)
    assert combine(a, b, "leave_out")[0, 0] == pytest.approx(0.6)
    assert combine(a, b, "keep_within")[0, 0] == pytest.approx(0.2)
    assert combine(a, b, "keep_within", 0.5)[0, 0] == pytest.approx(0.5 * 0.8 + 0.5 * 0.2)
    assert combine(a, b, "leave_out", 0.0)[0, 0] == pytest.approx(0.8)
    assert turn_over(b)[0, 0] == 0.75
    assert levels(row(0.1, 0.3, 0.5, 0.9), 0.1, 0.5, 1, 0, 1)[0] == pytest.approx([0, 0.5, 1, 1])
    assert levels(row(0.25), 0, 1, 2, 0, 1)[0, 0] == pytest.approx(0.5)


@pytest.mark.parametrize(
    ("lines", "value"),
    [
        ([], 0.0),
        ([{"id": "a", "verb": "turn_over"}], 0.0),
        ([{"id": "a", "verb": "leave_out", "source": source("height", 19, 20)}], 1.0),
        ([{"id": "a", "verb": "take", "source": source("height", 0, 999)}, {"id": "b", "verb": "turn_over"}], 0.0),
        ([{"id": "a", "verb": "take", "source": source("height", 0, 999), "muted": True}], 0.0),
    ],
)
def test_what_a_recipe_starts_from(tmp_path, lines, value):
    data = document()
    data["masks"][0]["lines"] = lines
    _, ev = evaluation(tmp_path, data)
    assert float(np.median(ev.map("mask:steep"))) == value


@settings(max_examples=80)
@given(st.integers(0, 7), st.integers(0, 10**6), st.sampled_from([8, 16]), st.booleans())
def test_weights_always_add_up(layers, seed, bits, hard):
    rng = np.random.default_rng(seed)
    masks = rng.random((layers, 7, 9), np.float32)
    masks = np.round(masks) if hard else masks
    weights = cover(masks)
    assert weights.sum(axis=0, dtype=np.float64) == pytest.approx(1, abs=1e-6)
    whole = quantise_weights(weights, bits)
    full = 2**bits - 1
    assert (whole.sum(axis=0, dtype=np.int64) == full).all()
    assert np.abs(whole / full - weights).max() < 1.001 / full


def test_cover_and_back():
    weights = np.array([0.2, 0.3, 0.5], np.float32)[:, None, None]
    masks = uncover(weights)
    assert masks[:, 0, 0] == pytest.approx([1, 0.6, 0.5])
    assert cover(masks[1:])[:, 0, 0] == pytest.approx([0.2, 0.3, 0.5])
    assert uncover(np.zeros((2, 1, 1), np.float32)).sum() == 0


@pytest.mark.parametrize(
    ("weights", "whole"),
    [
        ([1 / 3] * 3, [85, 85, 85]),
        ([0.5, 0.25, 0.25], [127, 64, 64]),
        ([0.5, 0.5], [128, 127]),
        ([1 / 7] * 7, [37, 37, 37, 36, 36, 36, 36]),
    ],
)
def test_largest_remainder(weights, whole):
    assert quantise_weights(np.array(weights, np.float32)[:, None, None])[:, 0, 0].tolist() == whole


def test_channels():
    a, b = np.full((2, 2), 200, np.uint8), np.full((2, 2), 40, np.uint8)
    assert (rest_of_sheet([a, b])[0] == 15).all()
    assert rest_of_sheet([a, a])[1] == 4
    assert stretched(row(1, 10, 100), 1, 100, log=True)[0] == pytest.approx([0, 0.5, 1])
    assert stretched(row(0, 30, 90), 60, 0, log=False)[0] == pytest.approx([1, 0.5, 0])
    assert quantise_mask(row(-1, 0.5, 2))[0].tolist() == [0, 128, 255]


def test_tile_size_and_threads_do_not_change_a_byte(tmp_path, monkeypatch):
    data = document(rows=253, cols=190)
    names = ("mask:steep", "weight:rock", "sheet:splat", "reading:slope")
    _, one = evaluation(tmp_path, data, threads=1)
    whole = {name: one.map(name, one.home.resized(505, 379)).tobytes() for name in names}
    small_tiles(monkeypatch, 64)
    _, two = evaluation(tmp_path, data, threads=2)
    for name in names:
        assert two.map(name, two.home.resized(505, 379)).tobytes() == whole[name], name
