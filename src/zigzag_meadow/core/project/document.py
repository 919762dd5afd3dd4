"""The project document: one typed tree. Ids never change and every reference is by id."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.parts import AssetId, Colour, Id, Name, Number, Part
from zigzag_meadow.core.project.features import Feature, Scatter
from zigzag_meadow.core.project.ground import Ground
from zigzag_meadow.core.project.recipe import Mask, Piece

__all__ = [
    "BaseLayer", "BaseSource", "Channel", "ChannelSource", "Delivery", "Layer", "MaskSource", "Project",
    "ReadingSetting", "ReadingSource", "RestSource", "ScatterSource", "Sheet", "SheetLayout", "WeightSource",
]  # fmt: skip


class Layer(Part):
    """A kind of ground laid over those below it where its mask says so."""

    id: Id
    name: Name
    mask: Id | None = None
    colour: Colour
    muted: bool = False


class BaseLayer(Part):
    name: Name = "Base"
    colour: Colour = "#7d8a5c"


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
    reading: Id
    black: Number
    white: Number


class ScatterSource(Part):
    """How densely something is scattered, white where it is densest."""

    kind: Literal["scatter"] = "scatter"
    scatter: Id


ChannelSource = Annotated[
    WeightSource | BaseSource | RestSource | MaskSource | ReadingSource | ScatterSource, Field(discriminator="kind")
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


class Project(Part):
    """Everything an artist decided; what can be computed from it is not in it."""

    version: Literal[2] = 2
    name: Name
    ground: Ground
    readings: Annotated[tuple[ReadingSetting, ...], Field(max_length=200)] = ()
    masks: Annotated[tuple[Mask, ...], Field(max_length=200)] = ()
    pieces: Annotated[tuple[Piece, ...], Field(max_length=100)] = ()
    features: Annotated[tuple[Feature, ...], Field(max_length=500)] = ()
    scatters: Annotated[tuple[Scatter, ...], Field(max_length=50)] = ()
    base: BaseLayer = BaseLayer()
    layers: Annotated[tuple[Layer, ...], Field(max_length=64)] = ()
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
        return tuple(used)

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
