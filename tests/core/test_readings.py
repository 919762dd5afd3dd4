"""Readings against analytic surfaces and independent references, on rectangular cells throughout."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.support.ground import document, evaluation, lay
from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.readings.slope import slope
from zigzag_meadow.core.terrain.filling import fill_depressions
from zigzag_meadow.core.terrain.flow import EAST_NORTH, accumulate, directions, flow

GRID = Grid(41, 57, 2.0, 3.0)
Y = (np.arange(GRID.rows) * GRID.dy)[:, None]
X = (np.arange(GRID.cols) * GRID.dx)[None, :]


@pytest.mark.parametrize(
    ("z", "degrees"),
    [(X + 0 * Y, 45.0), (Y + 0 * X, 45.0), (X / np.sqrt(3) + 0 * Y, 30.0), (3 * X - 4 * Y, np.degrees(np.arctan(5)))],
)
@pytest.mark.parametrize("width", [None, 3.0, 5.0, 12.0])
def test_slope_of_planes_is_exact_up_to_the_border(z, degrees, width):
    assert slope(z.astype(np.float32), GRID, width=width) == pytest.approx(degrees, abs=2e-4)


def test_slope_of_the_dome():
    grid = Grid(41, 41, 10.0, 10.0)
    offset = (np.arange(41) - 20) * 10.0
    z = 100 - (offset[:, None] ** 2 + offset[None, :] ** 2) / 200
    assert slope(z.astype(np.float32), grid)[20, 25] == pytest.approx(26.565051, abs=1e-4)


def test_slope_agrees_with_plain_numpy_and_refuses_a_width_below_the_spacing():
    z = np.random.default_rng(2).random(GRID.shape, np.float32) * 40
    p = np.pad(z.astype(np.float64), 1, mode="reflect", reflect_type="odd")
    n, m, s = p[:-2], p[1:-1], p[2:]
    gx = (n[:, 2:] + 2 * m[:, 2:] + s[:, 2:] - n[:, :-2] - 2 * m[:, :-2] - s[:, :-2]) / (8 * GRID.dx)
    gy = (n[:, 2:] + 2 * n[:, 1:-1] + n[:, :-2] - s[:, 2:] - 2 * s[:, 1:-1] - s[:, :-2]) / (8 * GRID.dy)
    assert slope(z, GRID) == pytest.approx(np.degrees(np.arctan(np.hypot(gx, gy))), abs=1e-3)
    with pytest.raises(BadNumber, match="at least the spacing"):
        slope(z, GRID, width=2.5)


def test_shade_of_planes(tmp_path):
    _, ev = evaluation(tmp_path, document())
    grid = ev.home
    for z, light in ((np.arange(grid.cols)[None, :] * grid.dx, 218), (np.arange(grid.rows)[::-1, None] * grid.dy, 38)):
        heights = np.broadcast_to(z, grid.shape).astype(np.float32)
        ev = ev.engine.evaluation(ev.project)
        ev.engine.cache._held.clear()
        lay(ev, ev.graph.stage().ground, heights)
        assert (np.round(ev.map("reading:shade")) == light).all()


def slow_fill(z: np.ndarray) -> np.ndarray:
    """The definition, iterated until nothing changes: max(ground, lowest neighbour's surface)."""
    f = np.full(z.shape, np.inf)
    edge = np.zeros(z.shape, bool)
    edge[[0, -1]] = edge[:, [0, -1]] = True
    f[edge] = z[edge]
    while True:
        p = np.pad(f, 1, constant_values=np.inf)
        around = [p[1 + a : 1 + a + z.shape[0], 1 + b : 1 + b + z.shape[1]] for a in (-1, 0, 1) for b in (-1, 0, 1)]
        g = np.where(edge, z, np.maximum(z, np.minimum(f, np.min(around, axis=0))))
        if (g == f).all():
            return g
        f = g


@settings(max_examples=40)
@given(st.integers(2, 24), st.integers(2, 24), st.integers(1, 40), st.integers(0, 10**6))
def test_depressions_and_flow_of_rough_ground(rows, cols, levels, seed):
    z = np.random.default_rng(seed).integers(-levels, levels, (rows, cols)).astype(np.float32)
    grid = Grid(rows, cols, 2.0, 3.0)
    filled = fill_depressions(z)
    assert (filled == slow_fill(z)).all()
    code = directions(filled, grid)
    count = accumulate(code)
    # Everything drains, nothing uphill, and all of it arrives at the border.
    assert (code >= -1).all()
    assert count[code == -1].sum() == z.size
    for r, c in np.argwhere(code >= 0):
        east, north = EAST_NORTH[code[r, c]]
        assert filled[r - north, c + east] <= filled[r, c]


def test_flow_down_a_plane_counts_cells_in_square_metres():
    z = np.broadcast_to(np.arange(30, 0, -1.0)[None, :], (9, 30)).astype(np.float32)
    accumulation, filled = flow(z, Grid(9, 30, 2.0, 3.0))
    assert (accumulation[4] == np.arange(1, 31) * 6.0).all()
    assert (filled == z).all()


def test_steepest_descent_weighs_diagonals_by_their_length():
    z = np.full((5, 5), 10, np.float32)
    z[2, 2], z[2, 3], z[2, 4], z[3, 3], z[4, 4] = 9.0, 8.0, 1.0, 7.9, 1.0
    filled = fill_depressions(z)
    # East falls 1 m over the spacing, south-east 1.1 m over the diagonal.
    assert directions(filled, Grid(5, 5, 2.0, 3.0))[2, 2] == 2
    assert directions(filled, Grid(5, 5, 2.0, 40.0))[2, 2] == 3


def test_a_reading_is_the_same_at_half_and_double_size(tmp_path):
    _, ev = evaluation(tmp_path, document(rows=253, cols=253))
    home = ev.map("reading:slope")
    fine = ev.map("reading:slope", ev.home.resized(505, 505))
    coarse = ev.map("reading:slope", ev.home.resized(127, 127))
    assert np.abs(fine[::2, ::2] - home).max() < 0.05
    assert abs(float(coarse.mean()) - float(home.mean())) < 0.3
    water = ev.map("reading:flow", ev.home.resized(505, 505))
    assert water[::2, ::2] == pytest.approx(ev.map("reading:flow"), rel=1e-4)
