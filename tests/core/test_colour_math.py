"""Colours against the formulas they are made of, written a second time here in float64."""

import colorsys

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from zigzag_meadow.core.colour.blend import MODES, blended
from zigzag_meadow.core.colour.coats.adjust import adjusted
from zigzag_meadow.core.colour.coats.carry import carried
from zigzag_meadow.core.colour.coats.match import layer_colours, moved
from zigzag_meadow.core.colour.coats.ramp import along_ramp
from zigzag_meadow.core.colour.coats.vary import varied
from zigzag_meadow.core.colour.coats.water import water_colours
from zigzag_meadow.core.colour.coats.wear import bleached
from zigzag_meadow.core.colour.palette import line_stops, main_stops
from zigzag_meadow.core.colour.surface import normals
from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.srgb import coded, hex_of, lab_of, linear, linear_of, luma, rgb_of_lab, to_whole


def code(x):
    x = np.asarray(x, np.float64)
    return np.where(x <= 0.0031308, 12.92 * x, 1.055 * np.maximum(x, 0) ** (1 / 2.4) - 0.055)


def decode(x):
    x = np.asarray(x, np.float64)
    return np.where(x <= 0.04045, x / 12.92, ((x + 0.055) / 1.055) ** 2.4)


def some(seed: int, *shape: int) -> np.ndarray:
    return np.random.default_rng(seed).random(shape, np.float32)


def test_tables_are_the_formulas():
    x = np.concatenate([np.linspace(0, 1, 200_001), [0.0031308, 0.00313081]]).astype(np.float32)
    assert np.abs(coded(x) - code(x)).max() < 4e-6
    assert np.abs(linear(x) - decode(x)).max() < 1e-6
    assert np.abs(linear(coded(x)) - x).max() < 4e-6
    assert coded(np.array([-1, 2], np.float32)).tolist() == [0, 1]


def test_every_byte_comes_back_and_the_known_numbers_hold():
    every = np.arange(256, dtype=np.float32).reshape(1, 256, 1).repeat(3, 2) / 255
    assert (to_whole(linear(every))[0, :, 0] == np.arange(256)).all()
    assert int(decode(128 / 255) * 255 + 0.5) == 55
    # Black and white average in light to 188.
    grey = np.full((1, 1, 3), 0.5, np.float32)
    assert to_whole(grey)[0, 0].tolist() == [188] * 3
    assert to_whole(grey, 16)[0, 0, 0] == int(code(0.5) * 65535 + 0.5)
    assert to_whole(grey, as_coded=False)[0, 0].tolist() == [128] * 3
    assert hex_of(linear_of("#7d8a5c")) == "#7d8a5c"
    with pytest.raises(BadNumber):
        to_whole(grey, 12)


def test_dither_keeps_the_mean_is_fixed_and_joins_over_blocks():
    level = np.full((96, 128, 3), float(decode(100.3 / 255)), np.float32)
    whole = to_whole(level, dither=True)
    assert set(np.unique(whole)) == {100, 101}
    assert whole.mean() == pytest.approx(100.3, abs=0.02)
    parts = [to_whole(np.ascontiguousarray(level[r : r + 32]), dither=True, first=(r, 0)) for r in (0, 32, 64)]
    assert (np.concatenate(parts) == whole).all()


def test_oklab_is_the_published_one():
    """Values of the paper's reference implementation for white, red and a grey."""
    lab = lab_of(np.array([[1, 1, 1], [1, 0, 0], [0.18, 0.18, 0.18], [0, 0, 0]], np.float32))
    assert lab[0] == pytest.approx([1, 0, 0], abs=2e-4)
    assert lab[1] == pytest.approx([0.62796, 0.22486, 0.12585], abs=2e-4)
    assert lab[2] == pytest.approx([0.18 ** (1 / 3), 0, 0], abs=2e-4)
    assert lab[3] == pytest.approx([0, 0, 0], abs=1e-6)
    rgb = some(1, 500, 3)
    assert np.abs(rgb_of_lab(lab_of(rgb)) - rgb).max() < 2e-5


def separable(mode, b, t):
    """W3C Compositing and Blending, section 9.1, on coded values."""
    if mode == "screen":
        return b + t - b * t
    if mode == "overlay":
        return np.where(b <= 0.5, 2 * b * t, 1 - 2 * (1 - b) * (1 - t))
    d = np.where(b <= 0.25, ((16 * b - 12) * b + 4) * b, np.sqrt(b))
    return np.where(t <= 0.5, b - (1 - 2 * t) * b * (1 - b), b + (2 * t - 1) * (d - b))


def with_light(c, light):
    """SetLum and ClipColor of section 10.2."""
    weights = np.array([0.3, 0.59, 0.11])
    c = c + (light - c @ weights)[..., None]
    own, n, x = (c @ weights)[..., None], c.min(-1, keepdims=True), c.max(-1, keepdims=True)
    c = np.where(n < 0, own + (c - own) * own / np.where(n < 0, own - n, 1), c)
    return np.where(x > 1, own + (c - own) * (1 - own) / np.where(x > 1, x - own, 1), c)


def expected(mode, below, top, alpha):
    b, t, a = below.astype(np.float64), top.astype(np.float64), alpha.astype(np.float64)[..., None]
    plain = {
        "normal": lambda: t,
        "multiply": lambda: b * t,
        "lighten": lambda: np.maximum(b, t),
        "darken": lambda: np.minimum(b, t),
    }
    if mode in plain:
        return b + a * (plain[mode]() - b)
    cb, ct = code(b), code(t)
    made = with_light(ct, cb @ np.array([0.3, 0.59, 0.11])) if mode == "colour" else separable(mode, cb, ct)
    return decode(cb + a * (made - cb))


@pytest.mark.parametrize("mode", [mode for mode, _ in MODES])
def test_every_blend_mode_is_its_formula_in_the_light_it_belongs_to(mode):
    below, top, mask = some(2, 40, 50, 3), some(3, 40, 50, 3), some(4, 40, 50)
    mask[0] = 0
    made = blended(below, top, mode, 0.7, mask)
    assert np.abs(made - expected(mode, below, top, mask * np.float32(0.7))).max() < 2e-4
    assert (made[0] == below[0]).all()
    one = (0.2, 0.5, 0.9)
    whole = blended(below, one, mode)
    assert (
        np.abs(whole - expected(mode, below, np.broadcast_to(np.array(one), below.shape), np.ones((40, 50)))).max()
        < 2e-4
    )
    part = np.concatenate([top, mask[..., None]], axis=2)
    assert blended(below, part, mode) == pytest.approx(blended(below, top, mode, 1.0, mask), abs=1e-6)


def test_modes_that_change_nothing():
    below = some(5, 9, 9, 3)
    for mode, neutral in (("multiply", 1.0), ("screen", 0.0), ("lighten", 0.0), ("darken", 1.0)):
        assert blended(below, (neutral, neutral, neutral), mode) == pytest.approx(below, abs=5e-6)
    half = (float(decode(0.5)),) * 3
    assert blended(below, half, "overlay") == pytest.approx(below, abs=1e-5)
    assert blended(below, half, "soft_light") == pytest.approx(below, abs=1e-5)
    with pytest.raises(BadNumber, match="A coat is laid"):
        blended(below, below, "dodge")


def test_adjusting_by_nothing_is_nothing_and_hue_goes_round():
    rgb = some(6, 30, 30, 3) * np.float32(0.8)
    assert adjusted(rgb) == pytest.approx(rgb)
    assert adjusted(rgb, hue=360) == pytest.approx(rgb, abs=1e-4)
    grey = adjusted(rgb, saturation=0)
    assert np.abs(grey - grey.mean(axis=2, keepdims=True)).max() < 2e-4
    assert adjusted(rgb, brightness=0.5) == pytest.approx(rgb / 2)
    assert adjusted(rgb, gamma=2) == pytest.approx(np.sqrt(rgb), abs=1e-5)
    red = np.array([[[0.5, 0.1, 0.1]]], np.float32)
    turned = colorsys.rgb_to_hsv(*adjusted(red, hue=120)[0, 0])[0] * 360
    assert 90 < turned < 160
    # What one number takes beyond full light another brings back.
    light = np.full((1, 1, 3), 0.8, np.float32)
    assert adjusted(light, brightness=2, gamma=0.5).max() == 1
    both = adjusted(np.array([[[0.9, 0.5, 0.4]]], np.float32), brightness=2, contrast=0.3)
    assert both[0, 0] != pytest.approx(adjusted(np.array([[[1, 1, 0.8]]], np.float32), contrast=0.3)[0, 0], abs=0.02)
    warm, cold = adjusted(rgb, warmth=1).mean(axis=(0, 1)), adjusted(rgb, warmth=-1).mean(axis=(0, 1))
    assert warm[0] > cold[0]
    assert warm[2] < cold[2]


def test_vary_turns_hue_and_light_and_nothing_where_noise_is_a_half():
    rgb = np.full((4, 4, 3), (0.2, 0.3, 0.1), np.float32)
    half = np.full((4, 4), 0.5, np.float32)
    assert varied(rgb, half, half, 40, 0.5) == pytest.approx(rgb, abs=2e-5)
    lab, full = lab_of(rgb), lab_of(varied(rgb, np.ones((4, 4), np.float32), half, 30, 0))
    turn = np.degrees(np.arctan2(full[..., 2], full[..., 1]) - np.arctan2(lab[..., 2], lab[..., 1]))
    assert turn == pytest.approx(30, abs=0.05)
    lit = lab_of(varied(rgb, half, np.ones((4, 4), np.float32), 0, 0.2))
    assert lit[..., 0] == pytest.approx(lab[..., 0] * 1.2, abs=1e-4)


def test_bleaching_pales_and_greys_only_where_it_is():
    rgb = np.full((1, 2, 3), (0.1, 0.2, 0.05), np.float32)
    made = bleached(rgb, np.array([[0, 1]], np.float32), 0.5, 1.0)
    assert (made[0, 0] == rgb[0, 0]).all()
    assert np.ptp(made[0, 1]) < 2e-4
    assert lab_of(made)[0, 1, 0] == pytest.approx(0.5 + lab_of(rgb)[0, 1, 0] / 2, abs=1e-4)


def test_a_ramp_passes_through_its_stops_and_stays_at_its_ends():
    stops = [(0.25, linear_of("#204060")), (0.5, linear_of("#ffffff")), (1.0, linear_of("#000000"))]
    made = along_ramp(np.array([[-1, 0, 0.25, 0.375, 0.5, 1, 7]], np.float32), stops)
    codes = np.rint(coded(made)[0] * 255).astype(int).tolist()
    assert codes[0] == codes[1] == codes[2] == [0x20, 0x40, 0x60]
    assert codes[3] == pytest.approx([143.5, 159.5, 175.5], abs=0.6)
    assert codes[4] == [255] * 3
    assert codes[5] == codes[6] == [0] * 3
    # Two stops at one place: a hard edge, without a sample in between, however near.
    edge = [(0.0, (0.0, 0.0, 0.0)), (0.3, (0.0, 0.0, 0.0)), (0.3, (1.0, 1.0, 1.0)), (1.0, (1.0, 1.0, 1.0))]
    near = np.array([[np.nextafter(np.float32(0.3), np.float32(0)), np.float32(0.3)]], np.float32)
    assert along_ramp(near, edge)[0, :, 0].tolist() == [0, 1]


def test_water_deepens_from_its_edge_and_wets_the_shore():
    colours = ((0.2, 0.4, 0.4), (0.0, 0.05, 0.1))
    heights = np.array([[12.1, 11, 10, 9, 8, 0, -50, np.nan]], np.float32)
    made = water_colours(heights, 10.0, 10.0, 2.0, colours)[0]
    assert made[0, 3] == 0
    assert made[7, 3] == 0
    assert made[1, 3] == pytest.approx(0.2)
    assert made[3, 3] == pytest.approx(0.4 + 0.6 * 0.5)
    assert made[4:7, 3] == pytest.approx(1)
    assert made[5, :3] == pytest.approx(colours[1])
    assert made[3, :3] == pytest.approx(np.array(colours[0]) + 0.1 * (np.array(colours[1]) - colours[0]), abs=1e-6)


def test_colour_is_carried_down_and_fades_to_a_third_over_its_distance():
    """A single stream eastward: every sample gives to the next."""
    code_east = np.full((1, 40), 2, np.int8)
    code_east[0, -1] = -1
    colours = np.zeros((1, 40, 3), np.float32)
    colours[0, 0] = (0.8, 0.2, 0.1)
    mask = np.zeros((1, 40), np.float32)
    mask[0, 0] = 1
    made = carried(colours, mask, code_east, 3.0, 2.0, 20.0)
    held = -np.log(1 - made["much"][0].astype(np.float64))
    assert held[10] == pytest.approx(np.exp(-1), rel=1e-4)
    assert held[30] == pytest.approx(np.exp(-3), rel=1e-3)
    assert [made[name][0, 20] for name in ("red", "green", "blue")] == pytest.approx([0.8, 0.2, 0.1], abs=1e-4)
    assert carried(colours, mask * 0, code_east, 3.0, 2.0, 20.0)["much"].max() == 0


def test_matching_brings_mean_and_spread_of_every_layer_to_its_goal():
    rng = np.random.default_rng(9)
    below = (0.2 + 0.1 * rng.random((60, 80, 3))).astype(np.float32)
    image = (0.4 + 0.25 * rng.random((60, 80, 3))).astype(np.float32)
    weights = np.zeros((3, 60, 80), np.float32)
    weights[0, :, :40] = 1
    weights[1, :, 40:] = 1
    there = np.ones((60, 80), np.float32)
    own, goal = layer_colours(below, weights, there), layer_colours(image, weights, there)
    assert np.isnan(own[2]).all()
    reached = layer_colours(moved(below, weights, own, goal), weights, there)
    assert reached[:2, 0] == pytest.approx(goal[:2, 0], abs=3e-3)
    assert reached[:2, 1] == pytest.approx(goal[:2, 1], abs=5e-3)
    # A layer that the picture does not show keeps its colours.
    nowhere = np.full_like(goal, np.nan)
    assert moved(below, weights, own, nowhere) == pytest.approx(below, abs=2e-5)


@settings(max_examples=40)
@given(st.integers(2, 6), st.integers(0, 10**6))
def test_main_colours_are_those_that_are_there(count, seed):
    rng = np.random.default_rng(seed)
    lights = np.linspace(0.02, 0.9, count)
    colours = np.stack([lights, lights**1.2, lights**0.8], axis=1).astype(np.float32)
    many = np.repeat(colours, rng.integers(200, 400, count), axis=0)
    rng.shuffle(many)
    found = main_stops(many, count)
    assert [colour for _, colour in found] == [hex_of(c) for c in colours]
    assert found[0][0] == 0
    assert found[-1][0] == 1
    assert [at for at, _ in found] == sorted(at for at, _ in found)


def test_colours_along_a_line_are_means_of_its_parts():
    line = np.repeat(np.array([[0.0] * 3, [1.0] * 3], np.float32), 50, axis=0)
    assert line_stops(line, 2) == [(0.0, "#000000"), (1.0, "#ffffff")]
    assert main_stops(np.full((50, 3), 0.2, np.float32), 3)[0][1] == hex_of(np.full(3, 0.2))
    with pytest.raises(BadNumber, match="2 to 24"):
        line_stops(line, 25)


@pytest.mark.parametrize(
    ("east", "north", "up", "down"),
    [
        (0, 0, [128, 128, 255], [128, 128, 255]),
        (1, 0, [37, 128, 218], [37, 128, 218]),
        (0, 1, [128, 37, 218], [128, 218, 218]),
    ],
)
def test_normals_of_planes_either_green(east, north, up, down):
    flat = [np.full((2, 2), rise, np.float32) for rise in (east, north)]
    for green, wanted in (("up", up), ("down", down)):
        assert to_whole(normals(*flat, green), as_coded=False)[0, 0].tolist() == wanted


def test_luminance_counts_green_most():
    assert luma(np.eye(3, dtype=np.float32)).tolist() == pytest.approx([0.2126, 0.7152, 0.0722])
