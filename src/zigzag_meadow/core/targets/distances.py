"""Whether a target wants the colour once, or by distance: for near, for far, and for what is between."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from zigzag_meadow.core.parts import Edited, Told
from zigzag_meadow.core.targets.map_sizes import FewerCells, MapSize
from zigzag_meadow.core.targets.rule import Rule

__all__ = ["ColourDistances", "NearAndFar", "NearFarRule", "NearMiddleFar", "OneColour"]


class OneColour(Rule):
    title: ClassVar[str] = "One colour map"
    sentence: ClassVar[str] = "One colour map for all distances."
    kind: Literal["one"] = "one"

    @property
    def middle_size(self) -> MapSize | None:
        return None

    @property
    def far_size(self) -> MapSize | None:
        return None


class NearAndFar(Rule):
    title: ClassVar[str] = "Near and far"
    sentence: ClassVar[str] = "A colour map for near by and one for far away, each with a size of its own."
    kind: Literal["near_far"] = "near_far"
    far: Annotated[MapSize, Edited("rule", "The far one has")] = FewerCells(over=4)

    @property
    def middle_size(self) -> MapSize | None:
        return None

    @property
    def far_size(self) -> MapSize | None:
        return self.far


class NearMiddleFar(Rule):
    title: ClassVar[str] = "Near, middle and far"
    sentence: ClassVar[str] = (
        "A colour map for near by, up to {near_to} m, one for the middle distance, up to {middle_to} m, and one for "
        "far away, each with a size of its own."
    )
    kind: Literal["near_middle_far"] = "near_middle_far"
    near_to: Annotated[float, Field(gt=0, le=100000), Told("Near up to", "m", step=10, decimals=0)] = 150.0
    middle_to: Annotated[float, Field(gt=0, le=100000), Told("Middle up to", "m", step=50, decimals=0)] = 1500.0
    middle: Annotated[MapSize, Edited("rule", "The middle one has")] = FewerCells(over=2)
    far: Annotated[MapSize, Edited("rule", "The far one has")] = FewerCells(over=4)

    @property
    def middle_size(self) -> MapSize | None:
        return self.middle

    @property
    def far_size(self) -> MapSize | None:
        return self.far


ColourDistances = (OneColour, NearAndFar, NearMiddleFar)
NearFarRule = Annotated[OneColour | NearAndFar | NearMiddleFar, Field(discriminator="kind")]
