"""What travels through the API about jobs, deliveries and fit checks."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from ninja import Schema
from pydantic import Field

from zigzag_meadow.core.fit.typed import Typed
from zigzag_meadow.core.targets.tiles import MOST_TILES


class JobOut(Schema):
    id: str
    kind: Literal["delivery", "fit", "finals"]
    state: Literal["waiting", "running", "done", "failed", "cancelled"]
    attempt: int
    progress: float
    message: str
    error: dict[str, Any] | None
    cancel: bool
    number: int | None
    created_at: datetime
    started_at: datetime | None
    finished_at: datetime | None


class FileOut(Schema):
    """A delivered file; ``key``: what its map is known by."""

    file: str
    bytes: int
    key: str


class FindingOut(Schema):
    """``place``: (top, left, bottom, right) as shares of the map; ``remedy``: what mends it; ``steps``: of preparation
    that would take it into the project."""

    kind: str
    severity: Literal["error", "attention"]
    file: str
    message: str
    fix: str
    title: str = ""
    share: float | None = None
    numbers: dict[str, Any] = Field(default_factory=dict)
    place: tuple[float, float, float, float] | None = None
    remedy: Literal["deliver", "steps", "outside"] = "deliver"
    steps: list[dict[str, Any]] = Field(default_factory=list)
    typed: bool = False


class FactOut(Schema):
    title: str
    good: bool
    result: str
    detail: str


class CheckPointOut(Schema):
    title: str
    east: float
    north: float
    height: float
    strongest: str = ""


class MapStateOut(Schema):
    """One map of a delivery as the fit check found it; ``shown``: the name of its pictures, where there are any;
    ``full``: stored full scale."""

    of: str
    title: str
    kind: str
    files: list[str]
    state: Literal["exact", "unchanged", "wrong", "unread"]
    words: str
    compared: Literal["samples", "manifest", "no"]
    exact: float | None
    worst: float | None
    mean: float | None
    metres: tuple[float, float] | None
    channels: list[str]
    shown: str
    full: float


class TypedNumberOut(Schema):
    """A number that is typed at the target: as the note has it, and what was typed instead."""

    name: str
    title: str
    unit: str
    value: float
    typed: float | None = None
    off: bool = False


class FitIn(Schema):
    """``typed``: what was typed there and read off."""

    typed: Typed | None = None


class DeliverIn(Schema):
    """``only``: of the items these alone; ``then_fit``: check the fit once they are there. ``tiles``: only these tiles
    of the height, as (column from the west, row from the north) from 0, and what lies over them: as a trial, or
    ``again`` beside all others that an earlier delivery wrote."""

    only: Annotated[list[Annotated[str, Field(max_length=120)]], Field(min_length=1, max_length=400)] | None = None
    then_fit: bool = False
    tiles: (
        Annotated[
            list[Annotated[list[Annotated[int, Field(ge=0, le=8192)]], Field(min_length=2, max_length=2)]],
            Field(min_length=1, max_length=MOST_TILES),
        ]
        | None
    ) = None
    again: bool = False


class PlaceIn(Schema):
    """``over``: names of files that may be replaced although they are not ours, as the person was asked."""

    over: tuple[str, ...] = ()


class PlaceName(Schema):
    """A folder below one of those allowed at the start, by that one's number."""

    folder: Annotated[int, Field(ge=0)]
    name: Annotated[str, Field(max_length=400)]


class PlaceOut(Schema):
    folder: int
    name: str
    root: str


class ChosenPlaceOut(Schema):
    folder: int
    name: str


class DestinationOut(Schema):
    """``allowed``: whether there is a folder to deliver into."""

    allowed: bool
    chosen: ChosenPlaceOut | None
    places: list[PlaceOut]


class PlacedOut(Schema):
    """What came of putting files into a folder; ``way``: names that are not ours there."""

    folder: str
    written: int
    same: int
    trouble: str | None
    way: list[str]


class FitOut(Schema):
    fits: bool
    files: int
    compared_in_full: bool
    findings: list[FindingOut]
    facts: list[FactOut]
    maps: list[MapStateOut] = Field(default_factory=list)
    check_points: list[CheckPointOut]
    typed: list[TypedNumberOut] = Field(default_factory=list)
    typed_in: Typed = Typed()
    height_step: float
    height_error_steps: float | None
    target: str = ""


class SettingOut(Schema):
    """A setting of the target that must be neutral."""

    setting: str
    to: str
    because: str


class TypedOut(Schema):
    """What is typed from a note, and what can be read off there: ``layers`` by title."""

    numbers: list[TypedNumberOut]
    settings: list[SettingOut]
    places: list[CheckPointOut]
    layers: list[str]


class DeliveryOut(Schema):
    """A delivery; ``maps``: how many of its files are maps; ``only``: the items it was limited to; ``check``: the
    newest fit check while it waits or runs, and when it failed; ``kept``: why it is not cleared, in words (empty: it is
    among the newest)."""

    number: int
    name: str
    kept: str
    revision: int
    job: JobOut
    files: list[FileOut]
    maps: int
    only: list[str]
    tiles: list[list[int]]
    again: bool
    placed: PlacedOut | None
    folder: str
    fit: FitOut | None
    fit_at: datetime | None
    check: JobOut | None


class DeliveryName(Schema):
    """What the artist calls a delivery; empty: nothing."""

    name: Annotated[str, Field(max_length=60, pattern=r"^[^\x00-\x1f]*$")]


class AlignedOut(Schema):
    """How a map lies on a height: see :class:`~zigzag_meadow.core.fit.foreign.align.Alignment`. ``ground``, ``laid``:
    pictures of the height and of the map as it lies on it; ``own``: the height is the project's."""

    orientation: str
    happened: str
    cure: str
    top: float
    left: float
    down: float
    across: float
    south: float
    east: float
    scale: tuple[float, float]
    confidence: float
    belong: bool
    says: str
    same_kind: tuple[float, float, float] | None
    asset: str
    name: str
    height: str
    own: bool
    rows: int
    columns: int
    channels: int
    ground: str
    laid: str


class LayIn(Schema):
    """A map that was aligned, and how it lies."""

    asset: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    name: Annotated[str, Field(min_length=1, max_length=200)]
    orientation: Annotated[str, Field(max_length=40)]
    top: Annotated[float, Field(ge=-10, le=10, allow_inf_nan=False)]
    left: Annotated[float, Field(ge=-10, le=10, allow_inf_nan=False)]
    down: Annotated[float, Field(ge=0.05, le=20, allow_inf_nan=False)]
    across: Annotated[float, Field(ge=0.05, le=20, allow_inf_nan=False)]


class LaidOut(Schema):
    """A map as it lies on the ground; ``exact``: no sample was changed."""

    asset: str
    name: str
    kind: str
    samples: str
    exact: bool
