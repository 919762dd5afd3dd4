"""Slump: let steep ground slide to an angle."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np

from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.ground.steps.base import ANGLE, F32, BaseStep, Left, Planes, Work
from zigzag_meadow.core.parts import Told
from zigzag_meadow.core.readings.talus import TALUS
from zigzag_meadow.core.terrain.slumping import slump, steepest_face

__all__ = ["Slump"]

SLID = replace(
    TALUS,
    name="slid",
    title="Slid away",
    sentence="Metres of earth that slid off faces that were too steep.",
    good_for="Fresh faces, bare rock above the debris.",
    ramp="scour",
)


class Slump(BaseStep):
    title, hint = "Slump", "let steep ground slide to an angle"
    sentence = "**Slump** ground steeper than {angle}"
    slow, bytes_each = "Slumping the ground", 56
    leaves = (
        Left("slid", SLID, -1),
        Left("talus", replace(TALUS, sentence="Metres of debris that came to lie here."), 1),
    )
    kind: Literal["slump"] = "slump"
    angle: Annotated[ANGLE, Told("Slumps to", "°", 1, 1)] = 38.0

    @staticmethod
    def run(heights: F32, work: Work) -> Planes:
        after = slump(
            heights,
            work.src,
            work.numbers["angle"],
            gaps=work.gaps,
            stripes=work.stripes,
            tell=work.tell,
            cancel=work.cancel,
        )
        change = np.subtract(after, heights, out=after)
        return {"change": change, "slid": np.maximum(-change, 0), "talus": np.maximum(change, 0)}

    def says(self, heights: F32, grid: Grid) -> str | None:
        steepest = steepest_face(heights, grid)
        # Faces far from rest are left where it would take very long.
        rests = "at rest" if steepest <= self.angle + 0.3 else "not all at rest"
        return f"{rests}: steepest face {steepest:.1f}°"
