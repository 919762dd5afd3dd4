"""Write heights by a scale (the reading half lives with the rehearsal and shares nothing with this)."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.targets.codings import Scale

__all__ = ["encoded"]


def encoded(heights: NDArray[np.float32], scale: Scale, lifted: float = 0.0) -> tuple[NDArray[Any], int]:
    """(values of 8 or 16 bits by the scale, how many samples had to be clipped) of float32 metres.

    ``heights``: (rows, columns), counted from ``lifted`` metres: floor((h + lifted − at_zero) / step + 0.5).
    """
    exact = (heights.astype(np.float64) + (lifted - scale.at_zero)) / scale.step
    rounded = np.floor(exact + 0.5)
    clipped = int(((rounded < 0) | (rounded > scale.full)).sum())
    dtype = np.uint8 if scale.full == 255 else np.uint16
    return np.clip(rounded, 0, scale.full).astype(dtype), clipped
