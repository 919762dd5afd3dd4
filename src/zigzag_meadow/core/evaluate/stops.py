"""Colours of a ramp, taken from a picture or from the colour map."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from zigzag_meadow.core.colour.palette import line_stops, main_stops
from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.grid import Grid, reference_grid

__all__ = ["ramp_stops"]

PER_PART = 32
MOST = 40000


def ramp_stops(
    evaluation: Evaluation, picture: str | None, line: Sequence[tuple[float, float]] | None, count: int
) -> list[tuple[float, str]]:
    """``count`` (place, colour) along ``line`` (metres east and south), or the main colours without one, of a picture
    (the id of its reading) or of the colour map. Raises :class:`NotFound` where there is no picture there."""
    painting = evaluation.graph.painting
    grid = reference_grid(evaluation.home)
    node = painting.coats() if picture is None else painting.around().picture(picture)
    if node is None:
        raise NotFound("There is no picture to take colours from. Bring one in first.", field="picture")
    values = evaluation.window(node, grid, grid.whole)
    if line is not None:
        values = values[_along(line, count, grid)][None]
    flat = values.reshape(-1, values.shape[2])
    there = flat[flat[:, 3] > 0.5] if flat.shape[1] == 4 else flat
    if len(there) < count:
        raise NotFound("There is no picture at that place. Draw the line where it lies.", field="line")
    colours = np.ascontiguousarray(there[:, :3])
    if line is not None:
        return line_stops(colours, count)
    return main_stops(colours[:: max(len(colours) // MOST, 1)], count)


def _along(line: Sequence[tuple[float, float]], count: int, grid: Grid) -> tuple[np.ndarray, np.ndarray]:
    """Rows and columns of evenly spaced samples along a line."""
    points = np.array(line, np.float64)
    lengths = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
    at = np.linspace(0, lengths[-1], count * PER_PART)
    east, south = np.interp(at, lengths, points[:, 0]), np.interp(at, lengths, points[:, 1])
    rows, cols = (np.rint(at) for at in grid.at_place(east, south))
    return np.clip(rows, 0, grid.rows - 1).astype(int), np.clip(cols, 0, grid.cols - 1).astype(int)
