"""Pieces: lines under a name, with the numbers that their users may set."""

from __future__ import annotations

from collections.abc import Mapping

from zigzag_meadow.core.errors import BadDocument
from zigzag_meadow.core.project.recipe import Exposed, Line, Piece

__all__ = ["exposed_value", "lines_with"]


def exposed_value(piece: Piece, exposed: Exposed) -> float:
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


def _line_with(line: Line, changes: Mapping[str, float]) -> Line:
    data = line.model_dump()
    for field, value in changes.items():
        holder = data
        *way, name = field.split(".")
        for part in way:
            holder = holder[part]
        holder[name] = int(value) if isinstance(holder[name], int) else value
    new: Line = type(line).model_validate(data)
    return new


def lines_with(piece: Piece, numbers: Mapping[str, float]) -> tuple[Line, ...]:
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
