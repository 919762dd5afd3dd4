"""Whether a map is one file or many: tiles that share a border, or regions beside each other."""

from __future__ import annotations

from abc import abstractmethod
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from zigzag_meadow.core.errors import IllegalSize
from zigzag_meadow.core.grid import Registration, Window
from zigzag_meadow.core.parts import Told
from zigzag_meadow.core.targets.rule import Rule

__all__ = ["MOST_TILES", "OneFile", "Regions", "SharedTiles", "Tile", "TileRule", "TileRules", "even_tiles"]

MOST_TILES = 4096


@dataclass(frozen=True, slots=True)
class Tile:
    """``x`` counts from the west, ``y`` from the north, both from 0."""

    x: int
    y: int
    window: Window


class _Tiles(Rule):
    @abstractmethod
    def tiles(self, rows: int, cols: int, registration: Registration) -> list[Tile]:
        """How a map of this size is cut. Raises :class:`IllegalSize` where it does not divide."""


def _cut(rows: int, cols: int, side: int, step: int, what: str) -> list[Tile]:
    shared = side - step
    for name, many in (("rows", rows), ("columns", cols)):
        if many < side or (many - shared) % step:
            near = max((many - shared + step // 2) // step, 1) * step + shared
            raise IllegalSize(f"{many} {name} do not divide into {what}. Nearest: {near}.", field=name)
    starts = ([*range(0, n - shared, step)] for n in (rows, cols))
    down, across = starts
    if len(down) * len(across) > MOST_TILES:
        raise IllegalSize(f"{len(down) * len(across)} tiles are too many: at most {MOST_TILES}. Make them larger.")
    return [Tile(x, y, Window(r, r + side, c, c + side)) for y, r in enumerate(down) for x, c in enumerate(across)]


def even_tiles(rows: int, cols: int, into: int, registration: Registration) -> list[Tile]:
    """A map cut into as many equal parts a side; vertices share the border between them. Raises :class:`IllegalSize`
    where it does not divide."""
    less = 1 if registration == "vertex" else 0
    for name, many in (("rows", rows), ("columns", cols)):
        if (many - less) % into or many - less < into:
            raise IllegalSize(
                f"{many} {name} do not divide into {into} regions a side. Draw the part larger.", field=name
            )
    down, across = (rows - less) // into, (cols - less) // into
    return [
        Tile(x, y, Window(y * down, (y + 1) * down + less, x * across, (x + 1) * across + less))
        for y in range(into)
        for x in range(into)
    ]


class OneFile(_Tiles):
    title: ClassVar[str] = "One file"
    sentence: ClassVar[str] = "Every map is one file."
    kind: Literal["one"] = "one"

    def tiles(self, rows: int, cols: int, registration: Registration) -> list[Tile]:
        return [Tile(0, 0, Window(0, rows, 0, cols))]


_SIDE = Told("Samples a side", step=1, decimals=0)


class SharedTiles(_Tiles):
    title: ClassVar[str] = "Tiles that share their border"
    sentence: ClassVar[str] = (
        "Tiles of {side} samples a side; neighbours share the samples between them. Maps on cells have no border to "
        "share: theirs have {cells} cells and lie side by side."
    )
    kind: Literal["shared"] = "shared"
    side: Annotated[int, Field(ge=9, le=8193), _SIDE] = 513

    def words(self) -> dict[str, str]:
        return {"cells": str(self.side - 1)}

    def tiles(self, rows: int, cols: int, registration: Registration) -> list[Tile]:
        """Maps on cells have no border to share: they are cut side by side, one sample fewer."""
        if registration == "area":
            cells = self.side - 1
            return _cut(rows, cols, cells, cells, f"tiles of {cells} cells")
        return _cut(rows, cols, self.side, self.side - 1, f"tiles of {self.side} that share their border")


class Regions(_Tiles):
    title: ClassVar[str] = "Regions side by side"
    sentence: ClassVar[str] = "Regions of {side} samples a side, with nothing shared."
    kind: Literal["regions"] = "regions"
    side: Annotated[int, Field(ge=8, le=8192), _SIDE] = 512

    def tiles(self, rows: int, cols: int, registration: Registration) -> list[Tile]:
        return _cut(rows, cols, self.side, self.side, f"regions of {self.side}")


TileRules = (OneFile, SharedTiles, Regions)
TileRule = Annotated[OneFile | SharedTiles | Regions, Field(discriminator="kind")]
