"""Crop: a part of the ground."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.formats.limits import SHORTEST_SIDE
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.ground.steps.base import F32, LENGTH, BaseStep, Work
from zigzag_meadow.core.parts import Told

__all__ = ["Crop"]


def _ends(start: float, span: float, spacing: float, count: int, more: int) -> tuple[int, int]:
    low = min(max(math.floor(start / spacing + 0.5), 0), count - SHORTEST_SIDE)
    wide = max(math.floor(span / spacing + 0.5) + more, SHORTEST_SIDE)
    return low, min(low + wide, count)


def _more(grid: Grid) -> int:
    """Samples beyond the spans between them: a length ends on samples, or on the borders of cells."""
    return 1 if grid.registration == "vertex" else 0


class Crop(BaseStep):
    """Metres from the west and north border, width and length; cut at samples, or at borders of cells."""

    title, hint = "Crop", "keep a part of the ground"
    sentence = "**Crop** to {width} by {length}, from {west} east and {north} south of the corner"
    makes_grid, as_is, moves, tool = True, True, True, "rectangle"
    kind: Literal["crop"] = "crop"
    west: Annotated[float, Field(ge=0, le=1e7), Told("West border of the crop", "m", 10, 1, high=1e6)] = 0.0
    north: Annotated[float, Field(ge=0, le=1e7), Told("North border of the crop", "m", 10, 1, high=1e6)] = 0.0
    width: Annotated[LENGTH, Told("Width of the crop", "m", 10, 1, of="width", first=1, low=1)]
    length: Annotated[LENGTH, Told("Length of the crop", "m", 10, 1, of="length", first=1, low=1)]

    def cut(self, grid: Grid) -> tuple[int, int, int, int]:
        """First and end row, first and end column; at least the shortest side that a ground can have."""
        rows = _ends(self.north, self.length, grid.dy, grid.rows, _more(grid))
        return (*rows, *_ends(self.west, self.width, grid.dx, grid.cols, _more(grid)))

    def after(self, grid: Grid) -> Grid:
        r0, r1, c0, c1 = self.cut(grid)
        return Grid(r1 - r0, c1 - c0, grid.dy, grid.dx, grid.registration)

    def back(self, east: float, south: float, before: Grid) -> tuple[float, float]:
        row, _, col, _ = self.cut(before)
        return east + col * before.dx, south + row * before.dy

    @staticmethod
    def shape(heights: F32, work: Work) -> F32:
        p, src = work.numbers, work.src
        r0, _ = _ends(p["north"], p["length"], src.dy, src.rows, _more(src))
        c0, _ = _ends(p["west"], p["width"], src.dx, src.cols, _more(src))
        return heights[r0 : r0 + work.dst.rows, c0 : c0 + work.dst.cols].copy()
