"""Flow: where water goes (D8) and how much ground drains through each sample, in m²."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.core.terrain.filling import fill_depressions

__all__ = [
    "EAST_NORTH",
    "GAP",
    "OUT",
    "STEP_COLS",
    "STEP_ROWS",
    "Flow",
    "accumulate",
    "directions",
    "flow",
    "streams_into",
]

F32 = NDArray[np.float32]
I8 = NDArray[np.int8]
I32 = NDArray[np.int32]
I64 = NDArray[np.int64]
Mask = NDArray[np.bool_]
OUT = -1
"""Direction code of a sample on the border, or beside a gap, that drains off the ground."""
GAP = -3
"""Direction code of a gap: no water comes from there and none goes on."""
_NONE = -2
EAST_NORTH = ((0, 1), (1, 1), (1, 0), (1, -1), (0, -1), (-1, -1), (-1, 0), (-1, 1))
"""(east, north) of direction codes 0 to 7: clockwise from north."""
STEP_ROWS = np.array([-north for _, north in EAST_NORTH])
STEP_COLS = np.array([east for east, _ in EAST_NORTH])
"""Rows and columns on to the neighbour with each direction code."""


@njit(nogil=True, cache=True)
def _steepest_rows(
    z: F32, shut: Mask, has_gaps: bool, per_metre: F32, out: I8, flats: NDArray[np.int64], first: int, end: int
) -> None:
    """Steepest way down of every sample in some rows; ``flats`` counts by row those that have none.

    ``shut``: gaps (of any shape where ``has_gaps`` is false): samples beside them may drain off the ground as those
    on the border do.
    """
    rows, cols = z.shape
    for r in range(first, end):
        for c in range(cols):
            here = z[r, c]
            best = np.float32(0)
            inner = 0 < r < rows - 1 and 0 < c < cols - 1
            if has_gaps:
                if shut[r, c]:
                    out[r, c] = GAP
                    continue
                if inner:
                    for k in range(8):
                        inner = inner and not shut[r + STEP_ROWS[k], c + STEP_COLS[k]]
            if inner:
                code = _NONE
                for k in range(8):
                    drop = (here - z[r + STEP_ROWS[k], c + STEP_COLS[k]]) * per_metre[k]
                    if drop > best:
                        best, code = drop, k
                if code == _NONE:
                    flats[r] += 1
            else:
                code = OUT
                for k in range(8):
                    i, j = r + STEP_ROWS[k], c + STEP_COLS[k]
                    if 0 <= i < rows and 0 <= j < cols and not (has_gaps and shut[i, j]):
                        drop = (here - z[i, j]) * per_metre[k]
                        if drop > best:
                            best, code = drop, k
            out[r, c] = code


@njit(nogil=True, cache=True)
def _spread(z: F32, code: I8, level: I32, queue: I64, tail: int) -> None:
    """Breadth first through flats from the seeds in ``queue``: ``level`` is the distance in steps."""
    cols = z.shape[1]
    head = 0
    while head < tail:
        r, c = queue[head] // cols, queue[head] % cols
        head += 1
        for k in range(8):
            i, j = r + STEP_ROWS[k], c + STEP_COLS[k]
            if code[i, j] == _NONE and level[i, j] == 0 and z[i, j] == z[r, c]:
                level[i, j] = level[r, c] + 1
                queue[tail] = i * cols + j
                tail += 1


@njit(nogil=True, cache=True)
def _label(z: F32, code: I8, cells: I64, label: I32, queue: I64) -> int:
    """Number the connected flats from 1; returns how many there are."""
    cols = z.shape[1]
    count = 0
    for seed in cells:
        if label[seed // cols, seed % cols] != 0:
            continue
        count += 1
        label[seed // cols, seed % cols] = count
        queue[0] = seed
        head, tail = 0, 1
        while head < tail:
            r, c = queue[head] // cols, queue[head] % cols
            head += 1
            for k in range(8):
                i, j = r + STEP_ROWS[k], c + STEP_COLS[k]
                if code[i, j] == _NONE and label[i, j] == 0 and z[i, j] == z[r, c]:
                    label[i, j] = count
                    queue[tail] = i * cols + j
                    tail += 1
    return count


@njit(nogil=True, cache=True)
def _seeds(z: F32, code: I8, cells: I64, rims: bool, level: I32, queue: I64) -> int:
    """Start a spread at flat cells beside higher ground (``rims``), or beside a level cell that drains."""
    cols = z.shape[1]
    tail = 0
    for cell in cells:
        r, c = cell // cols, cell % cols
        for k in range(8):
            i, j = r + STEP_ROWS[k], c + STEP_COLS[k]
            # A flat sample lies beside no gap: all its neighbours are ground.
            if (z[i, j] > z[r, c]) if rims else (z[i, j] == z[r, c] and code[i, j] != _NONE):
                level[r, c] = 1
                queue[tail] = cell
                tail += 1
                break
    return tail


@njit(nogil=True, cache=True)
def _resolve_flats(z: F32, code: I8, cells: I64) -> None:
    """Drain flats (``cells``: flat indices, none on the border) away from higher ground and towards a way out."""
    rows, cols = z.shape
    toward = np.zeros((rows, cols), np.int32)
    away = np.zeros((rows, cols), np.int32)
    label = np.zeros((rows, cols), np.int32)
    queue = np.empty(cells.size, np.int64)
    highest = np.zeros(_label(z, code, cells, label, queue) + 1, np.int32)
    _spread(z, code, toward, queue, _seeds(z, code, cells, False, toward, queue))
    _spread(z, code, away, queue, _seeds(z, code, cells, True, away, queue))
    for cell in cells:
        r, c = cell // cols, cell % cols
        highest[label[r, c]] = max(highest[label[r, c]], away[r, c])
    for cell in cells:
        r, c = cell // cols, cell % cols
        lift = highest[label[r, c]] - away[r, c] if away[r, c] > 0 else 0
        toward[r, c] = 2 * toward[r, c] + lift
    for cell in cells:
        r, c = cell // cols, cell % cols
        least = toward[r, c]
        for k in range(8):
            i, j = r + STEP_ROWS[k], c + STEP_COLS[k]
            # Level cells that drain already have toward 0: the way out.
            if z[i, j] == z[r, c] and toward[i, j] < least:
                least = toward[i, j]
                code[r, c] = k


@njit(nogil=True, cache=True)
def streams_into(code: I8) -> I8:
    """How many of its neighbours drain into each sample (int8, shape of ``code``)."""
    rows, cols = code.shape
    waits = np.zeros((rows, cols), np.int8)
    for r in range(rows):
        for c in range(cols):
            k = code[r, c]
            if k >= 0:
                waits[r + STEP_ROWS[k], c + STEP_COLS[k]] += 1
    return waits


@njit(nogil=True, cache=True)
def _accumulate(code: I8, out: NDArray[np.int64]) -> None:
    rows, cols = code.shape
    waits = streams_into(code)
    for r0 in range(rows):
        for c0 in range(cols):
            if waits[r0, c0] != 0 or code[r0, c0] == GAP:
                continue
            # Follow the water down until it meets a sample that still waits for another stream.
            r, c = r0, c0
            waits[r, c] = -1
            while True:
                out[r, c] += 1
                k = code[r, c]
                if k < 0:
                    break
                total = out[r, c]
                r, c = r + STEP_ROWS[k], c + STEP_COLS[k]
                out[r, c] += total
                waits[r, c] -= 1
                if waits[r, c] != 0:
                    break
                waits[r, c] = -1


def directions(filled: F32, grid: Grid, stripes: Stripes | None = None, gaps: Mask | None = None) -> I8:
    """D8 direction codes (int8; 0 = north, clockwise; ``OUT`` where a sample drains off the ground, ``GAP`` in gaps).

    ``filled``: float32 metres without depressions, shape of ``grid``; ``gaps``: bool of that shape. Flats are resolved
    in whole numbers and heights are never changed. References: O'Callaghan & Mark 1984,
    doi:10.1016/S0734-189X(84)80011-0; Barnes, Lehman & Mulla 2014, doi:10.1016/j.cageo.2013.01.009.
    """
    filled = readable(filled)
    code = np.empty(grid.shape, np.int8)
    flats = np.zeros(grid.rows, np.int64)
    away = np.hypot(STEP_ROWS * grid.dy, STEP_COLS * grid.dx)
    per_metre = (1 / away).astype(np.float32)
    pool = stripes or Stripes(1)
    shut = readable(np.zeros((1, 1), np.bool_) if gaps is None else gaps)
    pool.run(*grid.shape, lambda i, j: _steepest_rows(filled, shut, gaps is not None, per_metre, code, flats, i, j))
    if flats.any():
        _resolve_flats(filled, code, np.flatnonzero(code == _NONE))
    return code


def accumulate(code: I8) -> NDArray[np.int64]:
    """How many samples drain through each sample, itself included; 0 in gaps (int64, shape of ``code``)."""
    out = np.zeros(code.shape, np.int64)
    _accumulate(readable(code), out)
    return out


class Flow(NamedTuple):
    """``area``: ground that drains through each sample, m²; ``filled``: heights without hollows, metres; float32."""

    area: F32
    filled: F32


def flow(heights: F32, grid: Grid, stripes: Stripes | None = None, gaps: Mask | None = None) -> Flow:
    """How much ground drains through each sample, in the shape of ``grid``.

    ``heights``: float32 metres; ``gaps``: bool, where there is no ground. Flow is the D8 accumulation over the filled
    ground times the cell area; summed over the samples that drain off the map it is the number of samples times the
    cell area.
    """
    filled = fill_depressions(heights, gaps)
    count = accumulate(directions(filled, grid, stripes, gaps))
    return Flow((count * (grid.dy * grid.dx)).astype(np.float32), filled)
