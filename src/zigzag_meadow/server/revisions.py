"""How documents are kept: whole now and then, and what has changed since for all states between.

Revisions never change. One that is not whole says since which it counts, and its changes (JSON Patch) are made on that
one as it is stored.
"""

from __future__ import annotations

import threading
from collections import OrderedDict
from typing import Any

import orjson
from django.db.models import TextField
from django.db.models.functions import Cast
from jsonpatch import JsonPatch, JsonPatchException
from jsonpointer import JsonPointerException
from pydantic import ValidationError

from zigzag_meadow.core.errors import Conflict
from zigzag_meadow.core.project.model.document import Project as Document
from zigzag_meadow.core.project.model.stored import Changes, differences, plain, plain_size
from zigzag_meadow.core.project.model.upgrade import NEWEST, UPGRADES, made_by_another
from zigzag_meadow.core.project.model.wrong import told
from zigzag_meadow.core.upgrades import upgraded
from zigzag_meadow.server.models import Project, Reference, Revision

__all__ = ["WHOLE_EVERY", "Unreadable", "append", "document", "forget_all", "read", "stored"]

WHOLE_EVERY = 20
"""So many states at most count since one that is whole; a damaged one costs no more of them."""
MOST_READ = 64


class Unreadable(Conflict):
    """A project whose newest document cannot be read: damaged, or of another version."""

    code = "unreadable"


class _Kept:
    """Documents of revisions, the last used ones: a drag asks for the same many times a second."""

    def __init__(self) -> None:
        self._documents: OrderedDict[tuple[str, int], Document] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, place: tuple[str, int]) -> Document | None:
        with self._lock:
            if place in self._documents:
                self._documents.move_to_end(place)
            return self._documents.get(place)

    def put(self, place: tuple[str, int], document: Document) -> None:
        with self._lock:
            self._documents[place] = document
            while len(self._documents) > MOST_READ:
                self._documents.popitem(last=False)

    def clear(self) -> None:
        with self._lock:
            self._documents.clear()


_kept = _Kept()
_wholes: dict[str, tuple[int, Any]] = {}
"""Of projects that are edited: the number of their newest whole document, and that document as it is stored."""
MOST_WHOLES = 8


def forget_all() -> None:
    """Read everything anew from the store."""
    _kept.clear()
    _wholes.clear()


def document(project_id: str, number: int) -> Document:
    """The document of a revision. Raises :class:`Unreadable`."""
    place = (project_id, number)
    found = _kept.get(place)
    if found is None:
        found = read(project_id, number)
        _kept.put(place, found)
    return found


def _texts(project_id: str, number: int) -> tuple[str | None, int | None, str | None]:
    # As text: what is no JSON at all must not break the query that fetches it.
    rows = Revision.objects.filter(project=project_id, number=number)
    whole, changes = Cast("document", TextField()), Cast("changes", TextField())
    found: tuple[str | None, int | None, str | None] = rows.values_list(whole, "since", changes).get()
    return found


def stored(project_id: str, number: int) -> str:
    """The document of a revision as it is stored, as text: perhaps no JSON at all."""
    whole, since, changes = _texts(project_id, number)
    if whole is not None:
        return whole
    try:
        base, _, _ = _texts(project_id, since or 0)
        data = JsonPatch(orjson.loads(changes or "")).apply(orjson.loads(base or ""), in_place=True)
    except (ValueError, JsonPatchException, JsonPointerException, Revision.DoesNotExist, TypeError, KeyError):
        return ""
    return orjson.dumps(data).decode()


def read(project_id: str, number: int) -> Document:
    """The document of a revision from the store, whatever version it was saved in. Raises :class:`Unreadable`."""
    try:
        data = orjson.loads(stored(project_id, number))
        return Document.model_validate(upgraded(data, UPGRADES))
    except ValidationError as error:
        why = made_by_another(data) or told(error, "It").message
    except ValueError:
        why = "It is damaged."
    raise Unreadable(
        f"This project cannot be opened. {why} Save it out to keep it as it is, or go back to the last state that can "
        "be read."
    )


def append(row: Project, document: Document, label: str, **more: Any) -> Revision:
    """The next revision of a project, within a transaction: whole, or as what has changed. ``row.head`` stays as it
    is."""
    number = row.head + 1
    since, changes = _since(row, number, document)
    whole = plain(document) if changes is None else None
    revision = Revision.objects.create(
        project=row,
        number=number,
        document=whole,
        since=since,
        changes=changes,
        label=label[:200],
        asset=document.ground.asset,
        **more,
    )
    Reference.objects.bulk_create([Reference(revision=revision, asset=asset) for asset in document.assets])
    if whole is not None:
        _keep_whole(row.id, number, whole)
    _kept.put((row.id, number), document)
    return revision


def _keep_whole(project_id: str, number: int, whole: Any) -> None:
    _wholes.pop(project_id, None)
    _wholes[project_id] = (number, whole)
    for oldest in list(_wholes)[:-MOST_WHOLES]:
        _wholes.pop(oldest, None)


def _since(row: Project, number: int, document: Document) -> tuple[int | None, Changes | None]:
    """(since which revision, what has changed since); (None, None) where the document had better be kept whole."""
    base, whole = _newest_whole(row)
    if whole is None or number - base > WHOLE_EVERY:
        return None, None
    changes = differences(whole, plain(document))
    if len(orjson.dumps(changes)) > plain_size(document) / 2:
        return None, None
    return base, changes


def _newest_whole(row: Project) -> tuple[int, Any]:
    """(number, document as it is stored) of the newest revision that is whole and of this version; the document is None
    where there is none."""
    rows = row.revisions.filter(document__isnull=False).order_by("-number")
    number = rows.values_list("number", flat=True).first()
    if number is None:
        return 0, None
    held, whole = _wholes.get(row.id, (0, None))
    if held == number:
        return number, whole
    try:
        whole = orjson.loads(_texts(row.id, number)[0] or "")
    except ValueError:
        return number, None
    if not isinstance(whole, dict) or whole.get("version") != NEWEST:
        return number, None
    _keep_whole(row.id, number, whole)
    return number, whole
