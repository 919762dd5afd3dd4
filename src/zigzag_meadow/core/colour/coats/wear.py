"""Soil and Bleach: dirt gathers where ground is sheltered, and what stands out is worn pale."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from zigzag_meadow.core.colour.blend import blended
from zigzag_meadow.core.colour.coats.base import Around, BaseCoat, laid_on
from zigzag_meadow.core.masks.sources import ReadingUse, Source
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Numbers, by_sample
from zigzag_meadow.core.parts import Colour, Edited, Told, Unit
from zigzag_meadow.core.srgb import lab_of, linear_of, rgb_of_lab

__all__ = ["Bleach", "Soil"]


class Soil(BaseCoat):
    title, family, hint = "Soil", "wear", "dirt where the ground is sheltered"
    sentence = "**Soil** where {by} shelters, towards {colour}, at {strength}, {within}"
    kind: Literal["soil"] = "soil"
    by: Annotated[Source, Edited("source", "What shelters", start="mapped")] = ReadingUse(
        reading="occlusion", black=0.04, white=0.45
    )
    colour: Annotated[Colour, Edited("colour", "Colour of the soil")] = "#2e261f"
    strength: Annotated[Unit, Told("Strength", "%")] = 0.6

    def changed_from(self, below: Node, around: Around) -> Node:
        return laid_on(below, linear_of(self.colour), "normal", 1.0, around.source(self.by))


def _bleached(here: Here, numbers: Numbers, below: Array, by: Array) -> Array:
    lab = lab_of(below)
    lab[..., 0] += (1 - lab[..., 0]) * np.float32(numbers["paler"])
    lab[..., 1:] *= np.float32(1 - numbers["greyer"])
    return blended(below, rgb_of_lab(lab), "normal", 1.0, by)


BLEACHED = by_sample("bleached", _bleached)


class Bleach(BaseCoat):
    title, family, hint = "Bleach", "wear", "pale and dry where the ground is exposed"
    sentence = "**Bleach** where {by} is exposed, paler by {paler}, greyer by {greyer}, at {strength}, {within}"
    kind: Literal["bleach"] = "bleach"
    by: Annotated[Source, Edited("source", "What is exposed", start="mapped")] = ReadingUse(
        reading="mean_curvature", black=0.0, white=0.012
    )
    paler: Annotated[float, Field(ge=0, le=1), Told("Paler", "%")] = 0.25
    greyer: Annotated[float, Field(ge=0, le=1), Told("Greyer", "%")] = 0.35
    strength: Annotated[Unit, Told("Strength", "%")] = 0.7

    def changed_from(self, below: Node, around: Around) -> Node:
        numbers = {"paler": self.paler, "greyer": self.greyer}
        return Node(BLEACHED, numbers, (below, around.source(self.by)))
