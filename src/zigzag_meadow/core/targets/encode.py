"""Write heights by a scale (the reading half lives with the rehearsal and shares nothing with this)."""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.targets.codings import Scale

__all__ = ["encoded"]


@njit(nogil=True, cache=True, error_model="numpy")
def _encode(heights: NDArray[Any], lift: float, step: float, full: float, out: Any) -> int:
    clipped = 0
    for r in range(out.shape[0]):
        for c in range(out.shape[1]):
            rounded = np.floor((np.float64(heights[r, c]) + lift) / step + 0.5)
            clipped += rounded < 0 or rounded > full
            # Where there is no height the lowest is written.
            out[r, c] = min(max(rounded, 0.0), full) if rounded == rounded else 0.0
    return clipped


def encoded(heights: NDArray[np.float32], scale: Scale, lifted: float = 0.0) -> tuple[NDArray[Any], int]:
    """(values of 8 or 16 bits by the scale, how many samples had to be clipped) of float32 metres.

    ``heights``: (rows, columns), counted from ``lifted`` metres: floor((h + lifted − at_zero) / step + 0.5).
    """
    out = np.empty(heights.shape, np.uint8 if scale.full == 255 else np.uint16)
    return out, int(_encode(readable(heights), lifted - scale.at_zero, scale.step, float(scale.full), out))
