"""Whether a document holds together: unique names, references that exist, no circles, numbers that make sense."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from pydantic import ValidationError

from zigzag_meadow.core.errors import BadDocument, BadNumber, Cycle, NameTaken, NotFound
from zigzag_meadow.core.formats.limits import LONGEST_SIDE, SHORTEST_SIDE
from zigzag_meadow.core.project.document import (
    Band,
    Levels,
    Line,
    Mask,
    MaskSource,
    MaskUse,
    Project,
    ReadingSource,
    WeightSource,
)
from zigzag_meadow.core.project.readings import kind_of, resolve
from zigzag_meadow.core.project.steps import STEP_TITLES, legal_where
from zigzag_meadow.core.project.upgrade import upgraded
from zigzag_meadow.core.readings.catalogue import READINGS
from zigzag_meadow.core.targets.rules import target

__all__ = ["check_project", "masks_read_by", "parse_project", "uses_of_mask"]


def parse_project(data: Any) -> Project:
    """A checked project from plain JSON data. Raises :class:`BadDocument` with the place that is wrong."""
    try:
        project = Project.model_validate(upgraded(data))
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"])
        message = f"The project document is wrong at {place or 'its root'}: {first['msg']}."
        raise BadDocument(message, field=place or None) from None
    check_project(project)
    return project


def masks_read_by(mask: Mask) -> list[str]:
    """Ids of the masks that the lines of ``mask`` use."""
    return [
        line.source.mask
        for line in mask.lines
        if line.verb in ("take", "leave_out", "keep_within") and isinstance(line.source, MaskUse)
    ]


def uses_of_mask(project: Project, mask_id: str) -> list[str]:
    """Who uses a mask, in words: other masks, layers, channels."""
    used = [f"the mask {m.name}" for m in project.masks if mask_id in masks_read_by(m)]
    used += [f"the layer {item.name}" for item in project.layers if item.mask == mask_id]
    for sheet in project.sheets:
        for channel in sheet.channels:
            source = sheet.source(channel)
            if isinstance(source, MaskSource) and source.mask == mask_id:
                used.append(f"channel {channel.upper()} of the sheet {sheet.name}")
    used += [
        f"the reading {resolve(project, s.id).title}"
        for s in project.readings
        if f"mask:{mask_id}" in s.numbers.values()
    ]
    return used


def _unique(kind: str, things: Iterable[tuple[str, str]]) -> None:
    ids: set[str] = set()
    names: set[str] = set()
    for thing_id, name in things:
        if thing_id in ids:
            raise BadDocument(f"Two {kind}s have the id {thing_id!r}.")
        if name.casefold() in names:
            raise NameTaken(f"There is already a {kind} called {name}. Choose another name.", field="name")
        ids.add(thing_id)
        names.add(name.casefold())


def _check_band(project: Project, source: Band, place: str) -> None:
    declared = kind_of(project, source.reading)
    if source.low > source.high and not declared.wraps:
        raise BadNumber(
            f"{place}: the lower edge {source.low:g} must not be above the upper edge {source.high:g}.",
            field="low",
        )
    if declared.scale == "log" and source.low <= 0:
        raise BadNumber(f"{place}: {declared.title} starts above 0, got {source.low:g}.", field="low")


def _check_line(project: Project, line: Line, place: str) -> None:
    if isinstance(line, Levels):
        if line.in_low >= line.in_high:
            raise BadNumber(f"{place}: the darkest input must be below the brightest.", field="in_low")
        return
    source = getattr(line, "source", None)
    if isinstance(source, Band):
        _check_band(project, source, place)


def _maps_read_by(project: Project, name: str) -> list[str]:
    """Names of the maps that a mask or a reading with a map among its numbers reads."""
    kind, _, item = name.partition(":")
    if kind == "mask":
        mask = project.mask(item)
        lines = mask.lines if mask is not None else ()
        sources = [getattr(line, "source", None) for line in lines]
        return [
            f"mask:{s.mask}" if isinstance(s, MaskUse) else f"reading:{s.reading}"
            for s in sources
            if isinstance(s, MaskUse | Band)
        ]
    resolved = resolve(project, item)
    maps = [p.name for p in resolved.kind.params if p.kind == "map" and p.name != "asset"]
    return [str(resolved.numbers[name]) for name in maps if resolved.numbers[name]]


def _check_circles(project: Project) -> None:
    def title(name: str) -> str:
        kind, _, item = name.partition(":")
        mask = project.mask(item) if kind == "mask" else None
        return mask.name if mask is not None else resolve(project, item).title

    done: set[str] = set()

    def visit(name: str, path: list[str]) -> None:
        if name in path:
            circle = [*path[path.index(name) :], name]
            raise Cycle("Maps would read each other in a circle: " + " → ".join(title(m) for m in circle) + ".")
        if name in done:
            return
        for other in _maps_read_by(project, name):
            visit(other, [*path, name])
        done.add(name)

    for mask in project.masks:
        visit(f"mask:{mask.id}", [])
    for setting in project.readings:
        visit(f"reading:{setting.id}", [])


def _check_readings(project: Project) -> None:
    ids = [setting.id for setting in project.readings]
    if len(set(ids)) != len(ids):
        raise BadDocument("Two readings have the same id.")
    for setting in project.readings:
        resolved = resolve(project, setting.id)
        by_name = next((r.name for r in READINGS if r.name == setting.id), setting.kind)
        if by_name != setting.kind:
            raise BadDocument(f"The reading {setting.id} cannot be a {resolved.kind.title}.", field="readings")
        for param in resolved.kind.params:
            value = resolved.numbers[param.name]
            if param.kind == "map" and param.name != "asset" and value:
                _check_map_name(project, str(value), resolved.title)


def _check_map_name(project: Project, name: str, who: str) -> None:
    kind, _, item = name.partition(":")
    if kind == "mask" and project.mask(item) is None:
        raise NotFound(f"{who} reads a mask that is not there.", field="readings")
    if kind == "reading":
        kind_of(project, item)
    if kind not in ("mask", "reading"):
        raise NotFound(f"{who} must read a mask or a reading, got {name!r}.", field="readings")


def _check_ground(project: Project) -> None:
    ground = project.ground
    if ground.heights == "points" and ground.points is None:
        raise BadNumber("Two known points are needed to take heights from them.", field="points")
    low, high = ground.file_ends
    if high <= low:
        raise BadNumber(f"The highest height must be above the lowest, got {low:g} to {high:g} m.", field="high")
    ids = [step.id for step in ground.steps]
    if len(set(ids)) != len(ids):
        raise BadDocument("Two preparation steps have the same id.")
    for number, step in enumerate(ground.steps, 1):
        place = f"Step {number} ({STEP_TITLES[step.kind]})"
        if not legal_where(step):
            raise BadDocument(f"{place} acts on all of the ground: it cannot be limited to a part.", field="where")
        for band in step.where:
            _check_band(project, band, place)
        grid = ground.grid_after(number)
        if min(grid.rows, grid.cols) < SHORTEST_SIDE or max(grid.rows, grid.cols) > LONGEST_SIDE:
            raise BadNumber(
                f"{place} would make {grid.cols} × {grid.rows} samples; a ground has {SHORTEST_SIDE} to "
                f"{LONGEST_SIDE} a side.",
                field="steps",
            )


def _check_sheets(project: Project) -> None:
    for sheet in project.sheets:
        sources = [(channel, sheet.source(channel)) for channel in sheet.channels]
        if sum(1 for _, s in sources if s is not None and s.kind == "rest") > 1:
            raise BadDocument(f"The sheet {sheet.name} can have the rest of this sheet in one channel only.")
        for channel, source in sources:
            place = f"Channel {channel.upper()} of {sheet.name}"
            if isinstance(source, WeightSource) and project.layer(source.layer) is None:
                raise NotFound(f"{place} reads a layer that is not there.")
            if isinstance(source, MaskSource) and project.mask(source.mask) is None:
                raise NotFound(f"{place} reads a mask that is not there.")
            if isinstance(source, ReadingSource):
                declared = kind_of(project, source.reading)
                if source.black == source.white:
                    raise BadNumber(f"{place}: black and white must stand for different values.", field="white")
                if declared.scale == "log" and min(source.black, source.white) <= 0:
                    raise BadNumber(f"{place}: {declared.title} starts above 0.", field="black")


def check_project(project: Project) -> None:
    """Raise the first thing that does not hold together (a :class:`MeadowError` with the place in words)."""
    _check_ground(project)
    _check_readings(project)
    _unique("mask", ((m.id, m.name) for m in project.masks))
    _unique("layer", [("base", project.base.name), *((item.id, item.name) for item in project.layers)])
    _unique("sheet", ((s.id, s.name) for s in project.sheets))
    for mask in project.masks:
        ids = [line.id for line in mask.lines]
        if len(set(ids)) != len(ids):
            raise BadDocument(f"Two lines of {mask.name} have the same id.")
        for number, line in enumerate(mask.lines, 1):
            _check_line(project, line, f"Line {number} of {mask.name}")
        for other in masks_read_by(mask):
            if project.mask(other) is None:
                raise NotFound(f"{mask.name} reads a mask that is not there.")
    _check_circles(project)
    for layer in project.layers:
        if layer.mask is not None and project.mask(layer.mask) is None:
            raise NotFound(f"The layer {layer.name} reads a mask that is not there.")
    _check_sheets(project)
    target(project.delivery.target)
