"""What travels through the API."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from zigzag_meadow.core.formats.layout import FileFormat, RgbCode, SampleType
from zigzag_meadow.core.parts import AssetId, Name
from zigzag_meadow.core.project.edits.operations import Operation


class ProblemOut(Schema):
    """Problem details (RFC 7807) with a code for machines and a sentence for people."""

    type: str
    title: str
    status: int
    code: str
    detail: str
    field: str | None = None


class GridOut(Schema):
    rows: int
    cols: int
    spacing_x: float
    spacing_y: float
    registration: Literal["vertex", "area"]
    width: float
    length: float


class SizeOut(Schema):
    rows: int
    columns: int


class ProjectCard(Schema):
    """A project on the shelf."""

    id: str
    name: str
    revision: int
    updated_at: datetime
    rows: int
    cols: int
    width: float
    length: float
    layers: int
    bytes: int
    trouble: str | None


class WorstPlaceOut(Schema):
    """A place: metres from the north-west corner, by how much, and the share of the ground that belongs to it."""

    east: float
    south: float
    by: float
    share: float


class Caution(Schema):
    """What to know before delivering; ``short`` says it in two or three words."""

    waypoint: str
    message: str
    short: str


class ChannelSeenOut(Schema):
    """One channel of an image: 0–1, the earlier channel that holds the same, a small picture."""

    channel: Literal["r", "g", "b", "a"]
    low: float
    high: float
    mean: float
    same: str
    picture: str


class ApartOut(Schema):
    """A packed image: what its channels hold, what alpha does to them, and what its samples are taken for."""

    asset: str
    name: str
    rows: int
    cols: int
    bits: int
    channels: list[ChannelSeenOut]
    alpha: str
    samples: Literal["border", "cells"]


class ChoiceOut(Schema):
    value: str
    label: str


class ParamOut(Schema):
    """A number, a choice or a map that a reading takes, with the value it has in this project."""

    name: str
    title: str
    unit: str
    kind: Literal["number", "choice", "map", "file", "picture", "colour"]
    value: float | str
    default: float | str
    low: float
    high: float
    step: float
    decimals: int
    choices: list[ChoiceOut]


class ReadingOut(Schema):
    """A reading of a project. ``name`` is its id; ``numbers_of`` the id under which its numbers are kept.

    ``own``: made by the artist, one more of its ``kind``. ``left``: by a step of preparation; ``trouble``: why it is
    empty.
    """

    name: str
    kind: str
    numbers_of: str
    own: bool
    left: bool
    trouble: str | None
    key: str
    title: str
    ramp: str
    wraps: bool
    signed: bool
    at_other_sizes: Literal["agrees", "home", "fine"]
    params: list[ParamOut]
    family: str
    unit: str
    scale: Literal["linear", "log"]
    decimals: int
    low: float | None
    high: float | None
    whole_ground: bool
    sentence: str
    good_for: str
    ramp_high: list[float] | None
    ramp_all: bool
    open_end: bool
    more: str
    less: str
    above: bool
    light: bool
    first: bool
    probed: bool
    steers: bool


class OddityOut(Schema):
    code: str
    severity: Literal["note", "attention"]
    message: str


class UseOut(Schema):
    """``user`` uses ``used`` (both by kind and id), of a mask perhaps one ``band``; ``words``: where."""

    user: str
    used: str
    words: str
    band: int | None


class PlacementOut(Schema):
    """What a file says about the real world."""

    spacing_x: float
    spacing_y: float
    registration: Literal["vertex", "area"]
    metres: bool
    says: str


class InspectionOut(Schema):
    """A heightmap that was looked at and kept aside, not yet a project. ``code_ends``: what black and white of its
    format are stored as; None where it tells heights in a code of its own."""

    asset: str
    name: str
    format: FileFormat
    rows: int
    columns: int
    depth: str
    byte_order: Literal["little", "big"] | None
    sample: SampleType | None
    header: int
    channel: str | None
    channels: list[str]
    code: RgbCode | None
    nodata: float | None
    voids: int
    placement: PlacementOut | None
    low: float
    high: float
    levels: int
    sizes: list[SizeOut]
    code_ends: list[float] | None
    findings: list[OddityOut]


class FileLayout(Schema):
    """A heightmap that was brought in, and how to read it where it does not say so itself."""

    asset: AssetId
    name: Annotated[str, Field(max_length=200)]
    rows: int | None = None
    columns: int | None = None
    byte_order: Literal["little", "big"] | None = None
    header: Annotated[int, Field(ge=0, le=2**31)] = 0
    sample: SampleType | None = None
    channel: Annotated[str | None, Field(max_length=60)] = None
    code: RgbCode | None = None
    nodata: float | None = None


class ChangeIn(Schema):
    """Another heightmap that is not yet taken over. ``hold``: what keeps its metres, all stored *codes* or the lowest
    and highest sample; left out, as the ground has it."""

    source: FileLayout
    keep: Literal["extent", "spacing"] = "extent"
    hold: Literal["codes", "ends"] | None = None


class ReplaceIn(ChangeIn):
    """Another heightmap under a project, on a base revision."""

    base: int
    tab: Annotated[str, Field(max_length=64)]


class TaskOut(Schema):
    """A long computation under way; ``bytes``: memory that it may use."""

    key: str
    title: str
    share: float
    seconds: float
    seconds_left: float | None
    bytes: int


class ProfileOut(Schema):
    """A map and the height along a line: metres along it, and values (null where there is none)."""

    name: str
    along: list[float]
    heights: list[float | None]
    values: list[float | None]


class PictureOut(Schema):
    """A picture kept aside; ``kind``: the kind of reading that lays it over the ground. ``samples``: what its samples
    most likely are, and ``says`` what that means."""

    asset: str
    name: str
    rows: int
    columns: int
    channels: int
    kind: str
    samples: Literal["border", "cells"]
    says: str


class NewProject(Schema):
    """Make a project of an inspected heightmap with its real-world measures."""

    name: Name
    source: FileLayout
    heights: Literal["stored", "range", "step", "ends"]
    low: float = 0.0
    high: float = 100.0
    metres_a_step: float = 1.0
    at_zero: float = 0.0
    at_black: float = 0.0
    at_white: float = 100.0
    spacing_x: float
    spacing_y: float
    samples: Literal["border", "cells"] = "border"
    water: float | None = None


class StepIn(Schema):
    """Undo or redo, on the revision that was looked at."""

    base: int


class EditIn(Schema):
    """Operations on a base revision, applied as one revision or not at all.

    ``merge`` names the token of a key step; ``joins``: whether it was made within a second of the last step on it, as
    whoever made it knows (left out, the time of saving decides). ``id``: of the edit; sent again under the same one, it
    is made once.
    """

    base: int
    tab: Annotated[str, Field(max_length=64)]
    merge: Annotated[str, Field(max_length=120)] = ""
    joins: bool | None = None
    id: Annotated[str, Field(max_length=40, pattern=r"^[A-Za-z0-9-]+$")] | None = None
    operations: Annotated[list[Operation], Field(min_length=1, max_length=600)]


class PreviewIn(Schema):
    """A map as it would be after operations that are not saved. Older requests of a slot stop for newer ones. ``size``:
    samples on the longer side; ``draft``: measured on a smaller ground, for pictures of what takes long; ``part``: a
    rectangle of the ground only, its west, north, east and south as shares of the whole. ``shown``: so many samples on
    the longer side are seen while the hand moves, readings are reduced to them."""

    tab: Annotated[str, Field(max_length=64)]
    slot: Annotated[str, Field(max_length=40)]
    sequence: int
    operations: Annotated[list[Operation], Field(max_length=600)]
    map: Annotated[str, Field(max_length=200)]
    size: Annotated[int | None, Field(ge=16, le=1025)] = None
    shown: Annotated[int | None, Field(ge=16, le=1025)] = None
    draft: bool = False
    part: Annotated[list[Annotated[float, Field(ge=0, le=1)]], Field(min_length=4, max_length=4)] | None = None


class StatsOut(Schema):
    """A map's numbers on the reference grid; ``counts`` are shares of the samples a bin."""

    name: str
    low: float
    high: float
    mean: float
    below_90: float
    scale: Literal["linear", "log"]
    counts: list[float]
    beyond: str | None = None
    bin_low: float
    bin_high: float
    area: float
    why: str | None = None


class ProbeOut(Schema):
    """Exact values of maps at one sample of the home grid."""

    row: int
    col: int
    east: float
    north: float
    values: dict[str, float | None]
