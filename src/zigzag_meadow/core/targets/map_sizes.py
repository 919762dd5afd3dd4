"""How many samples other maps have beside the height, and whether they lie on its vertices or on cells."""

from __future__ import annotations

from abc import abstractmethod
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from zigzag_meadow.core.formats.limits import LONGEST_SIDE, SHORTEST_SIDE
from zigzag_meadow.core.grid import Grid, Registration
from zigzag_meadow.core.parts import Part, Told
from zigzag_meadow.core.targets.rule import Rule

__all__ = [
    "SIZE_KINDS",
    "FewerCells",
    "FreeSize",
    "KindRule",
    "KindSize",
    "MapSize",
    "MapSizes",
    "MoreCells",
    "PowerOfTwoCells",
    "SameCells",
    "SizeKind",
]

FormId = Annotated[str, Field(pattern=r"^[a-z0-9]{1,20}$")]


class _MapSize(Rule):
    @abstractmethod
    def cells(self, cells: int) -> int:
        """Cells along a side where the height has ``cells``."""


class SameCells(_MapSize):
    title: ClassVar[str] = "As many cells"
    sentence: ClassVar[str] = "As many cells as the height."
    kind: Literal["same"] = "same"

    def cells(self, cells: int) -> int:
        return cells


class FewerCells(_MapSize):
    title: ClassVar[str] = "Fewer cells"
    sentence: ClassVar[str] = "One cell for every {over} of the height."
    kind: Literal["fewer"] = "fewer"
    over: Annotated[int, Field(ge=2, le=64), Told("Cells of the height for one", step=1, decimals=0)] = 2

    def cells(self, cells: int) -> int:
        return max(cells // self.over, 1)


class MoreCells(_MapSize):
    title: ClassVar[str] = "More cells"
    sentence: ClassVar[str] = "{times} cells for one of the height."
    kind: Literal["more"] = "more"
    times: Annotated[int, Field(ge=2, le=16), Told("Cells for one of the height", step=1, decimals=0)] = 2

    def cells(self, cells: int) -> int:
        return cells * self.times


class PowerOfTwoCells(_MapSize):
    title: ClassVar[str] = "Power of two"
    sentence: ClassVar[str] = "The power of two nearest to the cells of the height, {most} at most."
    kind: Literal["power"] = "power"
    most: Annotated[int, Field(ge=8, le=8192), Told("At most", "cells", step=1, decimals=0)] = 8192

    def cells(self, cells: int) -> int:
        lower = 1 << (cells.bit_length() - 1)
        near = lower if cells - lower <= 2 * lower - cells else 2 * lower
        return min(near, 1 << (self.most.bit_length() - 1))


class FreeSize(_MapSize):
    title: ClassVar[str] = "Any size"
    sentence: ClassVar[str] = "Any size; as many cells as the height unless another is chosen."
    kind: Literal["free"] = "free"

    def cells(self, cells: int) -> int:
        return cells


MapSizes = (SameCells, FewerCells, MoreCells, PowerOfTwoCells, FreeSize)
MapSize = Annotated[SameCells | FewerCells | MoreCells | PowerOfTwoCells | FreeSize, Field(discriminator="kind")]


SizeKind = Literal[
    "weights",
    "densities",
    "classes",
    "data",
    "colour",
    "colour_middle",
    "colour_far",
    "occlusion",
    "normal",
    "surface",
]
SIZE_KINDS: dict[SizeKind, str] = {
    "weights": "Weights",
    "densities": "Densities",
    "classes": "Classes",
    "data": "Data, masks and readings",
    "colour": "Near colour",
    "colour_middle": "Middle colour",
    "colour_far": "Far colour",
    "occlusion": "Occlusion",
    "normal": "Normals",
    "surface": "Other surface maps",
}
"""Kinds of maps that may have a size of their own, as they are called."""


class KindSize(Part):
    """The size of one kind of map, where it is not that of its group."""

    kind: SizeKind
    size: MapSize


class KindRule(Part):
    """One kind of map: on *vertex* or *area* samples, how large, in which forms; the first is written unless another
    is chosen."""

    registration: Annotated[
        Registration, Told("Samples lie", choices=(("vertex", "on vertices"), ("area", "on cells")))
    ] = "vertex"
    size: MapSize = SameCells()
    forms: Annotated[tuple[FormId, ...], Field(min_length=1, max_length=24)]

    def grid(self, height: Grid) -> Grid:
        """The grid of such a map over the extent of a height grid."""
        less = 1 if height.registration == "vertex" else 0
        more = 1 if self.registration == "vertex" else 0
        rows, cols = (self.size.cells(n - less) + more for n in height.shape)
        rows, cols = (min(max(n, SHORTEST_SIDE), LONGEST_SIDE) for n in (rows, cols))
        return height.resized(rows, cols, self.registration)
