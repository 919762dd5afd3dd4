"""What another heightmap would change: how much of the ground, by how many metres, and where most."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.grid import reference_grid
from zigzag_meadow.core.map_name import PreparedName
from zigzag_meadow.core.resample import resample

__all__ = ["HeightChange", "height_change"]

_SAME = 1e-4
"""Heights nearer than this share of the range are the same."""


@dataclass(frozen=True, slots=True)
class HeightChange:
    """``share``: of the ground whose height changes; ``mean`` and ``largest`` in metres, and ``east``, ``south``,
    metres from the north-west corner of the file, where that is; ``low``, ``high``: metres after it."""

    share: float
    mean: float
    largest: float
    east: float
    south: float
    low: float
    high: float


def height_change(before: Evaluation, after: Evaluation) -> HeightChange:
    """Compare the heightmaps of two states of a project, before any preparation, laid over the same extent."""
    old_grid = reference_grid(before.project.ground.file_grid)
    new_grid = reference_grid(after.project.ground.file_grid)
    old = before.map(PreparedName(0, "height"), old_grid)
    new = after.map(PreparedName(0, "height"), new_grid)
    # Extents differ where samples stay as far apart: the files are then laid corner on corner, by their share.
    over = new_grid.resized(*old_grid.shape, old_grid.registration)
    laid = new if over == new_grid else resample(new, new_grid, over)
    gap = np.abs(laid.astype(np.float64) - old)
    there = np.isfinite(gap)
    spread = max(float(np.nanmax(old) - np.nanmin(old)), 1e-6)
    if not there.any():
        return HeightChange(1.0, spread, spread, 0.0, 0.0, float(np.nanmin(new)), float(np.nanmax(new)))
    row, col = divmod(int(np.nanargmax(np.where(there, gap, -1))), gap.shape[1])
    changed = (gap > _SAME * spread) | (np.isfinite(old) != np.isfinite(laid))
    return HeightChange(
        float(changed.mean()),
        float(gap[there].mean()),
        float(gap[row, col]),
        *old_grid.place_of(row, col),
        float(np.nanmin(new)),
        float(np.nanmax(new)),
    )
