"""What is scattered, as points with height, size and direction."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.grid import reference_grid, whole_ground_grid
from zigzag_meadow.core.layers.scatter import densest, sampled_at, throw
from zigzag_meadow.core.map_name import MapName, MaskName, ReadingName, ScatterName, map_name
from zigzag_meadow.core.nodes.node import Node, Operation, held_key
from zigzag_meadow.core.project.model.features import Scatter

__all__ = ["Scattered", "points_key", "scatter_points"]

F64 = NDArray[np.float64]
POINTS = Operation(name="points")
"""What points are keyed by; they are put together here from maps."""


@dataclass(frozen=True, slots=True)
class Scattered:
    """``points``: float64 (n, 5): metres east and south of the north-west corner, height and size in metres, degrees
    clockwise from north. ``crowded``: how many on 100 m² the distance leaves room for, where fewer than wanted."""

    points: F64
    crowded: float | None


def _size_map(ev: Evaluation, name: MapName, rows: F64, cols: F64) -> F64:
    """Values of a map at places, 0–1: masks as they are, readings between their ends on the reference grid."""
    grid = whole_ground_grid(ev.home)
    values = sampled_at(np.nan_to_num(ev.map(name, grid)), rows, cols)
    if isinstance(name, MaskName):
        return values
    coarse = reference_grid(ev.home)
    ends = ev.held(
        ev.graph.named(name),
        coarse,
        "extremes",
        lambda: np.array([f(ev.map(name, coarse)) for f in (np.nanmin, np.nanmax)], np.float64),
    )
    low, high = float(ends[0]), float(ends[1])
    part: F64 = np.clip((values - low) / max(high - low, 1e-9), 0, 1)
    return part


def _node(ev: Evaluation, scatter_id: str) -> Node:
    """The points of one thing scattered, with all that they are read from. Raises :class:`NotFound`."""
    scatter = ev.project.scatter(scatter_id)
    if scatter is None:
        raise NotFound(f"Nothing scattered has the id {scatter_id!r}.", field="scatter")
    numbers = scatter.model_dump(mode="json", exclude={"id", "name", "colour", "deliver", "bits", "points_format"})
    read = [ev.graph.scattered(scatter_id), ev.graph.height()]
    read += [ev.graph.named(scatter.size_by)] if scatter.size_by else []
    return Node(POINTS, numbers, tuple(read), home=ev.home)


def points_key(ev: Evaluation, scatter_id: str) -> str:
    """What identifies the points of one thing scattered: equal keys, equal points. Raises :class:`NotFound`."""
    return held_key(_node(ev, scatter_id), whole_ground_grid(ev.home), "points")


def scatter_points(ev: Evaluation, scatter_id: str) -> Scattered:
    """The points of one thing scattered, in a fixed order. The same at any map size: the mask is read on the ground's
    own grid. Raises :class:`NotFound`, :class:`TooLarge` for more than a million before the mask."""
    scatter = ev.project.scatter(scatter_id)
    if scatter is None:
        raise NotFound(f"Nothing scattered has the id {scatter_id!r}.", field="scatter")
    points = ev.held(_node(ev, scatter_id), whole_ground_grid(ev.home), "points", lambda: _points(ev, scatter))
    room = densest(scatter.distance)
    return Scattered(points, room if room < scatter.density else None)


def _points(ev: Evaluation, scatter: Scatter) -> F64:
    grid = whole_ground_grid(ev.home)
    thrown = throw(grid.width, grid.length, scatter.density, scatter.distance, scatter.seed)
    rows, cols = grid.at_place(thrown.east, thrown.south)
    density = sampled_at(ev.map(ScatterName(scatter.id), grid), rows, cols)
    stands = thrown.chance < density
    rows, cols = rows[stands], cols[stands]
    grown = _size_map(ev, map_name(scatter.size_by), rows, cols) if scatter.size_by else np.full(rows.size, 0.5)
    size = scatter.size_low + (scatter.size_high - scatter.size_low) * grown
    size = size * (1 + scatter.spread * (2 * thrown.luck[stands] - 1))
    height = sampled_at(ev.map(ReadingName("height"), grid), rows, cols)
    return np.column_stack([thrown.east[stands], thrown.south[stands], height, size, thrown.turn[stands] * 360])
