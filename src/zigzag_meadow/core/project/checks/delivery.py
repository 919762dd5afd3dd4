"""Whether sheets, targets and what is to be delivered hold together."""

from __future__ import annotations

from zigzag_meadow.core.errors import BadDocument, BadNumber, NotFound
from zigzag_meadow.core.formats.catalogue import form
from zigzag_meadow.core.map_name import map_name, reading_of
from zigzag_meadow.core.masks.sources import MaskUse, ReadingUse
from zigzag_meadow.core.project.checks.shared import check_reading_use, check_source, unique
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.items import deliverables
from zigzag_meadow.core.project.model.readings import kind_of
from zigzag_meadow.core.project.model.sheets import (
    BandSource,
    MaskSource,
    ReadingSource,
    ScatterSource,
    StepSource,
    WeightSource,
)
from zigzag_meadow.core.targets.catalogue import built_in, check_target, target

__all__ = ["check_delivery", "check_sheets"]


def _check_weight(project: Project, layer: str, place: str) -> None:
    if project.layer(layer) is None and all(merge.id != layer for merge in project.merges):
        raise NotFound(f"{place} reads a layer that is not there.")
    merge = project.merge_of(layer)
    if merge is not None:
        raise BadDocument(f"{place} reads a layer that is merged into {merge.name}. Let it carry {merge.name}.")


def check_sheets(project: Project) -> None:
    for sheet in project.sheets:
        sources = [(channel, sheet.source(channel)) for channel in sheet.channels]
        if sum(1 for _, s in sources if s is not None and s.kind == "rest") > 1:
            raise BadDocument(f"The sheet {sheet.name} can have the rest of this sheet in one channel only.")
        for channel, source in sources:
            place = f"Channel {channel.upper()} of {sheet.name}"
            if isinstance(source, WeightSource):
                _check_weight(project, source.layer, place)
            if isinstance(source, StepSource):
                _check_weight(project, source.layer, place)
            if isinstance(source, MaskSource | BandSource):
                use = MaskUse(mask=source.mask, band=source.band if isinstance(source, BandSource) else None)
                check_source(project, use, place)
            if isinstance(source, ScatterSource) and project.scatter(source.scatter) is None:
                raise NotFound(f"{place} reads something scattered that is not there.")
            if isinstance(source, ReadingSource):
                _check_reading_channel(project, source, place)


def _check_reading_channel(project: Project, source: ReadingSource, place: str) -> None:
    declared = kind_of(project, source.reading)
    if source.mapping in ("east", "north") and not declared.wraps:
        raise BadNumber(f"{place}: {declared.title} is no direction: it has no part to the east.", field="mapping")
    if source.mapping == "signed" and source.white <= 0:
        raise BadNumber(f"{place}: white must stand for more than 0, got {source.white:g}.", field="white")
    if source.mapping == "log" and min(source.black, source.white) <= 0:
        raise BadNumber(f"{place}: a logarithm starts above 0.", field="black")
    if source.mapping in ("even", "log") and source.black == source.white:
        raise BadNumber(f"{place}: black and white must stand for different values.", field="white")
    if source.mapping == "own":
        use = ReadingUse(reading=source.reading, black=source.black, white=source.white)
        check_reading_use(project, use, place)


def check_delivery(project: Project) -> None:
    own = [(item.id, item.title) for item in project.targets]
    unique("target", [*((item.id, item.title) for item in built_in()), *own])
    for item in project.targets:
        check_target(item)
    target(project.delivery.target, project.targets)
    chosen = [item.of for item in project.delivery.items]
    if len(set(chosen)) != len(chosen):
        raise BadDocument("Something is chosen twice for one file of the delivery.", field="items")
    there = {item.of for item in deliverables(project)} if chosen else set()
    for choice in project.delivery.items:
        if choice.of not in there:
            raise NotFound(f"The delivery holds a choice for {choice.of}, which is not there.", field="items")
        if choice.form is not None:
            form(choice.form)
        ends = (choice.black, choice.white)
        if (None in ends and ends != (None, None)) or (ends[0] is not None and ends[0] == ends[1]):
            raise BadNumber("Black and white must both be given, and differ.", field="black")
        reading = reading_of(map_name(choice.of))
        below = any(end is not None and end <= 0 for end in ends)
        if reading is not None and below and kind_of(project, reading).scale == "log":
            raise BadNumber("A logarithm starts above 0: black and white must lie above it.", field="black")
        if (choice.rows is None) != (choice.cols is None):
            raise BadNumber("A size of its own has rows and columns.", field="rows")
