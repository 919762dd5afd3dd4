"""Strata: beds of rock by height, tilted and bent, each with a tone of its own."""

from __future__ import annotations

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.readings.noise import noise_at, unit_hash
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["strata"]

F32 = NDArray[np.float32]
_OCTAVES, _FULL = np.float32(3), np.float32(1.75)


@njit(nogil=True, cache=True)
def _strata_rows(
    z: F32, place: NDArray[np.float64], thickness: float, tilt: NDArray[np.float64], bend: float, size: float,
    seed: int, out: F32, first: int, end: int,
) -> None:  # fmt: skip
    for r in range(first, end):
        y = place[1] + r * place[3]
        for c in range(out.shape[1]):
            x = place[0] + c * place[2]
            wave = noise_at(0, np.float32(x / size), np.float32(y / size), _OCTAVES, _FULL, np.uint32(seed))
            warp = (wave - 0.5) * 2
            at = (z[r, c] + x * tilt[0] + y * tilt[1] + bend * warp) / thickness
            bed = math.floor(at)
            inside = at - bed
            # Beds meet over a tenth of their thickness.
            here, above = unit_hash(bed, 0, seed), unit_hash(bed + 1, 0, seed)
            blend = min(max((inside - 0.9) * 10, 0.0), 1.0)
            out[r, c] = here + (above - here) * blend


def strata(
    heights: F32,
    grid: Grid,
    window: Window,
    *,
    thickness: float,
    dip: float,
    direction: float,
    bend: float,
    seed: int,
    stripes: Stripes | None = None,
    cancel: Cancel | None = None,
) -> F32:
    """The tone of the bed that each sample lies in, 0–1, float32.

    ``heights``: float32 metres on ``window`` of ``grid``. ``thickness`` of a bed and ``bend`` (how far beds wave up
    and down) in metres; ``dip``: degrees that beds fall towards ``direction`` (clockwise from north).
    """
    y, x = grid.first
    place = np.array([x + window.col0 * grid.dx, y + window.row0 * grid.dy, grid.dx, grid.dy])
    fall = math.tan(math.radians(dip))
    tilt = np.array([math.sin(math.radians(direction)) * fall, -math.cos(math.radians(direction)) * fall])
    heights, place, tilt = readable(heights), readable(place), readable(tilt)
    out = np.empty(window.shape, np.float32)
    size = max(thickness * 12, 2 * max(grid.dy, grid.dx))
    pool = stripes or Stripes(1)
    pool.run(
        *window.shape, lambda i, j: _strata_rows(heights, place, thickness, tilt, bend, size, seed, out, i, j), cancel
    )
    return out
