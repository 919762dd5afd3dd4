"""Values along a line."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.grid import Window
from zigzag_meadow.core.map_name import MapName, ReadingName

__all__ = ["profile_line"]

_MOST = 1024


def _along(values: NDArray[Any], row: NDArray[np.float64], col: NDArray[np.float64]) -> NDArray[np.float64]:
    """Bilinear; NaN where any of the four samples has no value."""
    r, c = np.minimum(row.astype(int), values.shape[0] - 2), np.minimum(col.astype(int), values.shape[1] - 2)
    fy, fx = row - r, col - c
    top = values[r, c] * (1 - fx) + values[r, c + 1] * fx
    low = values[r + 1, c] * (1 - fx) + values[r + 1, c + 1] * fx
    line: NDArray[np.float64] = (top * (1 - fy) + low * fy).astype(np.float64)
    return line


def profile_line(
    evaluation: Evaluation, name: MapName, start: tuple[float, float], end: tuple[float, float]
) -> dict[str, NDArray[np.float64]]:
    """``along`` (metres), ``heights`` (metres) and ``values`` of the map ``name`` between two places.

    Places are (row, column) of the home grid and may lie between samples. About one value a sample, 1024 at most.
    Raises :class:`BadNumber` where a place is not on the ground.
    """
    grid = evaluation.home
    for row, col in (start, end):
        if not (0 <= row <= grid.rows - 1 and 0 <= col <= grid.cols - 1):
            raise BadNumber(f"A profile runs over the ground; row {row:g}, column {col:g} is not on it.", field="row0")
    (r0, c0), (r1, c1) = start, end
    count = min(max(math.ceil(math.hypot(r1 - r0, c1 - c0)) + 1, 2), _MOST)
    rows, cols = np.linspace(r0, r1, count), np.linspace(c0, c1, count)
    part = Window(
        max(math.floor(min(r0, r1)), 0),
        min(math.ceil(max(r0, r1)) + 2, grid.rows),
        max(math.floor(min(c0, c1)), 0),
        min(math.ceil(max(c0, c1)) + 2, grid.cols),
    )
    part = Window(min(part.row0, part.row1 - 2), part.row1, min(part.col0, part.col1 - 2), part.col1)
    maps = [evaluation.map(m, grid, part) for m in (ReadingName("height"), name)]
    if maps[1].ndim != 2:
        raise BadNumber(f"{name} has several channels; ask for one of them.", field="name")
    heights, values = (_along(m, rows - part.row0, cols - part.col0) for m in maps)
    metres = np.hypot((rows - r0) * grid.dy, (cols - c0) * grid.dx)
    return {"along": metres, "heights": heights, "values": values}
