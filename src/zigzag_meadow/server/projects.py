"""Actions on projects: create, edit, undo, duplicate, delete, bring in, save out."""

from __future__ import annotations

import hashlib
import re
import shutil
import threading
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import timedelta
from functools import lru_cache
from pathlib import Path
from typing import IO, Any, Literal

import orjson
from django.db import transaction
from django.utils import timezone

from zigzag_meadow.core.errors import Conflict, NotFound
from zigzag_meadow.core.ground.diagnose import Inspection
from zigzag_meadow.core.project.checks.whole import parse_project, read_back
from zigzag_meadow.core.project.edits.operations import Operation, apply_operations
from zigzag_meadow.core.project.edits.place_titles import edited_places
from zigzag_meadow.core.project.model.document import Project as Document
from zigzag_meadow.core.project.travel.adopt import file_fields
from zigzag_meadow.core.project.travel.archive import archive_pieces, open_archive, stored_pieces
from zigzag_meadow.core.targets.sizes import nearest_pair
from zigzag_meadow.server import revisions
from zigzag_meadow.server.assets import adopt, asset_path, check_held, incoming, keep
from zigzag_meadow.server.models import Project, Revision
from zigzag_meadow.server.revisions import Unreadable
from zigzag_meadow.server.stale import StaleEdit, changed_by_both

__all__ = [
    "Made",
    "State",
    "Unreadable",
    "Way",
    "at_revision",
    "bring_in",
    "changed",
    "create",
    "create_on",
    "delete",
    "duplicate",
    "edit",
    "find",
    "head",
    "newest",
    "restore",
    "saved_out",
    "shelf",
    "state_at",
    "step",
]

Way = Literal["undo", "redo"]
PLACE = 200
MERGE_WITHIN = timedelta(seconds=1)
_writing = threading.Lock()
"""Edits of this process take their turns here: the store lets those that wait sleep, and whoever wakes first goes
first."""


@dataclass(frozen=True)
class State:
    """A project at its newest revision."""

    row: Project
    revision: Revision
    document: Document

    @property
    def undo_place(self) -> str | None:
        """Where the edit that undo takes back changed something, in words."""
        return self.revision.place if self.revision.back is not None else None

    @property
    def undo_label(self) -> str | None:
        return self.revision.label if self.revision.back is not None else None

    @property
    def redo_label(self) -> str | None:
        if self.revision.forward is None:
            return None
        return self.row.revisions.values_list("label", flat=True).get(number=self.revision.forward)


def find(project_id: str, *, deleted: bool = False) -> Project:
    """A project by id. Raises :class:`NotFound`; deleted ones only with ``deleted``."""
    row = Project.objects.filter(id=project_id).first()
    if row is None or (row.deleted_at is not None and not deleted):
        raise NotFound("There is no such project. It may have been deleted; the shelf shows those there are.")
    return row


def head(project_id: str) -> State:
    """A project at its newest revision. Raises :class:`Unreadable`; the shelf then knows as well."""
    row = find(project_id)
    try:
        return _state(row)
    except Unreadable as error:
        Project.objects.filter(id=row.id, head=row.head).update(summary=_without_summary(error.message))
        raise


def newest(project_id: str) -> Document:
    """The newest document of a project and nothing else: what a drag asks for many times a second. Raises as
    :func:`head`."""
    row = find(project_id)
    try:
        return revisions.document(row.id, row.head)
    except Unreadable:
        return head(project_id).document


def _state(row: Project, number: int | None = None) -> State:
    revision = _revision(row, row.head if number is None else number)
    return State(row, revision, revisions.document(row.id, revision.number))


def _revision(row: Project, number: int) -> Revision:
    return row.revisions.defer("document", "changes").get(number=number)


def at_revision(project_id: str, number: int) -> Document:
    """The document of an earlier revision."""
    if not find(project_id).revisions.filter(number=number).exists():
        raise NotFound(f"There is no revision {number} of this project.")
    return revisions.document(project_id, number)


@lru_cache(maxsize=1)
def _shape() -> str:
    """What documents look like to this version: summaries made by another one are made anew."""
    return hashlib.sha256(orjson.dumps(Document.model_json_schema())).hexdigest()[:16]


def _summary(document: Document) -> dict[str, Any]:
    home = document.ground.home
    return {
        "shape": _shape(),
        "rows": home.rows,
        "cols": home.cols,
        "width": home.width,
        "length": home.length,
        "layers": len(document.layers),
        "assets": list(document.assets),
        "trouble": None,
    }


def _without_summary(trouble: str) -> dict[str, Any]:
    nothing = dict.fromkeys(("rows", "cols", "layers"), 0) | dict.fromkeys(("width", "length"), 0.0)
    return {**nothing, "shape": _shape(), "assets": [], "trouble": trouble}


def shelf() -> list[tuple[Project, dict[str, Any]]]:
    """Projects, newest first, each with what the shelf shows of it. One that cannot be read says so and hides none."""
    rows = []
    for row in Project.objects.filter(deleted_at=None):
        if row.summary is None or row.summary.get("shape") != _shape():
            try:
                row.summary = _summary(revisions.read(row.id, row.head))
            except Unreadable as error:
                row.summary = _without_summary(error.message)
            Project.objects.filter(id=row.id, head=row.head).update(summary=row.summary)
        rows.append((row, row.summary))
    return rows


def _append(row: Project, document: Document, label: str, **more: Any) -> Revision:
    revision = revisions.append(row, document, label, **more)
    row.head, row.name, row.summary = revision.number, document.name, _summary(document)
    row.save(update_fields=("head", "name", "summary", "updated_at"))
    adopt(row, document.assets)
    return revision


def _new(document: Document, label: str) -> State:
    document = read_back(document)
    with transaction.atomic():
        row = Project.objects.create(name=document.name)
        revision = _append(row, document, label)
    return State(row, revision, document)


def create(name: str, asset: str, inspection: Inspection, measures: dict[str, Any]) -> State:
    """A project from an inspected heightmap; the delivery starts at the nearest legal size."""
    asset_path(asset)
    return create_on(name, {**file_fields(asset, inspection), **measures})


def create_on(name: str, ground: dict[str, Any]) -> State:
    """A project on a ground that is fully described."""
    size = {"rows": ground["rows"], "cols": ground["cols"]}
    draft = parse_project({"name": name, "ground": ground, "delivery": size})
    rows, cols = nearest_pair(draft.target.sizes, draft.ground.home)
    document = draft.model_copy(update={"delivery": draft.delivery.model_copy(update={"rows": rows, "cols": cols})})
    return _new(document, "new project")


@dataclass(frozen=True)
class Made:
    """Where an edit comes from: a ``tab``, a token that its key steps ``merge`` on, whether this one ``joins`` the last
    (None: the time of saving decides), and the ``id`` by which it is known when it is sent again."""

    tab: str
    merge: str = ""
    joins: bool | None = None
    id: str = ""


def edit(project_id: str, base: int, operations: Sequence[Operation], made: Made) -> State:
    """Apply operations to revision ``base`` as one revision.

    Key steps on one token within a second merge: undo then goes back to before the first of them. An edit whose answer
    was lost and that is sent again is made once: the newest state is the answer. Raises :class:`StaleEdit` when
    ``base`` is not the newest.
    """
    if _is_made(project_id, made):
        return _state(find(project_id))
    # Worked out before anything is locked; whether it was the newest state is asked again when it is saved.
    before = _state(_at(project_id, base, operations))
    document, label = changed(project_id, before.document, operations)
    place = edited_places(document, operations)[:PLACE]
    with _writing, transaction.atomic():
        if _is_made(project_id, made):
            return _state(find(project_id))
        row = _at(project_id, base, operations)
        last = before.revision
        soon = timezone.now() - last.created_at < MERGE_WITHIN if made.joins is None else made.joins
        same = bool(made.merge) and last.merge == made.merge and last.tab == made.tab and last.back is not None
        back = last.back if same and soon else last.number
        revision = _append(row, document, label, back=back, tab=made.tab, merge=made.merge, edit=made.id, place=place)
    return State(row, revision, document)


def _is_made(project_id: str, made: Made) -> bool:
    return bool(made.id) and Revision.objects.filter(project=project_id, edit=made.id).exists()


def _at(project_id: str, base: int, operations: Sequence[Operation] = ()) -> Project:
    """A project whose newest revision is ``base``. Raises :class:`StaleEdit`, with what ``operations`` it is about."""
    row = find(project_id)
    if row.head != base:
        since = list(row.revisions.filter(number__gt=base).order_by("number").values_list("label", flat=True))
        raise StaleEdit(row.head, since, changed_by_both(row, base, operations))
    return row


def changed(project_id: str, before: Document, operations: Sequence[Operation]) -> tuple[Document, str]:
    """(the document after operations, their name). Raises what they raise, and :class:`NotFound` for files that were
    not brought into this project."""
    document, label = apply_operations(before, operations)
    check_held(project_id, set(document.assets) - set(before.assets))
    return document, label


def step(project_id: str, way: Way, base: int) -> State:
    """Undo or redo on revision ``base``: appends a revision with the earlier (or later) document.

    Undo passes over revisions that cannot be read, and leaves one. Raises :class:`StaleEdit`, or :class:`Conflict`
    when there is nothing to do.
    """
    with transaction.atomic():
        row = _at(project_id, base)
        now = _revision(row, row.head)
        to = _readable(row, now, way)
        forward = now.number if way == "undo" else to.revision.forward
        led = {"back": to.revision.back, "forward": forward, "place": to.revision.place}
        revision = _append(row, to.document, to.revision.label, **led)
    return State(row, revision, to.document)


def _readable(row: Project, now: Revision, way: Way) -> State:
    """The nearest state on the way that can be read."""
    goal = now.back if way == "undo" else now.forward
    while goal is not None:
        try:
            return _state(row, goal)
        except Unreadable:
            revision = _revision(row, goal)
            goal = revision.back if way == "undo" else revision.forward
    raise Conflict(f"There is nothing to {way}.")


def state_at(project_id: str, number: int) -> State:
    """A project as it was at an earlier revision. Raises :class:`NotFound`, :class:`Unreadable`."""
    document = at_revision(project_id, number)
    row = find(project_id)
    return State(row, _revision(row, number), document)


def duplicate(project_id: str) -> State:
    document = newest(project_id)
    name = _free_name(f"{document.name[:50]} copy")
    return _new(document.model_copy(update={"name": name}), "duplicate")


def _free_name(wanted: str) -> str:
    """A name that no project on the shelf has: what was wished for, with a number if need be."""
    taken = {name.casefold() for name in Project.objects.filter(deleted_at=None).values_list("name", flat=True)}
    number, name = 2, wanted
    while name.casefold() in taken:
        name, number = f"{wanted[:54].rstrip()} {number}", number + 1
    return name


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
        read_back(opened.project)
        for asset in opened.assets:
            keep(asset)
    finally:
        shutil.rmtree(place, ignore_errors=True)
    project = opened.project.model_copy(update={"name": _free_name(opened.project.name)})
    return _new(project, "bring in")


def saved_out(project_id: str) -> tuple[str, Iterator[bytes]]:
    """(a project's name, its open project file piece by piece).

    One that cannot be read goes out as it is stored, with every file that it names and that it holds.
    """
    row = find(project_id)
    try:
        return row.name, archive_pieces(_state(row).document, asset_path)
    except Unreadable:
        text = revisions.stored(row.id, row.head)
        named = dict.fromkeys(re.findall(r"(?<![0-9a-f])[0-9a-f]{64}(?![0-9a-f])", text))
        held = set(row.holdings.values_list("asset", flat=True))
        return row.name, stored_pieces(text.encode(), [asset for asset in named if asset in held], asset_path)
