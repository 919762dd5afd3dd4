"""Erosion by rain: drops that run down the ground, take earth along and lay it down again."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.errors import Cancelled
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.stripes import Cancel
from zigzag_meadow.core.terrain.lattice import unit_hash

__all__ = ["ErosionRun", "erode"]

F32 = NDArray[np.float32]
F64 = NDArray[np.float64]
Mask = NDArray[np.bool_]
Tell = Callable[[float], None]
DROPS_A_BATCH = 32768
_ROWS = 256
# How a drop behaves, in units of one sample's width (Beyer 2015, Implementation of a method for hydraulic erosion).
_INERTIA, _CAPACITY, _LEAST_FALL = 0.08, 6.0, 0.006
_TAKES, _LAYS, _DRIES, _GRAVITY, _LIFE = 0.30, 0.28, 0.02, 4.0, 56
_REACH = 2
_SCOUR, _LAID, _LOAD, _WATER = range(4)


@dataclass(frozen=True, slots=True)
class ErosionRun:
    """What a run leaves, all float32 of the grid's shape.

    ``ground``, ``scour`` (metres removed, in all) and ``deposition`` (metres laid down, in all) in metres;
    ``load``: metres of earth carried through, ``water``: water carried through, in m² of rain. ``error`` is what the
    balance of earth is off by, as a part of what was moved; ``left`` is the part that left over the border.
    """

    ground: F32
    scour: F32
    deposition: F32
    load: F32
    water: F32
    error: float
    left: float


@njit(nogil=True, cache=True)
def _brush() -> tuple[NDArray[np.int64], F64]:
    """Offsets and weights of the disc from which a drop takes earth; the weights sum to 1."""
    size = (2 * _REACH + 1) ** 2
    place, weight = np.empty((size, 2), np.int64), np.empty(size, np.float64)
    count, total = 0, 0.0
    for i in range(-_REACH, _REACH + 1):
        for j in range(-_REACH, _REACH + 1):
            w = _REACH + 0.5 - np.sqrt(float(i * i + j * j))
            if w > 0:
                place[count, 0], place[count, 1], weight[count] = i, j, w
                count += 1
                total += w
    return place[:count], weight[:count] / total


@njit(nogil=True, cache=True)
def _lay(z: F64, moved: F32, r: int, c: int, u: float, v: float, amount: float) -> None:
    """Lay earth down on the four samples around a place, by nearness."""
    for i in range(2):
        for j in range(2):
            part = amount * (v if i else 1 - v) * (u if j else 1 - u)
            z[r + i, c + j] += part
            moved[r + i, c + j, _LAID] += np.float32(part)


@njit(nogil=True, cache=True)
def _take(z: F64, moved: F32, soft: F32, place: NDArray[np.int64], weight: F64, r: int, c: int, amount: float) -> float:
    """Take earth from a disc around a sample, less where the ground is hard; returns how much was taken."""
    rows, cols = soft.shape
    taken = 0.0
    inner = _REACH <= r < rows - _REACH and _REACH <= c < cols - _REACH
    for k in range(weight.size):
        i, j = r + place[k, 0], c + place[k, 1]
        if inner or (0 <= i < rows and 0 <= j < cols):
            part = amount * weight[k] * soft[i, j]
            z[i, j] -= part
            moved[i, j, _SCOUR] += np.float32(part)
            taken += part
    return taken


@njit(nogil=True, cache=True)
def _by_gap(shut: Mask, r: int, c: int) -> bool:
    """Whether any of the four samples around a place is a gap."""
    beside: bool = shut[r, c] or shut[r, c + 1] or shut[r + 1, c] or shut[r + 1, c + 1]
    return beside


@njit(nogil=True, cache=True)
def _drops(
    z: F64, moved: F32, soft: F32, shut: Mask, has_gaps: bool, dy: float, dx: float, strength: float, start: F64
) -> float:
    """Run drops from the places ``start`` (y, x in samples) one after another; returns the earth that left.

    A drop that comes to a gap ends there and leaves what it carries beside it. ``z`` are heights, which must not lose
    what is small against them; ``moved`` holds scour, deposition, load and water, which are touched at once.
    """
    rows, cols = soft.shape
    unit = np.sqrt(dy * dx)
    place, weight = _brush()
    left = 0.0
    for n in range(start.shape[0]):
        y, x = start[n, 0], start[n, 1]
        ex, ey, speed, rain, carried = 0.0, 0.0, 1.0, 1.0, 0.0
        out = False
        if has_gaps and _by_gap(shut, int(y), int(x)):
            continue
        for _ in range(_LIFE):
            r, c = int(y), int(x)
            u, v = x - c, y - r
            a, b, d, e = z[r, c], z[r, c + 1], z[r + 1, c], z[r + 1, c + 1]
            gx = ((b - a) * (1 - v) + (e - d) * v) / dx
            gy = ((d - a) * (1 - u) + (e - b) * u) / dy
            here = (a * (1 - u) + b * u) * (1 - v) + (d * (1 - u) + e * u) * v
            ex, ey = ex * _INERTIA - gx * (1 - _INERTIA), ey * _INERTIA - gy * (1 - _INERTIA)
            size = np.sqrt(ex * ex + ey * ey)
            if size < 1e-9:
                break
            ex, ey = ex / size, ey / size
            moved[r, c, _WATER] += np.float32(rain)
            moved[r, c, _LOAD] += np.float32(carried)
            nx, ny = x + ex * unit / dx, y + ey * unit / dy
            if not (0 <= nx < cols - 1 and 0 <= ny < rows - 1):
                out = True
                break
            i, j = int(ny), int(nx)
            if has_gaps and _by_gap(shut, i, j):
                break
            p, q = nx - j, ny - i
            north = z[i, j] * (1 - p) + z[i, j + 1] * p
            south = z[i + 1, j] * (1 - p) + z[i + 1, j + 1] * p
            there = north * (1 - q) + south * q
            fall = here - there
            room = max(fall / unit, _LEAST_FALL) * speed * rain * _CAPACITY * unit * strength
            if carried > room or fall < 0:
                # Uphill: fill the hollow no higher than its rim; else drop a part of what is too much.
                amount = min(-fall, carried) if fall < 0 else (carried - room) * _LAYS
                carried -= amount
                _lay(z, moved, r, c, u, v, amount)
            else:
                amount = min((room - carried) * _TAKES, fall)
                carried += _take(z, moved, soft, place, weight, r, c, amount)
            speed = np.sqrt(max(speed * speed + fall / unit * _GRAVITY, 0.01))
            rain *= 1 - _DRIES
            x, y = nx, ny
        if out:
            left += carried
        else:
            _lay(z, moved, int(y), int(x), x - int(x), y - int(y), carried)
    return left


@njit(nogil=True, cache=True)
def _places(seed: int, first: int, rows: int, cols: int, out: F64) -> None:
    for n in range(out.shape[0]):
        out[n, 0] = unit_hash(first + n, 1, seed) * (rows - 1.001)
        out[n, 1] = unit_hash(first + n, 2, seed) * (cols - 1.001)


def _starts(seed: int, first: int, end: int, grid: Grid) -> F64:
    """Where a batch of drops falls, neighbours one after another: they touch the same memory."""
    places = np.empty((end - first, 2), np.float64)
    _places(seed, first, grid.rows, grid.cols, places)
    block = (places // 48).astype(np.int64)
    return readable(places[np.lexsort((block[:, 1], block[:, 0]))])


def erode(
    heights: F32,
    grid: Grid,
    *,
    rain: float,
    strength: float,
    seed: int,
    hardness: F32 | None = None,
    gaps: Mask | None = None,
    tell: Tell | None = None,
    cancel: Cancel | None = None,
) -> ErosionRun:
    """Erode ``heights`` (float32 metres, shape of ``grid``) with drops of rain.

    ``rain``: drops a sample (0.2 is a good shower); ``strength`` 0–1: how much earth water can carry; ``hardness``:
    0–1 of the same shape, 1 gives nothing away; ``gaps``: bool of the same shape, where there is no ground: nothing is
    taken from there and nothing laid. Drops run one after another in a fixed order, so the same numbers
    give the same bytes whatever the thread count. Earth is neither made nor lost: what was taken lies somewhere
    else or left over the border. ``tell`` gets the share done; raises :class:`Cancelled` when ``cancel`` turns
    true. Reference: Beyer 2015, Implementation of a method for hydraulic erosion (drops with inertia and capacity).
    """
    z = heights.astype(np.float64)
    moved = np.zeros((*grid.shape, 4), np.float32)
    soft = np.ones(grid.shape, np.float32) if hardness is None else np.clip(1 - hardness, 0, 1).astype(np.float32)
    if gaps is not None:
        soft[gaps] = 0
    soft, shut = readable(soft), readable(np.zeros((1, 1), np.bool_) if gaps is None else gaps)
    count = max(int(rain * grid.rows * grid.cols), 1)
    left = 0.0
    for first in range(0, count, DROPS_A_BATCH):
        if cancel is not None and cancel():
            raise Cancelled()
        if tell is not None:
            tell(first / count)
        start = _starts(seed, first, min(first + DROPS_A_BATCH, count), grid)
        left += _drops(z, moved, soft, shut, gaps is not None, grid.dy, grid.dx, strength * 0.1, start)
    # What is no longer needed is let go: this is the most memory that a run needs.
    del soft, shut
    taken = float(moved[..., _SCOUR].sum(dtype=np.float64))
    # Some rows at a time, for the same reason.
    balance = left + math.fsum(
        float((z[at : at + _ROWS] - heights[at : at + _ROWS]).sum()) for at in range(0, grid.rows, _ROWS)
    )
    ground = z.astype(np.float32)
    del z
    scour, laid, load, water = (np.ascontiguousarray(moved[..., k]) for k in range(4))
    water *= np.float32(grid.dy * grid.dx / max(rain, 1e-9))
    most = max(taken, 1e-9)
    return ErosionRun(ground, scour, laid, load, water, abs(balance) / most, left / most)
