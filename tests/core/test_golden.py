"""Kernels on small grounds against slow references of their own, at places where every constant of theirs shows."""

from __future__ import annotations

import math

import numpy as np
import pytest

from tests.support.ground import hills
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.masks.breakup import trickled
from zigzag_meadow.core.masks.lines.threshold import Threshold
from zigzag_meadow.core.masks.tone import ramp
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import by_sample
from zigzag_meadow.core.readings.channels import channel_shape, grown, height_above, water_samples
from zigzag_meadow.core.readings.spreading import spreading, wetness
from zigzag_meadow.core.terrain.distance import FAR, distance_to
from zigzag_meadow.core.terrain.erosion import erode
from zigzag_meadow.core.terrain.filling import fill_depressions
from zigzag_meadow.core.terrain.flow import accumulate, directions, flow
from zigzag_meadow.core.terrain.lattice import noise_at, unit_hash
from zigzag_meadow.core.terrain.slumping import slump, steepest_face

F32 = np.float32
HASHES = [0.619456, 0.926386, 0.009396]
GRID = Grid(9, 11, 4.0, 5.0)


def ground(grid: Grid = GRID, seed: int = 3) -> np.ndarray:
    """A slope with bumps: every sample drains somewhere, none is as high as another."""
    y, x = np.mgrid[0 : grid.rows, 0 : grid.cols]
    rough = np.random.default_rng(seed).uniform(0, 3, grid.shape)
    return (60 - 2.5 * y - 0.7 * x + rough).astype(F32)


STEPS = [(-1, 0), (-1, 1), (0, 1), (1, 1), (1, 0), (1, -1), (0, -1), (-1, -1)]


def down(z: np.ndarray, grid: Grid) -> dict[tuple[int, int], list[tuple[int, tuple[int, int], float]]]:
    """Of every sample its lower neighbours: which way, where, and the fall a metre."""
    found = {}
    for r in range(grid.rows):
        for c in range(grid.cols):
            lower = []
            for k, (i, j) in enumerate(STEPS):
                to = (r + i, c + j)
                if 0 <= to[0] < grid.rows and 0 <= to[1] < grid.cols and z[to] < z[r, c]:
                    lower.append((k, to, (float(z[r, c]) - float(z[to])) / math.hypot(i * grid.dy, j * grid.dx)))
            found[r, c] = lower
    return found


def test_water_spreads_by_the_power_of_the_fall_and_half_as_much_over_corners():
    z = fill_depressions(ground())
    expected = dict.fromkeys(np.ndindex(z.shape), GRID.dy * GRID.dx)
    code = directions(z, GRID)
    lower = down(z, GRID)
    for place in sorted(expected, key=lambda place: -z[place]):
        shares = {to: fall**1.1 * (0.354 if k % 2 else 0.5) for k, to, fall in lower[place]}
        for to, share in shares.items():
            expected[to] += expected[place] * share / sum(shares.values())
        if not shares and code[place] >= 0:
            i, j = STEPS[code[place]]
            expected[place[0] + i, place[1] + j] += expected[place]
    made = spreading(z, code, GRID)
    np.testing.assert_allclose(made, [[expected[r, c] for c in range(11)] for r in range(9)], rtol=2e-6)


def test_water_goes_the_steepest_way_and_adds_up():
    z = fill_depressions(ground())
    code, lower = directions(z, GRID), down(z, GRID)
    for r in range(1, GRID.rows - 1):
        for c in range(1, GRID.cols - 1):
            assert code[r, c] == max(lower[r, c], key=lambda way: way[2])[0]
    count = np.ones(z.shape, int)
    for place in sorted(np.ndindex(z.shape), key=lambda place: -z[place]):
        if code[place] >= 0:
            i, j = STEPS[code[place]]
            count[place[0] + i, place[1] + j] += count[place]
    assert np.array_equal(accumulate(code), count)
    made = flow(ground(), GRID)
    np.testing.assert_allclose(made.area, count * 20.0, rtol=1e-6)
    assert np.array_equal(made.filled, z)


def test_hollows_fill_to_the_lowest_rim():
    z = np.full((5, 5), 9, F32)
    z[2, 2], z[0, 3], z[1, 3] = 1, 4, 3
    filled = fill_depressions(z)
    assert (filled[2, 2], filled[1, 3], filled[0, 3]) == (4, 4, 4)
    assert (filled[z == 9] == 9).all()


@pytest.mark.parametrize(
    ("area", "deep", "wet"),
    [(999, 0.0, False), (1000, 0.0, True), (0, 0.09, False), (0, 0.1, False), (0, 0.11, True), (0, 0.15, True)],
)
def test_water_stands_in_hollows_deeper_than_a_tenth_of_a_metre_and_runs_from_a_threshold_on(area, deep, wet):
    low = np.zeros((2, 2), F32)
    made = water_samples(np.full((2, 2), area, F32), low, np.full((2, 2), deep, F32), 1000.0, None)
    assert made[0, 0] == wet


def test_channels_grow_by_the_root_and_their_depth_a_little_slower():
    wide, deep = grown(np.array([0.25e6, 1e6, 4e6, 1e8], F32), 6.0, 1.2)
    np.testing.assert_allclose(wide, [3, 6, 12, 60], rtol=1e-5)
    np.testing.assert_allclose(deep, [1.2 * share**0.4 for share in (0.25, 1, 4, 100)], rtol=1e-5)


def test_the_bed_of_a_channel_is_a_parabola():
    area = np.zeros((5, 9), F32)
    area[:, 4] = 4e6
    bed, wide = channel_shape(area, Grid(5, 9, 2.0, 2.0), 1e6, 6.0, 1.2)
    deep = 1.2 * 4**0.4
    np.testing.assert_allclose(
        bed[2, 4:], [deep * max(1 - (2 * k / 6) ** 2, 0) for k in range(5)], rtol=1e-5, atol=1e-6
    )
    assert list(wide[2, 4:]) == [12, 12, 12, 0, 0]


def test_height_over_water_is_that_of_where_it_drains_to():
    z = (hills(31, 43) / 300).astype(F32)
    code = directions(fill_depressions(z), Grid(31, 43, 5.0, 4.0))
    wet = np.zeros(z.shape, bool)
    wet[::7, ::9] = True
    made = height_above(z, code, wet)
    assert set(code[code >= 0]) == set(range(8))
    for r, c in np.ndindex(z.shape):
        i, j = r, c
        while not wet[i, j] and code[i, j] >= 0:
            i, j = i + STEPS[code[i, j]][0], j + STEPS[code[i, j]][1]
        assert made[r, c] == pytest.approx(max(z[r, c] - z[i, j], 0), abs=1e-4)


def test_wetness_counts_less_than_a_tenth_of_a_degree_as_that():
    area, width = np.array([500.0], F32), 5.0
    for degrees, counts in ((0.0, 0.1), (0.05, 0.1), (0.1, 0.1), (0.2, 0.2), (30.0, 30.0)):
        expected = math.log(100 / math.tan(math.radians(counts)))
        assert wetness(area, np.array([degrees], F32), width)[0] == pytest.approx(expected, rel=1e-5)


def test_distances_are_exact_with_unequal_spacing():
    marked = np.zeros(GRID.shape, bool)
    marked[1, 2] = marked[7, 9] = True
    places = [(1, 2), (7, 9)]
    expected = [[min(math.hypot((r - i) * 4, (c - j) * 5) for i, j in places) for c in range(11)] for r in range(9)]
    np.testing.assert_allclose(distance_to(marked, GRID), expected, rtol=1e-6)
    assert distance_to(np.zeros((2, 2), bool), Grid(2, 2, 1, 1))[0, 0] == FAR


def _noise(kind: int, x: float, y: float, octaves: float) -> float:
    return float(noise_at(kind, F32(x), F32(y), F32(octaves), F32(1), np.uint32(5)))


@pytest.mark.parametrize(("kind", "spread"), [(0, 1.25), (1, 1.0), (2, 1.0)])
def test_every_octave_is_twice_as_fine_and_half_as_strong(kind, spread):
    x, y = 3.3, 7.6
    rough = lambda value: (value - 0.5) / 0.5 / spread  # noqa: E731 (back from 0–1)
    first = rough(_noise(kind, x, y, 1))
    second = float(noise_at(kind, F32(2 * x + 17.17), F32(2 * y - 9.71), F32(1), F32(1), np.uint32(6)))
    expected = first + 0.5 * rough(second)
    made = float(noise_at(kind, F32(x), F32(y), F32(2), F32(1.5), np.uint32(5)))
    assert rough(made) * 1.5 == pytest.approx(expected, abs=2e-5)
    part = float(noise_at(kind, F32(x), F32(y), F32(1.4), F32(1.2), np.uint32(5)))
    assert rough(part) * 1.2 == pytest.approx(first + 0.4 * 0.5 * rough(second), abs=2e-5)


def test_hashes_are_even_and_the_same_on_every_machine():
    values = np.array([[unit_hash(x, y, 7) for x in range(40)] for y in range(40)])
    assert (values >= 0).all()
    assert (values < 1).all()
    assert abs(values.mean() - 0.5) < 0.02
    assert [round(unit_hash(x, 2, 1), 6) for x in range(3)] == HASHES


def test_one_drop_takes_and_lays_as_the_paper_has_it():
    """A drop over a slope with a ledge, step by step in plain numbers."""
    rows, cols, d = 24, 24, 2.0
    y, x = np.mgrid[0:rows, 0:cols]
    heights = (80 - 1.1 * y - 0.4 * x + np.where(y > 14, 0.9 * (y - 14), 0)).astype(F32)
    grid = Grid(rows, cols, d, d)
    rain = 1.2 / (rows * cols)
    made = erode(heights, grid, rain=rain, strength=1.0, seed=4)
    z, carried_at = heights.astype(float), np.zeros((rows, cols))
    at = [unit_hash(0, 1, 4) * (rows - 1.001), unit_hash(0, 2, 4) * (cols - 1.001)]
    left = _drop(z, carried_at, at, d, 0.1)
    np.testing.assert_allclose(made.ground, z, atol=2e-5)
    np.testing.assert_allclose(made.load, carried_at, atol=2e-5)
    assert made.left * made.scour.sum() == pytest.approx(left, abs=1e-6)


def _between(z: np.ndarray, y: float, x: float) -> tuple[float, float, float]:
    """(height, fall a sample southward, eastward) between four samples."""
    r, c = int(y), int(x)
    v, u = y - r, x - c
    (a, b), (p, q) = z[r : r + 2, c : c + 2]
    south = (p - a) * (1 - u) + (q - b) * u
    east = (b - a) * (1 - v) + (q - p) * v
    return (a * (1 - u) + b * u) * (1 - v) + (p * (1 - u) + q * u) * v, south, east


def _lay(z: np.ndarray, y: float, x: float, amount: float) -> None:
    r, c = int(y), int(x)
    v, u = y - r, x - c
    z[r : r + 2, c : c + 2] += amount * np.outer([1 - v, v], [1 - u, u])


def _drop(z: np.ndarray, load: np.ndarray, at: list[float], d: float, strength: float) -> float:
    way, speed, rain, carried = np.zeros(2), 1.0, 1.0, 0.0
    offsets = [(i, j) for i in range(-2, 3) for j in range(-2, 3) if math.hypot(i, j) < 2.5]
    weights = {place: 2.5 - math.hypot(*place) for place in offsets}
    for _ in range(56):
        here, south, east = _between(z, *at)
        way = 0.08 * way - 0.92 * np.array([south, east]) / d
        size = float(np.hypot(*way))
        if size < 1e-9:
            break
        way = way / size
        load[int(at[0]), int(at[1])] += carried
        to = [at[0] + way[0], at[1] + way[1]]
        if not all(0 <= t < n - 1 for t, n in zip(to, z.shape, strict=True)):
            return carried
        fall = here - _between(z, *to)[0]
        room = max(fall / d, 0.006) * speed * rain * 6 * d * strength
        if fall < 0 or carried > room:
            amount = min(-fall, carried) if fall < 0 else 0.28 * (carried - room)
            carried -= amount
            _lay(z, *at, amount)
        else:
            amount = min(0.3 * (room - carried), fall)
            for (i, j), weight in weights.items():
                place = (int(at[0]) + i, int(at[1]) + j)
                if all(0 <= p < n for p, n in zip(place, z.shape, strict=True)):
                    part = amount * weight / sum(weights.values())
                    z[place] -= part
                    carried += part
        speed = math.sqrt(max(speed**2 + 4 * fall / d, 0.01))
        rain *= 0.98
        at = to
    _lay(z, *at, carried)
    return 0.0


def test_earth_slumps_until_no_face_is_steeper_than_it_may_be():
    grid = Grid(15, 15, 2.0, 3.0)
    heights = np.zeros(grid.shape, F32)
    heights[7, 7] = 30
    made = slump(heights, grid, 32.0)
    assert steepest_face(made, grid) == pytest.approx(32.0, abs=0.6)
    assert made.sum() == pytest.approx(30, rel=1e-4)
    assert steepest_face(heights, grid) == pytest.approx(math.degrees(math.atan2(30, 2)), abs=1e-3)


@pytest.mark.parametrize(("value", "made"), [(0.44, 0), (0.45, 0), (0.475, 0.25), (0.5, 0.5), (0.55, 1), (0.56, 1)])
def test_a_threshold_is_soft_over_as_much_as_it_says(value, made):
    node = Threshold(id="t", at=0.5, softness=0.1).node(Node(by_sample("x", lambda here, n: None), home=GRID), None)
    assert ramp(np.array([value], F32), node.params["low"], node.params["high"])[0] == pytest.approx(made, abs=1e-5)


def test_a_mask_trickles_along_the_water_from_all_that_flows_in():
    """Until nothing changes: each sample takes the most of what comes down to it, less what the way costs."""
    grid = Grid(23, 31, 4.0, 5.0)
    z = ground(grid)
    code = directions(fill_depressions(z), grid)
    mask = (np.random.default_rng(8).random(grid.shape) ** 9).astype(F32)
    expected, again = mask.astype(np.float64), True
    while again:
        again = False
        for r, c in np.ndindex(grid.shape):
            if code[r, c] < 0:
                continue
            down_r, down_c = STEPS[code[r, c]]
            left = expected[r, c] - np.hypot(down_r * grid.dy, down_c * grid.dx) / 70
            if left > expected[r + down_r, c + down_c]:
                expected[r + down_r, c + down_c], again = left, True
    assert trickled(mask, code, grid.dy, grid.dx, 70) == pytest.approx(expected, abs=1e-5)
    assert (expected > mask + 0.05).mean() > 0.1
