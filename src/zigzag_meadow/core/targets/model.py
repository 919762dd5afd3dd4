"""A target as data: what a destination takes, what must be typed in there, switched off, and done afterwards."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.grid import Grid, Registration
from zigzag_meadow.core.parts import Id, Name, Part, Told
from zigzag_meadow.core.targets.codings import HeightCoding
from zigzag_meadow.core.targets.distances import NearFarRule, OneColour
from zigzag_meadow.core.targets.layouts import PackedChannels, SheetRule
from zigzag_meadow.core.targets.map_sizes import FormId, KindRule, KindSize, MapSize, SizeKind
from zigzag_meadow.core.targets.mixing import MixingRule, WeightedSum
from zigzag_meadow.core.targets.sizes import SizeRule
from zigzag_meadow.core.targets.tile_names import TileNames
from zigzag_meadow.core.targets.tiles import OneFile, TileRule
from zigzag_meadow.core.targets.units import Units

__all__ = ["NAMES", "After", "MapKindName", "Neutral", "Position", "Required", "Target"]

Text = Annotated[str, Field(min_length=1, max_length=300)]
NAMES = r"^[A-Za-z0-9_{}-]+$"
MapKindName = Literal["masks", "colour", "detail"]
Required = Literal["weights", "colour", "colour_middle", "colour_far", "occlusion", "normal", "roughness", "classes"]


class HeightRule(Part):
    """The height file: where its samples lie, how heights are stored, in which forms."""

    registration: Annotated[
        Registration, Told("Samples lie", choices=(("vertex", "on vertices"), ("area", "on cells")))
    ] = "vertex"
    coding: HeightCoding
    forms: Annotated[tuple[FormId, ...], Field(min_length=1, max_length=24)]


class Position(Part):
    """Where the ground lies there. ``anchor``: the place that its position names. ``up``: the axis that points up.
    ``heights``: counted as in the project, or from its water level."""

    anchor: Annotated[
        Literal["corner", "centre"],
        Told("Its position names", choices=(("corner", "the south-west corner"), ("centre", "the centre"))),
    ] = "corner"
    up: Annotated[Literal["z", "y"], Told("Up is", choices=(("z", "z, north is y"), ("y", "y, north is z")))] = "z"
    heights: Annotated[
        Literal["project", "water"],
        Told("Heights count", choices=(("project", "as in the project"), ("water", "from the water level"))),
    ] = "project"


class Neutral(Part):
    """A setting there that would spoil a correct map: what it must be, and why. ``only``: where heights are stored as
    *metres*, or are not (*codes*); left out, always."""

    setting: Text
    to: Text
    because: Text
    only: Literal["metres", "codes"] | None = None


class After(Part):
    """Something to do there after the import."""

    do: Text
    because: Annotated[str, Field(max_length=300)] = ""


class Target(Part):
    """The import rules of a destination.

    ``first_row``, ``first_column``: where a file begins. ``most_layers``: in all, the base counted; ``most_per_block``:
    in one block. ``colour_space``: how colour files are coded. ``names``: how files are named unless the project says
    otherwise. ``units``: of the numbers that are typed in there. ``tile_names``: how the
    numbers of tiles stand in names; ``sizes_of``: kinds of maps with a size that is not their group's. ``required``:
    maps without which it takes nothing.
    """

    version: Literal[2] = 2
    id: Id
    title: Name
    sentence: Text
    sizes: SizeRule
    height: HeightRule
    masks: KindRule
    colour: KindRule
    detail: KindRule
    first_row: Annotated[
        Literal["north", "south"], Told("Files begin in the", choices=(("north", "north"), ("south", "south")))
    ] = "north"
    first_column: Annotated[
        Literal["west", "east"], Told("and in the", choices=(("west", "west"), ("east", "east")))
    ] = "west"
    sheets: SheetRule = PackedChannels()
    alpha: Annotated[
        Literal["data", "none"], Told("Alpha", choices=(("data", "holds data"), ("none", "is not taken")))
    ] = "data"
    most_layers: Annotated[int, Field(ge=1, le=64), Told("Layers in all, the base counted", step=1, decimals=0)] = 16
    most_per_block: Annotated[
        Annotated[int, Field(ge=1, le=64)] | None,
        Told("Layers in one block", step=1, decimals=0, first=8, none="no limit a block", some="at most"),
    ] = None
    colour_space: Annotated[
        Literal["sRGB", "linear"], Told("Colours are", choices=(("sRGB", "sRGB"), ("linear", "linear light")))
    ] = "sRGB"
    names: Annotated[str, Field(min_length=1, max_length=80, pattern=NAMES)] = "{project}_{map}"
    tiles: TileRule = OneFile()
    tile_names: TileNames = TileNames()
    sizes_of: Annotated[tuple[KindSize, ...], Field(max_length=10)] = ()
    distances: NearFarRule = OneColour()
    required: Annotated[tuple[Required, ...], Field(max_length=8)] = ()
    position: Position = Position()
    units: Units = Units()
    mixing: MixingRule = WeightedSum()
    neutral: Annotated[tuple[Neutral, ...], Field(max_length=24)] = ()
    after: Annotated[tuple[After, ...], Field(max_length=24)] = ()

    def height_grid(self, home: Grid, rows: int, cols: int) -> Grid:
        """The grid of the height file over a ground's extent."""
        return home.resized(rows, cols, self.height.registration)

    def kind(self, name: MapKindName) -> KindRule:
        return {"masks": self.masks, "colour": self.colour, "detail": self.detail}[name]

    def size_of(self, kind: SizeKind, group: MapKindName) -> MapSize:
        """The rule of one kind of map: its own, that of its distance, or that of its group."""
        own = next((item.size for item in self.sizes_of if item.kind == kind), None)
        if own is not None:
            return own
        by_distance = {"colour_middle": self.distances.middle_size, "colour_far": self.distances.far_size}.get(kind)
        return by_distance or self.kind(group).size

    def map_grid(self, height: Grid, kind: SizeKind, group: MapKindName) -> Grid:
        """The grid of one kind of map over the extent of a height grid."""
        size = self.size_of(kind, group)
        return self.kind(group).model_copy(update={"size": size}).grid(height)

    @property
    def by_default(self) -> tuple[str, ...]:
        """Names of the maps besides height and sheets that are delivered unless somebody leaves them out."""
        named: dict[Required, str] = {
            "colour": "colour",
            "colour_middle": "colour_middle",
            "colour_far": "colour_far",
            "occlusion": "surface:occlusion",
            "normal": "surface:normal",
            "roughness": "surface:roughness",
            "classes": "strongest",
        }
        return tuple(named[item] for item in self.required if item in named)
