"""Exact distances in metres to the nearest of some samples, on cells that need not be square."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["FAR", "distance_to", "nearest"]

F32 = NDArray[np.float32]
I32 = NDArray[np.int32]
Mask = NDArray[np.bool_]
FAR = 1e9
"""Metres where there is nothing to be near to."""


@njit(nogil=True, cache=True)
def _down_columns(marked: Mask, row: I32, first: int, end: int) -> None:
    """The row of the nearest marked sample in each column of a stripe of columns; −1 where there is none."""
    rows = marked.shape[0]
    for c in range(first, end):
        last = -1
        for r in range(rows):
            if marked[r, c]:
                last = r
            row[r, c] = last
        last = -1
        for r in range(rows - 1, -1, -1):
            if marked[r, c]:
                last = r
            if last >= 0 and (row[r, c] < 0 or last - r < r - row[r, c]):
                row[r, c] = last


@njit(nogil=True, cache=True)
def _along_rows(row: I32, dy: float, dx: float, metres: F32, at: I32, first: int, end: int) -> None:
    """Lower envelope of parabolas along each row, and the sample at its lowest: Felzenszwalb & Huttenlocher 2012."""
    cols = row.shape[1]
    apex = np.empty(cols, np.int64)
    start = np.empty(cols + 1, np.float64)
    high = np.empty(cols, np.float64)
    for r in range(first, end):
        count = 0
        for c in range(cols):
            if row[r, c] < 0:
                continue
            d = (row[r, c] - r) * dy
            high[c] = d * d
            cross = -1e300
            while count > 0:
                # Counted from the other apex, in columns: the same wherever a window begins.
                p = apex[count - 1]
                cross = p + 0.5 * ((high[c] - high[p]) / (dx * dx * (c - p)) + (c - p))
                if cross > start[count - 1]:
                    break
                count -= 1
            start[count] = cross if count > 0 else -1e300
            apex[count] = c
            count += 1
        k = 0
        for c in range(cols):
            if count == 0:
                metres[r, c], at[r, c] = FAR, -1
                continue
            # Equally near ones are told apart alike in every window, whatever the last digit.
            while k + 1 < count and start[k + 1] <= c + 1e-9:
                k += 1
            p = apex[k]
            metres[r, c] = np.sqrt(high[p] + ((c - p) * dx) ** 2)
            at[r, c] = row[r, p] * cols + p


class Nearest(NamedTuple):
    """``metres`` to the nearest marked sample, float32, and where it is (``at``, its flat index), int32."""

    metres: F32
    at: I32


def nearest(marked: Mask, grid: Grid, stripes: Stripes | None = None, cancel: Cancel | None = None) -> Nearest:
    """The nearest marked sample of every sample, in the shape of ``marked``.

    ``marked`` may be any window of ``grid``, which gives the spacing. Exact Euclidean distances, linear
    time. Where nothing is marked: :data:`FAR` and −1. Reference: Felzenszwalb & Huttenlocher 2012,
    doi:10.4086/toc.2012.v008a019.
    """
    pool = stripes or Stripes(1)
    marked = readable(marked)
    rows, cols = marked.shape
    row, at = np.empty((rows, cols), np.int32), np.empty((rows, cols), np.int32)
    metres = np.empty((rows, cols), np.float32)
    pool.run(cols, rows, lambda i, j: _down_columns(marked, row, i, j), cancel)
    row = readable(row)
    pool.run(rows, cols, lambda i, j: _along_rows(row, grid.dy, grid.dx, metres, at, i, j), cancel)
    return Nearest(metres, at)


def distance_to(marked: Mask, grid: Grid, stripes: Stripes | None = None, cancel: Cancel | None = None) -> F32:
    """Metres to the nearest marked sample; see :func:`nearest`."""
    return nearest(marked, grid, stripes, cancel).metres
