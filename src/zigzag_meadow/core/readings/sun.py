"""Cast shadows: which places the sun reaches."""

from __future__ import annotations

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.grid import Grid

__all__ = ["sunlit"]

F32 = NDArray[np.float32]


@njit(nogil=True, cache=True, error_model="numpy")
def _sweep(z: F32, back: bool, shift: np.float32, drop: np.float32, out: F32) -> None:
    """Carry the edge of the shadow from row to row away from the sun; ``shift`` columns a row towards it."""
    rows, cols = z.shape
    edge, fresh = np.empty(cols, np.float32), np.empty(cols, np.float32)
    whole = int(np.floor(shift))
    f = shift - np.float32(whole)
    one, zero, nothing = np.float32(1), np.float32(0), np.float32(-1e30)
    for i in range(rows):
        r = rows - 1 - i if back else i
        for c in range(cols):
            h = z[r, c]
            if i == 0:
                fresh[c] = h
                out[r, c] = one
                continue
            a, b = c + whole, c + whole + 1
            p = edge[a] if 0 <= a < cols else nothing
            q = edge[b] if 0 <= b < cols else nothing
            shadow = (p + f * (q - p) if f > 0 else p) - drop
            # A shadow's edge is as soft as one sample is wide.
            out[r, c] = min(max(one - (shadow - h) / drop, zero), one)
            fresh[c] = max(h, shadow)
        edge, fresh = fresh, edge


def sunlit(heights: F32, grid: Grid, azimuth: float, altitude: float) -> F32:
    """How much of the sun's disc reaches each sample past the ground in front of it, 0–1.

    ``heights``: float32 metres, shape of ``grid``, row 0 north. ``azimuth``: degrees clockwise from north;
    ``altitude``: degrees above the horizon, above 0. Nothing stands beyond the border. Returns float32.
    The shadow's upper edge is swept across the grid once, interpolated along rows (or columns, whichever the sun
    crosses faster): Dozier, Bruno & Downey 1981, doi:10.1016/0098-3004(81)90026-2, in sweep form.
    """
    east, north = math.sin(math.radians(azimuth)), math.cos(math.radians(azimuth))
    rise = math.tan(math.radians(min(max(altitude, 0.5), 89.9)))
    if abs(north) / grid.dy >= abs(east) / grid.dx:
        out = np.empty(grid.shape, np.float32)
        shift = (east / grid.dx) / (abs(north) / grid.dy)
        _sweep(readable(heights), north < 0, np.float32(shift), np.float32(rise * grid.dy / abs(north)), out)
        return out
    turned = np.empty((grid.cols, grid.rows), np.float32)
    # Rows of the turned array run west to east, its columns north to south.
    shift = (-north / grid.dy) / (abs(east) / grid.dx)
    _sweep(readable(heights.T), east > 0, np.float32(shift), np.float32(rise * grid.dx / abs(east)), turned)
    return np.ascontiguousarray(turned.T)
