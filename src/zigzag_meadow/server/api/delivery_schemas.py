"""What travels through the API about jobs, deliveries and fit checks."""

from __future__ import annotations

from datetime import datetime
from typing import Any, Literal

from ninja import Schema


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
    """A delivery."""

    number: int
    revision: int
    job: JobOut
    files: list[FileOut]
    folder: str
    fit: FitOut | None
    fit_at: datetime | None
    has_difference: bool
