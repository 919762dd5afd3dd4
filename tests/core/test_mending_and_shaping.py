"""Steps that mend what is found, and those that lay rock and cut channels, on surfaces whose answer is known."""

from __future__ import annotations

import tracemalloc

import numpy as np
import pytest

from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.ground.beds import bedded
from zigzag_meadow.core.ground.carving import cut_away
from zigzag_meadow.core.ground.cut_off import rounded_off
from zigzag_meadow.core.ground.findings import find, find_all
from zigzag_meadow.core.ground.rows import fitted_rows
from zigzag_meadow.core.ground.steps.round_off import RoundOff
from zigzag_meadow.core.readings.slope import slope
from zigzag_meadow.core.stripes import Stripes

ONE = Stripes(1)
GRID = Grid(161, 201, 4.0, 5.0)
SOUTH, EAST = np.meshgrid(np.arange(161) * 4.0, np.arange(201) * 5.0, indexing="ij")
DOME = (300 - ((EAST - 500) ** 2 + (SOUTH - 320) ** 2) / 900).astype(np.float32)
BEDS = {"zero": 0.0, "thickness": 20.0, "dip": 0.0, "direction": 90.0, "bend": 0.0, "seed": 3}


def test_a_top_that_was_cut_off_is_found_and_rises_again_from_its_border():
    cut = np.minimum(DOME, np.float32(260))
    found = find("clipped-top", cut, GRID, ONE)
    assert found is not None
    assert found.mend == {"kind": "round_off", "side": "top"}
    made = rounded_off(cut, GRID, "top", 0.5, ONE)
    outside = cut < 260
    np.testing.assert_array_equal(made[outside], cut[outside])
    # A paraboloid goes on with its own slope: half of it, eased off, rises by a quarter of slope times radius.
    radius = np.sqrt(40 * 900)
    assert made.max() - 260 == pytest.approx(0.25 * radius * (2 * radius / 900), rel=0.1)
    assert slope(made, GRID, stripes=ONE)[made > 262].max() < 45
    upside = rounded_off(-cut, GRID, "bottom", 0.5, ONE)
    np.testing.assert_allclose(upside, -made, atol=1e-4)


def test_ground_without_a_level_top_is_left_alone():
    np.testing.assert_array_equal(rounded_off(DOME, GRID, "top", 1.0, ONE), DOME)


def test_rounding_off_needs_no_more_memory_than_it_says():
    y, x = np.mgrid[0:512, 0:512]
    wide = np.minimum(600 - np.hypot(y - 256, x - 256), 360).astype(np.float32)
    grid = Grid(512, 512, 1.0, 1.0)
    rounded_off(wide, grid, "top", 0.5, ONE)
    tracemalloc.start()
    rounded_off(wide, grid, "top", 0.5, ONE)
    used = tracemalloc.get_traced_memory()[1] / wide.size
    tracemalloc.stop()
    assert RoundOff.bytes_each / 2 < used <= RoundOff.bytes_each


def test_rows_that_jump_are_put_back_and_damaged_ones_filled():
    ground = (DOME + 5 * np.sin(EAST / 40)).astype(np.float32)
    moved, glitch, broken = ground.copy(), ground.copy(), ground.copy()
    moved[70:] += 40
    glitch[50] -= 60
    broken[90] = np.random.default_rng(2).uniform(0, 300, 201)
    for wrong, atol in ((moved, 0.2), (glitch, 0.2), (broken, 0.2)):
        assert find("row-jumps", wrong, GRID, ONE).mend == {"kind": "fit_rows"}
        np.testing.assert_allclose(fitted_rows(wrong), ground, atol=atol)
    assert fitted_rows(ground) is ground


def test_every_finding_has_a_step_or_says_that_the_file_must_come_again():
    noise = np.random.default_rng(1).random(GRID.shape).astype(np.float32) * 90
    level = DOME.copy()
    level[:, :60] = 250
    for ground in (noise, level, np.minimum(DOME, np.float32(260)), (DOME // 4 * 4)):
        for oddity in find_all(ground, GRID, ONE):
            assert oddity.mend is not None or "again" in oddity.message or "Replace" in oddity.message, oddity


def test_beds_keep_their_borders_and_steepen_between_them():
    plane = (EAST * 0.5).astype(np.float32)
    even = bedded(plane, GRID, **BEDS, hardness=0.0, variation=0.0)
    np.testing.assert_allclose(even, plane, atol=1e-3)
    hard = bedded(plane, GRID, **BEDS, hardness=1.0, variation=0.0)
    on_border = np.isclose(plane % 20, 0)
    np.testing.assert_allclose(hard[on_border], plane[on_border], atol=1e-3)
    np.testing.assert_allclose(hard[np.isclose(plane % 20, 10)], plane[np.isclose(plane % 20, 10)], atol=1e-2)
    # t = 1/4: (1/4)^7 / ((1/4)^7 + (3/4)^7) of a bed.
    quarter = np.isclose(plane % 20, 5)
    np.testing.assert_allclose(hard[quarter] - (plane[quarter] - 5), 20 / (1 + 3.0**7), atol=1e-2)
    assert (np.diff(hard, axis=1) >= -1e-4).all()
    varied = bedded(plane, GRID, **BEDS, hardness=0.8, variation=1.0)
    assert (np.diff(varied, axis=1) >= -1e-3).all()
    assert np.abs(varied - plane).max() < 20 * 1.8


def test_tilted_beds_follow_their_dip_and_the_height_they_are_counted_from():
    level = np.full(GRID.shape, 105, np.float32)
    tilted = {**BEDS, "dip": 45.0, "hardness": 0.9, "variation": 0.0}
    made = bedded(level, GRID, **tilted)
    # Beds fall a metre a metre to the east: what is 20 m further east lies in the next one, in the same place.
    np.testing.assert_allclose(made[:, 4:], made[:, :-4], atol=1e-2)
    assert np.ptp(made) > 3
    raised = bedded(level + 7, GRID, **{**tilted, "zero": 7.0})
    np.testing.assert_allclose(raised - 7, made, atol=1e-3)


def test_channels_are_cut_along_a_valley_as_deep_as_what_they_drain():
    valley = (np.abs(EAST - 500) * 0.2 + (640 - SOUTH) * 0.05).astype(np.float32)
    numbers = {"threshold": 40000.0, "width": 20.0, "depth": 4.0, "banks": 15.0}
    cut = cut_away(valley, GRID, **numbers, stripes=ONE)
    foot = cut[-1]
    drained = 161 * 201 * 20 / 1e6
    assert foot[100] == pytest.approx(4 * drained**0.4, rel=0.02)
    half = 20 * drained**0.5 / 2
    assert (foot[np.abs(EAST[0] - 500) > half + 15.1] == 0).all()
    assert (np.diff(foot[100:]) <= 0).all()
    # Nothing drains together at the head, and nothing is cut there, or in gaps.
    assert cut[0].max() == 0
    gaps = np.zeros(GRID.shape, bool)
    gaps[-20:] = True
    assert cut_away(valley, GRID, **numbers, gaps=gaps)[gaps].max() == 0
    assert cut_away(valley, GRID, **{**numbers, "threshold": 1e9}).max() == 0
