"""Beds of rock in the height: benches where they are soft, faces where they are hard."""

from __future__ import annotations

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.stripes import Cancel, Stripes
from zigzag_meadow.core.terrain.lattice import noise_at, unit_hash

__all__ = ["bedded"]

F32 = NDArray[np.float32]
_OCTAVES, _FULL = np.float32(3), np.float32(1.75)
_STEEPEST = 7.0
"""How many times steeper the middle of the hardest bed becomes."""


@njit(nogil=True, cache=True)
def _border(bed: int, variation: float, seed: int) -> float:
    """Where a bed begins, in mean thicknesses; neighbours never pass each other."""
    return bed + variation * 0.8 * (unit_hash(bed, 1, seed) - 0.5)


@njit(nogil=True, cache=True)
def _bed_rows(
    z: F32, place: NDArray[np.float64], numbers: NDArray[np.float64], seed: int, out: F32, first: int, end: int
) -> None:
    zero, thickness, east, south, bend, size, hardness, variation = numbers
    for r in range(first, end):
        y = place[1] + r * place[3]
        for c in range(out.shape[1]):
            x = place[0] + c * place[2]
            wave = (noise_at(0, np.float32(x / size), np.float32(y / size), _OCTAVES, _FULL, np.uint32(seed)) - 0.5) * 2
            at = (z[r, c] - zero + x * east + y * south + bend * wave) / thickness
            bed = math.floor(at)
            if at < _border(bed, variation, seed):
                bed -= 1
            elif at >= _border(bed + 1, variation, seed):
                bed += 1
            low, high = _border(bed, variation, seed), _border(bed + 1, variation, seed)
            t = min(max((at - low) / (high - low), 0.0), 1.0)
            hard = hardness * (1 - variation * unit_hash(bed, 2, seed))
            power = 1 + hard * (_STEEPEST - 1)
            up, down = t**power, (1 - t) ** power
            out[r, c] = z[r, c] + thickness * (high - low) * (up / (up + down) - t)


def bedded(
    heights: F32,
    grid: Grid,
    *,
    zero: float,
    thickness: float,
    dip: float,
    direction: float,
    hardness: float,
    variation: float,
    bend: float,
    seed: int,
    stripes: Stripes | None = None,
    cancel: Cancel | None = None,
) -> F32:
    """Heights (float32 metres, all of ``grid``) shaped by beds of rock.

    Within a bed, heights follow t^p / (t^p + (1−t)^p) instead of t (0 at its foot, 1 at its top): level at both, p
    times as steep in the middle, p from 1 where nothing is hard to 7. Borders of beds keep their heights, so that the
    shape of the ground stays. ``thickness`` (of a bed in the mean) and ``bend`` (how far beds wave up and down) in
    metres; ``zero``: the height from which beds are counted; ``dip``: degrees that they fall towards ``direction``
    (clockwise from north); ``hardness``, ``variation`` (of thickness and hardness from bed to bed): 0–1. The curve is
    the gain function of Perlin & Hoffert 1989, doi:10.1145/74334.74359, in its rational form.
    """
    y, x = grid.first
    fall = math.tan(math.radians(dip))
    tilt = math.sin(math.radians(direction)) * fall, -math.cos(math.radians(direction)) * fall
    size = max(thickness * 12, 2 * max(grid.dy, grid.dx))
    place = readable(np.array([x, y, grid.dx, grid.dy]))
    numbers = readable(np.array([zero, thickness, *tilt, bend, size, hardness, variation]))
    heights, out = readable(heights), np.empty(grid.shape, np.float32)
    pool = stripes or Stripes(1)
    pool.run(*grid.shape, lambda i, j: _bed_rows(heights, place, numbers, seed, out, i, j), cancel)
    return out
