"""The eight neighbours of every sample of a row, at ±width, as rows a kernel can run along."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.readings.differences import Offsets
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["NE", "NW", "SE", "SW", "C", "E", "N", "S", "W", "gather", "over_neighbours"]

F32 = NDArray[np.float32]
RowKernel = Callable[[F32, int, int, np.float32, np.float32, F32, F32, int, int], None]
"""Arguments: padded, ky, kx, fy, fx, numbers, out, first row, end row."""

NW, N, NE, W, C, E, SW, S, SE = range(9)
"""Rows of the gathered array."""


@njit(nogil=True, cache=True, error_model="numpy")
def _mix(p: F32, q: F32, f: np.float32, out: F32) -> None:
    for c in range(out.size):
        out[c] = p[c] + f * (q[c] - p[c])


@njit(nogil=True, cache=True, error_model="numpy")
def _copy(p: F32, out: F32) -> None:
    for c in range(out.size):
        out[c] = p[c]


@njit(nogil=True, cache=True, error_model="numpy")
def gather(z: F32, r: int, ky: int, kx: int, fy: np.float32, fx: np.float32, spare: F32, out: F32) -> None:
    """Fill ``out`` (9, columns) with the neighbours of output row ``r`` of ``z``, which carries its margin.

    Where ±width falls between samples (``fy``, ``fx`` above 0) neighbours are interpolated linearly.
    """
    cols = out.shape[1]
    jy, jx = (1 if fy > 0 else 0), (1 if fx > 0 else 0)
    my, mx = ky + jy, kx + jx
    for i in range(3):
        line = r + my + (i - 1) * ky
        row = out[3 * i :]
        if jy == 0 and jx == 0:
            _copy(z[line], row[0])
            _copy(z[line, mx:], row[1])
            _copy(z[line, 2 * mx :], row[2])
            continue
        _mix(z[line], z[line + (i - 1) * jy], fy, spare)
        _mix(spare[jx : jx + cols], spare[:cols], fx, row[0])
        _mix(spare[mx : mx + cols], spare[mx : mx + cols], fx, row[1])
        _mix(spare[mx + kx : mx + kx + cols], spare[mx + kx + jx : mx + kx + jx + cols], fx, row[2])


def over_neighbours(
    padded: F32,
    off: Offsets,
    numbers: tuple[float, ...],
    kernel: RowKernel,
    stripes: Stripes,
    cancel: Cancel | None = None,
    out: F32 | None = None,
) -> F32:
    """Run a row kernel over ``padded`` (float32 with ``off.margin`` on every side); float32 without the margin."""
    my, mx = off.margin
    padded = readable(padded)
    shape = (padded.shape[0] - 2 * my, padded.shape[1] - 2 * mx)
    result = np.empty(shape, np.float32) if out is None else out
    fy, fx = np.float32(off.fy), np.float32(off.fx)
    given = readable(np.array(numbers, np.float32))
    stripes.run(*shape, lambda i, j: kernel(padded, off.ky, off.kx, fy, fx, given, result, i, j), cancel)
    return result
