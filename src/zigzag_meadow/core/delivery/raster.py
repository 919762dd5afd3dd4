"""How a planned file lies and is written, as writers, the note and its key want it."""

from __future__ import annotations

import hashlib
from dataclasses import asdict, replace
from typing import Any

import orjson

from zigzag_meadow.core.delivery.content import Content
from zigzag_meadow.core.delivery.plan import Plan, PlannedFile, PlannedItem
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.formats.georeference import GeoReference, georeference_of
from zigzag_meadow.core.formats.writing.raster import Raster
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.targets.note import Extent

__all__ = ["WRITERS_VERSION", "extent_of", "file_key", "is_coded", "raster_of", "source_reference"]

WRITERS_VERSION = 1
"""Raised whenever files would come out otherwise from the same samples."""


def is_coded(plan: Plan, item: PlannedItem) -> bool:
    """Whether its colours are coded as sRGB."""
    if item.form.floats:
        return False
    albedo = item.thing.of.endswith(":albedo")
    if item.thing.kind == "colour" or albedo:
        return albedo or plan.target.colour_space == "sRGB"
    return item.sheet is not None and item.sheet.holds_colours


def extent_of(plan: Plan, grid: Grid, window: Window) -> Extent:
    """What a window of a grid is laid over, in the target's metres: vertices reach from sample to sample, cells to
    their borders."""
    less = 1 if grid.registration == "vertex" else 0
    west, south = 0.0, 0.0
    if plan.target.position.anchor == "centre":
        west, south = -plan.grid.width / 2, -plan.grid.length / 2
    below = max(grid.length - (window.row1 - less) * grid.dy, 0.0)
    width, length = (window.cols - less) * grid.dx, (window.rows - less) * grid.dy
    return Extent(west=west + window.col0 * grid.dx, south=south + below, width=width, length=length)


def source_reference(evaluation: Evaluation) -> GeoReference | None:
    """Where the heightmap says that it lies in the world; None where it does not, or where it was cut or turned."""
    ground = evaluation.project.ground
    if any(step.moves for step in ground.active):
        return None
    return georeference_of(evaluation.engine.asset_path(ground.asset), ground.file_name)


def _reference(plan: Plan, item: PlannedItem, window: Window, source: GeoReference | None) -> GeoReference | None:
    """The reference of a window, in the units of the source."""
    if source is None:
        return None
    file, grid = plan.project.ground.file_grid, item.grid
    # In samples of the source its first one lies half a cell inside, or on the corner.
    inside = 0.0 if source.points else 0.5
    west, north = source.west + inside * source.per_x, source.north - inside * source.per_y
    per_x, per_y = source.per_x / file.dx * grid.dx, source.per_y / file.dy * grid.dy
    return replace(source, west=west + window.col0 * per_x, north=north - window.row0 * per_y, per_x=per_x, per_y=per_y)


def raster_of(plan: Plan, item: PlannedItem, file: PlannedFile, source: GeoReference | None) -> Raster:
    """How a file is written."""
    window = file.tile.window
    lies = extent_of(plan, item.grid, window)
    geo = item.form.id.startswith("geotiff")
    places = geo or item.form.id == "asc"
    palette: tuple[tuple[int, int, int], ...] = ()
    if item.thing.kind == "classes" and item.form.id in ("png8", "tiff8"):
        hexes = [outcome.colour for outcome in plan.project.outcomes]
        palette = tuple((int(c[1:3], 16), int(c[3:5], 16), int(c[5:7], 16)) for c in hexes)
    return Raster(
        window.rows, window.cols, len(item.channels), item.form.sample,
        srgb=is_coded(plan, item) and item.form.colours == "tagged", palette=palette,
        order=item.choice.order or "little", packed=item.choice.packed, tile=item.choice.blocks,
        spacing=(item.grid.dy, item.grid.dx) if places else (1.0, 1.0),
        south_west=(lies.west, lies.south) if places else (0.0, 0.0), vertex=item.grid.registration == "vertex",
        geo=_reference(plan, item, window, source) if geo else None,
    )  # fmt: skip


def file_key(plan: Plan, item: PlannedItem, content: Content, file: PlannedFile, raster: Raster) -> str:
    """What a file's bytes are known by: equal keys, equal bytes."""
    choice = item.choice.model_dump(mode="json", exclude={"of", "deliver", "file", "whole"})
    told: dict[str, Any] = {
        "writers": WRITERS_VERSION, "samples": content.key(item), "form": item.form.id, "raster": asdict(raster),
        "window": asdict(file.tile.window), "choice": choice, "channels": item.channels, "up": item.rows_up,
        "back": item.cols_back, "coded": is_coded(plan, item),
    }  # fmt: skip
    if item.thing.kind == "height":
        told |= {"coding": plan.target.height.coding.model_dump(mode="json"), "zero": plan.zero}
    return hashlib.sha256(orjson.dumps(told, option=orjson.OPT_SORT_KEYS)).hexdigest()[:40]
