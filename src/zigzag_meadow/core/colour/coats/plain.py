"""Plain: one colour."""

from __future__ import annotations

from typing import Annotated, Literal

from zigzag_meadow.core.colour.coats.base import Around, Painted
from zigzag_meadow.core.parts import Colour, Edited
from zigzag_meadow.core.srgb import linear_of

__all__ = ["PlainColour"]


class PlainColour(Painted):
    title, family, hint = "Plain colour", "ground", "one colour, everywhere or within a mask"
    sentence = "**Colour** {colour}, laid on {mode} at {strength}, {within}"
    kind: Literal["plain"] = "plain"
    colour: Annotated[Colour, Edited("colour", "Colour")] = "#8d8a5c"

    def top(self, around: Around) -> tuple[float, float, float]:
        return linear_of(self.colour)
