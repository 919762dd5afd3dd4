"""Slump: let steep ground slide to an angle."""

from __future__ import annotations

from typing import Annotated, Literal

from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.ground.steps.base import ANGLE, F32, BaseStep, Mask, Work, capped
from zigzag_meadow.core.parts import Told
from zigzag_meadow.core.readings.slumping import slump, steepest_face

__all__ = ["Slump"]


class Slump(BaseStep):
    title, hint = "Slump", "let steep ground slide to an angle"
    sentence = "**Slump** ground steeper than {angle}"
    slow, bytes_each, on_run_grid = "Slumping the ground", 48, True
    kind: Literal["slump"] = "slump"
    angle: Annotated[ANGLE, Told("Slumps to", "°", 1, 1)] = 38.0

    @staticmethod
    def shape(heights: F32, work: Work) -> F32:
        def run(z: F32, grid: Grid, gaps: Mask | None) -> F32:
            return slump(
                z, grid, work.numbers["angle"], gaps=gaps, stripes=work.stripes, tell=work.tell, cancel=work.cancel
            )

        return capped(run, heights, work)

    def says(self, heights: F32, grid: Grid) -> str | None:
        steepest = steepest_face(heights, grid)
        # Faces far from rest are left where it would take very long.
        rests = "at rest" if steepest <= self.angle + 0.3 else "not all at rest"
        return f"{rests}: steepest face {steepest:.1f}°"
