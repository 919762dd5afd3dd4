"""Carving: channels cut along the flow."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.readings.channels import grown
from zigzag_meadow.core.stripes import Cancel, Stripes
from zigzag_meadow.core.terrain.distance import nearest
from zigzag_meadow.core.terrain.flow import flow

__all__ = ["cut_away"]

F32 = NDArray[np.float32]


def cut_away(
    heights: F32,
    grid: Grid,
    *,
    threshold: float,
    width: float,
    depth: float,
    banks: float,
    gaps: NDArray[np.bool_] | None = None,
    stripes: Stripes | None = None,
    cancel: Cancel | None = None,
) -> F32:
    """Metres (0 or more, float32 of the grid's shape) that channels are cut into ``heights`` (float32 metres).

    A channel begins where ``threshold`` m² drain together; where a square kilometre does it is ``width`` and ``depth``
    metres, and grows with what feeds it as :func:`grown` says. Its bed is level over half of its width; the banks rise
    smoothly over the other half and ``banks`` metres more. Nothing is cut in ``gaps``.
    """
    area, _ = flow(heights, grid, stripes, gaps)
    runs = area if gaps is None else np.where(gaps, np.float32(0), area)
    if not (runs >= threshold).any():
        return np.zeros(grid.shape, np.float32)
    metres, at = nearest(runs >= threshold, grid, stripes, cancel)
    wide, deep = grown(runs.ravel()[at], width, depth)
    half = np.maximum(wide / 2, np.float32(math.sqrt(grid.dy * grid.dx) / 2))
    s = np.clip((metres - half / 2) / (half / 2 + np.float32(banks)), 0, 1)
    cut: F32 = (deep * (1 - s * s * (3 - 2 * s))).astype(np.float32)
    return cut if gaps is None else np.where(gaps, np.float32(0), cut)
