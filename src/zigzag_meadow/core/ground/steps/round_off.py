"""Round off: domes on heights that were cut off."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.ground.cut_off import rounded_off
from zigzag_meadow.core.ground.steps.base import F32, BaseStep, Work
from zigzag_meadow.core.parts import Told

__all__ = ["RoundOff"]


class RoundOff(BaseStep):
    """How high a dome rises is a guess from the slopes beside it, times ``steepness``."""

    title, hint = "Round off", "tops or bottoms that were cut off"
    sentence = "**Round off** what was cut off at the {side}, by {steepness} of the slope beside it"
    slow, bytes_each = "Rounding off", 39
    kind: Literal["round_off"] = "round_off"
    side: Annotated[Literal["top", "bottom"], Told("Which end", choices=(("top", "top"), ("bottom", "bottom")))] = "top"
    steepness: Annotated[float, Field(ge=0, le=3), Told("Steepness of the domes", "%")] = 0.6

    @staticmethod
    def shape(heights: F32, work: Work) -> F32:
        p = work.numbers
        return rounded_off(heights, work.src, p["side"], p["steepness"], work.stripes, work.cancel)
