"""Stair steps: finding them, and taking them out without losing cliffs."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.blur import blur
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["level_gap", "stair_steps", "un_terraced"]

F32 = NDArray[np.float32]
_MANY = 4096
_WIDTHS = (32, 22, 15, 10, 7, 5, 3.5, 2.5, 1.7, 1.2, 0.8)


def level_gap(heights: F32) -> float | None:
    """Metres between neighbouring levels where a ground uses few of them; None where it uses many.

    The gap is the most common one: a stretched 8-bit picture has one gap nearly everywhere.
    """
    sample = heights[np.isfinite(heights)]
    some = sample if sample.size < 2**21 else sample[:: sample.size // 2**20]
    levels = np.unique(some)
    if levels.size < 2 or levels.size > _MANY:
        return None
    gaps = np.diff(levels.astype(np.float64))
    gaps = gaps[gaps > (levels[-1] - levels[0]) / 65536 / 4]
    return float(np.median(gaps)) if gaps.size else None


def _all_equal(z: F32) -> NDArray[np.bool_]:
    """Whether a sample is level with its four neighbours."""
    p = np.pad(z, 1, mode="edge")
    m = p[1:-1, 1:-1]
    level: NDArray[np.bool_] = (p[:-2, 1:-1] == m) & (p[2:, 1:-1] == m) & (p[1:-1, :-2] == m) & (p[1:-1, 2:] == m)
    return level


def stair_steps(heights: F32, grid: Grid, stripes: Stripes | None = None) -> tuple[float, NDArray[np.bool_], float]:
    """(share of the slopes that are stairs, where, metres a stair is high).

    A stair is level ground within a slope: level with its neighbours though the ground around falls by more than a
    level. Share 0 where the ground uses more than a few thousand levels.
    """
    nothing = np.zeros(heights.shape, np.bool_)
    gap = level_gap(heights)
    if gap is None:
        return 0.0, nothing, 0.0
    z = np.nan_to_num(heights, nan=float(np.nanmean(heights)))
    spacing = max(grid.dy, grid.dx)
    wide = blur(z, grid, 6 * spacing, stripes)
    gy, gx = np.gradient(wide)
    # A real slope: over a dozen samples it falls by more than one level.
    sloping = np.hypot(gy, gx) * 12 > gap
    stairs = sloping & _all_equal(z)
    share = float(stairs.sum() / max(sloping.sum(), 1))
    return share, stairs, gap


def un_terraced(
    heights: F32, grid: Grid, step: float | None, stripes: Stripes | None = None, cancel: Cancel | None = None
) -> F32:
    """``heights`` (float32 metres) without stairs of ``step`` metres (None: as found), cliffs kept.

    The true height of a sample lies within half a step of what the stair says. From wide to narrow the ground is
    smoothed, each width only where treads are as wide, and held to that half step: tread edges vanish, detail on
    steep ground stays, and nothing moves far enough to lose a cliff.
    """
    gap = step if step is not None else level_gap(heights)
    if gap is None:
        return heights.copy()
    spacing = max(grid.dy, grid.dx)
    half = np.float32(gap / 2)
    low, high = heights - half, heights + half
    gy, gx = np.gradient(blur(heights, grid, 4 * spacing, stripes, cancel))
    tread = np.float32(gap) / np.maximum(np.hypot(gy, gx), np.float32(gap / 64)).astype(np.float32)
    z = heights
    for samples in _WIDTHS:
        wide = np.clip(tread / np.float32(samples) - np.float32(0.7), 0, 1)
        if not wide.any():
            continue
        # Twice a width: the first pass finds the slope, the second rounds where it was held.
        for _ in range(2):
            held = np.clip(blur(z, grid, samples * spacing, stripes, cancel), low, high)
            z = (z + (held - z) * wide).astype(np.float32)
    return z
