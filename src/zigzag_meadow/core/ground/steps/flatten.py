"""Flatten: hold everything below or above a height."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.ground.shaping import flattened
from zigzag_meadow.core.ground.steps.base import F32, BaseStep, Work
from zigzag_meadow.core.parts import Metres, Told

__all__ = ["Flatten"]


class Flatten(BaseStep):
    """Everything below (or above) a height becomes that height, within ``blend`` metres softly."""

    title, hint = "Flatten", "hold everything below or above a height"
    sentence = "**Flatten** all {side} {height}, rounded within {blend}"
    heights = ("height",)
    kind: Literal["flatten"] = "flatten"
    side: Annotated[Literal["below", "above"], Told("Which side", choices=(("below", "below"), ("above", "above")))] = (
        "below"
    )
    height: Annotated[Metres, Told("Flattened at", "m", 1, of="low", first=1)] = 0.0
    blend: Annotated[float, Field(ge=0, le=1000), Told("Rounded within", "m", 0.5, 1, first=2)] = 0.0

    @staticmethod
    def shape(heights: F32, work: Work) -> F32:
        p = work.numbers
        return flattened(heights, p["side"], p["height"], p["blend"])
