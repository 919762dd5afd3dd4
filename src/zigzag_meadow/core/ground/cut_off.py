"""Heights that were cut off at the top or the bottom, carried on as the slopes around them suggest."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.blur import blur
from zigzag_meadow.core.errors import Cancelled
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.readings.slope import slope
from zigzag_meadow.core.stripes import Cancel, Stripes
from zigzag_meadow.core.terrain.distance import distance_to

__all__ = ["rounded_off"]

F32 = NDArray[np.float32]
_SMALLEST = 4
"""Places of fewer samples were not cut off: one sample is always the highest."""
_AROUND = 8
"""Samples around a place that its dome is made with: the blur reaches so far."""


def rounded_off(
    heights: F32, grid: Grid, side: str, steepness: float, stripes: Stripes, cancel: Cancel | None = None
) -> F32:
    """``heights`` (float32 metres, no gaps) with domes on what lies level at the very ``top`` or ``bottom``.

    Every such place begins at its border with the mean slope of the ground beside it, times ``steepness``, and eases
    off to level where it is furthest from the border: by how much it rises is a guess, where it was cut is not.
    """
    sign = np.float32(1 if side == "top" else -1)
    cut = heights == (heights.max() if side == "top" else heights.min())
    from scipy import ndimage  # only here: it is slow to load, and few ask for it

    labels, _ = ndimage.label(cut, np.ones((3, 3), np.int8))
    made = heights.copy()
    # One place after another: each needs room for its own rectangle only.
    for label, box in enumerate(ndimage.find_objects(labels), 1):
        if cancel is not None and cancel():
            raise Cancelled()
        rows, cols = (slice(max(part.start - _AROUND, 0), part.stop + _AROUND) for part in box)
        place = labels[rows, cols] == label
        if np.count_nonzero(place) >= _SMALLEST:
            z = np.ascontiguousarray(heights[rows, cols])
            tan = _slope_beside(z, place, cut[rows, cols], grid) * steepness
            made[rows, cols] += sign * _dome(
                place, tan, Grid(z.shape[0], z.shape[1], grid.dy, grid.dx, grid.registration), stripes, cancel
            )
    return made


def _slope_beside(z: F32, place: NDArray[np.bool_], cut: NDArray[np.bool_], grid: Grid) -> float:
    """The mean rise over run beside a place; nearer than two samples, it is measured half on the level part."""
    here = Grid(z.shape[0], z.shape[1], grid.dy, grid.dx, grid.registration)
    square = np.ones((3, 3))
    from scipy import ndimage  # as above

    rim = ndimage.binary_dilation(place, square, 3) & ~ndimage.binary_dilation(cut, square, 1)
    return float(np.tan(np.radians(slope(z, here)[rim])).mean()) if rim.any() else 0.0


def _dome(place: NDArray[np.bool_], tan: float, grid: Grid, stripes: Stripes, cancel: Cancel | None) -> F32:
    """Metres that a dome rises over a place: by ``tan`` at its border, level where it is furthest from it."""
    d: F32 = np.where(place, distance_to(~place, grid, stripes, cancel), np.float32(0))
    far = np.float32(max(float(d.max()), 1e-6))
    dome = np.float32(tan) * (d - d * d / (2 * far))
    soft = blur(dome, grid, 2 * max(grid.dy, grid.dx), stripes, cancel)
    # Creases where two borders are equally far are eased; at the border itself nothing changes.
    soft -= dome
    soft *= d / far
    dome += soft
    return np.where(place, dome, np.float32(0))
