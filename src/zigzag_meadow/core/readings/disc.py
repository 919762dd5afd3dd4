"""The mean height within a radius, and relative height: how far a place stands above it."""

from __future__ import annotations

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["DIRECT_SAMPLES", "disc_margin", "relative_padded"]

F32 = NDArray[np.float32]
F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
DIRECT_SAMPLES = 16
"""Radii up to this many samples are summed on the grid itself; larger ones on a coarser grid."""


@njit(nogil=True, cache=True)
def _sums(row: F32, out: F64) -> None:
    total = 0.0
    for c in range(row.size):
        out[c] = total
        total += row[c]
    out[row.size] = total


@njit(nogil=True, cache=True, error_model="numpy")
def _relative_rows(z: F32, half: I64, my: int, mx: int, others: float, out: F32, first: int, end: int) -> None:
    cols = out.shape[1]
    lines = half.size
    ring = np.empty((lines, z.shape[1] + 1), np.float64)
    total = np.empty(cols, np.float64)
    for k in range(lines - 1):
        _sums(z[first + k], ring[(first + k) % lines])
    for r in range(first, end):
        _sums(z[r + lines - 1], ring[(r + lines - 1) % lines])
        total[:] = 0
        for k in range(lines):
            sums = ring[(r + k) % lines]
            right, left = sums[mx + half[k] + 1 :], sums[mx - half[k] :]
            for c in range(cols):
                total[c] += right[c] - left[c]
        m, o = z[r + my, mx:], out[r]
        for c in range(cols):
            o[c] = np.float32(m[c] - (total[c] - m[c]) / others)


def disc_margin(grid: Grid, radius: float) -> tuple[int, int]:
    """Samples (y, x) within ``radius`` metres; at least one."""
    return (max(math.floor(radius / grid.dy + 1e-6), 1), max(math.floor(radius / grid.dx + 1e-6), 1))


def relative_padded(
    padded: F32, grid: Grid, radius: float, stripes: Stripes, cancel: Cancel | None = None, out: F32 | None = None
) -> F32:
    """Metres above the mean of all other samples within ``radius`` metres; negative in hollows.

    ``padded``: float32 metres with :func:`disc_margin` on every side. Returns float32 without the margin.
    Reference: Weiss 2001, Topographic position and landforms analysis.
    """
    my, mx = disc_margin(grid, radius)
    lines = np.arange(-my, my + 1) * grid.dy
    half = np.floor(np.sqrt(np.maximum((radius * (1 + 1e-6)) ** 2 - lines**2, 0)) / grid.dx).astype(np.int64)
    half = readable(np.minimum(half, mx))
    padded = readable(padded)
    shape = (padded.shape[0] - 2 * my, padded.shape[1] - 2 * mx)
    result = np.empty(shape, np.float32) if out is None else out
    others = float((2 * half + 1).sum() - 1)
    stripes.run(*shape, lambda i, j: _relative_rows(padded, half, my, mx, others, result, i, j), cancel)
    return result
