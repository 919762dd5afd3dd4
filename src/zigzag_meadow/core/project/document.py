"""The project document: one typed tree. Ids never change and every reference is by id."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.colour.surface import Surface, SurfaceMap
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.looks.model import Look
from zigzag_meadow.core.parts import AssetId, Id, Name, Number, Part, ReadingId
from zigzag_meadow.core.project.features import Feature, Scatter
from zigzag_meadow.core.project.ground import Ground
from zigzag_meadow.core.project.painting import (
    BASE,
    BaseLayer,
    Coat,
    CoatPiece,
    Layer,
    LayerStrokes,
    Merge,
    Mixing,
)
from zigzag_meadow.core.project.recipe import Mask, Piece

__all__ = [
    "BaseSource", "Channel", "ChannelSource", "Delivery", "MapPart", "MaskSource", "Outcome", "PaintedSource",
    "Project", "ReadingSetting", "ReadingSource", "RestSource", "ScatterSource", "Sheet", "SheetLayout", "WeightSource",
]  # fmt: skip


class WeightSource(Part):
    kind: Literal["weight"] = "weight"
    layer: Id


class BaseSource(Part):
    """The weight of the base over all layers."""

    kind: Literal["base"] = "base"


class RestSource(Part):
    """Full scale minus the other channels of this sheet."""

    kind: Literal["rest"] = "rest"


class MaskSource(Part):
    kind: Literal["mask"] = "mask"
    mask: Id


class ReadingSource(Part):
    """A reading between what black and what white stand for, in its own unit; log as the reading says."""

    kind: Literal["reading"] = "reading"
    reading: ReadingId
    black: Number
    white: Number


class ScatterSource(Part):
    """How densely something is scattered, white where it is densest."""

    kind: Literal["scatter"] = "scatter"
    scatter: Id


MapPart = Literal["r", "g", "b"]


class PaintedSource(Part):
    """One part of the colour map (*near* or *far*), or of a surface map; those of one part have it as red. *strongest*:
    the number of the layer that is strongest."""

    kind: Literal["painted"] = "painted"
    map: Literal["colour", "colour_far", "strongest"] | SurfaceMap
    part: MapPart = "r"


ChannelSource = Annotated[
    WeightSource | BaseSource | RestSource | MaskSource | ReadingSource | ScatterSource | PaintedSource,
    Field(discriminator="kind"),
]
Channel = Literal["r", "g", "b", "a"]
SheetLayout = Literal["rgba", "rgb", "grey"]


class Sheet(Part):
    id: Id
    name: Name
    layout: SheetLayout = "rgba"
    r: ChannelSource | None = None
    g: ChannelSource | None = None
    b: ChannelSource | None = None
    a: ChannelSource | None = None

    @property
    def channels(self) -> tuple[Channel, ...]:
        """The channels this sheet has, in file order; grey uses r."""
        table: dict[SheetLayout, tuple[Channel, ...]] = {
            "rgba": ("r", "g", "b", "a"),
            "rgb": ("r", "g", "b"),
            "grey": ("r",),
        }
        return table[self.layout]

    @property
    def holds_colours(self) -> bool:
        """Whether red, green and blue are those of a colour map: the file is then tagged sRGB."""
        return self.layout == "rgb" and all(
            isinstance(source, PaintedSource) and source.map.startswith("colour") for source in (self.r, self.g, self.b)
        )

    def source(self, channel: Channel) -> ChannelSource | None:
        return {"r": self.r, "g": self.g, "b": self.b, "a": self.a}[channel]


class Delivery(Part):
    """Where the maps go and at what size; ``pattern`` names the files."""

    target: Id = "block-grid"
    rows: Annotated[int, Field(ge=8, le=8193)]
    cols: Annotated[int, Field(ge=8, le=8193)]
    height_format: Literal["png16", "raw16"] = "png16"
    pattern: Annotated[str, Field(min_length=1, max_length=80, pattern=r"^[A-Za-z0-9_{}-]+$")] = "{project}_{map}"


class ReadingSetting(Part):
    """Numbers of a reading that differ from its defaults, or one more reading of a kind with numbers of its own.

    The id of a kind's first reading is the kind itself.
    """

    id: Id
    kind: Id
    name: Name | None = None
    numbers: dict[Id, float | str] = Field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Outcome:
    """What comes out of sharing under one name: the base, a layer, or several merged; ``members``: ids of the layers
    (or of the base) whose weights it is the sum of."""

    id: str
    name: str
    colour: str
    members: tuple[str, ...]


class Project(Part):
    """Everything an artist decided; what can be computed from it is not in it."""

    version: Literal[4] = 4
    name: Name
    ground: Ground
    readings: Annotated[tuple[ReadingSetting, ...], Field(max_length=200)] = ()
    masks: Annotated[tuple[Mask, ...], Field(max_length=200)] = ()
    pieces: Annotated[tuple[Piece, ...], Field(max_length=100)] = ()
    features: Annotated[tuple[Feature, ...], Field(max_length=500)] = ()
    scatters: Annotated[tuple[Scatter, ...], Field(max_length=50)] = ()
    looks: Annotated[tuple[Look, ...], Field(max_length=100)] = ()
    base: BaseLayer = BaseLayer()
    layers: Annotated[tuple[Layer, ...], Field(max_length=64)] = ()
    mixing: Mixing = Mixing()
    merges: Annotated[tuple[Merge, ...], Field(max_length=32)] = ()
    strokes: Annotated[tuple[LayerStrokes, ...], Field(max_length=200)] = ()
    coats: Annotated[tuple[Coat, ...], Field(max_length=100)] = ()
    coat_pieces: Annotated[tuple[CoatPiece, ...], Field(max_length=100)] = ()
    surface: Surface = Surface()
    sheets: Annotated[tuple[Sheet, ...], Field(max_length=64)] = ()
    delivery: Delivery

    def setting(self, reading_id: str) -> ReadingSetting | None:
        return next((r for r in self.readings if r.id == reading_id), None)

    @property
    def assets(self) -> tuple[AssetId, ...]:
        """Every stored file that the document refers to, the heightmap first."""
        used = [self.ground.asset]
        for item in self.readings:
            asset = item.numbers.get("asset")
            if isinstance(asset, str) and asset and asset not in used:
                used.append(asset)
        for mask in self.masks:
            used += [asset for line in mask.lines for asset in line.assets if asset not in used]
        used += [asset for look in self.looks for asset in look.assets if asset not in used]
        used += [item.asset for item in self.strokes if item.asset not in used]
        return tuple(dict.fromkeys(used))

    @property
    def recipes(self) -> tuple[Mask | Piece, ...]:
        """Everything that has lines."""
        return (*self.pieces, *self.masks)

    def piece(self, piece_id: str) -> Piece | None:
        return next((p for p in self.pieces if p.id == piece_id), None)

    def feature(self, feature_id: str) -> Feature | None:
        return next((f for f in self.features if f.id == feature_id), None)

    def scatter(self, scatter_id: str) -> Scatter | None:
        return next((s for s in self.scatters if s.id == scatter_id), None)

    def mask(self, mask_id: str) -> Mask | None:
        return next((m for m in self.masks if m.id == mask_id), None)

    def layer(self, layer_id: str) -> Layer | None:
        return next((item for item in self.layers if item.id == layer_id), None)

    def look(self, look_id: str) -> Look | None:
        return next((item for item in self.looks if item.id == look_id), None)

    def coat(self, coat_id: str) -> Coat | None:
        return next((item for item in self.coats if item.id == coat_id), None)

    def coat_piece(self, piece_id: str) -> CoatPiece | None:
        return next((item for item in self.coat_pieces if item.id == piece_id), None)

    def merge_of(self, layer_id: str) -> Merge | None:
        """What a layer is merged into."""
        return next((item for item in self.merges if layer_id in item.layers), None)

    @property
    def outcomes(self) -> tuple[Outcome, ...]:
        """What sharing comes out as: the base, then layers from the bottom, merged ones where their lowest lies."""
        made = [Outcome(BASE, self.base.name, self.base.colour, (BASE,))]
        done: set[str] = set()
        for layer in self.shown_layers:
            merge = self.merge_of(layer.id)
            if merge is None:
                made.append(Outcome(layer.id, layer.name, layer.colour, (layer.id,)))
            elif merge.id not in done:
                done.add(merge.id)
                shown = tuple(item.id for item in self.shown_layers if item.id in merge.layers)
                made.append(Outcome(merge.id, merge.name, merge.colour, shown))
        return tuple(made)

    def sheet(self, sheet_id: str) -> Sheet | None:
        return next((s for s in self.sheets if s.id == sheet_id), None)

    @property
    def final(self) -> Grid:
        """The grid that is delivered: the ground's extent at the delivery's size."""
        return self.ground.home.resized(self.delivery.rows, self.delivery.cols, "vertex")

    @property
    def shown_layers(self) -> tuple[Layer, ...]:
        """Layers that take part in sharing, bottom first."""
        return tuple(item for item in self.layers if not item.muted and item.mask is not None)
