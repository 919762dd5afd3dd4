"""Gaps are outlets: they give no water and no height, cast nothing, and no earth goes in or out."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.ndimage import distance_transform_edt

from tests.support.ground import document, evaluation, lay
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.readings.spreading import spreading
from zigzag_meadow.core.terrain.erosion import erode
from zigzag_meadow.core.terrain.filling import fill_depressions
from zigzag_meadow.core.terrain.flow import GAP, OUT, accumulate, directions, flow
from zigzag_meadow.core.terrain.slumping import slump
from zigzag_meadow.core.voids import fill_voids

STRIP = 9
"""Columns without a height at the eastern edge; the ground without them must give the same."""


def rolling(rows: int, cols: int, seed: int = 3, height: float = 60.0) -> np.ndarray:
    rng = np.random.default_rng(seed)
    y, x = np.mgrid[0:rows, 0:cols] / 40.0
    z = (
        np.sin(3 * x + rng.uniform(0, 6)) * np.cos(2 * y)
        + 0.4 * np.sin(9 * x + 7 * y)
        + 0.05 * rng.random((rows, cols))
    )
    return (height * (z + 0.3 * x)).astype(np.float32)


def gappy(tmp_path, z: np.ndarray, readings=(), **more):
    """An evaluation of a ground with these heights (NaN where there is none), cells of 5 × 4 m."""
    ground = {**document(*z.shape)["ground"], "voids": int(np.isnan(z).sum()), "water": None, **more}
    _, ev = evaluation(tmp_path, document(*z.shape, ground=ground, readings=list(readings)))
    lay(ev, ev.graph.stage(0).ground, z.astype(np.float32))
    return ev


def with_strip(z: np.ndarray) -> np.ndarray:
    return np.concatenate([z, np.full((z.shape[0], STRIP), np.nan, np.float32)], axis=1)


def test_no_water_comes_from_a_gap():
    """A plane of 64² with a hole of 100 cells: what leaves is 64² − 100 cells, and nothing stands."""
    z = np.tile(np.arange(64, dtype=np.float32), (64, 1))
    gaps = np.zeros(z.shape, np.bool_)
    gaps[20:30, 20:30] = True
    grid = Grid(64, 64, 1.0, 1.0)
    area, filled = flow(z, grid, gaps=gaps)
    code = directions(filled, grid, gaps=gaps)
    assert area[code == OUT].sum() == 64 * 64 - 100
    assert (area[gaps] == 0).all()
    assert (filled == z).all()
    assert (code[gaps] == GAP).all()
    # What lies above the hole drains into it, and goes no farther.
    assert (code[21:29, 30] == OUT).all()
    assert area[25, 30] == 64 - 30
    assert area[25, 0] == 20


@settings(max_examples=30)
@given(st.integers(0, 10**6), st.floats(0, 0.5))
def test_whatever_the_gaps_all_water_leaves_and_nothing_is_made(seed, share):
    rng = np.random.default_rng(seed)
    z = np.round(rng.random((23, 31)) * 6).astype(np.float32)
    gaps = rng.random(z.shape) < share
    grid = Grid(23, 31, 3.0, 2.0)
    filled = fill_depressions(z, gaps)
    code = directions(filled, grid, gaps=gaps)
    count = accumulate(code)
    assert count[code == OUT].sum() == (~gaps).sum()
    assert (count[gaps] == 0).all()
    assert (filled >= z).all()
    assert (filled[gaps] == z[gaps]).all()
    spread = spreading(filled, code, grid) / 6.0
    assert spread[code == OUT].sum() <= (~gaps).sum() * (1 + 1e-5)
    # No water runs into a gap and on.
    rows, cols = np.nonzero(code >= 0)
    north = np.array([-1, -1, 0, 1, 1, 1, 0, -1])[code[rows, cols]]
    east = np.array([0, 1, 1, 1, 0, -1, -1, -1])[code[rows, cols]]
    assert not gaps[rows + north, cols + east].any()


@pytest.mark.parametrize(
    "name",
    [
        "flow",
        "spreading_flow",
        "standing_water",
        "distance_to_water",
        "height_over_water",
        "channel_depth",
        "channel_width",
        "flow_east",
        "relative_height",
        "talus",
    ],
)
def test_a_strip_without_heights_is_a_border(tmp_path, name):
    """Whatever is read beside a strip of gaps at the edge is what is read on the ground without the strip."""
    z = rolling(70, 80)
    small = {"id": name, "kind": name, "numbers": {"radius": 30.0}} if name == "relative_height" else None
    there, alone = gappy(tmp_path, with_strip(z)), gappy(tmp_path, z)
    for ev in (there, alone):
        numbers = {"threshold": 900.0} if name in ("distance_to_water", "height_over_water") else {}
        numbers |= {"threshold": 900.0, "width": 9.0, "depth": 1.0} if name.startswith("channel") else {}
        owner = "channel_depth" if name == "channel_width" else name
        given_ = small or ({"id": owner, "kind": owner, "numbers": numbers} if numbers else None)
        if given_:
            ev.project = ev.project.model_validate({**ev.project.model_dump(), "readings": [given_]})
            ev.graph.project = ev.project
    beside, without = there.map(f"reading:{name}"), alone.map(f"reading:{name}")
    assert np.isnan(beside[:, 80:]).all()
    if name == "distance_to_water":
        longest = float(np.hypot(79 * 5, 69 * 4))
        assert without.max() < longest
    np.testing.assert_allclose(beside[:, :80], without, rtol=2e-6, atol=2e-5)


@pytest.mark.parametrize("radius", [9.0, 40.0, 160.0])
def test_relative_height_is_over_the_mean_of_what_is_there(tmp_path, radius):
    """At the border, beside and far from gaps; ``radius`` small (summed directly) and wide (on a coarser grid)."""
    z = rolling(130, 150, height=25.0)
    z[40:75, 60:90] = np.nan
    z[:, 140:] = np.nan
    ev = gappy(tmp_path, z)
    setting = {"id": "relative_height", "kind": "relative_height", "numbers": {"radius": radius}}
    ev.project = ev.project.model_validate({**ev.project.model_dump(), "readings": [setting]})
    ev.graph.project = ev.project
    made = ev.map("reading:relative_height")
    y, x = np.mgrid[0:130, 0:150] * np.array([4.0, 5.0])[:, None, None]
    there = ~np.isnan(z)
    worst = 0.0
    for row, col in [(0, 0), (129, 0), (3, 70), (64, 58), (40, 91), (76, 75), (100, 139), (129, 130), (20, 20)]:
        near = there & (np.hypot(y - y[row, col], x - x[row, col]) <= radius * (1 + 1e-6))
        near[row, col] = False
        worst = max(worst, abs(float(made[row, col]) - (z[row, col] - float(z[near].mean()))))
    spread = float(np.nanmax(z) - np.nanmin(z))
    assert worst < (1e-3 if radius < 50 else 0.012 * spread)


def test_what_stands_beyond_a_gap_gives_neither_shelter_nor_shade(tmp_path):
    """A wall right behind a strip of gaps is seen; the gap's own filling, however high, is not."""
    z = np.zeros((60, 60), np.float32)
    z[:, 30:34] = np.nan
    z[:, 34:] = 40
    ev = gappy(tmp_path, z)
    sky = ev.map("reading:sky_share")
    # Filled, the gap would be a ramp up to the wall and begin right beside column 29.
    ramp = gappy(tmp_path, np.where(np.isnan(z), np.linspace(8, 32, 60)[None, :] * 0 + 20, z)).map("reading:sky_share")
    assert sky[30, 29] > ramp[30, 29] + 0.02
    assert sky[30, 3] == pytest.approx(1, abs=0.2)


@pytest.mark.parametrize("seed", [1, 2])
def test_erosion_takes_nothing_from_gaps_and_lays_nothing_there(seed):
    z = rolling(90, 100, seed)
    gaps = np.zeros(z.shape, np.bool_)
    gaps[30:50, 40:60] = True
    gaps[:, 95:] = True
    run = erode(z, Grid(90, 100, 4.0, 5.0), rain=0.5, strength=0.6, seed=seed, gaps=gaps)
    assert (run.ground[gaps] == z[gaps]).all()
    assert (run.scour[gaps] == 0).all()
    assert (run.deposition[gaps] == 0).all()
    moved = float(run.scour.sum(dtype=np.float64))
    assert moved > 1
    kept = float((run.ground.astype(np.float64) - z)[~gaps].sum())
    assert kept + run.left * moved == pytest.approx(0, abs=1e-4 * moved)
    assert run.error < 1e-9


def test_nothing_slides_into_a_gap_or_out_of_it():
    z = rolling(80, 80, height=120.0)
    gaps = np.zeros(z.shape, np.bool_)
    gaps[20:40, 30:50] = True
    after = slump(z, Grid(80, 80, 5.0, 4.0), 30.0, gaps=gaps)
    assert (after[gaps] == z[gaps]).all()
    assert float((after - z)[~gaps].astype(np.float64).sum()) == pytest.approx(0, abs=1e-2)
    assert np.abs(after - z)[~gaps].max() > 1
    # The ground beside a gap does not lean on it: without the gap the same places give way.
    alone = slump(np.ascontiguousarray(z[:, 50:]), Grid(80, 30, 5.0, 4.0), 30.0)
    walled = slump(z, Grid(80, 80, 5.0, 4.0), 30.0, gaps=np.arange(80)[None, :].repeat(80, 0) < 50)
    np.testing.assert_allclose(walled[:, 50:], alone, atol=1e-4)


def test_steps_of_preparation_leave_gaps_as_they_are(tmp_path):
    z = rolling(70, 80)
    z[30:40, 30:45] = np.nan
    for kind, numbers in (("erode", {"rain": 0.3}), ("slump", {"angle": 25})):
        ev = gappy(tmp_path, z, steps=[{"id": "s", "kind": kind, **numbers}])
        after = ev.whole(ev.graph.stage().ground)
        assert (np.isnan(after) == np.isnan(z)).all()
        moved = float(np.nansum(np.abs(after - z)))
        assert moved > 1
        if kind == "erode":
            step, home = ev.project.ground.steps[0], ev.home
            told = {"rain": step.rain, "strength": step.strength, "seed": step.seed}
            alone = erode(fill_voids(z), home, **told, gaps=np.isnan(z)).ground
            # Kept as metres of change, and added again.
            np.testing.assert_allclose(after[~np.isnan(z)], alone[~np.isnan(z)], rtol=0, atol=1e-5)
        else:
            # What slid away lies somewhere: none of it is in the gap.
            assert float(np.nansum((after - z).astype(np.float64))) == pytest.approx(0, abs=1e-4 * moved)


def test_the_erosion_of_readings_balances_without_the_gaps(tmp_path):
    z = rolling(70, 80)
    z[25:45, 30:55] = np.nan
    ev = gappy(tmp_path, z)
    run = ev.graph.reading("scour")
    while run.op.name != "erosion":
        run = run.inputs[0]
    ground, balance = ev.whole(run, "ground"), ev.whole(run, "balance")
    change = (ground.astype(np.float64) - ev.whole(run.inputs[0]))[~np.isnan(z)]
    moved = float(ev.whole(run, "scour")[~np.isnan(z)].sum(dtype=np.float64))
    assert moved > 1
    assert change.sum() + float(balance[0, 1]) * moved == pytest.approx(0, abs=1e-4 * moved)


@pytest.mark.parametrize("name", ["flow", "channel_depth", "channel_width"])
def test_flow_and_channels_of_two_sides_of_a_gap_do_not_mix(tmp_path, name):
    """Both sides of a gap of three columns are as if the other were not there."""
    z = rolling(70, 90)
    z[:, 42:45] = np.nan
    shape = {
        "id": "channel_depth",
        "kind": "channel_depth",
        "numbers": {"threshold": 900.0, "width": 30.0, "depth": 1.0},
    }
    whole, west, east = (
        gappy(tmp_path, np.ascontiguousarray(part), readings=[shape]).map(f"reading:{name}")
        for part in (z, z[:, :42], z[:, 45:])
    )
    np.testing.assert_allclose(whole[:, :42], west, rtol=2e-6, atol=2e-5)
    np.testing.assert_allclose(whole[:, 45:], east, rtol=2e-6, atol=2e-5)


def test_no_water_stands_in_a_gap(tmp_path):
    """Distances are to water that is there: an independent transform from its samples says the same."""
    z = rolling(70, 90)
    z[:, 42:50] = np.nan
    water = {"id": "distance_to_water", "kind": "distance_to_water", "numbers": {"threshold": 900.0}}
    found = gappy(tmp_path, z, readings=[water]).map("reading:distance_to_water")
    there = ~np.isnan(z)
    expected = distance_transform_edt(~((found == 0) & there), sampling=(4, 5))
    np.testing.assert_allclose(found[there], expected[there], rtol=1e-5)


@pytest.mark.parametrize(("name", "low"), [("occlusion_far", -1e5), ("sun", -1.0)])
def test_a_ridge_whose_middle_is_missing_lets_light_through(tmp_path, name, low):
    """Away from the gap it is as light as where the missing middle were a hole in the ground."""
    z = np.zeros((90, 90), np.float32)
    z[:, 44:47] = 40
    hole = z.copy()
    hole[30:60, 42:49] = low
    z[30:60, 42:49] = np.nan
    beside, dug = gappy(tmp_path, z).map(f"reading:{name}"), gappy(tmp_path, hole).map(f"reading:{name}")
    away = np.ones(z.shape, np.bool_)
    away[27:63, 39:52] = False
    np.testing.assert_allclose(beside[away], dug[away], atol=2e-3)
