"""What checks of several parts of a document share."""

from __future__ import annotations

from collections.abc import Iterable

from zigzag_meadow.core.errors import BadDocument, BadNumber, NameTaken, NotFound
from zigzag_meadow.core.masks.sources import Band, FeatureUse, MaskUse, ReadingUse, Source
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.readings import kind_of

__all__ = ["check_reading_use", "check_source", "unique"]


def unique(kind: str, things: Iterable[tuple[str, str]]) -> None:
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


def check_reading_use(project: Project, source: ReadingUse, place: str) -> None:
    declared = kind_of(project, source.reading)
    if source.black == source.white:
        raise BadNumber(f"{place}: black and white must stand for different values.", field="white")
    if declared.scale == "log" and min(source.black, source.white) <= 0:
        raise BadNumber(f"{place}: {declared.title} starts above 0.", field="black")


def check_source(project: Project, source: Source, place: str) -> None:
    if isinstance(source, Band):
        _check_band(project, source, place)
    elif isinstance(source, ReadingUse):
        check_reading_use(project, source, place)
    elif isinstance(source, FeatureUse) and project.feature(source.feature) is None:
        raise NotFound(f"{place} reads a drawn line that is not there.", field="feature")
    elif isinstance(source, MaskUse):
        other = project.mask(source.mask)
        if other is None:
            raise NotFound(f"{place} reads a mask that is not there.", field="mask")
        if source.band is not None and source.band >= (other.bands or 0):
            has = f"is cut into {other.bands}" if other.bands else "is not cut into bands"
            raise NotFound(f"{place} reads band {source.band + 1} of {other.name}, which {has}.", field="band")
