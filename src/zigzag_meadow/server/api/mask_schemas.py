"""What travels through the API about recipes, drawn lines, scatter and kits."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from ninja import Schema
from pydantic import Field

from zigzag_meadow.core.masks.strokes import Stroke
from zigzag_meadow.core.parts import AssetId, Id, Name, Place, ReadingId
from zigzag_meadow.core.project.edits.operations import Operation
from zigzag_meadow.core.project.model.features import Feature
from zigzag_meadow.core.project.model.kinds import SlotKind
from zigzag_meadow.core.project.model.recipe import Line
from zigzag_meadow.core.readings.uses import Band
from zigzag_meadow.server.api.delivery_schemas import JobOut
from zigzag_meadow.server.api.schemas import ChoiceOut, WorstPlaceOut


class SlotOut(Schema):
    """What stands in one place of a sentence and how it is edited; ``value``: what a new one begins with."""

    name: str
    kind: SlotKind
    title: str
    unit: str
    step: float
    decimals: int
    low: float
    high: float
    value: float | str | None
    whole: bool
    choices: list[ChoiceOut]
    none: str
    some: str
    start: Literal["", "band", "mapped", "full"]
    lead: str
    where: list[str] | None


class LineKindOut(Schema):
    """A kind of line. ``sentence``: how it reads, slots in braces, the verb between asterisks; ``fresh``: the fields of
    a new one that need no choice; ``holds``: the share of the ground that the band of a new one holds."""

    verb: str
    title: str
    family: Literal["combine", "tone", "area", "breakup", "hand", "reuse"]
    hint: str
    sentence: str
    slots: list[SlotOut]
    bound: bool
    in_piece: bool
    offered: bool
    holds: float
    fresh: dict[str, Any]


class StepKindOut(Schema):
    """A kind of step of preparation. ``makes_grid``: acts on all of the ground; ``moves``: before and after cannot be
    laid one on the other; ``tool``: what is drawn, or brought in, before it is added; ``shows``: a reading whose
    histograms before and after tell what it did."""

    kind: str
    title: str
    hint: str
    sentence: str
    slots: list[SlotOut]
    makes_grid: bool
    graded: bool
    moves: bool
    fills: bool
    tool: Literal["", "rectangle", "heightmap"]
    shows: str
    fresh: dict[str, Any]


class StrokesIn(Schema):
    asset: AssetId | None = None
    keep: Annotated[int, Field(ge=0)] | None = None
    strokes: Annotated[list[Stroke], Field(max_length=200)] = Field(default_factory=list)


class StrokesOut(Schema):
    asset: str
    count: int


class FinalOut(Schema):
    """How a mask differs at the delivered size; differences are 0–1, places metres from the north-west corner."""

    rows: int
    cols: int
    worst: float
    mean: float
    share: float
    east: float
    south: float
    line: int | None
    reason: str | None
    places: list[WorstPlaceOut]


class FinalsIn(Schema):
    """By how much draft and final may differ before a place is listed."""

    least: Annotated[float, Field(ge=0.01, le=1)] = 0.1


class FinalOfMask(FinalOut):
    """A mask at the delivered size; ``key``: what the draft that it was compared with is known by."""

    mask: str
    key: str


class FinalsOut(Schema):
    """The newest comparison of draft and final of all masks, and the job that makes the next one."""

    least: float
    revision: int | None
    masks: list[FinalOfMask]
    job: JobOut | None


class BandsOut(Schema):
    edges: list[float]
    shares: list[float]


class TogetherOut(Schema):
    none: float
    one: float
    more: float


class MarksIn(Schema):
    """Places in metres east and south of the north-west corner."""

    inside: Annotated[list[Place], Field(max_length=200)]
    outside: Annotated[list[Place], Field(max_length=200)]


class ProposalOut(Schema):
    lines: list[Line]
    apart: float
    wrong_in: list[int]
    wrong_out: list[int]


class TraceIn(Schema):
    way: Literal["contour", "flow"]
    east: float
    south: float
    length: Annotated[float, Field(gt=0, le=100000)] = 2000.0


class TraceOut(Schema):
    points: list[Place]
    closed: bool


class FeaturesOut(Schema):
    features: list[Feature]


class TakenBackOut(Schema):
    """A mask that came back: its file, kept aside, and how it compares with the mask as it was sent out; ``since``: the
    revision of that, where the file's name tells; else as it is now."""

    asset: str
    name: str
    rows: int
    columns: int
    samples: Literal["border", "cells"]
    sized: bool
    alike: float
    turn: float
    flip: Literal["none", "east_west", "north_south"]
    changed: float
    mean: float
    says: str
    since: int | None


class CameBack(Schema):
    """A mask that came back and how it lies."""

    asset: AssetId
    name: Annotated[str, Field(max_length=200)]
    turn: Annotated[float, Field(ge=0, lt=360)] = 0.0
    flip: Literal["none", "east_west", "north_south"] = "none"
    samples: Literal["border", "cells"] = "border"


class ChangedOut(Schema):
    """What was changed in a mask that came back: a picture that a line lays over; ``added``, ``removed``: shares of the
    ground."""

    asset: str
    added: float
    removed: float
    since: int | None


class FinishedOut(Schema):
    """One file of a folder of finished masks. ``mask``: the mask it is named like; ``problem``: why it is no mask."""

    file: str
    asset: str | None
    title: str
    rows: int
    columns: int
    samples: Literal["border", "cells"]
    mask: str | None
    problem: str | None
    remark: str | None


class FlatGround(Schema):
    """A ground without a heightmap: level, at 0 m."""

    name: Name
    width: Annotated[float, Field(gt=0, le=200000)]
    length: Annotated[float, Field(gt=0, le=200000)]
    samples: Annotated[int, Field(ge=65, le=8193)] = 1009


class KitOut(Schema):
    id: str
    name: str
    note: str
    own: bool
    masks: list[str]
    pieces: list[str]
    layers: list[str]
    coats: list[str]
    sheets: list[str]
    low: float
    high: float
    water: float | None


class KitIn(Schema):
    """Save masks, pieces and parts of the painting of a project as a kit."""

    project: str
    name: Name
    note: Annotated[str, Field(max_length=400)] = ""
    masks: Annotated[list[Id], Field(max_length=200)] = Field(default_factory=list)
    pieces: Annotated[list[Id], Field(max_length=100)] = Field(default_factory=list)
    layers: bool = False
    coats: bool = False
    sheets: bool = False


class SavedKitOut(Schema):
    kit: KitOut
    left: list[str]


class UseKit(Schema):
    base: int
    tab: Annotated[str, Field(max_length=64)]
    rescale: bool = False


class ChangeOut(Schema):
    """How a range would be moved to another ground's heights."""

    mask: str
    line: int
    before: str
    after: str


class KitPlanOut(Schema):
    low: float
    high: float
    water: float | None
    changes: list[ChangeOut]


class OfferOut(Schema):
    """A number that would bring a place in or out: the field of what the line reads, the value, and what it does."""

    field: str
    value: float
    says: str


class ReadHereOut(Schema):
    """What a line reads at a place. ``mask``: the other mask that it reads."""

    field: str
    strength: float
    says: str
    mask: str | None
    offers: list[OfferOut]


class LineHereOut(Schema):
    """A line at a place; ``decides``: it is the one that made the place what it is."""

    id: str
    number: int
    title: str
    muted: bool
    before: float
    after: float
    decides: bool
    reads: list[ReadHereOut]


class MaskHereOut(Schema):
    """A mask at a place of the home grid, line by line."""

    mask: str
    name: str
    strength: float
    says: str
    lines: list[LineHereOut]


class PointsPreviewIn(Schema):
    """Points as they would be after operations that are not saved."""

    tab: Annotated[str, Field(max_length=64)]
    slot: Annotated[str, Field(max_length=40)]
    sequence: int
    operations: Annotated[list[Operation], Field(max_length=600)]


class RecipeText(Schema):
    """A recipe as plain text."""

    text: Annotated[str, Field(max_length=200_000)]


class RecipeLines(Schema):
    """The lines that a text stands for."""

    lines: list[Line]


class FitBandIn(Schema):
    """A reading that a line is to read, and the band it had before, or the share of the ground that a first one is to
    hold. ``steps``: measured on the ground after so many steps of preparation; all of them when left out."""

    reading: ReadingId
    before: Band | None = None
    holds: Annotated[float, Field(gt=0, lt=1)] = 0.3
    steps: Annotated[int | None, Field(ge=0, le=999)] = None


class FittedOut(Schema):
    """A band that fits, ends for a mapping, and the share of the ground that the band holds."""

    low: float
    high: float
    fade_low: float
    fade_high: float
    black: float
    white: float
    share: float
