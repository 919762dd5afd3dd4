"""How a target understands stored heights: one class a way, each linear in what is stored."""

from __future__ import annotations

from abc import abstractmethod
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.parts import Told
from zigzag_meadow.core.targets.rule import Rule

__all__ = [
    "Codings",
    "FixedStep",
    "FloatMetres",
    "HeightCoding",
    "Scale",
    "SignedStep",
    "UnsignedRange",
    "WholeMetres",
    "over_range",
]

FULL = 65535
MIDDLE = 32768


@dataclass(frozen=True, slots=True)
class Scale:
    """Metres = ``at_zero`` + stored · ``step``, stored from ``least`` to ``full``."""

    step: float
    at_zero: float
    full: int = FULL
    least: int = 0


def over_range(black: float, white: float, full: int = FULL) -> Scale:
    """The scale where 0 stands for ``black`` metres and full for ``white``. Raises :class:`BadNumber` for no range."""
    if not white > black:
        raise BadNumber(f"The highest height must be above the lowest, got {black:g} to {white:g} m.")
    return Scale((white - black) / full, black, full)


class _Coding(Rule):
    @abstractmethod
    def scale(self, low: float, high: float) -> Scale | None:
        """What is stored on a ground between these heights (metres, ``high`` above ``low``); None where metres
        themselves are."""


class UnsignedRange(_Coding):
    title: ClassVar[str] = "Range from black to white"
    sentence: ClassVar[str] = "Stored 0 is one height and full scale a higher one; both are typed in."
    kind: Literal["range"] = "range"

    def scale(self, low: float, high: float) -> Scale | None:
        return over_range(low, high)


class SignedStep(_Coding):
    title: ClassVar[str] = "Steps about a middle"
    sentence: ClassVar[str] = (
        "Stored values count steps up and down from 32768; a multiplier makes a step of {base_step} m as large as it "
        "must be."
    )
    kind: Literal["signed_step"] = "signed_step"
    base_step: Annotated[
        float, Field(gt=0, le=100), Told("One step before the multiplier", "m", step=0.001, decimals=6)
    ] = 1 / 128

    def scale(self, low: float, high: float) -> Scale | None:
        return over_range(low, high)


class FixedStep(_Coding):
    title: ClassVar[str] = "A fixed step"
    sentence: ClassVar[str] = "Heights as stored: one step is {step} m and stored 0 is {at_zero} m, always."
    kind: Literal["fixed_step"] = "fixed_step"
    step: Annotated[float, Field(gt=0, le=100), Told("One step", "m", step=0.001, decimals=6)] = 1 / 32
    at_zero: Annotated[float, Field(ge=-20000, le=20000), Told("Stored 0 is", "m", step=1, decimals=2)] = 0.0

    def scale(self, low: float, high: float) -> Scale | None:
        return Scale(self.step, self.at_zero)


class WholeMetres(_Coding):
    title: ClassVar[str] = "Whole metres"
    sentence: ClassVar[str] = "One step is one metre, and stored 0 is {at_zero} m."
    kind: Literal["whole_metres"] = "whole_metres"
    at_zero: Annotated[int, Field(ge=-20000, le=20000), Told("Stored 0 is", "m", step=1, decimals=0)] = -1000

    def scale(self, low: float, high: float) -> Scale | None:
        return Scale(1.0, float(self.at_zero))


class FloatMetres(_Coding):
    title: ClassVar[str] = "Metres as they are"
    sentence: ClassVar[str] = "Heights are metres, as floating numbers."
    kind: Literal["metres"] = "metres"

    def scale(self, low: float, high: float) -> Scale | None:
        return None


Codings = (UnsignedRange, SignedStep, FixedStep, WholeMetres, FloatMetres)
HeightCoding = Annotated[
    UnsignedRange | SignedStep | FixedStep | WholeMetres | FloatMetres, Field(discriminator="kind")
]
