"""Erode: let rain run over the ground."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.ground.steps.base import F32, SEED, BaseStep, Mask, Work, capped
from zigzag_meadow.core.parts import Told
from zigzag_meadow.core.readings.erosion import erode

__all__ = ["Erode"]


class Erode(BaseStep):
    title, hint = "Erode", "let rain run over it"
    sentence = "**Erode** by {rain} of strength {strength}, seed {seed}"
    slow, bytes_each, on_run_grid = "Eroding the ground", 76, True
    kind: Literal["erode"] = "erode"
    rain: Annotated[float, Field(ge=0.01, le=4), Told("Rain", "drops a sample", 0.05)] = 0.2
    strength: Annotated[float, Field(ge=0.02, le=2), Told("Strength of erosion", "", 0.05)] = 0.5
    seed: SEED = 1

    @staticmethod
    def shape(heights: F32, work: Work) -> F32:
        def run(z: F32, grid: Grid, gaps: Mask | None) -> F32:
            numbers = {name: work.numbers[name] for name in ("rain", "strength", "seed")}
            return erode(z, grid, **numbers, gaps=gaps, tell=work.tell, cancel=work.cancel).ground

        return capped(run, heights, work)
