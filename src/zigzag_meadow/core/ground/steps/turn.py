"""Turn: a quarter turn clockwise, a half turn, a mirror image, or rows for columns."""

from __future__ import annotations

from typing import Annotated, Literal

from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.ground.shaping import turned
from zigzag_meadow.core.ground.steps.base import F32, BaseStep, Work
from zigzag_meadow.core.parts import Told

__all__ = ["Turn"]


class Turn(BaseStep):
    title, hint = "Turn", "or flip: turn, mirror, or swap rows and columns"
    sentence = "**Turn** {how}"
    makes_grid, as_is, moves = True, True, True
    kind: Literal["turn"] = "turn"
    how: Annotated[
        Literal["right", "half", "left", "north_south", "east_west", "transpose"],
        Told(
            "How it is turned",
            choices=(
                ("right", "a quarter clockwise"),
                ("left", "a quarter anticlockwise"),
                ("half", "half round"),
                ("north_south", "north for south (mirror)"),
                ("east_west", "east for west (mirror)"),
                ("transpose", "rows for columns"),
            ),
        ),
    ] = "right"

    @property
    def swaps(self) -> bool:
        return self.how in ("right", "left", "transpose")

    def after(self, grid: Grid) -> Grid:
        if self.swaps:
            return Grid(grid.cols, grid.rows, grid.dx, grid.dy, grid.registration)
        return grid

    def back(self, east: float, south: float, before: Grid) -> tuple[float, float]:
        wide, long = before.width, before.length
        return {
            "right": (south, long - east),
            "left": (wide - south, east),
            "half": (wide - east, long - south),
            "north_south": (east, long - south),
            "east_west": (wide - east, south),
            "transpose": (south, east),
        }[self.how]

    @staticmethod
    def shape(heights: F32, work: Work) -> F32:
        return turned(heights, work.numbers["how"])
