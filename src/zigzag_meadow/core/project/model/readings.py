"""From the id of a reading to its kind and its numbers."""

from __future__ import annotations

from dataclasses import dataclass

from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.left import Leaving, leaving, leavings
from zigzag_meadow.core.readings.catalogue import READINGS, reading
from zigzag_meadow.core.readings.declare import Reading, Value

__all__ = ["Resolved", "all_readings", "kind_of", "resolve", "title_of"]


@dataclass(frozen=True, slots=True)
class Resolved:
    """One reading of a project: its declaration, what it is called here, and all its numbers.

    ``given``: the names of those that are not defaults.
    """

    id: str
    kind: Reading
    title: str
    numbers: dict[str, Value]
    given: frozenset[str]
    left: Leaving | None = None
    """The step that left it, and what it is there."""


def resolve(project: Project, reading_id: str, home: Grid | None = None) -> Resolved:
    """The reading with this id; defaults are taken for ``home`` (the prepared ground, unless given).

    Raises :class:`NotFound` for an id that is neither a kind nor in the document, :class:`BadNumber` for numbers
    that cannot be taken.
    """
    left = leaving(project, reading_id)
    if left is not None:
        return Resolved(reading_id, left.kind, left.title, {}, frozenset(), left)
    setting = project.setting(reading_id)
    kind = reading(setting.kind if setting is not None else reading_id)
    where = home or project.ground.home
    given = setting.numbers if setting is not None else {}
    if kind.numbers_of and reading_id == kind.name:
        shared = project.setting(kind.numbers_of)
        given = shared.numbers if shared is not None else {}
    title = setting.name if setting is not None and setting.name else kind.title
    return Resolved(reading_id, kind, title, kind.numbers(given, where), frozenset(given))


def title_of(project: Project, reading_id: str) -> str:
    """What a reading is called; its id where it is no longer there."""
    try:
        return resolve(project, reading_id).title
    except NotFound:
        return reading_id


def kind_of(project: Project, reading_id: str) -> Reading:
    """The declaration of a reading of this project. Raises :class:`NotFound`."""
    left = leaving(project, reading_id)
    if left is not None:
        return left.kind
    setting = project.setting(reading_id)
    return reading(setting.kind if setting is not None else reading_id)


def all_readings(project: Project) -> list[Resolved]:
    """Every reading there is: one of each kind, then those with numbers of their own after their kind; what steps of
    preparation left before the first of its family."""
    readings = []
    left = [resolve(project, item.id) for item in leavings(project)]
    for kind in READINGS:
        readings += [item for item in left if item.kind.family == kind.family]
        left = [item for item in left if item.kind.family != kind.family]
        if kind.ready:
            readings.append(resolve(project, kind.name))
        readings += [resolve(project, s.id) for s in project.readings if s.kind == kind.name and s.id != kind.name]
    return readings
