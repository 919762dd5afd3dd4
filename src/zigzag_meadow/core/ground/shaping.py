"""Steps that shape the ground: smoothing, softening, flattening, refining."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.blur import blur
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.readings.noise import noise
from zigzag_meadow.core.readings.slope import slope
from zigzag_meadow.core.resample import resample
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["flattened", "refined", "smoothed", "softened", "turned"]

F32 = NDArray[np.float32]
_SOFTEN_ROUNDS = 24


def smoothed(
    heights: F32, grid: Grid, radius: float, keep: float | None, stripes: Stripes, cancel: Cancel | None = None
) -> F32:
    """Heights (float32 metres) smoothed over ``radius`` metres; height differences beyond ``keep`` metres stay.

    Without ``keep`` a Gaussian with that standard deviation. With it a guided filter whose guide is the ground
    itself: He, Sun & Tang 2013, doi:10.1109/TPAMI.2012.213, with Gaussian windows.
    """
    if keep is None:
        return blur(heights, grid, radius, stripes, cancel)
    middle = np.float32(heights.mean(dtype=np.float64))
    z: F32 = (heights - middle).astype(np.float32)
    mean = blur(z, grid, radius, stripes, cancel)
    spread = np.maximum(blur(np.square(z - mean), grid, radius, stripes, cancel), 0)
    part: F32 = (spread / (spread + np.float32(keep**2))).astype(np.float32)
    a = blur(part, grid, radius, stripes, cancel)
    b = blur((mean * (1 - part)).astype(np.float32), grid, radius, stripes, cancel)
    return (a * z + b + middle).astype(np.float32)


def softened(heights: F32, grid: Grid, angle: float, stripes: Stripes, cancel: Cancel | None = None) -> F32:
    """Heights (float32 metres) with faces steeper than ``angle`` degrees drawn out; gentler ground as it was.

    Rounds of smoothing that act only where, and as far as, the slope is beyond the angle.
    """
    z = heights
    spacing = max(grid.dy, grid.dx)
    for number in range(_SOFTEN_ROUNDS):
        degrees = slope(z, grid, stripes=stripes, cancel=cancel)
        over = np.clip((degrees - np.float32(angle)) / np.float32(3), 0, 1)
        if not over.any():
            break
        width = spacing * (1.2 + 0.25 * number)
        # Carried a little beyond the face, so that its foot and edge can give way.
        reach = np.clip(blur(over, grid, width * 1.5, stripes, cancel) * np.float32(2.5), 0, 1)
        z = z + (blur(z, grid, width, stripes, cancel) - z) * reach
    return np.ascontiguousarray(z, np.float32)


def flattened(heights: F32, side: str, height: float, blend: float) -> F32:
    """Heights (float32 metres) held at or above (``below`` flattened) or at or below ``height``.

    Within ``blend`` metres the corner is rounded: the smooth minimum of Quílez's quadratic kind, exact beyond it.
    """
    sign = np.float32(1 if side == "below" else -1)
    d = (heights - np.float32(height)) * sign
    if blend < 1e-4:
        held: F32 = np.float32(height) + np.maximum(d, 0) * sign
        return held
    k = np.float32(blend)
    h = np.maximum(k - np.abs(d), 0) / k
    rounded: F32 = np.float32(height) + sign * (np.maximum(d, 0) + h * h * k * np.float32(0.25))
    return rounded


def refined(
    heights: F32, src: Grid, dst: Grid, detail: float, seed: int, stripes: Stripes, cancel: Cancel | None = None
) -> F32:
    """Heights (float32 metres) of a coarse ground on the finer grid ``dst``, without jagged edges.

    Catmull–Rom, then a blur of half a coarse sample that takes out what is left of the lattice. ``detail``: metres
    of fine relief, ridged noise below the size of a coarse sample, in full where the ground is rough and none where
    it is level.
    """
    z = resample(heights, src, dst)
    coarse = max(src.dy, src.dx)
    z = blur(z, dst, 0.35 * coarse, stripes, cancel)
    if detail <= 0:
        return z
    fine = noise(dst, dst.whole, kind="ridged", size=2.5 * coarse, octaves=4, seed=seed, stripes=stripes, cancel=cancel)
    degrees = slope(z, dst, width=max(2 * coarse, dst.dy, dst.dx), stripes=stripes)
    rough = np.clip(degrees / np.float32(35), 0, 1)
    out: F32 = z + (fine - np.float32(0.5)) * np.float32(detail) * rough
    return out


def turned(values: F32, how: str) -> F32:
    """Rows and columns turned or mirrored: right, half, left, north_south, east_west, transpose."""
    quarters = {"right": -1, "left": 1, "half": 2}
    if how in quarters:
        return np.ascontiguousarray(np.rot90(values, quarters[how]))
    if how == "transpose":
        return np.ascontiguousarray(values.T)
    return np.ascontiguousarray(values[::-1] if how == "north_south" else values[:, ::-1])
