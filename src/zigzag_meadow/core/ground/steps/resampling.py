"""Resample: other counts over the same extent."""

from __future__ import annotations

from typing import Annotated, Literal

from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.ground.steps.base import F32, SIDE, BaseStep, Work
from zigzag_meadow.core.parts import Edited, Told
from zigzag_meadow.core.voids import moved

__all__ = ["Resample"]


class Resample(BaseStep):
    title, hint = "Resample", "other counts over the same ground"
    sentence = "**Resample** to {cols} by {rows}, {spacing} apart"
    makes_grid, as_is, skipped_in_draft = True, True, True
    kind: Literal["resample"] = "resample"
    rows: Annotated[SIDE, Told("Rows", "rows", 1, 0, of="rows", first=1), Edited("spacing", "Spacing after resampling")]
    cols: Annotated[SIDE, Told("Columns", "columns", 1, 0, of="cols", first=1)]

    def after(self, grid: Grid) -> Grid:
        return grid.resized(self.rows, self.cols)

    @staticmethod
    def shape(heights: F32, work: Work) -> F32:
        return moved(heights, work.src, work.dst)
