"""Slumping: ground steeper than an angle slides until it is not, and lies below as talus."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["LEFT_LYING", "slump", "steepest_face"]

F32 = NDArray[np.float32]
F64 = NDArray[np.float64]
Mask = NDArray[np.bool_]
_WALL = 1e12
"""Too high to slide onto; what is that high does not slide."""
MOST_ROUNDS = 6000
_STANDS = 1e11
LEFT_LYING = 0.25
"""Degrees by which a face may be too steep and is left lying."""


@njit(nogil=True, cache=True, error_model="numpy")
def _loosen(z: F64, stable: F64, slides: F64, part: F64, still: float, most: F64, first: int, end: int) -> None:
    """How much slides off each sample in a round, and that over the sum of what its faces are too high by.

    All arrays have a rim of one sample; that of ``z`` is too high to slide onto. ``most`` keeps the largest a row.
    Written out by neighbour: loops over them are not turned into vector instructions.
    """
    cols = z.shape[1] - 2
    north, west, corner = stable[0], stable[1], stable[2]
    for r in range(first + 1, end + 1):
        m, o, p = z[r, 1:], slides[r, 1:], part[r, 1:]
        n1, n2, n3, n4 = z[r - 1, 0:], z[r - 1, 1:], z[r - 1, 2:], z[r, 0:]
        n5, n6, n7, n8 = z[r, 2:], z[r + 1, 0:], z[r + 1, 1:], z[r + 1, 2:]
        biggest = 0.0
        for c in range(cols):
            h = m[c]
            d1, d2 = max(h - n1[c] - corner, 0.0), max(h - n2[c] - north, 0.0)
            d3, d4 = max(h - n3[c] - corner, 0.0), max(h - n4[c] - west, 0.0)
            d5, d6 = max(h - n5[c] - west, 0.0), max(h - n6[c] - corner, 0.0)
            d7, d8 = max(h - n7[c] - north, 0.0), max(h - n8[c] - corner, 0.0)
            top = max(max(max(d1, d2), max(d3, d4)), max(max(d5, d6), max(d7, d8)))
            total = ((d1 + d2) + (d3 + d4)) + ((d5 + d6) + (d7 + d8))
            # Half of the largest excess would level two samples; eight may share, so a little less.
            gone = top * 0.4 if top > still and h < _STANDS else 0.0
            o[c] = gone
            p[c] = gone / max(total, 1e-30)
            biggest = max(biggest, gone)
        most[r] = biggest


@njit(nogil=True, cache=True, error_model="numpy")
def _settle(z: F64, stable: F64, slides: F64, part: F64, most: F64, out: F64, first: int, end: int) -> None:
    cols = z.shape[1] - 2
    north, west, corner = stable[0], stable[1], stable[2]
    for r in range(first + 1, end + 1):
        m, o, gone = z[r, 1:], out[r, 1:], slides[r, 1:]
        if most[r - 1] == 0 and most[r] == 0 and most[r + 1] == 0:
            for c in range(cols):
                o[c] = m[c]
            continue
        n1, n2, n3, n4 = z[r - 1, 0:], z[r - 1, 1:], z[r - 1, 2:], z[r, 0:]
        n5, n6, n7, n8 = z[r, 2:], z[r + 1, 0:], z[r + 1, 1:], z[r + 1, 2:]
        p1, p2, p3, p4 = part[r - 1, 0:], part[r - 1, 1:], part[r - 1, 2:], part[r, 0:]
        p5, p6, p7, p8 = part[r, 2:], part[r + 1, 0:], part[r + 1, 1:], part[r + 1, 2:]
        for c in range(cols):
            h = m[c]
            a = p1[c] * max(n1[c] - h - corner, 0.0) + p2[c] * max(n2[c] - h - north, 0.0)
            a += p3[c] * max(n3[c] - h - corner, 0.0) + p4[c] * max(n4[c] - h - west, 0.0)
            a += p5[c] * max(n5[c] - h - west, 0.0) + p6[c] * max(n6[c] - h - corner, 0.0)
            a += p7[c] * max(n7[c] - h - north, 0.0) + p8[c] * max(n8[c] - h - corner, 0.0)
            o[c] = h - gone[c] + a


def slump(
    heights: F32,
    grid: Grid,
    angle: float,
    *,
    gaps: Mask | None = None,
    stripes: Stripes | None = None,
    tell: Callable[[float], None] | None = None,
    cancel: Cancel | None = None,
) -> F32:
    """Heights (float32 metres) after everything steeper than ``angle`` degrees has slid down.

    ``gaps`` (bool, same shape): where there is no ground; nothing slides from there or into there.

    Rounds go on until no face is more than :data:`LEFT_LYING` degrees too steep, :data:`MOST_ROUNDS` at the most: what
    is far from rest then is steeper still, as :func:`steepest_face` says. Earth is neither made nor lost.
    Reference: Musgrave, Kolb & Mace 1989, doi:10.1145/74333.74337 (thermal weathering), to all lower neighbours.
    """
    pool = stripes or Stripes(1)
    tangent = math.tan(math.radians(angle))
    stable = readable(np.array([grid.dy, grid.dx, math.hypot(grid.dy, grid.dx)]) * tangent)
    still = (math.tan(math.radians(angle + LEFT_LYING)) - tangent) * min(grid.dy, grid.dx)
    rows, cols = grid.shape
    z = np.full((rows + 2, cols + 2), _WALL, np.float64)
    z[1:-1, 1:-1] = heights if gaps is None else np.where(gaps, _WALL, heights)
    fresh, slides, part = z.copy(), np.zeros_like(z), np.zeros_like(z)
    most = np.zeros(rows + 2, np.float64)
    begin = 0.0
    for number in range(MOST_ROUNDS):
        now, to = readable(z), fresh
        pool.run(rows, cols, lambda i, j, now=now: _loosen(now, stable, slides, part, still, most, i, j), cancel)  # type: ignore[misc]
        largest = float(most.max())
        begin = begin or largest
        if largest == 0:
            break
        if tell is not None:
            closer = math.log(begin / largest) / math.log(max(begin / still, 2.0)) if begin > largest else 0.0
            tell(max(number / MOST_ROUNDS, min(closer, 1.0)))
        pool.run(rows, cols, lambda i, j, now=now, to=to: _settle(now, stable, slides, part, most, to, i, j), cancel)  # type: ignore[misc]
        z, fresh = fresh, z
    after = z[1:-1, 1:-1].astype(np.float32)
    if gaps is not None:
        after[gaps] = heights[gaps]
    return after


def steepest_face(heights: F32, grid: Grid) -> float:
    """Degrees of the steepest face between neighbouring samples, corners included; gaps (NaN) have none."""
    corner = math.hypot(grid.dy, grid.dx)
    steps = (
        (heights[1:] - heights[:-1], grid.dy),
        (heights[:, 1:] - heights[:, :-1], grid.dx),
        (heights[1:, 1:] - heights[:-1, :-1], corner),
        (heights[1:, :-1] - heights[:-1, 1:], corner),
    )
    return math.degrees(math.atan(max(float(np.nanmax(np.abs(step), initial=0.0)) / metres for step, metres in steps)))
