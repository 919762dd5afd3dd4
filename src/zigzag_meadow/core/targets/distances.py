"""Whether a target wants the colour once, or once for near and once for far."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from zigzag_meadow.core.parts import Edited
from zigzag_meadow.core.targets.map_sizes import FewerCells, MapSize
from zigzag_meadow.core.targets.rule import Rule

__all__ = ["ColourDistances", "NearAndFar", "NearFarRule", "OneColour"]


class OneColour(Rule):
    title: ClassVar[str] = "One colour map"
    sentence: ClassVar[str] = "One colour map for all distances."
    kind: Literal["one"] = "one"

    @property
    def far_size(self) -> MapSize | None:
        return None


class NearAndFar(Rule):
    title: ClassVar[str] = "Near and far"
    sentence: ClassVar[str] = "A colour map for near by and one for far away, each with a size of its own."
    kind: Literal["near_far"] = "near_far"
    far: Annotated[MapSize, Edited("rule", "The far one has")] = FewerCells(over=4)

    @property
    def far_size(self) -> MapSize | None:
        return self.far


ColourDistances = (OneColour, NearAndFar)
NearFarRule = Annotated[OneColour | NearAndFar, Field(discriminator="kind")]
