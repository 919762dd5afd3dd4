"""A project as the pages have it, and what an edit changed of it."""

from __future__ import annotations

from typing import Any, Literal

from ninja import Schema
from pydantic import Field

from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.server.api.schemas import Caution, GridOut, ReadingOut, UseOut


class CodesOut(Schema):
    """What stored numbers stand for now: those of black and white of the file's format, and metres at both, a step of
    one, and at stored 0."""

    black: float
    white: float
    at_black: float
    at_white: float
    metres_a_step: float
    at_zero: float


class StateOut(Schema):
    """A project at its newest revision. ``undo_place``: where what undo takes back changed something; ``mask_keys``:
    what each mask's content is known by; ``writes``: the keys of all maps that a delivery would hold now; ``bands``:
    how many bands masks are cut into; ``gaps``: whether the prepared ground has any left; ``in_place``: whether it can
    be laid on the file's; ``outer``: metres (x, y) by which it is wider and longer than its outermost samples are
    apart; ``to_file``: east and south on the file of a place on the prepared ground, each as (per metre east, per metre
    south, metres more). ``file_ends``: metres at the file's lowest and highest sample. ``codes``: None where the file
    tells heights in a code of its own."""

    id: str
    revision: int
    document: Project
    undo: str | None
    undo_place: str | None
    redo: str | None
    cautions: list[Caution]
    home: GridOut
    view: GridOut
    final: GridOut
    ground_key: str
    mask_keys: dict[str, str]
    writes: list[str]
    readings: list[ReadingOut]
    uses: list[UseOut]
    bands: dict[str, int]
    gaps: bool
    in_place: bool
    outer: list[float]
    file_ends: list[float]
    codes: CodesOut | None
    to_file: list[float]


class Change(Schema):
    """A step of a JSON Patch (RFC 6902); ``from`` only where something moves."""

    op: Literal["add", "remove", "replace", "move"]
    path: str
    value: Any = None
    from_: str | None = Field(default=None, alias="from")


class StateChange(Schema):
    """What makes the newest state (:class:`StateOut`) of the one at revision ``base``."""

    base: int
    revision: int
    changes: list[Change]
