"""Registration, legal coordinates and the one resampler."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.grid import Grid, Window, reference_grid, whole_ground_grid
from zigzag_meadow.core.resample import Resampling, resample, source_coordinate

sizes = st.integers(9, 70)
registrations = st.sampled_from(["vertex", "area"])


def plane(grid: Grid, a: float, b: float) -> np.ndarray:
    y = grid.first[0] + np.arange(grid.rows) * grid.dy
    x = grid.first[1] + np.arange(grid.cols) * grid.dx
    return (a * y[:, None] + b * x[None, :]).astype(np.float32)


def test_extents_follow_registration():
    vertex, area = Grid(1009, 1009, 4, 4), Grid(100, 50, 2, 3, "area")
    assert (vertex.width, vertex.length) == (4032, 4032)
    assert (area.width, area.length) == (150, 200)
    assert Grid(1009, 505, 4, 4).resized(1009, 1009).dx == pytest.approx(2)
    assert Grid(1009, 1009, 1, 1).resized(2, 2).dx * 1 == 1008
    assert pytest.approx(0.9920635, abs=1e-7) == 1000 / 1008


def test_source_coordinates():
    assert [source_coordinate(1025, 513, i, "vertex") for i in (1, 512)] == [2, 1024]
    assert source_coordinate(1024, 512, 0, "area") == 0.5


def test_statistics_and_whole_ground_grids_are_capped():
    assert reference_grid(Grid(505, 1009, 3, 3)).shape == (505, 1009)
    assert max(reference_grid(Grid(4081, 2041, 1, 1)).shape) == 1025
    assert whole_ground_grid(Grid(4081, 4081, 1, 1)).shape == (4081, 4081)
    assert max(whole_ground_grid(Grid(8161, 4081, 1, 1)).shape) == 4097


@settings(max_examples=60)
@given(sizes, sizes, sizes, sizes, registrations, st.floats(-3, 3), st.floats(-3, 3))
def test_planes_stay_planes(rows, cols, new_rows, new_cols, registration, a, b):
    src = Grid(rows, cols, 3.0, 5.0)
    dst = src.resized(new_rows, new_cols, registration)
    out = resample(plane(src, a, b), src, dst)
    assert np.abs(out - plane(dst, a, b)).max() <= 2e-3 * max(abs(a) * 200, abs(b) * 350, 1)


@settings(max_examples=40)
@given(sizes, sizes, st.integers(5, 150), st.sampled_from(["height", "mask", "linear", "nearest"]))
def test_nothing_leaves_its_range_and_constants_stay(rows, cols, new, how):
    src = Grid(rows, cols, 2.0, 3.0)
    dst = src.resized(new, max(new // 2, 5))
    z = np.random.default_rng(rows * cols).random(src.shape, np.float32)
    out = resample(z, src, dst, how)
    assert out.shape == dst.shape
    # Heights stay in their neighbourhood; masks may overshoot it, but never leave 0 to 1.
    low, high = (0, 1) if how == "mask" else (z.min() - 1e-6, z.max() + 1e-6)
    assert low <= out.min() <= out.max() <= high
    assert resample(np.full(src.shape, 0.25, np.float32), src, dst, how) == pytest.approx(0.25, abs=1e-6)


def test_box_of_two_is_the_mean_of_four_and_vertices_are_kept():
    area = Grid(8, 8, 1, 1, "area")
    z = np.arange(64, dtype=np.float32).reshape(8, 8)
    assert resample(z, area, area.resized(4, 4))[0, 0] == z[:2, :2].mean()
    vertex = Grid(9, 9, 1, 1)
    v = np.random.default_rng(1).random((9, 9), np.float32)
    doubled = resample(v, vertex, vertex.resized(17, 17))
    assert (doubled[::2, ::2] == v).all()
    half = resample(v, vertex, vertex.resized(5, 5))
    assert half[0, 0] == v[0, 0]
    assert half[1, 1] == pytest.approx((np.outer([1, 2, 1], [1, 2, 1]) / 16 * v[1:4, 1:4]).sum())


@settings(max_examples=40)
@given(st.data())
def test_windows_are_parts_of_the_whole(data):
    src = Grid(data.draw(sizes), data.draw(sizes), 2.0, 3.0)
    dst = src.resized(data.draw(sizes), data.draw(sizes), data.draw(registrations))
    z = np.random.default_rng(3).random(src.shape, np.float32)
    r0, c0 = data.draw(st.integers(0, dst.rows - 1)), data.draw(st.integers(0, dst.cols - 1))
    window = Window(r0, data.draw(st.integers(r0 + 1, dst.rows)), c0, data.draw(st.integers(c0 + 1, dst.cols)))
    plan = Resampling(src, dst, window, "height")
    need = plan.needs
    part = plan.apply(z[need.row0 : need.row1, need.col0 : need.col1])
    whole = resample(z, src, dst)
    assert (part == whole[window.row0 : window.row1, window.col0 : window.col1]).all()


def test_impossible_grids_are_refused():
    with pytest.raises(BadNumber, match="above 0 m"):
        Grid(9, 9, 0, 1)
    with pytest.raises(BadNumber, match="2 × 2"):
        Grid(1, 9, 1, 1)
    with pytest.raises(BadNumber, match="like its grid"):
        resample(np.zeros((3, 3), np.float32), Grid(4, 4, 1, 1), Grid(5, 5, 1, 1))
