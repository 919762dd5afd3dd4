"""Heights that were cut off at the top or the bottom, carried on as the slopes around them suggest."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from zigzag_meadow.core.blur import blur
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.readings.distance import distance_to
from zigzag_meadow.core.readings.slope import slope
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["rounded_off"]

F32 = NDArray[np.float32]
_SMALLEST = 4
"""Places of fewer samples were not cut off: one sample is always the highest."""


def rounded_off(
    heights: F32, grid: Grid, side: str, steepness: float, stripes: Stripes, cancel: Cancel | None = None
) -> F32:
    """``heights`` (float32 metres, no gaps) with domes on what lies level at the very ``top`` or ``bottom``.

    Every such place begins at its border with the mean slope of the ground beside it, times ``steepness``, and eases
    off to level where it is furthest from the border: by how much it rises is a guess, where it was cut is not.
    """
    sign = np.float32(1 if side == "top" else -1)
    z = heights * sign
    cut = z == z.max()
    labels, count = ndimage.label(cut, np.ones((3, 3), np.int8))
    if count == 0:
        return heights
    sizes = np.bincount(labels.ravel(), minlength=count + 1)
    large = sizes >= _SMALLEST
    large[0] = False
    if not large.any():
        return heights
    inward = distance_to(~cut, grid, stripes, cancel)
    rises = np.tan(np.radians(slope(heights, grid, stripes=stripes, cancel=cancel)))
    # The slope beside a place is read two samples outside: nearer by, it is measured half on the level part.
    rim = ndimage.binary_dilation(cut, np.ones((3, 3)), 3) & ~ndimage.binary_dilation(cut, np.ones((3, 3)), 1)
    _, (row, col) = ndimage.distance_transform_edt(~cut, sampling=(grid.dy, grid.dx), return_indices=True)
    beside = np.where(rim, labels[row, col], 0)
    index = np.arange(count + 1)
    mean = np.nan_to_num(ndimage.mean(rises, beside, index)).astype(np.float32) * np.float32(steepness)
    furthest = np.maximum(ndimage.maximum(inward, labels, index), 1e-6).astype(np.float32)
    keep = large[labels]
    d, far = np.where(keep, inward, 0).astype(np.float32), furthest[labels]
    dome: F32 = np.where(keep, mean[labels] * (d - d * d / (2 * far)), 0).astype(np.float32)
    soft = blur(dome, grid, 2 * max(grid.dy, grid.dx), stripes, cancel)
    # Creases where two borders are equally far are eased; at the border itself nothing changes.
    share = np.clip(d / np.maximum(far, 1e-6), 0, 1)
    made: F32 = heights + sign * np.where(keep, dome + (soft - dome) * share, 0).astype(np.float32)
    return made
