"""The mean height within a radius, and relative height: how far a place stands above it."""

from __future__ import annotations

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["DIRECT_SAMPLES", "WIDE_SAMPLES", "disc_margin", "mean_padded", "relative_padded"]

F32 = NDArray[np.float32]
F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
DIRECT_SAMPLES = 16
"""Radii up to this many samples are summed on the grid itself; larger ones on a coarser grid."""
WIDE_SAMPLES = 24
"""Samples of that coarser grid a radius."""


@njit(nogil=True, cache=True)
def _sums(row: F32, out: F64) -> None:
    total = 0.0
    for c in range(row.size):
        out[c] = total
        total += row[c]
    out[row.size] = total


@njit(nogil=True, cache=True, error_model="numpy")
def _disc_rows(z: F32, half: I64, mx: int, out: F64, first: int, end: int) -> None:
    """The sum over a disc about every sample; ``half``: samples to either side of its middle, a line each."""
    cols = out.shape[1]
    lines = half.size
    ring = np.empty((lines, z.shape[1] + 1), np.float64)
    for k in range(lines - 1):
        _sums(z[first + k], ring[(first + k) % lines])
    for r in range(first, end):
        _sums(z[r + lines - 1], ring[(r + lines - 1) % lines])
        total = out[r]
        total[:] = 0
        for k in range(lines):
            sums = ring[(r + k) % lines]
            right, left = sums[mx + half[k] + 1 :], sums[mx - half[k] :]
            for c in range(cols):
                total[c] += right[c] - left[c]


def disc_margin(grid: Grid, radius: float) -> tuple[int, int]:
    """Samples (y, x) within ``radius`` metres; at least one."""
    return (max(math.floor(radius / grid.dy + 1e-6), 1), max(math.floor(radius / grid.dx + 1e-6), 1))


def _disc(grid: Grid, radius: float) -> I64:
    my, mx = disc_margin(grid, radius)
    lines = np.arange(-my, my + 1) * grid.dy
    half = np.floor(np.sqrt(np.maximum((radius * (1 + 1e-6)) ** 2 - lines**2, 0)) / grid.dx).astype(np.int64)
    return np.asarray(readable(np.minimum(half, mx)), np.int64)


def _summed(padded: F32, grid: Grid, radius: float, stripes: Stripes, cancel: Cancel | None) -> F64:
    my, mx = disc_margin(grid, radius)
    half, values = readable(_disc(grid, radius)), readable(padded)
    out = np.empty((padded.shape[0] - 2 * my, padded.shape[1] - 2 * mx), np.float64)
    stripes.run(out.shape[0], out.shape[1], lambda i, j: _disc_rows(values, half, mx, out, i, j), cancel)
    return out


def mean_padded(
    padded: F32, weight: F32, grid: Grid, radius: float, stripes: Stripes, cancel: Cancel | None = None
) -> F32:
    """The mean height in metres of what lies within ``radius`` metres, by ``weight`` (0 where there is nothing).

    ``padded`` and ``weight``: float32 with :func:`disc_margin` on every side. Returns float32 without the margin;
    where nothing is near, the height itself.
    """
    my, mx = disc_margin(grid, radius)
    total = _summed(np.where(weight > 0, padded * weight, np.float32(0)), grid, radius, stripes, cancel)
    count = _summed(weight, grid, radius, stripes, cancel)
    middle = padded[my : padded.shape[0] - my, mx : padded.shape[1] - mx]
    return np.where(count > 1e-9, total / np.maximum(count, 1e-9), middle).astype(np.float32)


def relative_padded(
    padded: F32,
    grid: Grid,
    radius: float,
    stripes: Stripes,
    cancel: Cancel | None = None,
    there: F32 | None = None,
) -> F32:
    """Metres above the mean of all other samples within ``radius`` metres; negative in hollows.

    ``padded``: float32 metres with :func:`disc_margin` on every side; ``there``: float32 of the same shape, 0 where
    there is no ground (gaps, beyond the border), else 1; None where all is there. What is not there counts in no
    mean. Returns float32 without the margin. Reference: Weiss 2001, Topographic position and landforms analysis.
    """
    my, mx = disc_margin(grid, radius)
    middle = padded[my : padded.shape[0] - my, mx : padded.shape[1] - mx]
    values = padded if there is None else np.where(there > 0, padded, np.float32(0))
    total = _summed(values, grid, radius, stripes, cancel)
    count = None if there is None else _summed(there, grid, radius, stripes, cancel)
    inner = values[my : padded.shape[0] - my, mx : padded.shape[1] - mx]
    own = None if there is None else there[my : padded.shape[0] - my, mx : padded.shape[1] - mx]
    all_of_it = float((2 * _disc(grid, radius) + 1).sum())
    result: F32 = np.empty(middle.shape, np.float32)

    def some(i: int, j: int) -> None:
        if count is None or own is None:
            result[i:j] = middle[i:j] - (total[i:j] - inner[i:j]) / (all_of_it - 1)
            return
        others = count[i:j] - own[i:j]
        around = (total[i:j] - inner[i:j]) / np.maximum(others, 1)
        result[i:j] = np.where(others > 0, middle[i:j] - around, 0)

    # Some rows at a time: what lies between takes no room.
    stripes.run(result.shape[0], result.shape[1], some, cancel)
    return result
