"""What is scattered, as points with height, size and direction."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.grid import reference_grid, whole_ground_grid
from zigzag_meadow.core.layers.scatter import densest, sampled_at, throw
from zigzag_meadow.core.project.features import Scatter

if TYPE_CHECKING:
    from zigzag_meadow.core.evaluate.engine import Evaluation

__all__ = ["Scattered", "points_key", "scatter_points"]

F64 = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Scattered:
    """``points``: float64 (n, 5): metres east and south of the north-west corner, height and size in metres, degrees
    clockwise from north. ``crowded``: how many on 100 m² the distance leaves room for, where fewer than wanted."""

    points: F64
    crowded: float | None


def _size_map(ev: Evaluation, name: str, rows: F64, cols: F64) -> F64:
    """Values of a map at places, 0–1: masks as they are, readings between their ends on the reference grid."""
    grid = whole_ground_grid(ev.home)
    values = sampled_at(np.nan_to_num(ev.map(name, grid)), rows, cols)
    if name.startswith("mask:"):
        return values
    ends = ev.held(
        f"{ev.graph.named(name).key}:extremes",
        lambda: np.array([f(ev.map(name, reference_grid(ev.home))) for f in (np.nanmin, np.nanmax)], np.float64),
    )
    low, high = float(ends[0]), float(ends[1])
    part: F64 = np.clip((values - low) / max(high - low, 1e-9), 0, 1)
    return part


def points_key(ev: Evaluation, scatter_id: str) -> str:
    """What identifies the points of one thing scattered: equal keys, equal points. Raises :class:`NotFound`."""
    scatter = ev.project.scatter(scatter_id)
    if scatter is None:
        raise NotFound(f"Nothing scattered has the id {scatter_id!r}.", field="scatter")
    grid = whole_ground_grid(ev.home)
    numbers = scatter.model_dump_json(exclude={"id", "name", "colour", "deliver", "bits", "points_format"})
    read = [ev.graph.scattered(scatter_id), ev.graph.height()]
    read += [ev.graph.named(scatter.size_by)] if scatter.size_by else []
    text = "|".join([*(node.key for node in read), grid.key, numbers])
    return f"points-{hashlib.sha256(text.encode()).hexdigest()[:32]}"


def scatter_points(ev: Evaluation, scatter_id: str) -> Scattered:
    """The points of one thing scattered, in a fixed order. The same at any map size: the mask is read on the ground's
    own grid. Raises :class:`NotFound`, :class:`TooLarge` for more than a million before the mask."""
    scatter = ev.project.scatter(scatter_id)
    if scatter is None:
        raise NotFound(f"Nothing scattered has the id {scatter_id!r}.", field="scatter")
    points = ev.held(points_key(ev, scatter_id), lambda: _points(ev, scatter))
    room = densest(scatter.distance)
    return Scattered(points, room if room < scatter.density else None)


def _points(ev: Evaluation, scatter: Scatter) -> F64:
    grid = whole_ground_grid(ev.home)
    thrown = throw(grid.width, grid.length, scatter.density, scatter.distance, scatter.seed)
    rows, cols = thrown.south / grid.dy, thrown.east / grid.dx
    density = sampled_at(ev.map(f"scatter:{scatter.id}", grid), rows, cols)
    stands = thrown.chance < density
    rows, cols = rows[stands], cols[stands]
    grown = _size_map(ev, scatter.size_by, rows, cols) if scatter.size_by else np.full(rows.size, 0.5)
    size = scatter.size_low + (scatter.size_high - scatter.size_low) * grown
    size = size * (1 + scatter.spread * (2 * thrown.luck[stands] - 1))
    height = sampled_at(ev.map("reading:height", grid), rows, cols)
    return np.column_stack([thrown.east[stands], thrown.south[stands], height, size, thrown.turn[stands] * 360])
