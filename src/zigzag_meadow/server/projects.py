"""Actions on projects: create, edit, undo, duplicate, delete, bring in, save out."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta
from functools import lru_cache
from pathlib import Path
from typing import IO, Any

from django.db import transaction
from django.utils import timezone

from zigzag_meadow.core.delivery.plan import nearest_pair
from zigzag_meadow.core.errors import Conflict, NotFound
from zigzag_meadow.core.ground.diagnose import Inspection
from zigzag_meadow.core.project.adopt import file_fields
from zigzag_meadow.core.project.archive import open_archive, write_archive
from zigzag_meadow.core.project.check import parse_project
from zigzag_meadow.core.project.document import Project as Document
from zigzag_meadow.core.project.operations import Operation, apply_operations
from zigzag_meadow.core.project.upgrade import upgraded
from zigzag_meadow.core.targets.rules import target
from zigzag_meadow.server.assets import asset_path, incoming, keep
from zigzag_meadow.server.models import Project, Revision

__all__ = [
    "StaleEdit",
    "State",
    "bring_in",
    "create",
    "create_on",
    "delete",
    "duplicate",
    "edit",
    "find",
    "head",
    "restore",
    "save_out",
    "step",
]

MERGE_WITHIN = timedelta(seconds=1)


class StaleEdit(Conflict):
    """An edit on a revision that is no longer the newest; carries what happened since."""

    code = "stale-edit"

    def __init__(self, current: int, since: list[str]) -> None:
        what = ", ".join(since[-3:]) or "another change"
        super().__init__(f"This project was changed elsewhere meanwhile ({what}).")
        self.current = current
        self.since = since


@dataclass(frozen=True)
class State:
    """A project at its newest revision."""

    row: Project
    revision: Revision
    document: Document

    @property
    def undo_label(self) -> str | None:
        return self.revision.label if self.revision.back is not None else None

    @property
    def redo_label(self) -> str | None:
        if self.revision.forward is None:
            return None
        return self.row.revisions.values_list("label", flat=True).get(number=self.revision.forward)


def stored_document(data: Any) -> Document:
    """A document as it was saved, whatever version it was saved in."""
    return Document.model_validate(upgraded(data))


def find(project_id: str, *, deleted: bool = False) -> Project:
    """A project by id. Raises :class:`NotFound`; deleted ones only with ``deleted``."""
    row = Project.objects.filter(id=project_id).first()
    if row is None or (row.deleted_at is not None and not deleted):
        raise NotFound("There is no such project. It may have been deleted; the shelf shows those there are.")
    return row


def head(project_id: str) -> State:
    row = find(project_id)
    return _state(row)


def _state(row: Project, number: int | None = None) -> State:
    revision = row.revisions.defer("document").get(number=row.head if number is None else number)
    return State(row, revision, _document(row.id, revision.number))


@lru_cache(maxsize=64)
def _document(project_id: str, number: int) -> Document:
    """The document of a revision; revisions never change, and a drag asks for the same one many times a second."""
    return stored_document(Revision.objects.values_list("document", flat=True).get(project=project_id, number=number))


def at_revision(project_id: str, number: int) -> Document:
    """The document of an earlier revision."""
    revision = find(project_id).revisions.filter(number=number).first()
    if revision is None:
        raise NotFound(f"There is no revision {number} of this project.")
    return stored_document(revision.document)


def _append(row: Project, document: Document, label: str, **more: Any) -> Revision:
    number = row.head + 1
    revision = Revision.objects.create(
        project=row,
        number=number,
        document=document.model_dump(mode="json"),
        label=label[:200],
        asset=document.ground.asset,
        **more,
    )
    row.head, row.name = number, document.name
    row.save(update_fields=("head", "name", "updated_at"))
    return revision


def _new(document: Document, label: str) -> State:
    with transaction.atomic():
        row = Project.objects.create(name=document.name)
        revision = _append(row, document, label)
    return State(row, revision, document)


def create(name: str, asset: str, found: Inspection, measures: dict[str, Any]) -> State:
    """A project from an inspected heightmap; the delivery starts at the nearest legal size."""
    asset_path(asset)
    return create_on(name, {**file_fields(asset, found), **measures})


def create_on(name: str, ground: dict[str, Any]) -> State:
    """A project on a ground that is fully described."""
    size = {"rows": ground["rows"], "cols": ground["cols"]}
    draft = parse_project({"name": name, "ground": ground, "delivery": size})
    rows, cols = nearest_pair(target(draft.delivery.target), draft.ground.home)
    document = draft.model_copy(update={"delivery": draft.delivery.model_copy(update={"rows": rows, "cols": cols})})
    return _new(document, "new project")


def edit(
    project_id: str, base: int, operations: Sequence[Operation], tab: str, merge: str, joins: bool | None = None
) -> State:
    """Apply operations to revision ``base`` as one revision.

    Key steps on one token within a second merge: undo then goes back to before the first of them. ``joins`` says so
    where whoever made the step knows; else the time of saving decides. Raises
    :class:`StaleEdit` when ``base`` is not the newest.
    """
    with transaction.atomic():
        row = find(project_id)
        if row.head != base:
            since = list(row.revisions.filter(number__gt=base).order_by("number").values_list("label", flat=True))
            raise StaleEdit(row.head, since)
        before = _state(row)
        document, label = apply_operations(before.document, operations)
        last = before.revision
        soon = timezone.now() - last.created_at < MERGE_WITHIN if joins is None else joins
        same = bool(merge) and last.merge == merge and last.tab == tab and last.back is not None
        back = last.back if same and soon else last.number
        revision = _append(row, document, label, back=back, tab=tab, merge=merge)
    return State(row, revision, document)


def step(project_id: str, way: str) -> State:
    """Undo or redo: appends a revision with the earlier (or later) document. Nothing to do raises Conflict."""
    with transaction.atomic():
        row = find(project_id)
        now = _state(row).revision
        goal = now.back if way == "undo" else now.forward
        if goal is None:
            raise Conflict(f"There is nothing to {way}.")
        to = _state(row, goal)
        forward = now.number if way == "undo" else to.revision.forward
        revision = _append(row, to.document, to.revision.label, back=to.revision.back, forward=forward)
    return State(row, revision, to.document)


def duplicate(project_id: str) -> State:
    document = head(project_id).document
    taken = {name.casefold() for name in Project.objects.filter(deleted_at=None).values_list("name", flat=True)}
    number, name = 2, f"{document.name[:50]} copy"
    while name.casefold() in taken:
        name, number = f"{document.name[:50]} copy {number}", number + 1
    return _new(document.model_copy(update={"name": name}), "duplicate")


def delete(project_id: str) -> None:
    """Take a project off the shelf; :func:`restore` brings it back."""
    row = find(project_id)
    row.deleted_at = timezone.now()
    row.save(update_fields=("deleted_at",))


def restore(project_id: str) -> State:
    row = find(project_id, deleted=True)
    row.deleted_at = None
    row.save(update_fields=("deleted_at",))
    return _state(row)


def bring_in(source: IO[bytes] | Path, name: str) -> State:
    """A project from an open project file. Nothing is stored when anything about the file is wrong."""
    place = incoming()
    place.mkdir()
    try:
        opened = open_archive(source, place, name)
        parse_project(opened.project.model_dump(mode="json"))
        for asset in opened.assets:
            keep(asset)
    finally:
        for stray in place.iterdir():
            stray.unlink()
        place.rmdir()
    return _new(opened.project, "bring in")


def save_out(project_id: str) -> tuple[Document, bytes]:
    """(the document, the open project file's bytes)."""
    document = head(project_id).document
    out = io.BytesIO()
    write_archive(out, document, asset_path)
    return document, out.getvalue()
