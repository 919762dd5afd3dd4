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
def _between(a: F32, b: F32, c: F32, d: F32, f: np.float32, out: F32) -> None:
    """Catmull–Rom at ``f`` between ``b`` and ``c``: quadratic ground keeps its curvature (Keys 1981,
    doi:10.1109/TASSP.1981.1163711). Differences first: heights are large."""
    half, one, two, three = np.float32(0.5), np.float32(1), np.float32(2), np.float32(3)
    wa = half * f * (f * (two - f) - one)
    wc = half * f * (one + f * (np.float32(4) - three * f))
    wd = half * f * f * (f - one)
    for k in range(out.size):
        out[k] = b[k] + (wa * (a[k] - b[k]) + wc * (c[k] - b[k]) + wd * (d[k] - b[k]))


@njit(nogil=True, cache=True, error_model="numpy")
def _copy(p: F32, out: F32) -> None:
    for c in range(out.size):
        out[c] = p[c]


@njit(nogil=True, cache=True, error_model="numpy")
def gather(z: F32, r: int, ky: int, kx: int, fy: np.float32, fx: np.float32, spare: F32, out: F32) -> None:
    """Fill ``out`` (9, columns) with the neighbours of output row ``r`` of ``z``, which carries its margin.

    Where ±width falls between samples (``fy``, ``fx`` above 0) neighbours are interpolated by Catmull–Rom.
    """
    jy, jx = (1 if fy > 0 else 0), (1 if fx > 0 else 0)
    my, mx = ky + 2 * jy, kx + 2 * jx
    for i in range(3):
        side = i - 1
        line = r + my + side * ky
        row = out[3 * i :]
        if jy == 0 and jx == 0:
            _copy(z[line], row[0])
            _copy(z[line, mx:], row[1])
            _copy(z[line, 2 * mx :], row[2])
            continue
        if jy == 1 and side != 0:
            _between(z[line - side], z[line], z[line + side], z[line + 2 * side], fy, spare)
        else:
            _copy(z[line], spare)
        if jx == 0:
            _copy(spare, row[0])
            _copy(spare[mx:], row[1])
            _copy(spare[2 * mx :], row[2])
            continue
        w, e = mx - kx, mx + kx
        _between(spare[w + 1 :], spare[w:], spare[w - 1 :], spare[w - 2 :], fx, row[0])
        _copy(spare[mx:], row[1])
        _between(spare[e - 1 :], spare[e:], spare[e + 1 :], spare[e + 2 :], fx, row[2])


def over_neighbours(
    padded: F32,
    off: Offsets,
    numbers: tuple[float, ...],
    kernel: RowKernel,
    stripes: Stripes,
    cancel: Cancel | None = None,
    out: F32 | None = None,
) -> F32:
    """Run a row kernel over ``padded`` (float32 with ``off.wide_margin`` on every side); float32 without it."""
    my, mx = off.wide_margin
    padded = readable(padded)
    shape = (padded.shape[0] - 2 * my, padded.shape[1] - 2 * mx)
    result = np.empty(shape, np.float32) if out is None else out
    fy, fx = np.float32(off.fy), np.float32(off.fx)
    given = readable(np.array(numbers, np.float32))
    stripes.run(*shape, lambda i, j: kernel(padded, off.ky, off.kx, fy, fx, given, result, i, j), cancel)
    return result
