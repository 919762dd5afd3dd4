"""What the API says of a ground: what is odd about it, what its steps do, which sizes are legal."""

from __future__ import annotations

from typing import Any, Literal

from ninja import Schema


class FileSampleOut(Schema):
    """A sample of the heightmap's file: what is stored there, and the metres that it stands for."""

    row: int
    col: int
    stored: float
    metres: float


class GroundFinding(Schema):
    """One oddity of the prepared ground. ``mend``: the step that takes it away, or ``edit``: the operation that does,
    which ``offers`` is what to call; ``where``: whether there is a map."""

    code: str
    severity: Literal["note", "attention"]
    title: str
    message: str
    mend: dict[str, Any] | None
    where: bool
    edit: dict[str, Any] | None
    offers: str


class StepEffect(Schema):
    """What a step of preparation did: the share of ground stretched beyond 2× before and after it."""

    id: str
    stretched_before: float
    stretched_after: float
    low: float
    high: float
    rows: int
    cols: int
    says: str | None


class LegalOut(Schema):
    target: str
    legal: bool
    message: str
    mend: dict[str, Any] | None


class DiagnosisOut(Schema):
    low: float
    high: float
    findings: list[GroundFinding]
    legal: list[LegalOut]
    steps: list[StepEffect]
