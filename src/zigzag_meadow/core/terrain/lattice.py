"""What noise is made of: numbers that belong to the points of a lattice, and how they are put together.

One place at a time, or a whole row along an axis: a row passes the same columns of the lattice as every other, and
what belongs to a point is worked out once a cell, not once a sample.
"""

from __future__ import annotations

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

__all__ = ["along_rows", "noise_at", "unit_hash"]

F32 = NDArray[np.float32]
F64 = NDArray[np.float64]
I32 = NDArray[np.int32]
_TABLE = np.array(
    [[math.cos(2 * math.pi * (k + 0.5) / 32), math.sin(2 * math.pi * (k + 0.5) / 32)] for k in range(32)], np.float32
)
_DOUBLE, _GAIN = np.float32(2.0), np.float32(0.5)
_ONE, _TWO, _ZERO, _HALF = np.float32(1), np.float32(2), np.float32(0), np.float32(0.5)
_ROOT2 = np.float32(math.sqrt(2))


@njit(nogil=True, cache=True, inline="always")
def _hash(x: np.int32, y: np.int32, seed: np.uint32) -> np.uint32:
    """A well-mixed 32-bit number for a lattice point (finaliser: Mueller's hash)."""
    # In 64 bits by name: compiled products are that wide unasked, and plain Python has to find the same.
    east, south = np.uint64(np.uint32(x)) * np.uint64(0x9E3779B1), np.uint64(np.uint32(y)) * np.uint64(0x85EBCA77)
    h = east ^ south ^ np.uint64(seed) * np.uint64(0xC2B2AE3D)
    h = np.uint64(np.uint32((h >> np.uint64(16)) ^ h)) * np.uint64(0x45D9F3B)
    h = np.uint64(np.uint32((h >> np.uint64(16)) ^ h)) * np.uint64(0x45D9F3B)
    return np.uint32((h >> np.uint64(16)) ^ h)


@njit(nogil=True, cache=True)
def unit_hash(x: int, y: int, seed: int) -> float:
    """A number from 0 to 1 that belongs to a lattice point and a seed."""
    return float(_hash(np.int32(x), np.int32(y), np.uint32(seed))) / 4294967296.0


@njit(nogil=True, cache=True, inline="always")
def _slant(h: np.uint32, x: np.float32, y: np.float32) -> np.float32:
    k = h & np.uint32(31)
    return np.float32(_TABLE[k, 0] * x + _TABLE[k, 1] * y)


@njit(nogil=True, cache=True)
def _gradient(x: np.float32, y: np.float32, seed: np.uint32) -> np.float32:
    """Gradient noise, about −1 to 1: Perlin 2002, doi:10.1145/566570.566636."""
    fx, fy = np.floor(x), np.floor(y)
    i, j = np.int32(fx), np.int32(fy)
    u, v = x - fx, y - fy
    s = u * u * u * (u * (u * np.float32(6) - np.float32(15)) + np.float32(10))
    t = v * v * v * (v * (v * np.float32(6) - np.float32(15)) + np.float32(10))
    a = _slant(_hash(i, j, seed), u, v)
    b = _slant(_hash(i + np.int32(1), j, seed), u - _ONE, v)
    c = _slant(_hash(i, j + np.int32(1), seed), u, v - _ONE)
    d = _slant(_hash(i + np.int32(1), j + np.int32(1), seed), u - _ONE, v - _ONE)
    top, low = a + s * (b - a), c + s * (d - c)
    return np.float32((top + t * (low - top)) * _ROOT2)


@njit(nogil=True, cache=True)
def _cellular(x: np.float32, y: np.float32, seed: np.uint32) -> np.float32:
    """Distance to the nearest of one point a cell, 0 to about 1: Worley 1996, doi:10.1145/237170.237267."""
    i, j = np.int32(np.floor(x)), np.int32(np.floor(y))
    best = np.float32(9)
    for dj in range(-1, 2):
        for di in range(-1, 2):
            a, b = i + np.int32(di), j + np.int32(dj)
            h = _hash(a, b, seed)
            px = np.float32(a) + np.float32(h & np.uint32(0xFFFF)) / np.float32(65536) - x
            py = np.float32(b) + np.float32(h >> np.uint32(16)) / np.float32(65536) - y
            best = min(best, px * px + py * py)
    return min(np.sqrt(best), _ONE)


@njit(nogil=True, cache=True)
def noise_at(
    kind: int, x: np.float32, y: np.float32, octaves: np.float32, full: np.float32, seed: np.uint32
) -> np.float32:
    """One value, 0–1, at a place in units of the largest size.

    Octaves may end in a part; ``full`` is what the weights of all that were wished for add up to, so that octaves
    left out fade to their mean.
    """
    total, weight = _ZERO, _ONE
    first = _gradient(x, y, seed) if kind == 3 else _ZERO
    left = octaves
    k = np.uint32(1 if kind == 3 else 0)
    px, py = (x * _DOUBLE, y * _DOUBLE) if kind == 3 else (x, y)
    while left > _ZERO:
        part = min(left, _ONE) * weight
        if kind == 0 or kind == 3:
            value = _gradient(px, py, seed + k)
        elif kind == 1:
            ridge = _ONE - abs(_gradient(px, py, seed + k))
            value = ridge * ridge * _TWO - _ONE
        else:
            value = _cellular(px, py, seed + k) * _TWO - _ONE
        total += part * value
        weight *= _GAIN
        px, py = px * _DOUBLE + np.float32(17.17), py * _DOUBLE - np.float32(9.71)
        k += np.uint32(1)
        left -= _ONE
    rough = total / full
    if kind == 3:
        # Bands across the first axis, bent by the finer octaves.
        return _HALF + _HALF * np.float32(
            np.sin(np.float32(2 * math.pi) * (y + first * _HALF + rough * np.float32(0.3)))
        )
    spread = np.float32(1.25) if kind == 0 else _ONE
    return min(max(_HALF + _HALF * rough * spread, _ZERO), _ONE)


@njit(nogil=True, cache=True, inline="always")
def _eased(x: np.float32) -> np.float32:
    return np.float32(x * x * x * (x * (x * np.float32(6) - np.float32(15)) + np.float32(10)))


@njit(nogil=True, cache=True)
def _slants(i0: int, j: int, swapped: bool, seed: np.uint32, along: F32, across: F32) -> None:
    """The slants of the lattice points from column ``i0`` of line ``j``: along the row, and across it."""
    for k in range(along.size):
        i = np.int32(i0 + k)
        h = _hash(np.int32(j), i, seed) if swapped else _hash(i, np.int32(j), seed)
        g = h & np.uint32(31)
        along[k] = _TABLE[g, 1 if swapped else 0]
        across[k] = _TABLE[g, 0 if swapped else 1]


@njit(nogil=True, cache=True, error_model="numpy")
def _gradient_row(slants: F32, v: np.float32, cell: I32, u: F32, p: F32, q: F32, out: F32) -> None:
    """Gradient noise along a row at ``v`` (0–1) of its cells. ``slants``: along and across, of the line of lattice
    points before the row and of that after it, (4, points). ``p``, ``q``: room for one line of points."""
    t = _eased(v)
    for k in range(p.size):
        before, after = slants[1, k] * v, slants[3, k] * (v - _ONE)
        p[k] = before + t * (after - before)
        q[k] = slants[0, k] + t * (slants[2, k] - slants[0, k])
    for c in range(out.size):
        i, x = cell[c], u[c]
        a = p[i] + q[i] * x
        b = p[i + 1] + q[i + 1] * (x - _ONE)
        out[c] = (a + _eased(x) * (b - a)) * _ROOT2


@njit(nogil=True, cache=True)
def _points(i0: int, j: int, swapped: bool, seed: np.uint32, along: F32, across: F32) -> None:
    """One point a cell, from one column before ``i0``: where it lies in its cell along the row, and across it."""
    for k in range(along.size):
        i = np.int32(i0 + k - 1)
        h = _hash(np.int32(j), i, seed) if swapped else _hash(i, np.int32(j), seed)
        x, y = np.float32(h & np.uint32(0xFFFF)) / np.float32(65536), np.float32(h >> np.uint32(16)) / np.float32(65536)
        along[k], across[k] = (y, x) if swapped else (x, y)


@njit(nogil=True, cache=True, error_model="numpy")
def _cellular_row(points: F32, v: np.float32, cell: I32, u: F32, squares: F32, out: F32) -> None:
    """Distance to the nearest point along a row at ``v`` of its cells. ``points``: along and across, of the lines of
    cells before, at and after it, (6, cells). ``squares``: room for one line of cells."""
    out[:] = np.float32(9)
    for line in range(3):
        along = points[2 * line]
        for k in range(squares.size):
            d = points[2 * line + 1, k] + np.float32(line - 1) - v
            squares[k] = d * d
        for c in range(out.size):
            k, x = cell[c], u[c]
            a, b, d = along[k] - _ONE - x, along[k + 1] - x, along[k + 2] + _ONE - x
            a, b, d = a * a + squares[k], b * b + squares[k + 1], d * d + squares[k + 2]
            out[c] = min(min(out[c], a), min(b, d))
    for c in range(out.size):
        out[c] = min(np.sqrt(out[c]), _ONE)


@njit(nogil=True, cache=True, error_model="numpy")
def along_rows(
    kind: int,
    octaves: np.float32,
    full: np.float32,
    seed: np.uint32,
    lines: F64,
    places: F64,
    swapped: bool,
    out: F32,
    first: int,
    end: int,
) -> None:
    """Rows ``first`` to ``end`` of what :func:`noise_at` is at each sample, where rows run along an axis.

    ``places``: of the columns along the row, ``lines``: of the rows across it, in units of the largest size (float64).
    ``swapped``: rows run along the second axis.
    """
    n = out.shape[1]
    banded = kind == 3
    count = int(np.ceil(octaves)) + (1 if banded else 0)
    scale, off = np.empty(count), np.zeros((count, 2))
    for k in range(count):
        scale[k] = 1.0 if k == 0 else scale[k - 1] * 2
        # What is first of bands bends them; the finer octaves begin where it is doubled, not moved.
        if k > (1 if banded else 0):
            off[k, 0], off[k, 1] = off[k - 1, 0] * 2 + 17.17, off[k - 1, 1] * 2 - 9.71
    along, across = (1, 0) if swapped else (0, 1)
    cell, u, begin = np.empty((count, n), np.int32), np.empty((count, n), np.float32), np.empty(count, np.int64)
    longest = 0
    for k in range(count):
        begin[k] = int(np.floor(min(places[0], places[n - 1]) * scale[k] + off[k, along]))
        for c in range(n):
            at = places[c] * scale[k] + off[k, along]
            i = np.floor(at)
            cell[k, c], u[k, c] = np.int32(int(i) - begin[k]), np.float32(at - i)
            longest = max(longest, cell[k, c] + 1)
    held = np.empty((count, 6, longest + 2), np.float32)
    line_of = np.full(count, -(2**62), np.int64)
    p, q = np.empty(longest + 2, np.float32), np.empty(longest + 2, np.float32)
    one, total = np.empty(n, np.float32), np.empty(n, np.float32)
    bend = np.zeros(n, np.float32)
    for r in range(first, end):
        total[:] = _ZERO
        weight, left = _ONE, octaves
        for k in range(count):
            at = lines[r] * scale[k] + off[k, across]
            j = int(np.floor(at))
            v = np.float32(at - j)
            if j != line_of[k]:
                line_of[k] = j
                own = seed + np.uint32(k)
                if kind == 2:
                    for line in range(3):
                        _points(begin[k], j + line - 1, swapped, own, held[k, 2 * line], held[k, 2 * line + 1])
                else:
                    for line in range(2):
                        _slants(begin[k], j + line, swapped, own, held[k, 2 * line], held[k, 2 * line + 1])
            if kind == 2:
                _cellular_row(held[k], v, cell[k], u[k], p, one)
            else:
                _gradient_row(held[k], v, cell[k], u[k], p, q, one)
            if banded and k == 0:
                bend[:] = one
                continue
            part = min(left, _ONE) * weight
            if kind == 1:
                for c in range(n):
                    ridge = _ONE - abs(one[c])
                    total[c] += part * (ridge * ridge * _TWO - _ONE)
            elif kind == 2:
                for c in range(n):
                    total[c] += part * (one[c] * _TWO - _ONE)
            else:
                for c in range(n):
                    total[c] += part * one[c]
            weight *= _GAIN
            left -= _ONE
        o = out[r]
        if banded:
            for c in range(n):
                y = np.float32(places[c]) if swapped else np.float32(lines[r])
                o[c] = _HALF + _HALF * np.float32(
                    np.sin(np.float32(2 * math.pi) * (y + bend[c] * _HALF + total[c] / full * np.float32(0.3)))
                )
        else:
            spread = (np.float32(1.25) if kind == 0 else _ONE) / full
            for c in range(n):
                o[c] = min(max(_HALF + _HALF * total[c] * spread, _ZERO), _ONE)
