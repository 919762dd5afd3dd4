"""Breakup: ragged edges, masks that slide along the slope, masks that run on with the water."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.stripes import Cancel, Stripes
from zigzag_meadow.core.terrain.flow import EAST_NORTH, streams_into

__all__ = ["DRIFT_STEPS", "displaced", "downhill", "drift_way", "trickled"]

F32 = NDArray[np.float32]
I8 = NDArray[np.int8]
_DR = np.array([-n for _, n in EAST_NORTH])
_DC = np.array([e for e, _ in EAST_NORTH])
DRIFT_STEPS = 4
"""Straight pieces of which the way along the slope is made."""
_WORK = 4
"""How many plain samples one looked up between samples is worth, when work is shared among threads."""
_LEVEL = np.tan(np.radians(1.0))
"""Slopes below this (rise over run) carry a mask along only in part, so that level ground has no loud direction."""


@njit(nogil=True, cache=True, error_model="numpy")
def _at(z: F32, y: np.float32, x: np.float32) -> np.float32:
    """Between samples, bilinear; beyond the border the outermost samples go on."""
    rows, cols = z.shape
    y = min(max(np.float32(0), y), np.float32(rows - 1))
    x = min(max(np.float32(0), x), np.float32(cols - 1))
    i, j = min(int(y), max(rows - 2, 0)), min(int(x), max(cols - 2, 0))
    i1, j1 = min(i + 1, rows - 1), min(j + 1, cols - 1)
    fy, fx = y - np.float32(i), x - np.float32(j)
    top: np.float32 = z[i, j] + fx * (z[i, j1] - z[i, j])
    low: np.float32 = z[i1, j] + fx * (z[i1, j1] - z[i1, j])
    return top + fy * (low - top)


@njit(nogil=True, cache=True, error_model="numpy")
def _both_at(a: F32, b: F32, y: np.float32, x: np.float32) -> tuple[np.float32, np.float32]:
    """Two maps at the same place, see :func:`_at`."""
    rows, cols = a.shape
    y = min(max(np.float32(0), y), np.float32(rows - 1))
    x = min(max(np.float32(0), x), np.float32(cols - 1))
    i, j = min(int(y), max(rows - 2, 0)), min(int(x), max(cols - 2, 0))
    i1, j1 = min(i + 1, rows - 1), min(j + 1, cols - 1)
    fy, fx = y - np.float32(i), x - np.float32(j)
    w11 = fy * fx
    w10, w01 = fy - w11, fx - w11
    w00 = np.float32(1) - fy - fx + w11
    first: np.float32 = w00 * a[i, j] + w01 * a[i, j1] + w10 * a[i1, j] + w11 * a[i1, j1]
    second: np.float32 = w00 * b[i, j] + w01 * b[i, j1] + w10 * b[i1, j] + w11 * b[i1, j1]
    return first, second


@njit(nogil=True, cache=True, error_model="numpy")
def _displaced_rows(
    z: F32,
    south: F32,
    east: F32,
    at: np.float32,
    sy: np.float32,
    sx: np.float32,
    r0: int,
    c0: int,
    out: F32,
    first: int,
    end: int,
) -> None:
    for r in range(first, end):
        for c in range(out.shape[1]):
            y = np.float32(r + r0) + (south[r, c] - at) * sy
            x = np.float32(c + c0) + (east[r, c] - at) * sx
            out[r, c] = _at(z, y, x)


def displaced(
    padded: F32,
    south: F32,
    east: F32,
    at: float,
    per: tuple[float, float],
    offset: tuple[int, int],
    stripes: Stripes | None = None,
    cancel: Cancel | None = None,
) -> F32:
    """A mask looked up beside each sample: (``south`` − ``at``, ``east`` − ``at``) times ``per`` (y, x) samples away.

    ``padded``: float32 mask with a margin; ``offset``: where the window (the shape of ``south`` and ``east``, float32)
    begins in it. Bilinear; beyond the border the outermost samples go on. Returns float32 of the window. With noises
    this is domain warping: Ebert et al., Texturing & Modeling, 3rd ed., ch. 2.
    """
    rows, cols = south.shape
    out = np.empty((rows, cols), np.float32)
    z, s, e = readable(padded), readable(south), readable(east)
    numbers = (np.float32(at), np.float32(per[0]), np.float32(per[1]), *offset)
    (stripes or Stripes(1)).run(rows, cols * _WORK, lambda i, j: _displaced_rows(z, s, e, *numbers, out, i, j), cancel)
    return out


@njit(nogil=True, cache=True, error_model="numpy")
def _downhill_rows(z: F32, dy: np.float32, dx: np.float32, level: np.float32, out: F32, first: int, end: int) -> None:
    rows, cols = z.shape
    one, half, least = np.float32(1), np.float32(0.5), np.float32(1e-9)
    south, east = out[0], out[1]
    for r in range(first, end):
        above, below = z[max(r - 1, 0)], z[min(r + 1, rows - 1)]
        per_y = (half if 0 < r < rows - 1 else one) / dy
        here, v, u = z[r], south[r], east[r]
        for c in range(cols):
            v[c] = (above[c] - below[c]) * per_y
        for c in range(1, cols - 1):
            u[c] = (here[c - 1] - here[c + 1]) * half / dx
        u[0] = (here[0] - here[min(1, cols - 1)]) / dx
        u[cols - 1] = (here[max(cols - 2, 0)] - here[cols - 1]) / dx
        for c in range(cols):
            steep = np.sqrt(v[c] * v[c] + u[c] * u[c])
            per = min(steep / level, one) / max(steep, least)
            v[c] *= per
            u[c] *= per


def downhill(heights: F32, dy: float, dx: float, stripes: Stripes | None = None, cancel: Cancel | None = None) -> F32:
    """(2, rows, columns): south and east of the way down at each sample, float32: length 1 on slopes, less where it is
    nearly level. By central differences (LeVeque 2007, ch. 1), one-sided at the border."""
    rows, cols = heights.shape
    out = np.empty((2, rows, cols), np.float32)
    z = readable(heights)
    numbers = (np.float32(dy), np.float32(dx), np.float32(_LEVEL))
    (stripes or Stripes(1)).run(rows, cols, lambda i, j: _downhill_rows(z, *numbers, out, i, j), cancel)
    return out


@njit(nogil=True, cache=True, error_model="numpy")
def _way_rows(
    south: F32, east: F32, by: F32, sy: np.float32, sx: np.float32, r0: int, c0: int, out: F32, first: int, end: int
) -> None:
    per = np.float32(1.0 / DRIFT_STEPS)
    for r in range(first, end):
        for c in range(out.shape[2]):
            y, x = np.float32(r + r0), np.float32(c + c0)
            far = by[r, c] * per
            for _ in range(DRIFT_STEPS):
                v, u = _both_at(south, east, y, x)
                y -= v * far * sy
                x -= u * far * sx
            out[0, r, c] = (y - np.float32(r + r0)) / sy
            out[1, r, c] = (x - np.float32(c + c0)) / sx


def drift_way(
    way: tuple[F32, F32],
    metres: F32,
    per_metre: tuple[float, float],
    offset: tuple[int, int],
    stripes: Stripes | None = None,
    cancel: Cancel | None = None,
) -> F32:
    """From each sample back along ``way`` (south, east; see :func:`downhill`): how far, as float32 (2, rows, columns)
    metres south and east. A mask that is looked up there slides along the way.

    ``way``: float32 with a margin; ``metres``: float32 of the window, how far at each sample (negative: against the
    way). ``per_metre``: samples a metre (y, x). ``offset``: where the window begins.
    """
    rows, cols = metres.shape
    out = np.empty((2, rows, cols), np.float32)
    s, e, by = readable(way[0]), readable(way[1]), readable(metres)
    numbers = (np.float32(per_metre[0]), np.float32(per_metre[1]), *offset)
    (stripes or Stripes(1)).run(rows, cols * _WORK, lambda i, j: _way_rows(s, e, by, *numbers, out, i, j), cancel)
    return out


@njit(nogil=True, cache=True)
def _trickle(code: I8, per_step: F32, out: F32) -> None:
    """Along the water from every source, in the order in which it joins: a sample gives on what it holds."""
    rows, cols = code.shape
    waits = streams_into(code)
    for r0 in range(rows):
        for c0 in range(cols):
            if waits[r0, c0] != 0:
                continue
            r, c = r0, c0
            waits[r, c] = -1
            while code[r, c] >= 0:
                k = code[r, c]
                left = out[r, c] - per_step[k]
                r, c = r + _DR[k], c + _DC[k]
                if left > out[r, c]:
                    out[r, c] = left
                waits[r, c] -= 1
                if waits[r, c] != 0:
                    break
                waits[r, c] = -1


def trickled(mask: F32, code: I8, dy: float, dx: float, fade: float) -> F32:
    """``mask`` run on along the water: downstream of a sample its strength falls to 0 over ``fade`` metres.

    ``code``: D8 directions of :func:`zigzag_meadow.core.readings.flow.directions`. float32 of the same shape, never
    below the mask.
    """
    out = mask.astype(np.float32, copy=True)
    per_step = (np.hypot(_DR * dy, _DC * dx) / fade).astype(np.float32)
    _trickle(readable(code), per_step, out)
    return out
