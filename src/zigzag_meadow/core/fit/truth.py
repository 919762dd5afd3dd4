"""The project's own maps where delivered files lie, as they should be stored."""

from __future__ import annotations

import hashlib
from typing import Any, Protocol

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadDocument
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.evaluate.scattered import scatter_points
from zigzag_meadow.core.fit.rehearsal import Rehearsal, typed_scale
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.map_name import PointsName, SheetName, map_name
from zigzag_meadow.core.targets.note import ChannelNote, FileNote

__all__ = ["ProjectTruth", "Truth"]

F64 = NDArray[np.float64]


class Truth(Protocol):
    """The project's own maps, for a comparison in full. ``document``: what the project is known by."""

    document: str

    def part(self, file: FileNote, window: Window) -> NDArray[Any]:
        """A window of what a file should hold, north up, as it should be stored but not rounded: (rows, columns,
        channels)."""
        ...

    def first_row(self, file: FileNote) -> int:
        """On which row of the whole ground's map a file begins, for windows that fit its tiles."""
        ...

    def points(self, file: FileNote) -> F64:
        """Points as float64 (n, 5): metres east, north and up in the target's axes, size, degrees."""
        ...

    def home_heights(self) -> tuple[Grid, F64] | None:
        """The ground's own grid and its heights in the project's metres; None where it is too large to be held."""
        ...


class ProjectTruth:
    """Maps of ``evaluation``'s project where a note says that its files lie.

    Raises :class:`BadDocument` when the project covers another extent than the note says.
    """

    def __init__(self, evaluation: Evaluation, rehearsal: Rehearsal) -> None:
        home, ground = evaluation.home, rehearsal.note.ground
        self._evaluation = evaluation
        self._rehearsal = rehearsal
        self._ground = ground
        self.document = hashlib.sha256(evaluation.project.model_dump_json().encode()).hexdigest()
        reach = (ground.extent.width, ground.extent.length)
        off = max(abs(home.width - reach[0]), abs(home.length - reach[1]))
        beyond = max(reach[0] - home.width, reach[1] - home.length)
        if (beyond if rehearsal.note.trial else off) > 1e-6 * max(home.width, home.length):
            raise BadDocument(
                f"The project is {home.width:g} × {home.length:g} m, the import note says {reach[0]:g} × "
                f"{reach[1]:g} m: this delivery is of another ground or of older measures. Deliver again."
            )

    def _corner(self) -> tuple[float, float]:
        """(west, north) of the whole ground in the target's axes."""
        home = self._evaluation.home
        centred = self._ground.anchor == "centre"
        return (-home.width / 2, home.length / 2) if centred else (0.0, home.length)

    def _place(self, file: FileNote) -> tuple[Grid, int, int]:
        """The grid over the whole ground that a file's map is on, and (row, column) where the file begins."""
        home = self._evaluation.home
        more = 1 if file.registration == "vertex" else 0
        rows, cols = round(home.length / file.spacing_y) + more, round(home.width / file.spacing_x) + more
        grid = home.resized(rows, cols, file.registration)
        west, north = self._corner()
        row = round((north - file.extent.south - file.extent.length) / grid.dy)
        return grid, row, round((file.extent.west - west) / grid.dx)

    def first_row(self, file: FileNote) -> int:
        return self._place(file)[1]

    def part(self, file: FileNote, window: Window) -> NDArray[Any]:
        grid, row, col = self._place(file)
        on = Window(window.row0 + row, window.row1 + row, window.col0 + col, window.col1 + col)
        on = on.clipped(grid.rows, grid.cols)
        if file.kind == "height":
            return self._heights(file, grid, on)[:, :, None]
        return self._sheet(file, grid, on) if file.kind == "sheet" else self._map(file, grid, on)

    def _heights(self, file: FileNote, grid: Grid, window: Window) -> F64:
        above = self._evaluation.above_base(grid, window).astype(np.float64)
        there = above + (self._evaluation.project.ground.base - self._ground.zero)
        if file.stored is None:
            return there
        step, at_zero = typed_scale(file.stored)
        stored = (there - at_zero) / step
        return stored if file.floats else np.clip(stored, 0, file.stored.full)

    def _sheet(self, file: FileNote, grid: Grid, window: Window) -> NDArray[Any]:
        """Whole numbers in the file's depth, of those channels that the file has."""
        name = map_name(file.of)
        sheet = self._evaluation.project.sheet(name.sheet) if isinstance(name, SheetName) else None
        if sheet is None:
            raise BadDocument(f"{file.file} is of a sheet that the project no longer has. Deliver again.")
        bits = 16 if file.bits > 8 else 8
        node = self._evaluation.graph.packing.sheet(sheet.id, bits)
        keep = [sheet.channels.index(c.channel) for c in file.channels if c.channel in sheet.channels]
        values: NDArray[Any] = self._evaluation.window(node, grid, window)[..., keep]
        return values / (2.0**bits - 1) if file.floats else values

    def _map(self, file: FileNote, grid: Grid, window: Window) -> F64:
        graph = self._evaluation.graph
        painted = file.kind in ("colour", "surface")
        node = graph.painting.light(file.of)[0] if painted else graph.named(file.of)
        values = self._evaluation.window(node, grid, window).astype(np.float64)
        return _stored(file, values if values.ndim == 3 else values[..., None])

    def points(self, file: FileNote) -> F64:
        home = self._evaluation.home
        name = map_name(file.of)
        made = scatter_points(self._evaluation, name.scatter if isinstance(name, PointsName) else "").points.copy()
        west, north = self._corner()
        made[:, 0] += west
        made[:, 1] = north - made[:, 1]
        made[:, 2] -= self._ground.zero
        extent = file.extent
        inside = (made[:, 0] >= extent.west) & (made[:, 0] <= extent.west + extent.width)
        inside &= (made[:, 1] >= extent.south) & (made[:, 1] <= extent.south + extent.length)
        whole = abs(extent.width - home.width) + abs(extent.length - home.length) < 1e-6 * home.width
        return made if whole else made[inside]

    def home_heights(self) -> tuple[Grid, F64] | None:
        home = self._evaluation.home
        if home.rows * home.cols > 2**21:
            return None
        above = self._evaluation.above_base(home, home.whole).astype(np.float64)
        return home, above + self._evaluation.project.ground.base


def _stored(file: FileNote, values: F64) -> F64:
    """What should be stored of a map in its own unit, colours in linear light; not rounded."""
    full = 1.0 if file.floats else 2.0**file.bits - 1
    if file.kind == "classes":
        return values
    if file.colour_space == "sRGB":
        # IEC 61966-2-1, written apart from what codes the delivered colours.
        light = np.clip(values, 0, 1)
        values = np.where(light <= 0.0031308, 12.92 * light, 1.055 * light ** (1 / 2.4) - 0.055)
    elif file.channels[0].kind == "reading":
        values = _mapped(file.channels[0], values)
    return np.clip(values, 0, 1) * full if not file.floats else values


def _mapped(channel: ChannelNote, values: F64) -> F64:
    """A reading between black and white, 0 where there is none; in its own unit where the note has no ends."""
    if channel.black is None or channel.white is None:
        return np.nan_to_num(values)
    ends = np.array([channel.black, channel.white])
    if channel.mapping == "log":
        values, ends = np.log2(values), np.log2(ends)
    unit: F64 = np.nan_to_num(np.clip((values - ends[0]) / (ends[1] - ends[0]), 0, 1))
    return unit
