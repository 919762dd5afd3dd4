"""What travels through the API about jobs, deliveries and fit checks."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from ninja import Schema
from pydantic import Field


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
    kind: str
    severity: Literal["error", "attention"]
    file: str
    message: str
    fix: str


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


class DeliverIn(Schema):
    """``only``: of the items these alone."""

    only: Annotated[list[Annotated[str, Field(max_length=120)]], Field(min_length=1, max_length=400)] | None = None


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
    check_points: list[CheckPointOut]
    height_step: float
    height_error_steps: float | None


class DeliveryOut(Schema):
    """A delivery; ``maps``: how many of its files are maps; ``only``: the items it was limited to."""

    number: int
    revision: int
    job: JobOut
    files: list[FileOut]
    maps: int
    only: list[str]
    placed: PlacedOut | None
    folder: str
    fit: FitOut | None
    fit_at: datetime | None
    has_difference: bool
