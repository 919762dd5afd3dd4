"""How the numbers of tiles stand in the names of their files."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.parts import Part, Told

__all__ = ["TILE_TOKENS", "TileNames"]

TILE_TOKENS = ("{tile}", "{x}", "{y}", "{row}", "{col}")
"""*x* and *col* count columns of tiles, *y* and *row* rows of them, *tile* all of them one after the other, row by
row."""
ENDS = r"^[A-Za-z0-9_{}-]*$"


class TileNames(Part):
    """``ends``: what stands behind a name that names no tile itself. ``first``: the first number; ``digits``: so many
    at least, filled up with zeros. ``rows``, ``columns``: where they are counted from, or as files begin."""

    ends: Annotated[str, Field(max_length=40, pattern=ENDS)] = "_x{x}_y{y}"
    first: Annotated[int, Field(ge=0, le=1000), Told("First number", step=1, decimals=0)] = 0
    digits: Annotated[int, Field(ge=1, le=6), Told("Digits at least", step=1, decimals=0)] = 1
    rows: Annotated[
        Literal["as_files", "north", "south"],
        Told(
            "Rows counted from",
            choices=(("as_files", "where files begin"), ("north", "the north"), ("south", "the south")),
        ),
    ] = "as_files"
    columns: Annotated[
        Literal["as_files", "west", "east"],
        Told(
            "Columns counted from",
            choices=(("as_files", "where files begin"), ("west", "the west"), ("east", "the east")),
        ),
    ] = "as_files"
