"""The one border policy of derivative readings, and the offsets at which they difference."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.grid import Grid, Window

__all__ = ["Offsets", "extended", "offsets"]


@dataclass(frozen=True, slots=True)
class Offsets:
    """Differencing distances in metres and in samples (whole part and fraction) per axis, and the margin."""

    wy: float
    wx: float
    ky: int
    kx: int
    fy: float
    fx: float

    @property
    def margin(self) -> tuple[int, int]:
        """Samples that are looked at beyond a window, (y, x), where neighbours between samples are linear."""
        return (self.ky + (self.fy > 0), self.kx + (self.fx > 0))

    @property
    def wide_margin(self) -> tuple[int, int]:
        """The same where neighbours between samples are taken by a cubic."""
        return (self.ky + 2 * (self.fy > 0), self.kx + 2 * (self.fx > 0))


def _split(samples: float) -> tuple[int, float]:
    whole = round(samples)
    if abs(samples - whole) < 1e-6:
        return whole, 0.0
    return math.floor(samples), samples - math.floor(samples)


def offsets(grid: Grid, width: float | tuple[float, float]) -> Offsets:
    """Where to difference on ``grid`` at ±width metres (one number, or (y, x)).

    Raises :class:`BadNumber` when the grid is coarser than the width: it cannot tell such neighbours apart.
    """
    wy, wx = (width, width) if isinstance(width, int | float) else width
    if wy < grid.dy * (1 - 1e-6) or wx < grid.dx * (1 - 1e-6):
        raise BadNumber(f"The width {min(wy, wx):g} m must be at least the spacing, {grid.dx:g} m by {grid.dy:g} m.")
    ky, fy = _split(wy / grid.dy)
    kx, fx = _split(wx / grid.dx)
    return Offsets(wy, wx, ky, kx, fy, fx)


def extended(values: NDArray[np.float32], inside: Window, wanted: Window) -> NDArray[np.float32]:
    """Grow ``values`` (the window ``inside``) to ``wanted`` by mirroring through the outermost samples.

    z(border − t) = 2·z(border) − z(border + t): the linear extrapolation of every difference, so that planes stay
    planes and nothing wraps. float32 in and out.
    """
    before = (inside.row0 - wanted.row0, wanted.row1 - inside.row1)
    across = (inside.col0 - wanted.col0, wanted.col1 - inside.col1)
    if not any(before + across):
        return values
    return np.pad(values, (before, across), mode="reflect", reflect_type="odd")
