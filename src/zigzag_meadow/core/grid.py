"""Grids and windows: where samples lie on the ground.

Row 0 is north and column 0 is west. Lengths are metres. Arrays and code are (row, column) = (y, x).
"""

from __future__ import annotations

import hashlib
import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, Literal

from zigzag_meadow.core.errors import BadNumber

__all__ = [
    "REFERENCE_LONG_SIDE",
    "TILE",
    "Grid",
    "Registration",
    "Window",
    "grid_from",
    "grid_numbers",
    "reference_grid",
    "whole_ground_grid",
]

Registration = Literal["vertex", "area"]
TILE = 512
"""Side of a tile in samples; tiles are anchored at the grid's first sample."""

REFERENCE_LONG_SIDE = 1025
WHOLE_GROUND_LONG_SIDE = 4097


@dataclass(frozen=True, slots=True)
class Window:
    """A half-open rectangle of samples, ``row0 <= row < row1``; may reach beyond a grid."""

    row0: int
    row1: int
    col0: int
    col1: int

    @property
    def rows(self) -> int:
        return self.row1 - self.row0

    @property
    def cols(self) -> int:
        return self.col1 - self.col0

    @property
    def shape(self) -> tuple[int, int]:
        return (self.rows, self.cols)

    def grown(self, rows: int, cols: int) -> Window:
        """The window with a margin on every side."""
        return Window(self.row0 - rows, self.row1 + rows, self.col0 - cols, self.col1 + cols)

    def clipped(self, rows: int, cols: int) -> Window:
        """The part of the window inside a grid of ``rows`` × ``cols``."""
        return Window(max(self.row0, 0), min(self.row1, rows), max(self.col0, 0), min(self.col1, cols))


@dataclass(frozen=True, slots=True)
class Grid:
    """Rows × columns of samples, their spacing in metres, and what the border means.

    *vertex*: n samples span (n−1)·spacing and the edge samples lie on the border.
    *area*: n samples span n·spacing and samples lie at cell centres.
    ``origin`` is the (y, x) of the north-west corner of the extent, metres south and east of the home corner.
    """

    rows: int
    cols: int
    dy: float
    dx: float
    registration: Registration = "vertex"
    origin: tuple[float, float] = (0.0, 0.0)

    def __post_init__(self) -> None:
        if self.rows < 2 or self.cols < 2:
            raise BadNumber(f"A grid needs at least 2 × 2 samples, got {self.rows} rows × {self.cols} columns.")
        if not (math.isfinite(self.dy) and math.isfinite(self.dx) and self.dy > 0 and self.dx > 0):
            raise BadNumber(f"Spacing must be above 0 m on both axes, got {self.dx} m by {self.dy} m.")

    @property
    def shape(self) -> tuple[int, int]:
        return (self.rows, self.cols)

    @property
    def whole(self) -> Window:
        return Window(0, self.rows, 0, self.cols)

    @property
    def length(self) -> float:
        """North–south extent in metres."""
        return self._spans(self.rows) * self.dy

    @property
    def width(self) -> float:
        """West–east extent in metres."""
        return self._spans(self.cols) * self.dx

    def _spans(self, n: int) -> int:
        return n - 1 if self.registration == "vertex" else n

    @property
    def first(self) -> tuple[float, float]:
        """(y, x) of sample (0, 0) in metres."""
        half = 0.0 if self.registration == "vertex" else 0.5
        return (self.origin[0] + half * self.dy, self.origin[1] + half * self.dx)

    @property
    def key(self) -> str:
        return _key(self)

    def place_of(self, row: Any, col: Any) -> tuple[Any, Any]:
        """Metres east and south of the extent's corner where a sample (or a place between samples) lies; numbers or
        arrays alike."""
        half = 0.0 if self.registration == "vertex" else 0.5
        return (col + half) * self.dx, (row + half) * self.dy

    def at_place(self, east: Any, south: Any) -> tuple[Any, Any]:
        """(row, column), between samples too, of a place in metres east and south of the extent's corner; numbers or
        arrays alike."""
        half = 0.0 if self.registration == "vertex" else 0.5
        return south / self.dy - half, east / self.dx - half

    def nearest_to(self, east: float, south: float) -> tuple[int, int]:
        """(row, column) of the sample nearest to a place in metres east and south of the extent's corner; may lie
        beyond the grid."""
        row, col = self.at_place(east, south)
        return round(row), round(col)

    def with_longer_side(self, samples: int, least: int = 2) -> Grid:
        """The same ground with so many samples on the longer side and at least ``least`` on the shorter; this grid
        where it has no more."""
        less = 1 if self.registration == "vertex" else 0
        most = max(self.shape)
        if most <= samples:
            return self
        share = (samples - less) / (most - less)
        rows, cols = (max(round((n - less) * share), least - less) + less for n in self.shape)
        return self.resized(rows, cols)

    def resized(self, rows: int, cols: int, registration: Registration | None = None) -> Grid:
        """A grid with other counts (and registration) over exactly the same extent."""
        kind = registration or self.registration
        if (rows, cols, kind) == (self.rows, self.cols, self.registration):
            return self
        less = 1 if kind == "vertex" else 0
        if rows - less < 1 or cols - less < 1:
            raise BadNumber(f"A grid needs at least 2 × 2 samples, got {rows} rows × {cols} columns.")
        return Grid(rows, cols, self.length / (rows - less), self.width / (cols - less), kind, self.origin)

    def tile_window(self, i: int, j: int) -> Window:
        return Window(i * TILE, (i + 1) * TILE, j * TILE, (j + 1) * TILE).clipped(self.rows, self.cols)

    def as_json(self) -> dict[str, Any]:
        return {
            "rows": self.rows,
            "cols": self.cols,
            "spacing_x": self.dx,
            "spacing_y": self.dy,
            "registration": self.registration,
            "width": self.width,
            "length": self.length,
        }


def grid_numbers(grid: Grid) -> list[float | str]:
    """A home grid as plain numbers among those of an operation; read back by :func:`grid_from`."""
    kind: list[float | str] = [grid.registration] if grid.registration != "vertex" else []
    return [grid.rows, grid.cols, grid.dy, grid.dx, *kind]


def grid_from(numbers: Sequence[Any]) -> Grid:
    """The grid that was put into numbers."""
    return Grid(*numbers)


@lru_cache(maxsize=256)
def _key(grid: Grid) -> str:
    # Of grids that are equal but not written alike (5 and 5.0, 0.0 and -0.0) the first would name all.
    y, x = grid.origin
    places = (float(grid.dy), float(grid.dx), grid.registration, (float(y) + 0.0, float(x) + 0.0))
    text = repr((int(grid.rows), int(grid.cols), *places))
    return hashlib.sha256(text.encode()).hexdigest()[:24]


def reference_grid(home: Grid) -> Grid:
    """The fixed grid on which statistics are measured: the ground's extent, long side at most 1025 samples, or 1024
    where samples are cells: a power of two of them is then divided evenly.

    It is the home grid itself where that is small enough.
    """
    less = 1 if home.registration == "vertex" else 0
    most = REFERENCE_LONG_SIDE - 1 + less
    if max(home.rows, home.cols) <= most:
        return home
    longest = max(home.length, home.width)
    if not less:
        spacing = longest / most
        return home.resized(max(round(home.length / spacing), 2), max(round(home.width / spacing), 2))
    steps = min(REFERENCE_LONG_SIDE, max(home.rows, home.cols)) - 1
    spacing = longest / steps
    return home.resized(max(round(home.length / spacing), 1) + 1, max(round(home.width / spacing), 1) + 1, "vertex")


def whole_ground_grid(home: Grid) -> Grid:
    """The grid on which whole-ground operations run: the home grid, its long side capped at 4097 (cells: 4096)."""
    longest = max(home.rows, home.cols)
    less = 1 if home.registration == "vertex" else 0
    if longest <= WHOLE_GROUND_LONG_SIDE - 1 + less:
        return home
    if not less:
        share = (WHOLE_GROUND_LONG_SIDE - 1) / longest
        return home.resized(max(round(home.rows * share), 2), max(round(home.cols * share), 2))
    share = (WHOLE_GROUND_LONG_SIDE - 1) / (longest - 1)
    return home.resized(
        max(round((home.rows - 1) * share), 1) + 1, max(round((home.cols - 1) * share), 1) + 1, "vertex"
    )
