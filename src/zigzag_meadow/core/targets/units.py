"""In which unit a target wants its numbers: metres, parts and multiples of them, or a share of the ground."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from zigzag_meadow.core.parts import Part, Told
from zigzag_meadow.core.targets.rule import Rule

__all__ = ["Centimetres", "Kilometres", "Metres", "OwnUnit", "PerCent", "UnitRule", "UnitRules", "Units"]


class _Unit(Rule):
    symbol: ClassVar[str]
    size: ClassVar[float] = 1.0
    """Metres in one of it, where that is the same over every ground."""

    def each(self, longer: float) -> float:
        """Metres in one of it, where the longer side of the ground has so many metres."""
        return self.size

    def told(self) -> str:
        """What stands behind a number."""
        return self.symbol


class Metres(_Unit):
    title: ClassVar[str] = "Metres"
    sentence: ClassVar[str] = "metres"
    symbol: ClassVar[str] = "m"
    kind: Literal["metres"] = "metres"


class Centimetres(_Unit):
    title: ClassVar[str] = "Centimetres"
    sentence: ClassVar[str] = "centimetres"
    symbol: ClassVar[str] = "cm"
    size: ClassVar[float] = 0.01
    kind: Literal["centimetres"] = "centimetres"


class Kilometres(_Unit):
    title: ClassVar[str] = "Kilometres"
    sentence: ClassVar[str] = "kilometres"
    symbol: ClassVar[str] = "km"
    size: ClassVar[float] = 1000.0
    kind: Literal["kilometres"] = "kilometres"


class PerCent(_Unit):
    title: ClassVar[str] = "Per cent of the longer side"
    sentence: ClassVar[str] = "per cent of the ground's longer side"
    symbol: ClassVar[str] = "%"
    kind: Literal["per_cent"] = "per_cent"

    def each(self, longer: float) -> float:
        return longer / 100


class OwnUnit(_Unit):
    title: ClassVar[str] = "A unit of its own"
    sentence: ClassVar[str] = "units of {metres} m"
    symbol: ClassVar[str] = "units"
    kind: Literal["own"] = "own"
    metres: Annotated[float, Field(gt=0, le=1e6), Told("One unit is", "m", step=0.01, decimals=6)] = 1.0

    def each(self, longer: float) -> float:
        return self.metres


UnitRules = (Metres, Centimetres, Kilometres, PerCent, OwnUnit)
UnitRule = Annotated[Metres | Centimetres | Kilometres | PerCent | OwnUnit, Field(discriminator="kind")]


class Units(Part):
    """Of heights (and of where water and the ground lie above zero), of lengths (spacing, width) and of positions."""

    heights: UnitRule = Metres()
    lengths: UnitRule = Metres()
    positions: UnitRule = Metres()
