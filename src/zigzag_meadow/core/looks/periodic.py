"""Patterns without a seam: what leaves a square on one side comes in on the other."""

from __future__ import annotations

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.terrain.lattice import unit_hash

__all__ = ["cells", "clouds", "strands"]

F32 = NDArray[np.float32]


@njit(nogil=True, cache=True)
def _octave(out: F32, rows: int, cols: int, seed: int, gain: float) -> None:
    """Gradient noise with ``rows`` × ``cols`` lattice cells over the square, added to ``out``."""
    n = out.shape[0]
    gx, gy = np.empty((rows, cols), np.float32), np.empty((rows, cols), np.float32)
    for i in range(rows):
        for j in range(cols):
            a = 2 * math.pi * unit_hash(j, i, seed)
            gx[i, j], gy[i, j] = np.float32(math.cos(a)), np.float32(math.sin(a))
    # From ±√½, which a gradient of length 1 reaches, to ±1.
    loud = np.float32(gain * math.sqrt(2.0))
    for r in range(n):
        y = (r + 0.5) * rows / n
        i = int(y)
        fy = np.float32(y - i)
        i0, i1 = i % rows, (i + 1) % rows
        wy = fy * fy * fy * (fy * (fy * np.float32(6) - np.float32(15)) + np.float32(10))
        for c in range(n):
            x = (c + 0.5) * cols / n
            j = int(x)
            fx = np.float32(x - j)
            j0, j1 = j % cols, (j + 1) % cols
            wx = fx * fx * fx * (fx * (fx * np.float32(6) - np.float32(15)) + np.float32(10))
            a = gx[i0, j0] * fx + gy[i0, j0] * fy
            b = gx[i0, j1] * (fx - np.float32(1)) + gy[i0, j1] * fy
            d = gx[i1, j0] * fx + gy[i1, j0] * (fy - np.float32(1))
            e = gx[i1, j1] * (fx - np.float32(1)) + gy[i1, j1] * (fy - np.float32(1))
            top, low = a + wx * (b - a), d + wx * (e - d)
            out[r, c] += loud * (top + wy * (low - top))


def clouds(n: int, across: int, octaves: int, seed: int, *, down: int | None = None, gain: float = 0.5) -> F32:
    """Soft noise, about −1 to 1, float32 (n, n): ``across`` × ``down`` features over the square, each octave twice as
    many and ``gain`` times as strong. Perlin 2002, Improving noise, doi:10.1145/566654.566636."""
    out = np.zeros((n, n), np.float32)
    rows, cols, strength = down or across, across, 1.0
    for k in range(octaves):
        if max(rows, cols) * 2 > n:
            break
        _octave(out, rows, cols, seed * 31 + k, strength)
        rows, cols, strength = rows * 2, cols * 2, strength * gain
    return out


@njit(nogil=True, cache=True)
def _cell_points(count: int, seed: int, squash: float) -> NDArray[np.float64]:
    """Per lattice cell: its point (y, x), what draws it out (three numbers), and a number of its own."""
    table = np.empty((count, count, 6), np.float64)
    for i in range(count):
        for j in range(count):
            table[i, j, 0] = 0.1 + 0.8 * unit_hash(j, i, seed)
            table[i, j, 1] = 0.1 + 0.8 * unit_hash(j, i, seed + 7919)
            a = math.pi * unit_hash(j, i, seed + 104729)
            s, t = math.sin(a), math.cos(a)
            # Squared distance as a quadratic form of (dx, dy): stones are no circles.
            table[i, j, 2] = t * t / squash + s * s * squash
            table[i, j, 3] = s * s / squash + t * t * squash
            table[i, j, 4] = 2 * s * t * (1 / squash - squash)
            table[i, j, 5] = unit_hash(j, i, seed + 15485863)
    return table


@njit(nogil=True, cache=True)
def _cells(table: NDArray[np.float64], out: F32) -> None:
    n, count = out.shape[1], table.shape[0]
    for r in range(n):
        y = (r + 0.5) * count / n
        i = int(y)
        for c in range(n):
            x = (c + 0.5) * count / n
            j = int(x)
            first, second, who = 81.0, 81.0, 0.0
            for di in range(-2, 3):
                for dj in range(-2, 3):
                    own = table[(i + di) % count, (j + dj) % count]
                    v, u = y - (i + di + own[0]), x - (j + dj + own[1])
                    d = u * u * own[2] + v * v * own[3] + u * v * own[4]
                    if d < first:
                        second, first, who = first, d, own[5]
                    elif d < second:
                        second = d
            out[0, r, c], out[1, r, c] = np.float32(math.sqrt(first)), np.float32(math.sqrt(second))
            out[2, r, c] = np.float32(who)


def cells(n: int, count: int, seed: int, squash: float = 1.3) -> F32:
    """Cells about scattered points, ``count`` × ``count`` over the square: float32 (3, n, n): distance to the nearest
    point, to the next one (in cells), and a number from 0 to 1 that belongs to the nearest. Worley 1996,
    doi:10.1145/237170.237267."""
    out = np.empty((3, n, n), np.float32)
    _cells(_cell_points(count, seed, squash), out)
    return out


@njit(nogil=True, cache=True)
def _strands(out: F32, count: int, long: float, wide: float, bend: float, seed: int) -> None:
    n = out.shape[1]
    half = int(wide) + 1
    for k in range(count):
        y, x = unit_hash(k, 1, seed) * n, unit_hash(k, 2, seed) * n
        a = 2 * math.pi * unit_hash(k, 3, seed)
        turn = (unit_hash(k, 4, seed) - 0.5) * bend / long
        length = long * (0.5 + unit_hash(k, 5, seed))
        shade = np.float32(unit_hash(k, 6, seed))
        high = 0.6 + 0.4 * unit_hash(k, 7, seed)
        for s in range(int(length)):
            t = s / length
            # A blade rises from the ground, arches over and thins out.
            z = high * math.sin(math.pi * (0.1 + 0.75 * t))
            w = wide * (1 - 0.7 * t)
            r0, c0 = math.floor(y), math.floor(x)
            for dr in range(-half, half + 1):
                for dc in range(-half, half + 1):
                    d = math.hypot(r0 + dr + 0.5 - y, c0 + dc + 0.5 - x)
                    if d <= w + 0.5:
                        r, c = (r0 + dr) % n, (c0 + dc) % n
                        here = np.float32(z * (1 - 0.3 * d / (w + 0.5)))
                        if here > out[0, r, c]:
                            out[0, r, c], out[1, r, c], out[2, r, c] = here, shade, np.float32(t)
            y += math.sin(a)
            x += math.cos(a)
            a += turn


def strands(n: int, count: int, long: float, wide: float, bend: float, seed: int) -> F32:
    """Blades and stalks lying over each other: float32 (3, n, n): how high the uppermost is (0 where there is none), a
    number from 0 to 1 that belongs to it, and how far along it (0–1). ``long``, ``wide``: samples; ``bend``: radians
    over a length."""
    out = np.zeros((3, n, n), np.float32)
    _strands(out, count, long, wide, bend, seed)
    return out
