"""Recipes: ordered lines, each a sentence with a verb, that make a mask; and pieces, lines under a name."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from zigzag_meadow.core.masks.lines.line import Line
from zigzag_meadow.core.parts import Id, Name, Part

__all__ = ["MOST_LINES", "Exposed", "Line", "Mask", "Piece"]

MOST_LINES = 200


class Mask(Part):
    id: Id
    name: Name
    lines: Annotated[tuple[Line, ...], Field(max_length=MOST_LINES)] = ()

    @property
    def bands(self) -> int | None:
        """Into how many bands it is cut by the last line that does so; None where none does."""
        return next((line.bands for line in reversed(self.lines) if line.bands is not None and not line.muted), None)


class Exposed(Part):
    """A number of a piece's line that whoever uses the piece may set: ``field`` of the line, or of its source."""

    id: Id
    title: Name
    line: Id
    field: Annotated[str, Field(pattern=r"^(source\.)?[a-z_]{1,20}$")]


class Piece(Part):
    """A few lines under a name, with the numbers that its users may set."""

    id: Id
    name: Name
    note: Annotated[str, Field(max_length=400)] = ""
    lines: Annotated[tuple[Line, ...], Field(min_length=1, max_length=40)]
    exposed: Annotated[tuple[Exposed, ...], Field(max_length=16)] = ()
