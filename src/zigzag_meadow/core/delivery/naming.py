"""How files are called: the pattern with its tokens, and names that were typed over it."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.formats.declare import Form
from zigzag_meadow.core.formats.names import allowed_ending, allowed_stem, file_stem
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.project.model.delivery import ItemChoice
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.items import Deliverable
from zigzag_meadow.core.targets.tile_names import TILE_TOKENS, TileNames

__all__ = ["TOKENS", "FileName", "TilePlace", "file_names"]

TOKENS = ("{project}", "{map}", "{kind}", "{size}", "{target}", "{format}", "{date}", *TILE_TOKENS)
MOST = 100
UNDATED = "date"
"""Stands where a day belongs, as long as nobody delivers."""


@dataclass(frozen=True, slots=True)
class TilePlace:
    """Which tile a file is: columns from the west and rows from the north, from 0, and how many there are; ``rows_up``,
    ``cols_back``: files begin in the south or east."""

    column: int
    row: int
    across: int
    down: int
    rows_up: bool
    cols_back: bool


@dataclass(frozen=True, slots=True)
class FileName:
    """A name without ending, in which only the numbers of tiles are open; ``typed``: letters stay as they are."""

    text: str
    typed: bool

    def alone(self) -> str:
        """The name of a map that is one file: it has no number, nor what stood around it."""
        text = self.text
        if not any(token in text for token in TILE_TOKENS):
            return self._tidy(text)
        for token in TILE_TOKENS:
            text = text.replace(token, "")
        return self._tidy(re.sub(r"([_-])[_-]+", r"\1", text).strip("_-"))

    def of_tile(self, names: TileNames, place: TilePlace) -> str:
        """The name of one tile."""
        text = self.text if any(token in self.text for token in TILE_TOKENS) else self.text + names.ends
        back = {"as_files": place.cols_back, "west": False, "east": True}[names.columns]
        up = {"as_files": place.rows_up, "north": False, "south": True}[names.rows]
        column = place.across - 1 - place.column if back else place.column
        row = place.down - 1 - place.row if up else place.row
        numbers = (row * place.across + column, column, row, row, column)
        for token, number in zip(TILE_TOKENS, numbers, strict=True):
            text = text.replace(token, f"{number + names.first:0{names.digits}d}")
        return self._tidy(text)

    def _tidy(self, text: str) -> str:
        return text if self.typed else file_stem(text, most=MOST)


def file_names(
    project: Project, items: Sequence[tuple[Deliverable, ItemChoice, Form, Grid]], today: str = ""
) -> list[FileName]:
    """Names without endings, in the order of the items. ``today``: the day for the token of that name.

    Raises :class:`BadNumber` for braces that are no token, and for names and endings that no file should have.
    """
    pattern = project.delivery.pattern or project.target.names
    made = []
    for thing, choice, written, grid in items:
        if choice.ending is not None and not allowed_ending(choice.ending):
            raise BadNumber(
                f"Files that end in .{choice.ending} are run by some systems. Choose another ending.", field="ending"
            )
        text = _filled(choice.file or pattern, project, thing, written, grid, today)
        name = FileName(text if choice.file else _with_open_tiles(text), choice.file is not None)
        if not allowed_stem(name.alone()):
            raise BadNumber(f"{name.alone()} is the name of a device on some systems. Choose another.", field="file")
        made.append(name)
    return made


def _with_open_tiles(text: str) -> str:
    """A pattern as it stands in names of files, tokens of tiles left open."""
    parts = re.split("(" + "|".join(re.escape(token) for token in TILE_TOKENS) + ")", text)
    if len(parts) == 1:
        return file_stem(text)
    return "".join(part if part in TILE_TOKENS else re.sub(r"[^a-z0-9-]+", "_", part.lower()) for part in parts)


def _filled(pattern: str, project: Project, thing: Deliverable, written: Form, grid: Grid, today: str) -> str:
    size = f"{grid.cols}" if grid.cols == grid.rows else f"{grid.cols}x{grid.rows}"
    values = (
        project.name,
        thing.map,
        thing.size_kind or thing.kind,
        size,
        project.target.title,
        written.title,
        today or UNDATED,
    )
    text = pattern
    for token, value in zip(TOKENS, values, strict=False):
        text = text.replace(token, file_stem(value))
    left = text
    for token in TILE_TOKENS:
        left = left.replace(token, "")
    if "{" in left or "}" in left:
        raise BadNumber(f"A name pattern may hold {', '.join(TOKENS)} and no other braces.", field="pattern")
    return text
