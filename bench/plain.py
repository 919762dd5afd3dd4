"""The same things in plain NumPy, the way one would write them at first: what the kernels are measured against."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

F32 = NDArray[np.float32]


def slope(z: F32, dy: float, dx: float) -> F32:
    """Horn's slope in degrees, borders extrapolated linearly."""
    p = np.pad(z, 1, mode="reflect", reflect_type="odd")
    n, m, s = p[:-2], p[1:-1], p[2:]
    gx = ((n[:, 2:] + 2 * m[:, 2:] + s[:, 2:]) - (n[:, :-2] + 2 * m[:, :-2] + s[:, :-2])) / np.float32(8 * dx)
    gy = ((n[:, 2:] + 2 * n[:, 1:-1] + n[:, :-2]) - (s[:, 2:] + 2 * s[:, 1:-1] + s[:, :-2])) / np.float32(8 * dy)
    return np.degrees(np.arctan(np.hypot(gx, gy)))


def band(v: F32, low: float, high: float, fade_low: float, fade_high: float) -> F32:
    """A soft band: 1 inside, linear fades outside."""
    rise = np.clip((v - np.float32(low)) / np.float32(fade_low) + 1, 0, 1)
    fall = np.clip((np.float32(high) - v) / np.float32(fade_high) + 1, 0, 1)
    return np.minimum(rise, fall)


def shares(weights: F32) -> NDArray[np.uint8]:
    """Largest remainder by sorting, ties to the lower index."""
    scaled = weights * np.float32(255)
    whole = np.floor(scaled)
    short = 255 - whole.sum(axis=0)
    order = np.argsort(-(scaled - whole), axis=0, kind="stable")
    rank = np.empty_like(order)
    np.put_along_axis(rank, order, np.broadcast_to(np.arange(len(weights))[:, None, None], order.shape), 0)
    return (whole + (rank < short)).astype(np.uint8)
