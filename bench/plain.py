"""The same things in plain NumPy, the way one would write them at first: what the kernels are measured against."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

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


def aspect(z: F32, dy: float, dx: float) -> F32:
    """Direction of fall in degrees, from Horn's gradient."""
    p = np.pad(z, 1, mode="reflect", reflect_type="odd")
    n, m, s = p[:-2], p[1:-1], p[2:]
    gx = ((n[:, 2:] + 2 * m[:, 2:] + s[:, 2:]) - (n[:, :-2] + 2 * m[:, :-2] + s[:, :-2])) / np.float32(8 * dx)
    gy = ((n[:, 2:] + 2 * n[:, 1:-1] + n[:, :-2]) - (s[:, 2:] + 2 * s[:, 1:-1] + s[:, :-2])) / np.float32(8 * dy)
    return np.degrees(np.arctan2(-gx, -gy)) % 360


def profile_curvature(z: F32, dy: float, dx: float) -> F32:
    """Curvature along the fall line from a quadratic fitted to 3 × 3 samples."""
    p = np.pad(z, 1, mode="reflect", reflect_type="odd")
    a = [[p[i : i + z.shape[0], j : j + z.shape[1]] for j in range(3)] for i in range(3)]
    gx = ((a[0][2] + 2 * a[1][2] + a[2][2]) - (a[0][0] + 2 * a[1][0] + a[2][0])) / np.float32(8 * dx)
    gy = ((a[0][0] + 2 * a[0][1] + a[0][2]) - (a[2][0] + 2 * a[2][1] + a[2][2])) / np.float32(8 * dy)
    corners = a[0][0] + a[0][2] + a[2][0] + a[2][2]
    sides, ends, middle = a[1][0] + a[1][2], a[0][1] + a[2][1], a[1][1]
    r = (corners + 2 * sides - 2 * ends - 4 * middle) / np.float32(4 * dx * dx)
    t = (corners + 2 * ends - 2 * sides - 4 * middle) / np.float32(4 * dy * dy)
    s = (a[0][2] - a[0][0] - a[2][2] + a[2][0]) / np.float32(4 * dx * dy)
    g = gx**2 + gy**2
    along = gx**2 * r + 2 * gx * gy * s + gy**2 * t
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(g > 1e-8, -along / (g * (1 + g) ** 1.5), -(r + t) / 2).astype(np.float32)


def relative_height(z: F32, samples: int) -> F32:
    """Height above the mean of all others within a radius of so many samples, by convolution with a disc."""
    y, x = np.mgrid[-samples : samples + 1, -samples : samples + 1]
    disc = (np.hypot(y, x) <= samples).astype(np.float32)
    disc[samples, samples] = 0
    return z - ndimage.convolve(z, disc / disc.sum(), mode="nearest")
