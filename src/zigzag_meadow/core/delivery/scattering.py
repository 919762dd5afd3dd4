"""Scattered points as files, in the target's axes."""

from __future__ import annotations

import hashlib
import tempfile
from pathlib import Path

import numpy as np
import orjson
from numpy.typing import NDArray

from zigzag_meadow.core.delivery.plan import Plan, PlannedItem
from zigzag_meadow.core.delivery.raster import WRITERS_VERSION, extent_of
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.evaluate.scattered import points_key, scatter_points
from zigzag_meadow.core.formats.catalogue import form
from zigzag_meadow.core.formats.declare import Form
from zigzag_meadow.core.formats.writing.points import PointList
from zigzag_meadow.core.stripes import Stripes

__all__ = ["placed_points", "points_file", "points_file_key", "write_points"]

_AT_ONCE = 50_000


def placed_points(evaluation: Evaluation, plan: Plan, scatter_id: str) -> NDArray[np.float64]:
    """Points of what is delivered as float64 (n, 5): metres east, north and up in the target's axes, size in metres,
    degrees clockwise from north."""
    points = scatter_points(evaluation, scatter_id).points
    part = extent_of(plan, plan.grid, plan.part)
    whole = extent_of(plan, plan.grid, plan.grid.whole)
    made = points.copy()
    made[:, 0] += whole.west
    made[:, 1] = whole.south + plan.grid.length - points[:, 1]
    made[:, 2] -= plan.zero
    inside = (made[:, 0] >= part.west) & (made[:, 0] <= part.west + part.width)
    inside &= (made[:, 1] >= part.south) & (made[:, 1] <= part.south + part.length)
    return made if not plan.trial else made[inside]


def points_file_key(evaluation: Evaluation, plan: Plan, item: PlannedItem) -> str:
    """What a file of points is known by."""
    position = plan.target.position.model_dump(mode="json")
    part = [plan.part.row0, plan.part.row1, plan.part.col0, plan.part.col1, plan.grid.key]
    scatter = plan.project.scatter(item.scatter)
    told = [WRITERS_VERSION, points_key(evaluation, item.scatter), item.form.id, position, plan.zero]
    told += [part if plan.trial else None, scatter.name if scatter is not None and item.form.id == "geojson" else None]
    return hashlib.sha256(orjson.dumps(told)).hexdigest()[:40]


def write_points(evaluation: Evaluation, plan: Plan, item: PlannedItem, path: Path) -> int:
    """Write the file; how many points it holds."""
    points = placed_points(evaluation, plan, item.scatter)
    scatter = plan.project.scatter(item.scatter)
    _write(item.form, points, scatter.name if scatter is not None else "points", path)
    return len(points)


def _write(form_: Form, points: NDArray[np.float64], name: str, path: Path) -> None:
    with form_.open(path, PointList(len(points), name), Stripes(1)) as out:
        for at in range(0, len(points), _AT_ONCE):
            out.write(points[at : at + _AT_ONCE])


def points_file(kind: str, points: NDArray[np.float64], length: float, name: str) -> bytes:
    """Points as they are scattered (metres east and south of the north-west corner) as a file that counts from the
    south-west corner; ``length``: of the ground from north to south."""
    table = points.copy()
    table[:, 1] = length - table[:, 1]
    with tempfile.TemporaryDirectory() as place:
        path = Path(place) / "points"
        _write(form(kind), table, name, path)
        return path.read_bytes()
