"""What all edits share: the base of an operation, and moves within tuples of things with ids."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Annotated, Any, ClassVar, Protocol, TypeVar

from pydantic import BaseModel, ConfigDict, Field

from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.sheets import ChannelSource, Sheet

__all__ = ["Index", "Op", "inserted", "moved", "replaced", "sheets_with", "with_changes", "without"]


class Op(BaseModel):
    """An edit. What it changes is declared: paths of the document from its top, where ``{field}`` is the thing that a
    field of the operation is or names (``masks/{mask}/lines/{line}``). What hangs on no list ends in its own name.

    ``replaces``: the one place that its value is put into whole. ``changes``: lists and parts that it changes in
    other ways. ``reads``: what else decides what it makes (not what it is merely refused by: then the artist is told).
    """

    replaces: ClassVar[str | None] = None
    changes: ClassVar[tuple[str, ...]] = ()
    reads: ClassVar[tuple[str, ...]] = ()
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, frozen=True, defer_build=True)

    def apply(self, project: Project) -> tuple[Project, str]:
        raise NotImplementedError


class _Identified(Protocol):
    @property
    def id(self) -> str: ...


Thing = TypeVar("Thing", bound=_Identified)
Index = Annotated[int, Field(ge=0, le=1000)]


def replaced(things: Sequence[Thing], new: Thing) -> tuple[Thing, ...]:
    return tuple(new if item.id == new.id else item for item in things)


def moved(things: Sequence[Thing], item_id: str, to: int) -> tuple[Thing, ...]:
    item = next(t for t in things if t.id == item_id)
    others = [t for t in things if t.id != item_id]
    others.insert(min(to, len(others)), item)
    return tuple(others)


def inserted(things: Sequence[Thing], new: Thing, at: int | None) -> tuple[Thing, ...]:
    place = len(things) if at is None else min(at, len(things))
    return (*things[:place], new, *things[place:])


def without(things: Sequence[Thing], item_id: str) -> tuple[Thing, ...]:
    return tuple(t for t in things if t.id != item_id)


def sheets_with(
    project: Project, gone: Callable[[ChannelSource], bool], instead: ChannelSource | None = None
) -> tuple[Sheet, ...]:
    """The sheets with every channel whose source is ``gone`` empty, or carrying something ``instead``."""
    sheets = []
    for sheet in project.sheets:
        freed: dict[str, ChannelSource | None] = {
            channel: instead
            for channel in sheet.channels
            if (source := sheet.source(channel)) is not None and gone(source)
        }
        sheets.append(sheet.model_copy(update=freed))
    return tuple(sheets)


def with_changes(project: Project, **changes: Any) -> Project:
    return project.model_copy(update=changes)
