"""Occlusion and sky share, from the horizon in sixteen directions."""

from __future__ import annotations

import math
from typing import Literal

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["DIRECTIONS", "STEPS", "horizon_margin", "horizon_padded"]

F32 = NDArray[np.float32]
I64 = NDArray[np.int64]
DIRECTIONS = 16
STEPS = 32
_LATTICE = (
    (-1, 0),
    (-2, 1),
    (-1, 1),
    (-1, 2),
    (0, 1),
    (1, 2),
    (1, 1),
    (2, 1),
    (1, 0),
    (2, -1),
    (1, -1),
    (1, -2),
    (0, -1),
    (-1, -2),
    (-1, -1),
    (-2, -1),
)
"""Directions as (south, east) steps in samples."""
_NOTHING = np.float32(-np.inf)
_MOST_TIMES = 16
"""Cells longer than this are left as they are."""


@njit(nogil=True, cache=True, error_model="numpy")
def _rise(h: F32, m: F32, row: F32, shift: I64, per: F32, k: int) -> None:
    """Raise the horizon ``h`` by four samples of one direction, each ``shift`` columns into its own row."""
    a, b, c, d = per[k], per[k + 1], per[k + 2], per[k + 3]
    p, q, s, t = row[shift[k] :], row[shift[k + 1] :], row[shift[k + 2] :], row[shift[k + 3] :]
    for i in range(h.size):
        x = max((p[i] - m[i]) * a, (q[i] - m[i]) * b)
        y = max((s[i] - m[i]) * c, (t[i] - m[i]) * d)
        h[i] = max(h[i], max(x, y))


@njit(nogil=True, cache=True, error_model="numpy")
def _tangents(z: F32, line: int, mx: int, cols: int, ax: np.float32, ay: np.float32, gx: F32, gy: F32) -> None:
    """Gradient east and north by central differences; where one neighbour is missing, by the other alone."""
    n, m, s = z[line - 1, mx:], z[line, mx:], z[line + 1, mx:]
    w, e = z[line, mx - 1 :], z[line, mx + 1 :]
    half, one, none = np.float32(0.5), np.float32(1), np.float32(0)
    for c in range(cols):
        he, hw, hn, hs = e[c] > _NOTHING, w[c] > _NOTHING, n[c] > _NOTHING, s[c] > _NOTHING
        x = ((e[c] - m[c]) if he else none) + ((m[c] - w[c]) if hw else none)
        y = ((n[c] - m[c]) if hn else none) + ((m[c] - s[c]) if hs else none)
        gx[c] = x * ax * (half if he and hw else one)
        gy[c] = y * ay * (half if hn and hs else one)


@njit(nogil=True, cache=True, error_model="numpy")
def _horizon_rows(
    z: F32,
    my: int,
    mx: int,
    offset: I64,
    per: F32,
    compass: F32,
    numbers: F32,
    sky: bool,
    out: F32,
    first: int,
    end: int,
) -> None:
    cols = out.shape[1]
    gx, gy, h = np.empty(cols, np.float32), np.empty(cols, np.float32), np.empty(cols, np.float32)
    width = z.shape[1]
    flat = z.ravel()
    one, none = np.float32(1), np.float32(0)
    for r in range(first, end):
        line = r + my
        m, o = z[line, mx : mx + cols], out[r]
        _tangents(z, line, mx, cols, numbers[0], numbers[1], gx, gy)
        o[:] = 0
        start = line * width + mx
        for d in range(compass.shape[0]):
            east, north, part = compass[d, 0], compass[d, 1], compass[d, 2]
            for c in range(cols):
                t = gx[c] * east + gy[c] * north
                h[c] = none if sky else t
            for k in range(0, per.shape[1], 4):
                _rise(h, m, flat, offset[d] + start, per[d], k)
            if sky:
                for c in range(cols):
                    o[c] += part * h[c] * h[c] / (one + h[c] * h[c])
            else:
                for c in range(cols):
                    t = gx[c] * east + gy[c] * north
                    o[c] += part * (h[c] / np.sqrt(one + h[c] * h[c]) - t / np.sqrt(one + t * t))
        for c in range(cols):
            o[c] = one - o[c] if sky else min(max(o[c], none), one)


def horizon_margin(grid: Grid, radius: float) -> tuple[int, int]:
    """Samples (y, x) that a horizon of ``radius`` metres looks beyond a window; at least two."""
    return (max(math.floor(radius / grid.dy), 2), max(math.floor(radius / grid.dx), 2))


def _samples(grid: Grid, radius: float, width: int) -> tuple[I64, F32, F32]:
    """Flat offsets and one over their distances, a row a direction (near ones denser), and compass vectors.

    Directions run through samples exactly, so that a plane has no horizon; the third column of the compass is the
    part of the circle that a direction stands for.
    """
    south = np.array([v[0] for v in _LATTICE]) * grid.dy
    east = np.array([v[1] for v in _LATTICE]) * grid.dx
    length = np.hypot(south, east)
    order = np.argsort(np.arctan2(east, -south))
    angle = np.arctan2(east, -south)[order]
    gap = np.diff(np.append(angle, angle[0] + 2 * math.pi))
    part = (gap + np.roll(gap, 1)) / (4 * math.pi)
    offset = np.zeros((DIRECTIONS, STEPS), np.int64)
    per = np.zeros((DIRECTIONS, STEPS), np.float32)
    compass = np.empty((DIRECTIONS, 3), np.float32)
    for d, k in enumerate(order):
        compass[d] = east[k] / length[k], -south[k] / length[k], part[d]
        most = max(math.floor(radius / length[k]), 1)
        along = 1 + (most - 1) * (np.arange(STEPS) / (STEPS - 1)) ** 1.5
        times = np.unique(np.round(along).astype(np.int64))
        times = times[np.minimum(np.arange(STEPS), times.size - 1)]
        offset[d] = times * (_LATTICE[k][0] * width + _LATTICE[k][1])
        per[d] = 1 / (times * length[k])
    return offset, per, compass


def squared(heights: F32, grid: Grid) -> tuple[F32, Grid, tuple[int, int]]:
    """(heights on nearly square cells, their grid, how many samples a sample became (y, x)).

    Directions run through samples: on oblong cells they would bunch along the longer side, and the nearest step that
    way would be a long one. Between samples heights are linear, so planes stay planes; −∞ (no ground) stays.
    """
    times = (max(round(grid.dy / grid.dx), 1), max(round(grid.dx / grid.dy), 1))
    if max(times) > _MOST_TIMES:
        times = (1, 1)
    for axis, more in enumerate(times):
        if more > 1:
            lines = np.moveaxis(heights, axis, 0)
            share = (np.arange(more, dtype=np.float32) / np.float32(more))[None, :, None]
            between = lines[:-1, None] * (1 - share[:, 1:]) + lines[1:, None] * share[:, 1:]
            fine = np.concatenate([lines[:-1, None], between], axis=1).reshape(-1, lines.shape[1])
            heights = np.moveaxis(np.concatenate([fine, lines[-1:]]), 0, axis)
    rows, cols = heights.shape
    finer = Grid(rows, cols, grid.dy / times[0], grid.dx / times[1], grid.registration)
    return np.ascontiguousarray(heights), finer, times


def horizon_padded(
    padded: F32,
    grid: Grid,
    radius: float,
    kind: Literal["occlusion", "sky"],
    stripes: Stripes,
    *,
    cancel: Cancel | None = None,
    out: F32 | None = None,
) -> F32:
    """How much of the surroundings stands above a place, 0–1, looking up to ``radius`` metres.

    *occlusion*: mean over directions of the sine of the horizon less the sine of the surface's own slope that
    way: 0 on any plane, towards 1 in a narrow pit. *sky*: the part of the sky seen from a level spot, 1 where
    nothing stands above it.

    ``padded``: float32 metres with :func:`horizon_margin` on every side, −∞ where there is no ground (nothing
    stands beyond the border). Returns float32 without the margin. Raises :class:`BadNumber` when the radius is
    below the spacing. References: Bavoil & Sainz 2008, Image-space horizon-based ambient occlusion; Dozier & Frew
    1990, doi:10.1109/36.58986.
    """
    if radius < min(grid.dy, grid.dx) * (1 - 1e-6):
        raise BadNumber(f"The radius {radius:g} m must be at least the spacing, {grid.dx:g} m by {grid.dy:g} m.")
    my, mx = horizon_margin(grid, radius)
    square, fine, (ty, tx) = squared(padded, grid)
    if ty > 1 or tx > 1:
        # The margin grows with the samples; what a finer margin needs less is cut.
        ny, nx = horizon_margin(fine, radius)
        cut_y, cut_x = my * ty - ny, mx * tx - nx
        part = square[max(cut_y, 0) : square.shape[0] - max(cut_y, 0), max(cut_x, 0) : square.shape[1] - max(cut_x, 0)]
        more = [(max(-cut_y, 0),) * 2, (max(-cut_x, 0),) * 2]
        part = np.pad(part, more, constant_values=-np.inf) if any(a for a, _ in more) else part
        made = horizon_padded(np.ascontiguousarray(part), fine, radius, kind, stripes, cancel=cancel)
        return np.ascontiguousarray(made[::ty, ::tx])
    padded = readable(padded)
    shape = (padded.shape[0] - 2 * my, padded.shape[1] - 2 * mx)
    result = np.empty(shape, np.float32) if out is None else out
    offset, per, compass = (readable(a) for a in _samples(grid, radius, padded.shape[1]))
    numbers = readable(np.array([1 / grid.dx, 1 / grid.dy], np.float32))
    sky = kind == "sky"
    stripes.run(
        *shape, lambda i, j: _horizon_rows(padded, my, mx, offset, per, compass, numbers, sky, result, i, j), cancel
    )
    return result
