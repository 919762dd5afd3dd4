"""Lines that follow the ground: along a contour, or down with the water."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.masks.shapes import simplified
from zigzag_meadow.core.terrain.flow import EAST_NORTH

__all__ = ["along_contour", "down_flow"]

F32 = NDArray[np.float32]
F64 = NDArray[np.float64]
I8 = NDArray[np.int8]


class _Surface:
    """Heights and their slope between samples, in metres from the north-west corner."""

    def __init__(self, heights: F32, grid: Grid) -> None:
        self.z, self.grid = heights, grid

    def height(self, x: float, y: float) -> float:
        rows, cols = self.z.shape
        row, col = self.grid.at_place(x, y)
        u, v = min(max(col, 0.0), cols - 1.0), min(max(row, 0.0), rows - 1.0)
        i, j = min(int(v), rows - 2), min(int(u), cols - 2)
        fv, fu = v - i, u - j
        a, b = self.z[i, j : j + 2], self.z[i + 1, j : j + 2]
        return float((a[0] * (1 - fu) + a[1] * fu) * (1 - fv) + (b[0] * (1 - fu) + b[1] * fu) * fv)

    def slope(self, x: float, y: float) -> tuple[float, float]:
        hx, hy = self.grid.dx, self.grid.dy
        gx = (self.height(x + hx, y) - self.height(x - hx, y)) / (2 * hx)
        gy = (self.height(x, y + hy) - self.height(x, y - hy)) / (2 * hy)
        return gx, gy

    def holds(self, x: float, y: float) -> bool:
        return 0 <= x <= self.grid.width and 0 <= y <= self.grid.length


def along_contour(heights: F32, grid: Grid, start: tuple[float, float], length: float) -> tuple[F64, bool]:
    """(points, closed): the contour through ``start`` for at most ``length`` metres, half of it to either side.

    ``heights``: float32 metres, shape of ``grid``; ``start`` and points: metres east and south of the
    north-west corner, float64 (n, 2). ``closed``: it came back to its start. Raises :class:`BadNumber` on level
    ground or off the ground.
    """
    ground = _Surface(heights, grid)
    if not ground.holds(*start):
        raise BadNumber(f"The line must start on the ground, got {start[0]:g}, {start[1]:g} m.", field="start")
    # Beside a gap the slope is no number, and no comparison holds.
    if not math.hypot(*ground.slope(*start)) >= 1e-6:
        raise BadNumber(
            "The ground is level here, or has a gap: there is no contour to follow. Start on a slope.", field="start"
        )
    step = 0.75 * min(grid.dy, grid.dx)
    level = ground.height(*start)
    forth, closed = _walk(ground, start, level, step, length if length > 0 else 0.0, 1)
    if closed:
        return simplified(np.array(forth), step)[:-1], True
    half = forth[: max(int(length / 2 / step), 1) + 1]
    back, _ = _walk(ground, start, level, step, length / 2, -1)
    return simplified(np.array(back[:0:-1] + half), step), False


def _walk(
    ground: _Surface, start: tuple[float, float], level: float, step: float, length: float, way: int
) -> tuple[list[tuple[float, float]], bool]:
    points = [start]
    x, y = start
    for count in range(int(length / step)):
        gx, gy = ground.slope(x, y)
        size = math.hypot(gx, gy)
        if not size >= 1e-9:
            break
        x, y = x - way * gy / size * step, y + way * gx / size * step
        gx, gy = ground.slope(x, y)
        size2 = max(gx * gx + gy * gy, 1e-12)
        # Back onto the level, no farther than the step: curved contours would be left little by little.
        off = (ground.height(x, y) - level) / size2
        pull = min(1.0, step / max(abs(off) * math.sqrt(size2), 1e-12))
        x, y = x - gx * off * pull, y - gy * off * pull
        if not ground.holds(x, y):
            break
        points.append((x, y))
        if count > 4 and math.hypot(x - start[0], y - start[1]) < step:
            return [*points, start], True
    return points, False


def down_flow(code: I8, grid: Grid, start: tuple[float, float], length: float) -> F64:
    """The way of the water from ``start`` for at most ``length`` metres; points as of :func:`along_contour`.

    ``code``: D8 directions (int8), shape of ``grid``. Ends where the water leaves the map.
    """
    row, col = grid.nearest_to(*start)
    if not (0 <= row < grid.rows and 0 <= col < grid.cols):
        raise BadNumber(f"The line must start on the ground, got {start[0]:g}, {start[1]:g} m.", field="start")
    points, gone = [grid.place_of(row, col)], 0.0
    while gone < length and code[row, col] >= 0:
        east, north = EAST_NORTH[code[row, col]]
        row, col = row - north, col + east
        gone += math.hypot(east * grid.dx, north * grid.dy)
        points.append(grid.place_of(row, col))
    if len(points) == 1:
        raise BadNumber("The water leaves the ground here: start farther up.", field="start")
    return simplified(np.array(points), 0.8 * min(grid.dy, grid.dx))
