"""Channels: where enough ground drains together, how wide and deep they are, and how high ground stands above."""

from __future__ import annotations

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.readings.distance import nearest
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["channel_shape", "height_above", "water_samples"]

F32 = NDArray[np.float32]
I8 = NDArray[np.int8]
I64 = NDArray[np.int64]
Mask = NDArray[np.bool_]
_DR = np.array([-1, -1, 0, 1, 1, 1, 0, -1])
_DC = np.array([0, 1, 1, 1, 0, -1, -1, -1])
# How width and depth of channels grow with what feeds them: Leopold & Maddock 1953.
_WIDTH_EXPONENT, _DEPTH_EXPONENT = 0.5, 0.4


def water_samples(area: F32, heights: F32, filled: F32, threshold: float, level: float | None) -> Mask:
    """Samples where water runs or stands: ``area`` (m²) over the threshold, hollows filled deeper than 0.1 m, and
    ground at or below the water ``level`` in metres, if there is one. bool of the same shape."""
    wet: Mask = (area >= threshold) | (filled - heights > 0.1)
    return wet if level is None else wet | (heights <= level)


@njit(nogil=True, cache=True)
def _height_above(z: F32, code: I8, wet: Mask, out: F32) -> None:
    rows, cols = z.shape
    base = np.full((rows, cols), np.nan, np.float32)
    path = np.empty(rows * cols, np.int64)
    for r0 in range(rows):
        for c0 in range(cols):
            r, c, length = r0, c0, 0
            while np.isnan(base[r, c]) and not wet[r, c] and code[r, c] >= 0:
                path[length] = r * cols + c
                length += 1
                k = code[r, c]
                r, c = r + _DR[k], c + _DC[k]
            if np.isnan(base[r, c]):
                base[r, c] = z[r, c]
            for i in range(length):
                base[path[i] // cols, path[i] % cols] = base[r, c]
    for r in range(rows):
        for c in range(cols):
            out[r, c] = max(z[r, c] - base[r, c], np.float32(0))


def height_above(heights: F32, code: I8, wet: Mask) -> F32:
    """Metres above the water that each sample drains to; where none is met, above the border sample it leaves by.

    ``heights``: float32 metres; ``code``: D8 directions; ``wet``: where water is. float32, 0 or more. Reference:
    Nobre et al. 2011, doi:10.1016/j.jhydrol.2011.03.051.
    """
    out = np.empty(heights.shape, np.float32)
    _height_above(readable(heights), readable(code), readable(wet), out)
    return out


def channel_shape(
    area: F32,
    grid: Grid,
    threshold: float,
    width: float,
    depth: float,
    stripes: Stripes | None = None,
    cancel: Cancel | None = None,
) -> tuple[F32, F32]:
    """(depth, width) of channels in metres, float32; both 0 away from them.

    A channel runs where ``area`` (m²) is at least ``threshold``. It is ``width`` and ``depth`` metres where a
    square kilometre drains through it, and grows as the root of what drains through, its depth a little slower.
    Its bed is a parabola across.
    """
    metres, at = nearest(area >= threshold, grid, stripes, cancel)
    feeds = np.maximum(area.ravel()[np.maximum(at, 0)], np.float32(1)) / np.float32(1e6)
    wide = np.where(at >= 0, np.float32(width) * feeds ** np.float32(_WIDTH_EXPONENT), np.float32(0))
    deep = np.float32(depth) * feeds ** np.float32(_DEPTH_EXPONENT)
    # No channel is narrower than the samples that carry it.
    half = np.maximum(wide / 2, np.float32(math.sqrt(grid.dy * grid.dx) / 2))
    across = metres / half
    inside = (at >= 0) & (across < 1)
    bed = np.where(inside, deep * (1 - across * across), np.float32(0)).astype(np.float32)
    return bed, np.where(inside, wide, np.float32(0)).astype(np.float32)
