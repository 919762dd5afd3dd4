"""Edits on a state that is no longer the newest: what happened since, and where both changed the same."""

from __future__ import annotations

from collections.abc import Sequence

from zigzag_meadow.core.errors import Conflict
from zigzag_meadow.core.project.edits.operations import Operation
from zigzag_meadow.core.project.edits.place_titles import changed_places, meeting_places
from zigzag_meadow.server import revisions
from zigzag_meadow.server.models import Project
from zigzag_meadow.server.revisions import Unreadable

__all__ = ["StaleEdit", "changed_by_both"]


class StaleEdit(Conflict):
    """An edit on a revision that is no longer the newest; carries what happened since, and where both changed the same,
    in words (None: that is not known any more)."""

    code = "stale-edit"

    def __init__(self, current: int, since: list[str], both: list[str] | None = None) -> None:
        what = ", ".join(since[-3:]) or "another change"
        super().__init__(f"This project was changed elsewhere meanwhile ({what}).")
        self.current = current
        self.since = since
        self.both = both


def changed_by_both(row: Project, base: int, operations: Sequence[Operation]) -> list[str] | None:
    """Where an edit meets what changed since it was begun; None where its base went with other old states, or is none
    that was ever there."""
    if not operations or not row.revisions.filter(number=base).exists():
        return None
    try:
        before, now = revisions.document(row.id, base), revisions.document(row.id, row.head)
    except Unreadable:
        return None
    return meeting_places(now, operations, changed_places(before, now))
