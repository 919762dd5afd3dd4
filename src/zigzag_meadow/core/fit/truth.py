"""The project's own maps on the delivered grids, for a fit check in full."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadDocument
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.fit.rehearsal import Rehearsal
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.targets.note import FileNote

__all__ = ["ProjectTruth"]


class ProjectTruth:
    """Maps of ``evaluation``'s project where a note says that its files lie.

    Raises :class:`BadDocument` when the project covers another extent than the note says.
    """

    def __init__(self, evaluation: Evaluation, rehearsal: Rehearsal) -> None:
        home, ground = evaluation.home, rehearsal.note.ground
        self._evaluation = evaluation
        self._ground = ground
        reach = (ground.extent.width, ground.extent.length)
        off = max(abs(home.width - reach[0]), abs(home.length - reach[1]))
        beyond = max(reach[0] - home.width, reach[1] - home.length)
        if (beyond if rehearsal.note.trial else off) > 1e-6 * max(home.width, home.length):
            raise BadDocument(
                f"The project is {home.width:g} × {home.length:g} m, the import note says {reach[0]:g} × "
                f"{reach[1]:g} m: this delivery is of another ground or of older measures. Deliver again."
            )

    def _place(self, file: FileNote) -> tuple[Grid, Window]:
        """The grid over the whole ground that a file's map is on, and the part of it that the map is."""
        home = self._evaluation.home
        more = 1 if file.registration == "vertex" else 0
        rows, cols = round(home.length / file.spacing_y) + more, round(home.width / file.spacing_x) + more
        grid = home.resized(rows, cols, file.registration)
        west, north = 0.0, home.length
        if self._ground.anchor == "centre":
            west, north = -home.width / 2, home.length / 2
        tile = file.tile
        col0 = round((file.extent.west - west) / grid.dx) - (0 if tile is None else tile.first_column)
        top = round((north - file.extent.south - file.extent.length) / grid.dy)
        row0 = top - (0 if tile is None else tile.first_row)
        return grid, Window(row0, row0 + file.whole_rows, col0, col0 + file.whole_columns).clipped(rows, cols)

    def heights(self, file: FileNote) -> NDArray[np.float64]:
        """Metres, float64 (rows, columns)."""
        grid, window = self._place(file)
        above = self._evaluation.above_base(grid, window).astype(np.float64)
        return above + self._evaluation.project.ground.base

    def sheet(self, file: FileNote) -> NDArray[Any]:
        """Whole numbers in the file's depth, (rows, columns, channels) of those that the file has."""
        grid, window = self._place(file)
        sheet = self._evaluation.project.sheet(file.of.partition(":")[2])
        if sheet is None:
            raise BadDocument(f"{file.file} is of a sheet that the project no longer has. Deliver again.")
        node = self._evaluation.graph.packing.sheet(sheet.id, 16 if file.bits > 8 else 8)
        keep = [sheet.channels.index(c.channel) for c in file.channels if c.channel in sheet.channels]
        values: NDArray[Any] = self._evaluation.window(node, grid, window)[..., keep]
        return values

    def values(self, file: FileNote) -> NDArray[Any]:
        """A map as it is, in its own unit: (rows, columns, parts); colours in linear light."""
        grid, window = self._place(file)
        graph = self._evaluation.graph
        painted = file.kind in ("colour", "surface")
        node = graph.painting.light(file.of)[0] if painted else graph.named(file.of)
        values: NDArray[Any] = self._evaluation.window(node, grid, window)
        return values if values.ndim == 3 else values[..., None]
