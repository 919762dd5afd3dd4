"""Refine: a coarse ground made larger, with fine relief by noise."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.formats.limits import LONGEST_SIDE
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.ground.shaping import refined
from zigzag_meadow.core.ground.steps.base import F32, SEED, BaseStep, Work
from zigzag_meadow.core.parts import Told

__all__ = ["Refine"]


class Refine(BaseStep):
    """Fine relief by noise where ``detail`` is above 0 (metres on rough ground)."""

    title, hint = "Refine", "make a coarse ground larger without jagged edges"
    sentence = "**Refine** {times} as many samples, fine relief {detail} high on rough ground, seed {seed}"
    makes_grid, skipped_in_draft, slow, bytes_each = True, True, "Refining the ground", 28
    kind: Literal["refine"] = "refine"
    times: Annotated[
        Literal[2, 4, 8], Told("Times as many samples", choices=(("2", "2 times"), ("4", "4 times"), ("8", "8 times")))
    ] = 2
    detail: Annotated[float, Field(ge=0, le=200), Told("Fine relief", "m", 0.1)] = 0.0
    seed: SEED = 1

    def after(self, grid: Grid) -> Grid:
        longest = max(grid.rows, grid.cols)
        less = 1 if grid.registration == "vertex" else 0
        times = max(min(self.times, (LONGEST_SIDE - less) // (longest - less)), 1)
        return grid.resized((grid.rows - less) * times + less, (grid.cols - less) * times + less)

    @staticmethod
    def shape(heights: F32, work: Work) -> F32:
        p = work.numbers
        return refined(heights, work.src, work.dst, p["detail"], p["seed"], work.stripes, work.cancel)
