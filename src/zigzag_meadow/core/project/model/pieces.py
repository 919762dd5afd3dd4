"""Pieces: lines under a name, with the numbers that their users may set."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Protocol, TypeVar

from zigzag_meadow.core.errors import BadDocument
from zigzag_meadow.core.project.model.recipe import Exposed

__all__ = ["exposed_value", "lines_with"]


class _Identified(Protocol):
    """A line or a coat: what a piece is made of."""

    @property
    def id(self) -> str: ...
    def model_dump(self) -> dict[str, Any]: ...


Item = TypeVar("Item", bound=_Identified)
Held = TypeVar("Held", bound=_Identified, covariant=True)


class _Made(Protocol[Held]):
    """A piece of lines or of coats."""

    @property
    def name(self) -> str: ...
    @property
    def lines(self) -> tuple[Held, ...]: ...
    @property
    def exposed(self) -> tuple[Exposed, ...]: ...


def exposed_value(piece: _Made[Any], exposed: Exposed) -> float:
    """The number that an exposed field has in the piece itself. Raises :class:`BadDocument` where it is no number."""
    line = next((item for item in piece.lines if item.id == exposed.line), None)
    holder: object = line
    *way, name = exposed.field.split(".")
    for part in way:
        holder = getattr(holder, part, None)
    value = getattr(holder, name, None)
    if isinstance(value, bool) or not isinstance(value, int | float):
        raise BadDocument(f"The piece {piece.name} exposes {exposed.title}, which is no number of its lines.")
    return float(value)


def _line_with(line: Item, changes: Mapping[str, float]) -> Item:
    data = line.model_dump()
    for field, value in changes.items():
        holder = data
        *way, name = field.split(".")
        for part in way:
            holder = holder[part]
        holder[name] = int(value) if isinstance(holder[name], int) else value
    new: Item = type(line).model_validate(data)  # type: ignore[attr-defined]
    return new


def lines_with(piece: _Made[Item], numbers: Mapping[str, float]) -> tuple[Item, ...]:
    """The lines of a piece with ``numbers`` (by the id of what is exposed) in place; the rest as in the piece.

    Raises what validation raises when a number cannot be taken.
    """
    changes: dict[str, dict[str, float]] = {}
    for exposed in piece.exposed:
        if exposed.id in numbers:
            changes.setdefault(exposed.line, {})[exposed.field] = numbers[exposed.id]
    if not changes:
        return piece.lines
    return tuple(_line_with(line, changes[line.id]) if line.id in changes else line for line in piece.lines)
