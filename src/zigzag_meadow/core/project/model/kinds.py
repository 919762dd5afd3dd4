"""Kinds of lines and of steps as pages and documents get them, read off their classes: what they are called, how they
read, which numbers they take, and what a new one begins with."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from types import UnionType
from typing import Any, Literal, Union, get_args, get_origin

from pydantic.fields import FieldInfo

from zigzag_meadow.core.colour.coats.base import Begun
from zigzag_meadow.core.colour.coats.catalogue import COATS
from zigzag_meadow.core.colour.surface import Surface
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.ground.steps.catalogue import STEPS
from zigzag_meadow.core.masks.lines.catalogue import LINES
from zigzag_meadow.core.parts import Edited, Part, Told

__all__ = [
    "CoatKind",
    "LineKind",
    "Slot",
    "SlotKind",
    "StepKind",
    "coat_kinds",
    "coats_table",
    "line_kinds",
    "lines_table",
    "step_kinds",
    "steps_table",
    "surface_slots",
]

SlotKind = Literal[
    "number",
    "choice",
    "optional",
    "source",
    "curve",
    "edges",
    "strokes",
    "piece",
    "spacing",
    "colour",
    "stops",
    "picture",
    "numbers",
    "rule",
]


@dataclass(frozen=True, slots=True)
class Slot:
    """What stands in one place of a sentence, and how it is edited.

    *number*, *choice*, *optional* (a number, or none: ``none`` and ``some`` are the titles of that choice) have the
    bounds ``low`` and ``high`` and the ``value`` that a new one begins with; the others: see
    :class:`zigzag_meadow.core.parts.Edited`.
    """

    name: str
    kind: SlotKind
    title: str
    unit: str = ""
    step: float = 1.0
    decimals: int = 0
    low: float = 0.0
    high: float = 0.0
    value: float | str | None = None
    whole: bool = False
    choices: tuple[tuple[str, str], ...] = ()
    none: str = ""
    some: str = ""
    start: str = ""
    lead: str = ""
    where: tuple[str, str] | None = None


@dataclass(frozen=True, slots=True)
class LineKind:
    """A kind of line; ``fresh``: the fields of a new one that need no choice; ``holds``: the share of the ground that
    the band of a new one holds."""

    verb: str
    title: str
    family: str
    hint: str
    sentence: str
    slots: tuple[Slot, ...]
    bound: bool
    in_piece: bool
    offered: bool
    holds: float
    fresh: dict[str, Any] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class StepKind:
    """A kind of step; ``fresh``: the fields of a new one."""

    kind: str
    title: str
    hint: str
    sentence: str
    slots: tuple[Slot, ...]
    makes_grid: bool
    graded: bool
    moves: bool
    fills: bool
    tool: str
    shows: str
    fresh: dict[str, Any] = field(default_factory=dict)


def _bounds(info: FieldInfo) -> tuple[float, float]:
    """Least and most of a field, also of one that may be left out."""
    metadata = list(info.metadata)
    if get_origin(info.annotation) in (Union, UnionType):
        for option in get_args(info.annotation):
            for inner in getattr(option, "__metadata__", ()):
                metadata += inner.metadata if isinstance(inner, FieldInfo) else [inner]

    def bound(names: tuple[str, ...], otherwise: float) -> float:
        ends = [getattr(item, name) for item in metadata for name in names if getattr(item, name, None) is not None]
        return float(ends[0]) if ends else otherwise

    return bound(("ge", "gt"), 0.0), bound(("le", "lt"), 1.0)


def _counted(told: Told, home: Grid, lowest: float) -> float:
    """What the first number of a kind is on this ground."""
    first = told.first or 0.0
    spacing = max(home.dy, home.dx)
    per = {
        "": 1.0,
        "spacing": spacing,
        "cell": home.dy * home.dx,
        "width": home.width,
        "length": home.length,
        "rows": float(home.rows),
        "cols": float(home.cols),
        "low": float(round(lowest)),
    }[told.of]
    return float(f"{first * per:.2g}") if told.of in ("spacing", "cell") else first * per


def _number(name: str, info: FieldInfo, told: Told, home: Grid, lowest: float) -> Slot:
    low, high = _bounds(info)
    low, high = told.low if told.low is not None else low, told.high if told.high is not None else high
    if told.of == "spacing":
        high = max(min(high, max(round(max(home.width, home.length) / 2, 1), 4 * max(home.dy, home.dx))), low)
    if told.of == "cell":
        high = max(min(high, home.width * home.length), low)
    value = info.default
    whole = info.annotation is int
    if told.first is not None and not told.none:
        value = _counted(told, home, lowest)
    if not told.none and isinstance(value, int | float) and not told.choices:
        value = min(max(float(value), low), high)
        value = int(value) if whole else value
    kind: SlotKind = "choice" if told.choices else "optional" if told.none else "number"
    return Slot(
        name,
        kind,
        told.title,
        unit=told.unit,
        step=told.step,
        decimals=told.decimals,
        low=low,
        high=high,
        value=told.first if told.none else value,
        whole=whole or isinstance(info.default, int),
        choices=told.choices,
        none=told.none,
        some=told.some,
    )


def _slots(kind: type[Part], home: Grid, lowest: float) -> Iterator[Slot]:
    for name, info in kind.model_fields.items():
        for item in info.metadata:
            if isinstance(item, Told):
                yield _number(name, info, item, home, lowest)
            elif isinstance(item, Edited):
                as_named = item.kind if item.kind == "spacing" else name
                yield Slot(
                    as_named, item.kind, item.title, start=item.start, none=item.none, lead=item.lead, where=item.where
                )


def _plain(kind: type[Part], slots: tuple[Slot, ...]) -> dict[str, Any]:
    """The fields of a new part: its defaults, as JSON, and the first numbers of its slots."""
    defaults = {
        name: info.get_default(call_default_factory=True)
        for name, info in kind.model_fields.items()
        if not info.is_required()
    }
    plain = kind.model_construct(**defaults).model_dump(mode="json", include=set(defaults))
    numbers = {slot.name: slot.value for slot in slots if slot.kind == "number"}
    return {**plain, **numbers}


def line_kinds(home: Grid) -> list[LineKind]:
    """Every kind of line, with numbers to begin with on a ground with this home grid."""
    made = []
    for kind in LINES:
        slots = tuple(_slots(kind, home, 0.0))
        made.append(
            LineKind(
                kind.model_fields["verb"].default,
                kind.title,
                kind.family,
                kind.hint,
                kind.sentence,
                slots,
                bound=kind.bound,
                in_piece=kind.in_piece,
                offered=kind.offered,
                holds=kind.holds,
                fresh=_plain(kind, slots),
            )
        )
    return made


def step_kinds(home: Grid, lowest: float) -> list[StepKind]:
    """Every kind of step, with numbers to begin with on a ground with this grid and ``lowest`` height in metres."""
    made = []
    for kind in STEPS:
        slots = tuple(_slots(kind, home, lowest))
        made.append(
            StepKind(
                kind.model_fields["kind"].default,
                kind.title,
                kind.hint,
                kind.sentence,
                slots,
                makes_grid=kind.makes_grid,
                graded=kind.graded and not kind.makes_grid,
                moves=kind.moves,
                fills=kind.fills,
                tool=kind.tool,
                shows=kind.shows,
                fresh=_plain(kind, slots),
            )
        )
    return made


@dataclass(frozen=True, slots=True)
class CoatKind:
    """A kind of coat; ``fresh``: the fields of a new one."""

    kind: str
    title: str
    family: str
    hint: str
    sentence: str
    slots: tuple[Slot, ...]
    fresh: dict[str, Any] = field(default_factory=dict)


def coat_kinds(home: Grid, begun: Begun) -> list[CoatKind]:
    """Every kind of coat, with numbers to begin with on a ground with this home grid, in the project that ``begun``
    tells of."""
    made = []
    for kind in COATS:
        slots = tuple(_slots(kind, home, begun.low))
        fresh = {**_plain(kind, slots), **kind.begun(begun)}
        name = kind.model_fields["kind"].default
        made.append(CoatKind(name, kind.title, kind.family, kind.hint, kind.sentence, slots, fresh=fresh))
    return made


def surface_slots(home: Grid) -> tuple[Slot, ...]:
    """The numbers of surface maps."""
    return tuple(_slots(Surface, home, 0.0))


def coats_table() -> str:
    """Every kind of coat as a Markdown table, for the README."""
    rows = ["| Coat | What for | Reads |", "| --- | --- | --- |"]
    rows += [f"| {kind.title} | {kind.hint} | {_read(kind.sentence)} |" for kind in COATS]
    return "\n".join(rows)


def _read(sentence: str) -> str:
    return sentence.replace("{", "*").replace("}", "*").replace("***", "**")


def lines_table() -> str:
    """Every kind of line as a Markdown table, for the README."""
    families = {
        "combine": "put together",
        "tone": "tone",
        "area": "edges and areas",
        "breakup": "break up",
        "hand": "by hand",
        "reuse": "use again",
    }
    rows = ["| Line | Kind | What for | Reads |", "| --- | --- | --- | --- |"]
    rows += [f"| {kind.title} | {families[kind.family]} | {kind.hint} | {_read(kind.sentence)} |" for kind in LINES]
    return "\n".join(rows)


def steps_table() -> str:
    """Every kind of step as a Markdown table, for the README."""
    rows = ["| Step | What for | Reads |", "| --- | --- | --- |"]
    rows += [f"| {kind.title} | {kind.hint} | {_read(kind.sentence)} |" for kind in STEPS]
    return "\n".join(rows)
