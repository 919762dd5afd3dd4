"""How a planned file lies and is written, as writers, the note and its key want it."""

from __future__ import annotations

import hashlib
from dataclasses import asdict, replace
from typing import Any

import orjson

from zigzag_meadow.core.delivery.content import Content
from zigzag_meadow.core.delivery.plan import Plan, PlannedFile, PlannedItem
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.formats.reading.georeference import GeoReference, georeference_of
from zigzag_meadow.core.formats.writing.raster import Raster
from zigzag_meadow.core.formats.writing.tiff import local_reference
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.map_name import is_albedo
from zigzag_meadow.core.project.model.ground import turning_back
from zigzag_meadow.core.targets.note import Extent

__all__ = ["WRITERS_VERSION", "extent_of", "file_key", "is_coded", "raster_of", "source_reference"]

WRITERS_VERSION = 4
"""Raised whenever files would come out otherwise from the same samples."""


def is_coded(plan: Plan, item: PlannedItem) -> bool:
    """Whether its colours are coded as sRGB."""
    if item.form.floats:
        return False
    albedo = is_albedo(item.thing.name)
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
    """Where the heightmap says that it lies in the world; None where it does not."""
    ground = evaluation.project.ground
    return georeference_of(evaluation.engine.asset_path(ground.asset), ground.file_name)


def _in_the_world(plan: Plan, item: PlannedItem, window: Window, source: GeoReference) -> GeoReference:
    """Where a window lies in the source's own system, wherever steps of preparation cut and turned the ground to."""
    ground, grid = plan.project.ground, item.grid
    file, back = ground.file_grid, turning_back(ground, 0)
    # Ground is never stretched by a step: a metre stays one, however its place was worked out.
    (a, b), (d, e) = ((round(along[0]), round(along[1])) for along in (back.east, back.south))

    def moved(east: float, south: float) -> tuple[float, float]:
        cols, rows = east / file.dx, south / file.dy
        return cols * source.col[0] + rows * source.row[0], cols * source.col[1] + rows * source.row[1]

    corner = moved(*back.one(window.col0 * grid.dx, window.row0 * grid.dy))
    return replace(
        source,
        origin=(source.first[0] + corner[0], source.first[1] + corner[1]),
        col=moved(a * grid.dx, d * grid.dx),
        row=moved(b * grid.dy, e * grid.dy),
        points=grid.registration == "vertex",
    )


def _reference(
    plan: Plan, item: PlannedItem, window: Window, raster: Raster, source: GeoReference | None
) -> GeoReference:
    """The reference of a window as its file runs: in the source's system, else in metres."""
    lies = local_reference(raster) if source is None else _in_the_world(plan, item, window, source)
    less = 1 if raster.vertex else 0
    return lies.counted_back(
        raster.cols - less if item.cols_back else None, raster.rows - less if item.rows_up else None
    )


def raster_of(plan: Plan, item: PlannedItem, file: PlannedFile, source: GeoReference | None) -> Raster:
    """How a file is written."""
    window = file.tile.window
    lies = extent_of(plan, item.grid, window)
    geo, places = item.form.world, item.form.places
    made = Raster(
        window.rows,
        window.cols,
        len(item.channels),
        item.form.sample,
        srgb=is_coded(plan, item) and item.form.colours == "tagged",
        alpha=plan.target.alpha == "data",
        order=item.choice.order or "little",
        packed=item.choice.packed,
        tile=item.choice.blocks,
        spacing=(item.grid.dy, item.grid.dx) if places else (1.0, 1.0),
        south_west=(lies.west, lies.south) if places else (0.0, 0.0),
        vertex=item.grid.registration == "vertex",
    )
    return replace(made, geo=_reference(plan, item, window, made, source)) if geo else made


def file_key(plan: Plan, item: PlannedItem, content: Content, file: PlannedFile, raster: Raster) -> str:
    """What a file's bytes are known by: equal keys, equal bytes."""
    choice = item.choice.model_dump(mode="json", exclude={"of", "deliver", "file", "whole"})
    told: dict[str, Any] = {
        "writers": WRITERS_VERSION,
        "samples": content.key(item),
        "form": item.form.id,
        "raster": asdict(raster),
        "window": asdict(file.tile.window),
        "choice": choice,
        "channels": item.channels,
        "up": item.rows_up,
        "back": item.cols_back,
        "coded": is_coded(plan, item),
    }
    if item.thing.kind == "height":
        told |= {"coding": plan.target.height.coding.model_dump(mode="json"), "zero": plan.zero}
        ground = plan.project.ground
        told["codes"] = ground.format_ends if ground.by_code else None
    return hashlib.sha256(orjson.dumps(told, option=orjson.OPT_SORT_KEYS)).hexdigest()[:40]
