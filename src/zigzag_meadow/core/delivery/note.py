"""The import note: the numbers to type in at the target, as data."""

from __future__ import annotations

from typing import Any

from zigzag_meadow.core.colour.surface import SURFACE_MAPS
from zigzag_meadow.core.delivery.plan import Item, Plan
from zigzag_meadow.core.project.document import (
    BaseSource,
    Channel,
    ChannelSource,
    MaskSource,
    PaintedSource,
    Project,
    ReadingSource,
    RestSource,
    ScatterSource,
    WeightSource,
)
from zigzag_meadow.core.project.readings import resolve

__all__ = ["NOTE_VERSION", "CheckPoint", "import_note"]

NOTE_VERSION = 1
CheckPoint = dict[str, Any]


def _carries(project: Project, source: ChannelSource | None) -> dict[str, Any]:
    if source is None:
        return {"kind": "empty", "title": "empty"}
    if isinstance(source, WeightSource):
        made = next((item for item in project.outcomes if item.id == source.layer), None)
        if made is None:
            every = {item.id: item.name for item in project.layers} | {item.id: item.name for item in project.merges}
            name = every.get(source.layer, "?")
            return {"kind": "weight", "title": f"{name} (switched off)", "layer": source.layer}
        return {"kind": "weight", "title": made.name, "colour": made.colour, "layer": made.id}
    if isinstance(source, BaseSource):
        return {"kind": "base", "title": project.base.name, "colour": project.base.colour, "layer": "base"}
    if isinstance(source, RestSource):
        return {"kind": "rest", "title": "rest of this sheet"}
    if isinstance(source, ScatterSource):
        scatter = project.scatter(source.scatter)
        return {
            "kind": "density", "title": scatter.name if scatter else "?", "white": scatter.density if scatter else 0,
        }  # fmt: skip
    if isinstance(source, MaskSource):
        mask = project.mask(source.mask)
        return {"kind": "mask", "title": mask.name if mask else "?"}
    if isinstance(source, PaintedSource):
        return {"kind": "painted", "title": _painted_title(project, source), "map": source.map, "part": source.part}
    assert isinstance(source, ReadingSource)  # the last kind there is
    resolved = resolve(project, source.reading)
    declared = resolved.kind
    return {
        "kind": "reading", "title": resolved.title, "unit": declared.unit, "scale": declared.scale,
        "black": source.black, "white": source.white,
    }  # fmt: skip


def _painted_title(project: Project, source: PaintedSource) -> str:
    if source.map == "strongest":
        numbers = ", ".join(f"{at} {item.name}" for at, item in enumerate(project.outcomes))
        return f"Number of the strongest layer: {numbers}"
    part = {"r": "red", "g": "green", "b": "blue"}[source.part]
    if source.map == "colour" or source.map == "colour_far":
        return f"{'Colour map' if source.map == 'colour' else 'Far colour map'}, {part}"
    return f"Normal map, {part}" if source.map == "normal" else SURFACE_MAPS[source.map]


def _file(plan: Plan, item: Item) -> dict[str, Any]:
    entry: dict[str, Any] = {
        "file": item.file, "title": item.title, "kind": item.kind, "format": item.format, "bits": item.bits,
        "rows": plan.grid.rows, "columns": plan.grid.cols, "colour_space": "linear",
    }  # fmt: skip
    if item.kind == "height":
        entry["byte_order"] = plan.target.byte_order if item.format == "raw" else None
    if item.scatter is not None:
        what = {"kind": "density", "title": item.scatter.name, "white": item.scatter.density}
        entry["channels"] = [{"channel": "r", **what}]
    if item.sheet is not None:
        entry["sheet"] = item.sheet.id
        entry["channels"] = [
            {"channel": channel, **_carries(plan.project, item.sheet.source(channel))}
            for channel in item.sheet.channels
        ]
        if item.sheet.holds_colours:
            entry["colour_space"] = "sRGB"
        entry["alpha"] = "straight data" if "a" in item.sheet.channels else "none"
    return entry


def _sums_to_full(plan: Plan) -> bool:
    """Whether the sheets carry every shown weight and the base exactly once, so that they must add up."""
    carried: list[str] = []
    for sheet in plan.project.sheets:
        channels: tuple[Channel, ...] = sheet.channels
        for source in (sheet.source(channel) for channel in channels):
            if isinstance(source, WeightSource):
                carried.append(source.layer)
            elif isinstance(source, BaseSource):
                carried.append("base")
            elif isinstance(source, RestSource):
                return False
    wanted = {item.id for item in plan.project.outcomes}
    shown = [item for item in carried if item in wanted]
    return sorted(shown) == sorted(wanted)


def import_note(plan: Plan, points: list[CheckPoint]) -> dict[str, Any]:
    """The import note as plain data: all a rehearsal, or a person at the target, may know."""
    grid, ground, coding = plan.grid, plan.project.ground, plan.coding
    return {
        "note": NOTE_VERSION,
        "project": plan.project.name,
        "target": {"id": plan.target.id, "title": plan.target.title},
        "terrain": {
            "columns": grid.cols,
            "rows": grid.rows,
            "registration": grid.registration,
            "first_row": "north",
            "first_column": "west",
            "spacing_x": grid.dx,
            "spacing_y": grid.dy,
            "width": grid.width,
            "length": grid.length,
            "patch_cells": plan.layout_x.patch,
            "patches_per_block_side": plan.layout_x.patches,
            "blocks_x": plan.layout_x.blocks,
            "blocks_y": plan.layout_y.blocks,
        },
        "height": {
            "coding": plan.target.coding,
            "middle": 32768,
            "base_step": plan.target.base_step,
            "vertical_scale": coding.scale,
            "step": coding.step,
            "vertical_position": coding.position,
            "low": plan.ends[0],
            "high": plan.ends[1],
            "water": ground.water,
        },
        "weights_add_up": _sums_to_full(plan),
        "files": [_file(plan, item) for item in plan.items if item.is_image],
        "points": [
            {
                "file": item.file,
                "title": item.title,
                "format": item.format,
                "columns": "east, north, height (m, from the south-west corner), size (m), turn (degrees from north)",
            }
            for item in plan.items
            if not item.is_image
        ],
        "check_points": points,
        "leave_alone": [{"setting": s, "to": to, "because": why} for s, to, why in plan.target.neutral],
    }
