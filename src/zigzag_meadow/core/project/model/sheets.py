"""Sheets of the document: one output image, and what goes into each of its channels."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.colour.surface import SurfaceMap
from zigzag_meadow.core.parts import Id, Name, Number, Part, ReadingId, Unit

__all__ = [
    "CHANNELS",
    "COLOURS",
    "BandSource",
    "BaseSource",
    "Channel",
    "ChannelSource",
    "ConstantSource",
    "MapPart",
    "Mapping",
    "MaskSource",
    "PaintedSource",
    "ReadingSource",
    "RestSource",
    "ScatterSource",
    "Sheet",
    "SheetLayout",
    "StepSource",
    "WeightSource",
]


class _Source(Part):
    """``turned``: written the other way round, full scale minus what it is."""

    turned: bool = False


class WeightSource(_Source):
    kind: Literal["weight"] = "weight"
    layer: Id


class BaseSource(_Source):
    """The weight of the base over all layers."""

    kind: Literal["base"] = "base"


class RestSource(_Source):
    """Full scale minus the other channels of this sheet."""

    kind: Literal["rest"] = "rest"


class StepSource(_Source):
    """The blend step of a layer, for a target that lays one ground over the other."""

    kind: Literal["step"] = "step"
    layer: Id


class MaskSource(_Source):
    kind: Literal["mask"] = "mask"
    mask: Id


class BandSource(_Source):
    """One band, from 0, of a mask that is cut into bands."""

    kind: Literal["band"] = "band"
    mask: Id
    band: Annotated[int, Field(ge=0, le=15)]


Mapping = Literal["own", "even", "log", "stretch", "signed", "east", "north"]
"""How a reading becomes 0–1. *own*: from black to white, on the logarithm where the reading has one. *even*, *log*: the
same, one or the other. *stretch*: between what all but a hundredth of the ground lies. *signed*: 0 in the middle, white
and minus white at the ends. *east*, *north*: of a direction, that part of an arrow of length 1, signed."""


class ReadingSource(_Source):
    """A reading between what black and what white stand for, in its own unit."""

    kind: Literal["reading"] = "reading"
    reading: ReadingId
    black: Number
    white: Number
    mapping: Mapping = "own"


class ScatterSource(_Source):
    """How densely something is scattered, white where it is densest."""

    kind: Literal["scatter"] = "scatter"
    scatter: Id


class ConstantSource(_Source):
    """The same number everywhere."""

    kind: Literal["constant"] = "constant"
    value: Unit = 1.0


MapPart = Literal["r", "g", "b"]
COLOURS = {"colour": "Colour map", "colour_middle": "Middle colour map", "colour_far": "Far colour map"}
"""Colour maps by distance, as they are called."""


class PaintedSource(_Source):
    """One part of the colour map for a distance, or of a surface map; those of one part have it as red. *strongest*:
    the number of the layer that is strongest."""

    kind: Literal["painted"] = "painted"
    map: Literal["colour", "colour_middle", "colour_far", "strongest"] | SurfaceMap
    part: MapPart = "r"


ChannelSource = Annotated[
    WeightSource
    | BaseSource
    | RestSource
    | StepSource
    | MaskSource
    | BandSource
    | ReadingSource
    | ScatterSource
    | ConstantSource
    | PaintedSource,
    Field(discriminator="kind"),
]
Channel = Literal["r", "g", "b", "a"]
SheetLayout = Literal["rgba", "rgb", "grey_alpha", "grey"]
CHANNELS: dict[SheetLayout, tuple[Channel, ...]] = {
    "rgba": ("r", "g", "b", "a"),
    "rgb": ("r", "g", "b"),
    "grey_alpha": ("r", "a"),
    "grey": ("r",),
}


class Sheet(Part):
    """``proposed``: a proposal made it, and the next one may take it away again; what was made or changed by hand
    stays."""

    id: Id
    name: Name
    layout: SheetLayout = "rgba"
    bits: Literal[8, 16] = 8
    proposed: bool = False
    r: ChannelSource | None = None
    g: ChannelSource | None = None
    b: ChannelSource | None = None
    a: ChannelSource | None = None

    @property
    def channels(self) -> tuple[Channel, ...]:
        """The channels this sheet has, in file order; grey is red."""
        return CHANNELS[self.layout]

    @property
    def holds_colours(self) -> bool:
        """Whether red, green and blue are those of a colour map: the file is then tagged sRGB."""
        return self.layout == "rgb" and all(
            isinstance(source, PaintedSource) and source.map.startswith("colour") and not source.turned
            for source in (self.r, self.g, self.b)
        )

    def source(self, channel: Channel) -> ChannelSource | None:
        return {"r": self.r, "g": self.g, "b": self.b, "a": self.a}[channel]
