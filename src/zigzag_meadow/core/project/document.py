"""The project document: one typed tree. Ids never change and every reference is by id."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from zigzag_meadow.core.grid import Grid

__all__ = [
    "Band",
    "BaseLayer",
    "BaseSource",
    "Channel",
    "ChannelSource",
    "Delivery",
    "Ground",
    "KeepWithin",
    "Layer",
    "LeaveOut",
    "Levels",
    "Line",
    "Mask",
    "MaskSource",
    "MaskUse",
    "Part",
    "Project",
    "ReadingSource",
    "RestSource",
    "Sheet",
    "SheetLayout",
    "Take",
    "TurnOver",
    "WeightSource",
]

Id = Annotated[str, Field(pattern=r"^[a-z0-9_-]{1,40}$")]
Name = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[^\x00-\x1f/\\:]+$")]
Colour = Annotated[str, Field(pattern=r"^#[0-9a-f]{6}$")]
Unit = Annotated[float, Field(ge=0, le=1)]
Metres = Annotated[float, Field(ge=-20000, le=20000)]
ReadingName = Annotated[str, Field(pattern=r"^[a-z_]{1,40}$")]
Number = Annotated[float, Field(ge=-1e12, le=1e12)]
Fade = Annotated[float, Field(ge=0, le=1e12)]


class Part(BaseModel):
    """Every part of the document: unknown keys are refused, numbers are finite."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, frozen=True)


class Ground(Part):
    """The heightmap and its real-world measures.

    ``heights`` *stored*: samples are metres. *range*: the file's lowest and highest samples stand for ``low`` and
    ``high``. ``spacing_x`` and ``spacing_y`` are metres between neighbouring samples.
    """

    asset: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    file_name: Name
    file_format: Literal["png", "tiff", "raw16"]
    depth: str
    byte_order: Literal["little", "big"] | None = None
    rows: Annotated[int, Field(ge=8, le=8193)]
    cols: Annotated[int, Field(ge=8, le=8193)]
    stored_low: float
    stored_high: float
    heights: Literal["stored", "range"] = "range"
    low: Metres = 0.0
    high: Metres = 100.0
    spacing_x: Annotated[float, Field(gt=0, le=10000)] = 1.0
    spacing_y: Annotated[float, Field(gt=0, le=10000)] = 1.0
    water: Metres | None = None
    slope_width: Annotated[float, Field(gt=0, le=10000)] | None = None

    @property
    def home(self) -> Grid:
        return Grid(self.rows, self.cols, self.spacing_y, self.spacing_x, "vertex")

    @property
    def lowest(self) -> float:
        """Metres at the lowest sample."""
        return self.stored_low if self.heights == "stored" else self.low

    @property
    def highest(self) -> float:
        return self.stored_high if self.heights == "stored" else self.high

    @property
    def width_of_slope(self) -> tuple[float, float]:
        """(y, x) metres over which slope is measured: the home spacing unless a width is set."""
        w = self.slope_width or 0.0
        return (max(w, self.spacing_y), max(w, self.spacing_x))


class Band(Part):
    """Ground where a reading lies between two edges, fading outside; on log readings fades are doublings."""

    kind: Literal["band"] = "band"
    reading: ReadingName
    low: Number
    high: Number
    fade_low: Fade = 0.0
    fade_high: Fade = 0.0
    smooth: bool = False


class MaskUse(Part):
    """Another mask, as it comes out of its own recipe."""

    kind: Literal["mask"] = "mask"
    mask: Id


Source = Annotated[Band | MaskUse, Field(discriminator="kind")]


class _Line(Part):
    id: Id
    muted: bool = False


class _Combining(_Line):
    source: Source
    strength: Unit = 1.0


class Take(_Combining):
    verb: Literal["take"] = "take"


class LeaveOut(_Combining):
    verb: Literal["leave_out"] = "leave_out"


class KeepWithin(_Combining):
    verb: Literal["keep_within"] = "keep_within"


class TurnOver(_Line):
    verb: Literal["turn_over"] = "turn_over"


class Levels(_Line):
    verb: Literal["levels"] = "levels"
    in_low: Unit = 0.0
    in_high: Unit = 1.0
    middle: Annotated[float, Field(ge=0.05, le=20)] = 1.0
    out_low: Unit = 0.0
    out_high: Unit = 1.0


Line = Annotated[Take | LeaveOut | KeepWithin | TurnOver | Levels, Field(discriminator="verb")]


class Mask(Part):
    id: Id
    name: Name
    lines: Annotated[tuple[Line, ...], Field(max_length=200)] = ()


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
    reading: ReadingName
    black: Number
    white: Number


ChannelSource = Annotated[
    WeightSource | BaseSource | RestSource | MaskSource | ReadingSource, Field(discriminator="kind")
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

    def source(self, channel: Channel) -> WeightSource | BaseSource | RestSource | MaskSource | ReadingSource | None:
        return {"r": self.r, "g": self.g, "b": self.b, "a": self.a}[channel]


class Delivery(Part):
    """Where the maps go and at what size; ``pattern`` names the files."""

    target: Id = "block-grid"
    rows: Annotated[int, Field(ge=8, le=8193)]
    cols: Annotated[int, Field(ge=8, le=8193)]
    height_format: Literal["png16", "raw16"] = "png16"
    pattern: Annotated[str, Field(min_length=1, max_length=80, pattern=r"^[A-Za-z0-9_{}-]+$")] = "{project}_{map}"


class Project(Part):
    """Everything an artist decided; what can be computed from it is not in it."""

    version: Literal[1] = 1
    name: Name
    ground: Ground
    masks: Annotated[tuple[Mask, ...], Field(max_length=200)] = ()
    base: BaseLayer = BaseLayer()
    layers: Annotated[tuple[Layer, ...], Field(max_length=64)] = ()
    sheets: Annotated[tuple[Sheet, ...], Field(max_length=64)] = ()
    delivery: Delivery

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
