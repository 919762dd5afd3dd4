"""Whether a document holds together: unique names, references that exist, no circles, numbers that make sense."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from pydantic import ValidationError

from zigzag_meadow.core.errors import BadDocument, BadNumber, Cycle, NameTaken, NotFound
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
from zigzag_meadow.core.readings.catalogue import reading
from zigzag_meadow.core.targets.rules import target

__all__ = ["check_project", "masks_read_by", "parse_project", "uses_of_mask"]


def parse_project(data: Any) -> Project:
    """A checked project from plain JSON data. Raises :class:`BadDocument` with the place that is wrong."""
    try:
        project = Project.model_validate(data)
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


def _check_line(line: Line, place: str) -> None:
    if isinstance(line, Levels):
        if line.in_low >= line.in_high:
            raise BadNumber(f"{place}: the darkest input must be below the brightest.", field="in_low")
        return
    source = getattr(line, "source", None)
    if isinstance(source, Band):
        declared = reading(source.reading)
        if source.low > source.high:
            raise BadNumber(
                f"{place}: the lower edge {source.low:g} must not be above the upper edge {source.high:g}.",
                field="low",
            )
        if declared.scale == "log" and source.low <= 0:
            raise BadNumber(f"{place}: {declared.title} starts above 0, got {source.low:g}.", field="low")


def _check_circles(project: Project) -> None:
    reads = {m.id: masks_read_by(m) for m in project.masks}
    names = {m.id: m.name for m in project.masks}
    done: set[str] = set()

    def visit(mask_id: str, path: list[str]) -> None:
        if mask_id in path:
            circle = [*path[path.index(mask_id) :], mask_id]
            raise Cycle("Masks would read each other in a circle: " + " → ".join(names[m] for m in circle) + ".")
        if mask_id in done:
            return
        for other in reads[mask_id]:
            visit(other, [*path, mask_id])
        done.add(mask_id)

    for mask_id in reads:
        visit(mask_id, [])


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
                declared = reading(source.reading)
                if source.black == source.white:
                    raise BadNumber(f"{place}: black and white must stand for different values.", field="white")
                if declared.scale == "log" and min(source.black, source.white) <= 0:
                    raise BadNumber(f"{place}: {declared.title} starts above 0.", field="black")


def check_project(project: Project) -> None:
    """Raise the first thing that does not hold together (a :class:`MeadowError` with the place in words)."""
    ground = project.ground
    if ground.highest <= ground.lowest:
        raise BadNumber(
            f"The highest height must be above the lowest, got {ground.lowest:g} to {ground.highest:g} m.",
            field="high",
        )
    _unique("mask", ((m.id, m.name) for m in project.masks))
    _unique("layer", [("base", project.base.name), *((item.id, item.name) for item in project.layers)])
    _unique("sheet", ((s.id, s.name) for s in project.sheets))
    for mask in project.masks:
        ids = [line.id for line in mask.lines]
        if len(set(ids)) != len(ids):
            raise BadDocument(f"Two lines of {mask.name} have the same id.")
        for number, line in enumerate(mask.lines, 1):
            _check_line(line, f"Line {number} of {mask.name}")
        for other in masks_read_by(mask):
            if project.mask(other) is None:
                raise NotFound(f"{mask.name} reads a mask that is not there.")
    _check_circles(project)
    for layer in project.layers:
        if layer.mask is not None and project.mask(layer.mask) is None:
            raise NotFound(f"The layer {layer.name} reads a mask that is not there.")
    _check_sheets(project)
    target(project.delivery.target)
