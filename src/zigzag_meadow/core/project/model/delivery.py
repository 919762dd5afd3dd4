"""What is to be delivered, in the document: the target, the size, names, and what is chosen of single files."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.formats.raw import ByteOrder
from zigzag_meadow.core.parts import Id, Number, Part
from zigzag_meadow.core.targets.map_sizes import FormId, SizeKind
from zigzag_meadow.core.targets.model import NAMES
from zigzag_meadow.core.targets.tile_names import TileNames

__all__ = ["ITEM_OF", "Delivery", "ItemChoice", "OwnSize", "Region", "Resampling", "Turn"]

Side = Annotated[int, Field(ge=8, le=8193)]
Turn = Literal["none", "north_south", "east_west", "both"]
Resampling = Literal["box", "sharp"]
ITEM_OF = (
    r"^(height|colour|colour_middle|colour_far|strongest|classes|holes|"
    r"(sheet|mask|reading|scatter|points|coat|weight|surface|band|look):[a-z0-9_-]{1,60}(:[a-z0-9_]{1,12})?)$"
)


class Region(Part):
    """A part of the ground, for a quick trial: metres east and south of the north-west corner; ``into``: regions a side
    that it is cut into, each a file of a size that the target takes."""

    east: Annotated[float, Field(ge=0, le=1e6)]
    south: Annotated[float, Field(ge=0, le=1e6)]
    width: Annotated[float, Field(gt=0, le=1e6)]
    length: Annotated[float, Field(gt=0, le=1e6)]
    into: Annotated[int, Field(ge=1, le=8)] = 1


class ItemChoice(Part):
    """What is chosen of one item; what is None is as the target has it.

    ``of``: the map. ``deliver``: None where the target decides. ``file``: its name without an ending, with tokens if
    it holds any. ``form``: how it is written. ``rows``, ``cols``: a size of its own. ``ending``, ``order``: of raw
    files. ``packed``: compressed where the form can. ``blocks``: side of tiles inside the file. ``black``, ``white``:
    metres (or the reading's unit) at the ends. ``stored``: heights in floats as metres, 0–1 between the ends, −1–1
    about their middle, or metres about the mean. ``turn``: flips, beyond the target's own. ``alpha``: False strips it.
    ``whole``: in one file where the target has tiles.
    """

    of: Annotated[str, Field(pattern=ITEM_OF)]
    deliver: bool | None = None
    file: Annotated[str, Field(min_length=1, max_length=80, pattern=NAMES)] | None = None
    form: FormId | None = None
    rows: Side | None = None
    cols: Side | None = None
    ending: Annotated[str, Field(pattern=r"^[A-Za-z0-9]{1,12}$")] | None = None
    order: ByteOrder | None = None
    packed: bool = True
    blocks: Literal[0, 128, 256, 512] = 0
    black: Number | None = None
    white: Number | None = None
    stored: Literal["metres", "unit", "signed", "mean"] | None = None
    turn: Turn = "none"
    resampling: Resampling = "box"
    alpha: bool = True
    whole: bool = False


class OwnSize(Part):
    """A size that is chosen for all maps of one kind, where the target leaves it free."""

    kind: SizeKind
    rows: Side
    cols: Side


class Delivery(Part):
    """Where the maps go and at what size. ``pattern``: how files are named, ``tile_names``: how their tiles are
    numbered, both as the target has them when left out; ``sizes``: of kinds of maps; ``items``: what is chosen of
    single ones; ``region``: only a part of the ground is written."""

    target: Id = "block-grid"
    rows: Side
    cols: Side
    pattern: Annotated[str, Field(min_length=1, max_length=80, pattern=NAMES)] | None = None
    tile_names: TileNames | None = None
    sizes: Annotated[tuple[OwnSize, ...], Field(max_length=10)] = ()
    items: Annotated[tuple[ItemChoice, ...], Field(max_length=400)] = ()
    region: Region | None = None

    def choice(self, of: str) -> ItemChoice:
        """What is chosen of an item."""
        return next((item for item in self.items if item.of == of), ItemChoice(of=of))
