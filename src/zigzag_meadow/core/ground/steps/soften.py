"""Soften: draw out faces that are too steep."""

from __future__ import annotations

from typing import Annotated, Literal

from zigzag_meadow.core.ground.shaping import softened
from zigzag_meadow.core.ground.steps.base import ANGLE, F32, BaseStep, Work
from zigzag_meadow.core.parts import Told

__all__ = ["Soften"]


class Soften(BaseStep):
    title, hint = "Soften", "draw out faces that are too steep"
    sentence = "**Soften** ground steeper than {angle}"
    slow, bytes_each = "Softening steep faces", 28
    kind: Literal["soften"] = "soften"
    angle: Annotated[ANGLE, Told("Softened above", "°", 1, 1)] = 55.0

    @staticmethod
    def shape(heights: F32, work: Work) -> F32:
        return softened(heights, work.src, work.numbers["angle"], work.stripes, work.cancel)
