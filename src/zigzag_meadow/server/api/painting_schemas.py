"""What travels through the API about layers, looks and coats."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from ninja import Schema
from pydantic import Field

from zigzag_meadow.core.evaluate.painted_file import Depth
from zigzag_meadow.core.looks.model import Look, MapKind
from zigzag_meadow.core.masks.sources import MaskUse
from zigzag_meadow.core.parts import Id, Place
from zigzag_meadow.core.project.model.painting import Layer
from zigzag_meadow.server.api.mask_schemas import SlotOut
from zigzag_meadow.server.api.schemas import ChoiceOut


class CoatKindOut(Schema):
    """A kind of coat. ``sentence``: how it reads, slots in braces, its name between asterisks; ``fresh``: the fields of
    a new one."""

    kind: str
    title: str
    family: Literal["ground", "change", "wear"]
    hint: str
    sentence: str
    slots: list[SlotOut]
    fresh: dict[str, Any]


class LookOut(Schema):
    """A look that a layer can wear. ``own``: brought in; ``told``: what should be known about it; ``maps``: which maps
    it has; ``missing``: its files are gone."""

    id: str
    name: str
    own: bool
    size: float
    mean: str
    maps: list[MapKind]
    told: list[str]
    missing: bool


class SharingOut(Schema):
    """A way in which layers share. ``by_relief``: by the relief of their textures, over a depth."""

    value: str
    label: str
    sentence: str
    by_relief: bool


class OutcomeOut(Schema):
    """What comes out of sharing under one name; ``index``: its number in the index map of the strongest."""

    id: str
    name: str
    colour: str
    members: list[str]
    index: int


class TroubleOut(Schema):
    """Why a layer or a coat does nothing, in a sentence."""

    id: str
    text: str


class PaintedSizeOut(Schema):
    """A size that a colour map may be written at."""

    rows: int
    cols: int
    registration: Literal["vertex", "area"]
    title: str


class PaintingOut(Schema):
    """Everything the pages of layers and colour need that is not in the document."""

    coats: list[CoatKindOut]
    surface: list[SlotOut]
    surface_maps: list[ChoiceOut]
    looks: list[LookOut]
    sharings: list[SharingOut]
    outcomes: list[OutcomeOut]
    troubles: list[TroubleOut]
    sizes: list[PaintedSizeOut]
    depths: list[ChoiceOut]
    pictures: list[ChoiceOut]


class LayerShareOut(Schema):
    """Shares of the ground: before sharing, after it, and where it is the strongest."""

    id: str
    name: str
    colour: str
    before: float | None
    after: float
    strongest: float


class BlocksOut(Schema):
    """Layers a block of the target, row by row."""

    rows: int
    cols: int
    counts: list[int]
    most: int
    over: int


class LayerReportOut(Schema):
    """What layers come to: shares, overlap, sums, the target's budgets."""

    layers: list[LayerShareOut]
    overlap: float
    total: int
    allowed: int
    sum_error: float
    blocks: BlocksOut | None


class LayerHereOut(Schema):
    """A layer at a place, from its mask to what is left of it."""

    id: str
    name: str
    strength: float
    covered: float
    shared: float
    share: float
    says: str


class CoatHereOut(Schema):
    """A coat at a place: how strongly it lies, and the colour after it."""

    id: str
    title: str
    lies: float
    colour: str


class WhyOut(Schema):
    """Why a place is the ground and the colour that it is: layers from the top, coats from the bottom."""

    layers: list[LayerHereOut]
    coats: list[CoatHereOut]


class LayersOfIn(Schema):
    """Masks and bands that layers are to be made of, bottom first."""

    masks: Annotated[list[MaskUse], Field(min_length=1, max_length=64)]


class LayersOfOut(Schema):
    """Layers that were proposed. ``adds_up``: the masks are weights that add up to 1 already."""

    layers: list[Layer]
    adds_up: bool
    says: str


class TextureFileOut(Schema):
    """A texture that was brought in. ``kind``: which map it is; ``mean``, ``seam``: of a look whose colour it is;
    ``problem``: why it could not be read."""

    file: str
    asset: str | None
    kind: MapKind | None
    rows: int
    cols: int
    mean: str
    seam: float
    told: list[str]
    problem: str | None


class TextureSetOut(Schema):
    """Textures that go together. ``look``: the set as a look, None without an albedo; ``layer``: the layer it goes
    with by name."""

    name: str
    look: Look | None
    layer: str | None
    files: list[TextureFileOut]


class StopOut(Schema):
    """A colour at a place along a ramp."""

    at: float
    colour: str


class StopsIn(Schema):
    """Where a ramp's colours come from: a picture (the id of its reading) or the colour map; along a line of places, or
    its main colours without one."""

    picture: Id | None = None
    line: Annotated[list[Place], Field(min_length=2, max_length=200)] | None = None
    count: Annotated[int, Field(ge=2, le=24)] = 5


class PaintedQuery(Schema):
    """How a colour or surface map is written."""

    rows: int
    cols: int
    registration: Literal["vertex", "area"] = "vertex"
    depth: Depth = "8"
