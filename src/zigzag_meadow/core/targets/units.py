"""In which unit a target wants its numbers: metres, parts and multiples of them, or a share of the ground."""

from __future__ import annotations

from abc import abstractmethod
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from zigzag_meadow.core.parts import Part, Told
from zigzag_meadow.core.targets.rule import Rule

__all__ = ["Centimetres", "Kilometres", "Metres", "OwnUnit", "PerCent", "UnitRule", "UnitRules", "Units"]


class _Unit(Rule):
    symbol: ClassVar[str]

    @abstractmethod
    def each(self, longer: float) -> float:
        """Metres in one of it, where the longer side of the ground has so many metres."""

    def told(self) -> str:
        """What stands behind a number."""
        return self.symbol


class Metres(_Unit):
    title: ClassVar[str] = "Metres"
    sentence: ClassVar[str] = "metres"
    symbol: ClassVar[str] = "m"
    kind: Literal["metres"] = "metres"

    def each(self, longer: float) -> float:
        return 1.0


class Centimetres(_Unit):
    title: ClassVar[str] = "Centimetres"
    sentence: ClassVar[str] = "centimetres"
    symbol: ClassVar[str] = "cm"
    kind: Literal["centimetres"] = "centimetres"

    def each(self, longer: float) -> float:
        return 0.01


class Kilometres(_Unit):
    title: ClassVar[str] = "Kilometres"
    sentence: ClassVar[str] = "kilometres"
    symbol: ClassVar[str] = "km"
    kind: Literal["kilometres"] = "kilometres"

    def each(self, longer: float) -> float:
        return 1000.0


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
