"""Edges and areas of masks: wider, narrower, without specks, without holes."""

from __future__ import annotations

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray
from scipy import ndimage

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.stripes import Cancel, Stripes
from zigzag_meadow.core.terrain.distance import FAR, nearest

__all__ = ["filling", "keeping", "narrowed", "rim_distance", "widened"]

F32 = NDArray[np.float32]
I32 = NDArray[np.int32]
Bools = NDArray[np.bool_]
_HALF = np.float32(0.5)


@njit(nogil=True, cache=True, error_model="numpy")
def _to_contour_rows(
    mask: F32, metres: F32, at: I32, dy: np.float32, dx: np.float32, out: F32, first: int, end: int
) -> None:
    """From the distance to the nearest sample to that to the rim itself, which lies between it and its neighbour."""
    rows, cols = mask.shape
    half = np.float32(0.5)
    for r in range(first, end):
        for c in range(cols):
            q = at[r, c]
            if q < 0:
                out[r, c] = metres[r, c]
                continue
            i, j = q // cols, q % cols
            here = mask[i, j]
            up = max(abs(here - mask[max(i - 1, 0), j]), abs(mask[min(i + 1, rows - 1), j] - here)) / dy
            along = max(abs(here - mask[i, max(j - 1, 0)]), abs(mask[i, min(j + 1, cols - 1)] - here)) / dx
            steep = np.sqrt(up * up + along * along)
            short = abs(here - half) / max(steep, np.float32(1e-6))
            out[r, c] = max(metres[r, c] - min(short, max(dy, dx)), np.float32(0))


def rim_distance(
    mask: F32, grid: Grid, inside: bool, stripes: Stripes | None = None, cancel: Cancel | None = None
) -> F32:
    """Metres to where a mask becomes strong (0.5), or with ``inside`` to where it becomes weak; float32.

    ``mask``: any window of ``grid``. In linear time whatever the distance; to the rim between samples, so that
    coarse and fine maps agree. :data:`FAR` where there is nothing to be near to.
    """
    metres, at = nearest(mask < _HALF if inside else mask >= _HALF, grid, stripes, cancel)
    rows, cols = mask.shape
    out = np.empty((rows, cols), np.float32)
    m, d, q = readable(mask), readable(metres), readable(at)
    dy, dx = np.float32(grid.dy), np.float32(grid.dx)
    (stripes or Stripes(1)).run(rows, cols, lambda i, j: _to_contour_rows(m, d, q, dy, dx, out, i, j), cancel)
    return out


def _faded(distance: F32, by: float, fade: float) -> F32:
    """1 up to ``by`` metres, 0 beyond ``by + fade``."""
    if fade <= 0:
        crisp: F32 = (distance <= np.float32(by)).astype(np.float32)
        return crisp
    t = (np.float32(by) - distance) * np.float32(1 / fade) + np.float32(1)
    faded: F32 = np.clip(t, 0, 1, out=t)
    return faded


def widened(mask: F32, distance: F32, by: float, fade: float) -> F32:
    """``mask`` and all within ``by`` metres of where it is strong, fading over ``fade`` metres beyond; float32.

    ``distance``: of :func:`rim_distance`, outside. What is there already is never weakened.
    """
    return np.maximum(mask, _faded(distance, by, fade))


def narrowed(mask: F32, distance: F32, by: float, fade: float) -> F32:
    """``mask`` without what lies within ``by`` metres of where it is weak, fading over ``fade`` metres; float32."""
    kept: F32 = np.minimum(mask, np.float32(1) - _faded(distance, by, fade))
    return kept


def _small(marked: Bools, grid: Grid, area: float, corners: bool, spare_border: bool) -> Bools:
    """Which samples lie in a connected area smaller than ``area`` m²; ``corners``: samples touch there, too."""
    label, count = ndimage.label(marked, np.ones((3, 3)) if corners else None)
    small = np.bincount(label.ravel(), minlength=count + 1) * (grid.dy * grid.dx) < area
    small[0] = False
    if spare_border:
        for edge in (label[0], label[-1], label[:, 0], label[:, -1]):
            small[edge] = False
    found: Bools = small[label]
    return found


def keeping(mask: F32, grid: Grid, area: float, stripes: Stripes | None = None, cancel: Cancel | None = None) -> F32:
    """What to multiply a mask by, so that areas (≥ 0.5, corners touch) smaller than ``area`` m² go; float32 0 or 1.

    With a speck goes the faint rim about it, as far as it is nearer to it than to any area that stays, and no
    farther than a disc of ``area`` reaches.
    """
    marked = mask >= _HALF
    specks = _small(marked, grid, area, True, False)
    if not specks.any():
        return np.ones(grid.shape, np.float32)
    metres, at = nearest(marked, grid, stripes, cancel)
    goes = specks.ravel()[np.maximum(at, 0)] & (metres < FAR) & (metres <= math.sqrt(area / math.pi))
    return (~goes).astype(np.float32)


def filling(mask: F32, grid: Grid, area: float) -> F32:
    """1 in holes (< 0.5, corners do not touch, not open to the border) smaller than ``area`` m²; float32 0 or 1."""
    return _small(mask < _HALF, grid, area, False, True).astype(np.float32)
