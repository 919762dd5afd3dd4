"""Carve: channels cut along the flow."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.ground.carving import cut_away
from zigzag_meadow.core.ground.steps.base import F32, BaseStep, Left, Planes, Work
from zigzag_meadow.core.parts import Told
from zigzag_meadow.core.readings.channels import CHANNEL_DEPTH

__all__ = ["Carve"]

CARVED = replace(
    CHANNEL_DEPTH,
    name="carved",
    title="Carved away",
    sentence="Metres that channels were cut into the ground.",
    good_for="Stream beds and their banks.",
)


class Carve(BaseStep):
    """Width and depth are those of a channel that drains a square kilometre."""

    title, hint = "Carve", "channels along the flow"
    sentence = (
        "**Carve** channels where {threshold} drain together, {width} wide and {depth} deep at a square kilometre, "
        "banks faded over {banks}"
    )
    slow, bytes_each = "Carving channels", 64
    leaves = (Left("carved", CARVED, -1),)
    kind: Literal["carve"] = "carve"
    threshold: Annotated[float, Field(ge=1, le=1e9), Told("Begins at", "m²", 100, 0, of="cell", first=300)] = 5000.0
    width: Annotated[float, Field(ge=0.1, le=500), Told("Width of channels", "m", 0.5, 1)] = 8.0
    depth: Annotated[float, Field(ge=0.01, le=100), Told("Depth of channels", "m", 0.1, 2)] = 2.0
    banks: Annotated[float, Field(ge=0, le=1000), Told("Fade of the banks", "m", 0.5, 1, of="spacing", first=3)] = 10.0

    @staticmethod
    def run(heights: F32, work: Work) -> Planes:
        numbers = {name: work.numbers[name] for name in ("threshold", "width", "depth", "banks")}
        cut = cut_away(heights, work.src, **numbers, gaps=work.gaps, stripes=work.stripes, cancel=work.cancel)
        return {"change": -cut, "carved": cut}
