"""Rows that do not fit their neighbours: found, and fitted again."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

__all__ = ["fitted_rows", "odd_rows"]

F32 = NDArray[np.float32]
_AROUND = 17


def odd_rows(heights: F32) -> NDArray[np.bool_]:
    """Where the step from a row to the next is out of proportion: bool, one less than there are rows.

    ``heights``: float32 metres, NaN where missing.
    """
    down = np.nanmedian(np.abs(np.diff(heights, axis=0)), axis=1)
    spread = float(np.nanmax(heights) - np.nanmin(heights))
    odd: NDArray[np.bool_] = down > max(20 * float(np.nanmedian(down)), 0.02 * spread)
    odd[[0, -1]] = False
    return odd


def fitted_rows(heights: F32) -> F32:
    """``heights`` (float32 metres, no gaps) with every row that jumps put back.

    A jump is the median step to the next row less the median of such steps around it; what lies after it is moved by
    so much, and a row that jumps there and back moves alone. Rows that fit no better then are damaged, and are filled
    in a line between the sound ones beside them.
    """
    odd = odd_rows(heights)
    if not odd.any():
        return heights
    steps = np.median(np.diff(heights.astype(np.float64), axis=0), axis=1)
    from scipy import ndimage  # only here: it is slow to load, and few ask for it

    usual = ndimage.median_filter(np.where(odd, np.median(steps[~odd]) if (~odd).any() else 0.0, steps), _AROUND)
    jumps = np.where(odd, steps - usual, 0.0)
    z = heights - np.concatenate([[0.0], np.cumsum(jumps)])[:, None].astype(np.float32)
    left = odd_rows(z)
    bad = np.zeros(len(z), np.bool_)
    bad[1:-1] = left[:-1] & left[1:]
    good = np.flatnonzero(~bad)
    for row in np.flatnonzero(bad):
        below, above = good[good < row][-1], good[good > row][0]
        share = np.float32((row - below) / (above - below))
        z[row] = z[below] * (1 - share) + z[above] * share
    return np.ascontiguousarray(z, np.float32)
