"""Erode: let rain run over the ground."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from zigzag_meadow.core.ground.steps.base import F32, SEED, BaseStep, Left, Planes, Work
from zigzag_meadow.core.parts import Told
from zigzag_meadow.core.readings.scour import CARRIED_LOAD, DEPOSITION, RAIN_FLOW, SCOUR, rained
from zigzag_meadow.core.terrain.erosion import erode

__all__ = ["Erode"]


class Erode(BaseStep):
    title, hint = "Erode", "let rain run over it"
    sentence = "**Erode** by {rain} of strength {strength}, seed {seed}"
    slow, bytes_each = "Eroding the ground", 48
    leaves = (
        Left("scour", SCOUR, -1),
        Left("deposition", DEPOSITION, 1),
        Left("load", CARRIED_LOAD),
        Left("water", RAIN_FLOW),
    )
    kind: Literal["erode"] = "erode"
    rain: Annotated[float, Field(ge=0.01, le=4), Told("Rain", "drops a sample", 0.05)] = 0.2
    strength: Annotated[float, Field(ge=0.02, le=2), Told("Strength of erosion", "", 0.05)] = 0.5
    seed: SEED = 1

    @staticmethod
    def run(heights: F32, work: Work) -> Planes:
        numbers = {name: work.numbers[name] for name in ("rain", "strength", "seed")}
        made = erode(heights, work.src, **numbers, gaps=work.gaps, tell=work.tell, cancel=work.cancel)
        change = np.subtract(made.ground, heights, out=made.ground)
        left = {"scour": made.scour, "deposition": made.deposition, "load": made.load}
        return {"change": change, **left, "water": rained(made.water, work.src)}
