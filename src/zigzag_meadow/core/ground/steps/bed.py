"""Bed: layers of rock in the height."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.ground.beds import bedded
from zigzag_meadow.core.ground.steps.base import F32, SEED, BaseStep, Work
from zigzag_meadow.core.parts import Metres, Told, Unit

__all__ = ["Bed"]


class Bed(BaseStep):
    """Beds are counted from ``zero``, so that they stay where they are when the ground below changes."""

    title, hint = "Bed", "layers of rock: benches and faces"
    sentence = (
        "**Bed** the rock in layers {thickness} thick, falling {dip} towards {direction}, {hardness} hard, varied by "
        "{variation}, bent by {bend}, counted from {zero}, seed {seed}"
    )
    heights = ("zero",)
    slow, bytes_each = "Bedding the rock", 12
    kind: Literal["bed"] = "bed"
    thickness: Annotated[
        float, Field(gt=0, le=2000), Told("Thickness of a bed", "m", 1, 1, of="spacing", first=4, low=0.1)
    ] = 12.0
    dip: Annotated[float, Field(ge=0, le=60), Told("Dip", "°", 1, 1)] = 3.0
    direction: Annotated[float, Field(ge=0, le=360), Told("Falling towards", "°", 5, 0)] = 90.0
    hardness: Annotated[Unit, Told("Hardness", "%")] = 0.6
    variation: Annotated[Unit, Told("Variation", "%")] = 0.5
    bend: Annotated[float, Field(ge=0, le=2000), Told("Bend of the beds", "m", 1, 1, of="spacing", first=2)] = 8.0
    zero: Annotated[Metres, Told("Beds counted from", "m", 1, 1)] = 0.0
    seed: SEED = 1

    @staticmethod
    def shape(heights: F32, work: Work) -> F32:
        names = ("zero", "thickness", "dip", "direction", "hardness", "variation", "bend", "seed")
        numbers = {name: work.numbers[name] for name in names}
        return bedded(heights, work.src, **numbers, stripes=work.stripes, cancel=work.cancel)
