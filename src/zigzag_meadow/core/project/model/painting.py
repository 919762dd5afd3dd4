"""What the painting waypoints hold: layers and what they wear, how they share, merges, brush strokes, coats."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal, Union

from pydantic import Field

from zigzag_meadow.core.colour.coats.base import BaseCoat
from zigzag_meadow.core.colour.coats.catalogue import COATS
from zigzag_meadow.core.looks.model import Dressing, Size
from zigzag_meadow.core.masks.sources import Source
from zigzag_meadow.core.parts import AssetId, Colour, Id, Name, Part, Unit
from zigzag_meadow.core.project.model.recipe import Exposed

__all__ = ["BASE", "BaseLayer", "Coat", "CoatPiece", "HowShared", "Layer", "LayerStrokes", "Merge", "Mixing"]

BASE = "base"
"""The id of the base among layers."""
HowShared = Literal["cover", "by_strength", "relief_led"]
"""Keys of :data:`zigzag_meadow.core.layers.sharing.SHARINGS`."""

if TYPE_CHECKING:
    Coat = BaseCoat
else:
    Coat = Annotated[Union[tuple(COATS)], Field(discriminator="kind")]  # noqa: UP007 (made of a list)


class Layer(Part):
    """A kind of ground laid over those below it where its mask (or one ``band`` of it, from 0) says so."""

    id: Id
    name: Name
    mask: Id | None = None
    band: Annotated[int, Field(ge=0, le=15)] | None = None
    strength: Unit = 1.0
    colour: Colour
    muted: bool = False
    dressing: Dressing = Dressing()


class BaseLayer(Part):
    name: Name = "Base"
    colour: Colour = "#7d8a5c"
    dressing: Dressing = Dressing()


class Mixing(Part):
    """How layers share. ``depth``: metres over which layers meet where relief leads; ``one_size``: metres across of
    every texture, each its own when left out."""

    sharing: HowShared = "cover"
    depth: Annotated[float, Field(gt=0, le=100)] = 0.1
    one_size: Size | None = None


class Merge(Part):
    """Layers that count as one: its weight is the sum of theirs, its look is theirs blended by ``shares``, the part
    of the ground that each covered when they were merged."""

    id: Id
    name: Name
    layers: Annotated[tuple[Id, ...], Field(min_length=2, max_length=64)]
    shares: tuple[Unit, ...]
    colour: Colour


class LayerStrokes(Part):
    """Brush strokes after sharing, that raise (or lower) one layer or the base; ``only``: where they act."""

    id: Id
    layer: Id
    asset: AssetId
    count: Annotated[int, Field(ge=0, le=100000)] = 0
    only: Source | None = None
    muted: bool = False


class CoatPiece(Part):
    """A run of coats under a name, with the numbers that its users may set."""

    id: Id
    name: Name
    note: Annotated[str, Field(max_length=400)] = ""
    coats: Annotated[tuple[Coat, ...], Field(min_length=1, max_length=40)]
    exposed: Annotated[tuple[Exposed, ...], Field(max_length=16)] = ()

    @property
    def lines(self) -> tuple[Coat, ...]:
        """Its parts, as those of any piece."""
        return self.coats
