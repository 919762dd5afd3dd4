"""Scatter: plants and stones as points with a least distance, the same at any map size."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadNumber, TooLarge
from zigzag_meadow.core.terrain.lattice import unit_hash

__all__ = ["MOST_POINTS", "Throw", "densest", "sampled_at", "throw"]

F32 = NDArray[np.float32]
F64 = NDArray[np.float64]
MOST_POINTS = 1_000_000
_PACKED = 0.6
"""Points times squared distance over area: beyond about 0.69 no dart finds room (Rényi's parking, in the plane)."""
_TRIES = 40


@dataclass(frozen=True, slots=True)
class Throw:
    """Points over the whole ground in the order in which they fell, before any mask.

    ``east``, ``south``: float64 metres. ``chance``, ``luck``, ``turn``: float64 0–1 that belong to each point: what a
    mask must be above to hold it, and what its size and direction vary by.
    """

    east: F64
    south: F64
    chance: F64
    luck: F64
    turn: F64


@njit(nogil=True, cache=True)
def _throw(width: float, length: float, wanted: int, distance: float, side: float, seed: int, out: F64) -> int:
    """Dart throwing with cells at least as wide as the distance; returns how many stand."""
    cols, rows = int(width / side) + 1, int(length / side) + 1
    head = np.full(rows * cols, -1, np.int32)
    after = np.empty(wanted, np.int32)
    count = 0
    for dart in range(wanted * _TRIES):
        if count == wanted:
            break
        x, y = unit_hash(dart, 0, seed) * width, unit_hash(dart, 1, seed) * length
        i, j = int(y / side), int(x / side)
        free = True
        if distance > 0:
            for r in range(max(i - 1, 0), min(i + 2, rows)):
                for c in range(max(j - 1, 0), min(j + 2, cols)):
                    k = head[r * cols + c]
                    while k >= 0 and free:
                        dx, dy = out[k, 0] - x, out[k, 1] - y
                        free = dx * dx + dy * dy >= distance * distance
                        k = after[k]
        if free:
            out[count, 0], out[count, 1] = x, y
            out[count, 2], out[count, 3] = unit_hash(dart, 2, seed), unit_hash(dart, 3, seed)
            out[count, 4] = unit_hash(dart, 4, seed)
            after[count] = head[i * cols + j]
            head[i * cols + j] = count
            count += 1
    return count


def densest(distance: float) -> float:
    """How many points on 100 m² a least ``distance`` (metres) leaves room for; infinite for 0."""
    return math.inf if distance <= 0 else 100 * _PACKED / distance**2


def throw(width: float, length: float, density: float, distance: float, seed: int) -> Throw:
    """Points over ``width`` × ``length`` metres: ``density`` on 100 m², none nearer than ``distance`` metres.

    Where so many do not fit, as many as do (see :func:`densest`). Poisson-disc sampling by dart throwing: Cook 1986,
    doi:10.1145/7529.8927. The points depend on these five numbers alone. Raises :class:`TooLarge` above
    :data:`MOST_POINTS`, :class:`BadNumber` for numbers that cannot be.
    """
    if not (density > 0 and distance >= 0):
        raise BadNumber(f"A density must be above 0 and a distance at least 0, got {density:g} and {distance:g}.")
    wanted = round(min(density, densest(distance)) * width * length / 100)
    if wanted > MOST_POINTS:
        raise TooLarge(
            f"{wanted:,} points before the mask are more than {MOST_POINTS:,}. Lower the density or raise the distance."
        )
    points = np.empty((max(wanted, 1), 5), np.float64)
    side = max(distance, math.sqrt(width * length / max(wanted, 1)))
    points = points[: _throw(width, length, wanted, distance, side, seed, points)]
    east, south, chance, luck, turn = (np.ascontiguousarray(points[:, k]) for k in range(5))
    return Throw(east, south, chance, luck, turn)


def sampled_at(values: F32, rows: F64, cols: F64) -> F64:
    """``values`` (float32) between samples, bilinear; ``rows`` and ``cols`` in samples, held inside the map."""
    y, x = np.clip(rows, 0, values.shape[0] - 1), np.clip(cols, 0, values.shape[1] - 1)
    i, j = np.minimum(y.astype(int), values.shape[0] - 2), np.minimum(x.astype(int), values.shape[1] - 2)
    fy, fx = y - i, x - j
    top = values[i, j] * (1 - fx) + values[i, j + 1] * fx
    low = values[i + 1, j] * (1 - fx) + values[i + 1, j + 1] * fx
    sampled: F64 = top * (1 - fy) + low * fy
    return sampled
