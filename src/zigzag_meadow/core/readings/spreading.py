"""Spreading flow: water shared among all lower neighbours, and how wet that leaves a place."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.readings.flow import GAP

__all__ = ["spreading", "wetness"]

F32 = NDArray[np.float32]
I8 = NDArray[np.int8]
_DR = np.array([-1, -1, 0, 1, 1, 1, 0, -1])
_DC = np.array([0, 1, 1, 1, 0, -1, -1, -1])
# Exponent that keeps hillslopes broad and valleys narrow: Freeman 1991.
_EXPONENT = 1.1


@njit(nogil=True, cache=True, error_model="numpy")
def _spread(z: F32, code: I8, per: NDArray[np.float64], out: NDArray[np.float64]) -> None:
    rows, cols = z.shape
    waits = np.zeros((rows, cols), np.int8)
    for r in range(rows):
        for c in range(cols):
            if code[r, c] == GAP:
                continue
            lower = False
            for k in range(8):
                i, j = r + _DR[k], c + _DC[k]
                if 0 <= i < rows and 0 <= j < cols and z[i, j] < z[r, c] and code[i, j] != GAP:
                    waits[i, j] += 1
                    lower = True
            if not lower and code[r, c] >= 0:
                waits[r + _DR[code[r, c]], c + _DC[code[r, c]]] += 1
    queue = np.empty(rows * cols, np.int32)
    tail = 0
    for r in range(rows):
        for c in range(cols):
            if waits[r, c] == 0 and code[r, c] != GAP:
                queue[tail] = r * cols + c
                tail += 1
    share = np.zeros(8, np.float64)
    head = 0
    while head < tail:
        r, c = queue[head] // cols, queue[head] % cols
        head += 1
        out[r, c] += 1.0
        total = 0.0
        for k in range(8):
            share[k] = 0.0
            i, j = r + _DR[k], c + _DC[k]
            if 0 <= i < rows and 0 <= j < cols and z[i, j] < z[r, c] and code[i, j] != GAP:
                # The contour length that water passes over is half as long at corners: Quinn et al. 1991.
                fall = (float(z[r, c]) - float(z[i, j])) * per[k]
                share[k] = (fall**_EXPONENT) * (0.354 if k % 2 else 0.5)
                total += share[k]
        if total == 0.0:
            if code[r, c] < 0:
                continue
            share[code[r, c]] = total = 1.0
        for k in range(8):
            if share[k] > 0.0:
                i, j = r + _DR[k], c + _DC[k]
                out[i, j] += out[r, c] * (share[k] / total)
                waits[i, j] -= 1
                if waits[i, j] == 0:
                    queue[tail] = i * cols + j
                    tail += 1


def spreading(filled: F32, code: I8, grid: Grid) -> F32:
    """How much ground drains through each sample in m² (float32) when water spreads to every lower neighbour.

    ``filled``: float32 metres without depressions; ``code``: its D8 directions, followed where nothing is lower.
    Summed over what leaves the map it is the whole ground. References: Freeman 1991,
    doi:10.1016/0098-3004(91)90048-I; Quinn et al. 1991, doi:10.1002/hyp.3360050106.
    """
    out = np.zeros(grid.shape, np.float64)
    _spread(readable(filled), readable(code), 1 / np.hypot(_DR * grid.dy, _DC * grid.dx), out)
    return (out * (grid.dy * grid.dx)).astype(np.float32)


def wetness(area: F32, degrees: F32, width: float) -> F32:
    """Topographic wetness ln(a / tan β): how much water comes against how readily it goes on (no unit).

    ``area``: m² drained through each sample; ``degrees``: slope; ``width``: metres of contour a sample stands for.
    Slopes below 0.1° count as 0.1°. float32 of the same shape. Reference: Beven & Kirkby 1979,
    doi:10.1080/02626667909491834.
    """
    steep = np.tan(np.radians(np.maximum(degrees, np.float32(0.1))))
    result: F32 = np.log(np.maximum(area / np.float32(width), np.float32(1e-6)) / steep)
    return result
