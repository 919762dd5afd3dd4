"""The resampler against its definition, written out sample by sample and slowly."""

from __future__ import annotations

import math

import numpy as np
import pytest

from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.resample import resample


def coordinate(src: Grid, dst: Grid, axis: int, index: int) -> float:
    """Source index of a destination sample, through metres."""
    step = ((src.dy, dst.dy), (src.dx, dst.dx))[axis]
    metres = dst.first[axis] + index * step[1]
    return (metres - src.first[axis]) / step[0]


def cubic(t: float) -> float:
    """Keys' kernel with a = −1/2, which is Catmull–Rom."""
    t = abs(t)
    if t < 1:
        return 1.5 * t**3 - 2.5 * t**2 + 1
    return -0.5 * t**3 + 2.5 * t**2 - 4 * t + 2 if t < 2 else 0.0


def line_value(line: np.ndarray, i: int) -> float:
    """Samples of a line, going on straight beyond its ends."""
    last = len(line) - 1
    if i < 0:
        return float(line[0] + (line[0] - line[1]) * -i)
    if i > last:
        return float(line[last] + (line[last] - line[last - 1]) * (i - last))
    return float(line[i])


def slow_cubic(z: np.ndarray, src: Grid, dst: Grid) -> np.ndarray:
    def along(array: np.ndarray, axis: int) -> np.ndarray:
        out = []
        for index in range(dst.shape[axis]):
            s = coordinate(src, dst, axis, index)
            base = math.floor(round(s, 9))
            taps = range(base - 1, base + 3)
            lines = array if axis == 0 else array.T
            rows = [np.array([line_value(lines[:, c], i) for c in range(lines.shape[1])]) for i in taps]
            out.append(sum(cubic(s - i) * row for i, row in zip(taps, rows, strict=True)))
        stacked = np.array(out)
        return stacked if axis == 0 else stacked.T

    return along(along(z.astype(np.float64), 0), 1)


def slow_box(z: np.ndarray, src: Grid, dst: Grid) -> np.ndarray:
    """Means over the cells a destination sample stands for; borders are handled by the caller's slice."""

    def along(array: np.ndarray, axis: int) -> np.ndarray:
        lines = array if axis == 0 else array.T
        ratio = ((dst.dy / src.dy), (dst.dx / src.dx))[axis]
        out = []
        for index in range(dst.shape[axis]):
            s = coordinate(src, dst, axis, index)
            total, weight = np.zeros(lines.shape[1]), 0.0
            for i in range(lines.shape[0]):
                share = min(i + 0.5, s + ratio / 2) - max(i - 0.5, s - ratio / 2)
                if share > 0:
                    total, weight = total + share * lines[i], weight + share
            out.append(total / weight)
        stacked = np.array(out)
        return stacked if axis == 0 else stacked.T

    return along(along(z.astype(np.float64), 0), 1)


@pytest.mark.parametrize("registration", ["vertex", "area"])
@pytest.mark.parametrize("size", [(23, 31), (12, 40), (37, 17), (12, 16)])
def test_growing_is_catmull_rom(registration, size):
    src = Grid(12, 16, 3.0, 5.0)
    more = 0 if registration == "vertex" else 1
    dst = src.resized(*(max(n, m + more) for n, m in zip(size, src.shape, strict=True)), registration)
    z = np.random.default_rng(7).random(src.shape, np.float32) * 0.2 + 0.4
    assert dst.dy <= src.dy
    assert dst.dx <= src.dx
    # Masks are clamped to 0–1 only, which these values never reach: this is the bare interpolation.
    assert resample(z, src, dst, "mask") == pytest.approx(slow_cubic(z, src, dst), abs=1e-5)


@pytest.mark.parametrize(("rows", "cols", "factor"), [(24, 36, 2), (24, 36, 3), (24, 36, 4)])
def test_whole_area_ratios_are_plain_means(rows, cols, factor):
    src = Grid(rows, cols, 3.0, 5.0, "area")
    dst = src.resized(rows // factor, cols // factor)
    z = np.random.default_rng(8).random(src.shape, np.float32)
    blocks = z.reshape(rows // factor, factor, cols // factor, factor).mean(axis=(1, 3))
    assert resample(z, src, dst) == pytest.approx(blocks, abs=1e-6)
    assert slow_box(z, src, dst) == pytest.approx(blocks, abs=1e-6)


@pytest.mark.parametrize("size", [(13, 19), (9, 13), (21, 31)])
def test_shrinking_is_the_box_up_to_a_tilt(size):
    """Inside, the mean over the covered cells; where the ratio is not whole, its centre is put right."""
    src = Grid(25, 37, 3.0, 5.0)
    dst = src.resized(*size)
    z = np.random.default_rng(9).random(src.shape, np.float32)
    fast, slow = resample(z, src, dst), slow_box(z, src, dst)
    inner = (slice(2, -2), slice(2, -2))
    whole = (src.rows - 1) % (dst.rows - 1) == 0 and (src.cols - 1) % (dst.cols - 1) == 0
    assert fast[inner] == pytest.approx(slow[inner], abs=1e-5 if whole else 0.12)
    ramp = np.add.outer(np.arange(25) * 2.0, np.arange(37) * -3.0).astype(np.float32)
    exact = np.add.outer(np.linspace(0, 48, size[0]), np.linspace(0, -108, size[1]))
    assert resample(ramp, src, dst) == pytest.approx(exact, abs=1e-3)


def test_logarithms_are_interpolated_and_positive():
    src = Grid(9, 9, 1.0, 1.0)
    z = (2.0 ** np.random.default_rng(1).integers(4, 20, src.shape)).astype(np.float32)
    fine = resample(z, src, src.resized(17, 17), "log")
    assert fine[::2, ::2] == pytest.approx(z, rel=1e-5)
    assert fine[0, 1] == pytest.approx(np.sqrt(z[0, 0] * z[0, 1]), rel=1e-4)
    assert fine.min() >= z.min() * 0.999


def test_nearest_keeps_only_values_that_were_there():
    src = Grid(9, 13, 1.0, 1.0)
    z = np.random.default_rng(1).integers(0, 5, src.shape).astype(np.float32)
    for size in ((5, 7), (20, 30), (9, 40)):
        out = resample(z, src, src.resized(*size), "nearest")
        assert set(np.unique(out)) <= set(np.unique(z))
    assert (resample(z, src, src.resized(17, 25), "nearest")[::2, ::2] == z).all()
