"""Breakup: ragged edges, masks that slide along the slope, masks that run on with the water."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.readings.flow import EAST_NORTH
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["DRIFT_STEPS", "displaced", "downhill", "drifted", "trickled"]

F32 = NDArray[np.float32]
I8 = NDArray[np.int8]
_DR = np.array([-n for _, n in EAST_NORTH])
_DC = np.array([e for e, _ in EAST_NORTH])
DRIFT_STEPS = 8
"""Straight pieces of which the way along the slope is made."""
_LEVEL = np.tan(np.radians(1.0))
"""Slopes below this (rise over run) carry a mask along only in part, so that level ground has no loud direction."""


@njit(nogil=True, cache=True, error_model="numpy")
def _at(z: F32, y: np.float32, x: np.float32) -> np.float32:
    """Between samples, bilinear; beyond the border the outermost samples go on."""
    rows, cols = z.shape
    y = min(max(y, np.float32(0)), np.float32(rows - 1))
    x = min(max(x, np.float32(0)), np.float32(cols - 1))
    i, j = min(int(y), max(rows - 2, 0)), min(int(x), max(cols - 2, 0))
    i1, j1 = min(i + 1, rows - 1), min(j + 1, cols - 1)
    fy, fx = y - np.float32(i), x - np.float32(j)
    top: np.float32 = z[i, j] + fx * (z[i, j1] - z[i, j])
    low: np.float32 = z[i1, j] + fx * (z[i1, j1] - z[i1, j])
    return top + fy * (low - top)


@njit(nogil=True, cache=True, error_model="numpy")
def _displaced_rows(
    z: F32, south: F32, east: F32, sy: np.float32, sx: np.float32, r0: int, c0: int, out: F32, first: int, end: int
) -> None:
    half = np.float32(0.5)
    for r in range(first, end):
        for c in range(out.shape[1]):
            y = np.float32(r + r0) + (south[r, c] - half) * sy
            x = np.float32(c + c0) + (east[r, c] - half) * sx
            out[r, c] = _at(z, y, x)


def displaced(
    padded: F32, south: F32, east: F32, reach: tuple[float, float], offset: tuple[int, int],
    stripes: Stripes | None = None, cancel: Cancel | None = None,
) -> F32:  # fmt: skip
    """A mask looked up beside each sample: up to ``reach`` samples (y, x) away, as two noises (0–1) say.

    ``padded``: float32 mask with a margin; ``offset``: where the window (the shape of the noises) begins in it.
    Returns float32 of the window. Domain warping: Ebert et al., Texturing & Modeling, 3rd ed., ch. 2.
    """
    rows, cols = south.shape
    out = np.empty((rows, cols), np.float32)
    z, s, e = readable(padded), readable(south), readable(east)
    # Noise rarely comes near its ends: twice the reach between them makes the reach the usual one.
    sy, sx = np.float32(2 * reach[0]), np.float32(2 * reach[1])
    (stripes or Stripes(1)).run(
        out.shape[0],
        out.shape[1],
        lambda i, j: _displaced_rows(z, s, e, sy, sx, offset[0], offset[1], out, i, j),
        cancel,
    )
    return out


def downhill(heights: F32, dy: float, dx: float) -> tuple[F32, F32]:
    """(south, east) of the way down at each sample, float32: length 1 on slopes, less where it is nearly level."""
    gy, gx = np.gradient(heights)
    gy, gx = -gy / np.float32(dy), -gx / np.float32(dx)
    steep = np.hypot(gy, gx)
    per = 1 / np.maximum(steep, np.float32(1e-9)) * np.minimum(steep / np.float32(_LEVEL), 1)
    return (gy * per).astype(np.float32), (gx * per).astype(np.float32)


@njit(nogil=True, cache=True, error_model="numpy")
def _drift_rows(
    z: F32, south: F32, east: F32, by: F32, sy: np.float32, sx: np.float32, r0: int, c0: int, out: F32,
    first: int, end: int,
) -> None:  # fmt: skip
    per = np.float32(1.0 / DRIFT_STEPS)
    for r in range(first, end):
        for c in range(out.shape[1]):
            y, x = np.float32(r + r0), np.float32(c + c0)
            far = by[r, c] * per
            for _ in range(DRIFT_STEPS):
                v, u = _at(south, y, x), _at(east, y, x)
                y -= v * far * sy
                x -= u * far * sx
            out[r, c] = _at(z, y, x)


def drifted(
    padded: F32, way: tuple[F32, F32], metres: F32, per_metre: tuple[float, float], offset: tuple[int, int],
    stripes: Stripes | None = None, cancel: Cancel | None = None,
) -> F32:  # fmt: skip
    """A mask slid along ``way`` (south, east; see :func:`downhill`): each sample gets what lies that far back.

    ``padded`` and ``way``: float32 with the same margin; ``metres``: float32 of the window, how far at each sample
    (negative: against the way). ``per_metre``: samples a metre (y, x). ``offset``: where the window begins.
    """
    rows, cols = metres.shape
    out = np.empty((rows, cols), np.float32)
    z, s, e, by = readable(padded), readable(way[0]), readable(way[1]), readable(metres)
    sy, sx = np.float32(per_metre[0]), np.float32(per_metre[1])
    (stripes or Stripes(1)).run(
        out.shape[0],
        out.shape[1],
        lambda i, j: _drift_rows(z, s, e, by, sy, sx, offset[0], offset[1], out, i, j),
        cancel,
    )
    return out


@njit(nogil=True, cache=True)
def _trickle(code: I8, per_step: F32, out: F32) -> None:
    """Along the water from every source, in the order in which it joins: a sample gives on what it holds."""
    rows, cols = code.shape
    waits = np.zeros((rows, cols), np.int8)
    for r in range(rows):
        for c in range(cols):
            k = code[r, c]
            if k >= 0:
                waits[r + _DR[k], c + _DC[k]] += 1
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
