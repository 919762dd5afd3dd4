"""Which old states of a project are kept: every edit of the last day, the last of each hour of the last week, the last
of each day before that; what was delivered, and the newest, always.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.db import transaction
from django.utils import timezone

from zigzag_meadow.server.models import Delivery, Job, Project, Revision

__all__ = ["kept_states", "thin", "thin_all"]

EVERY_EDIT, HOURLY = timedelta(days=1), timedelta(days=7)
MORE = ", and more"
"""Behind the name of an edit that stands for several since the state before it."""


@dataclass(frozen=True, slots=True)
class _State:
    number: int
    created_at: datetime
    since: int | None
    back: int | None
    forward: int | None
    label: str


def kept_states(states: Sequence[tuple[int, datetime]], now: datetime) -> set[int]:
    """The numbers of states that are kept for when they were made; ``states``: (number, made at), oldest first."""
    kept, last = set(), {}
    for number, at in states:
        if now - at < EVERY_EDIT:
            kept.add(number)
        else:
            last[at.strftime("%Y-%m-%d %H" if now - at < HOURLY else "%Y-%m-%d")] = number
    return kept | set(last.values())


def thin(project_id: str, now: datetime | None = None) -> int:
    """Let go of states that the rule does not keep; returns how many. Undo and redo pass over them from then on."""
    with transaction.atomic():
        rows = Revision.objects.filter(project=project_id).order_by("number")
        fields = ("number", "created_at", "since", "back", "forward", "label")
        states = [_State(*row) for row in rows.values_list(*fields)]
        if not states:
            return 0
        kept = kept_states([(state.number, state.created_at) for state in states], now or timezone.now())
        kept |= {states[-1].number, *_needed(project_id)}
        # What others are told by stays below them.
        kept |= {state.since for state in states if state.number in kept and state.since is not None}
        gone = {state.number: state for state in states if state.number not in kept}
        if not gone:
            return 0
        for state in states:
            if state.number in kept:
                _relink(project_id, state, gone)
        rows.filter(number__in=list(gone)).delete()
    return len(gone)


def _needed(project_id: str) -> Iterable[int]:
    yield from Delivery.objects.filter(project=project_id).values_list("revision", flat=True)
    jobs = Job.objects.filter(project=project_id, state__in=("waiting", "running"))
    yield from (params["revision"] for params in jobs.values_list("params", flat=True) if "revision" in params)


def _relink(project_id: str, state: _State, gone: Mapping[int, _State]) -> None:
    """Lead undo and redo of a state to what is still there."""
    back, forward = state.back, state.forward
    while back is not None and back in gone:
        back = gone[back].back
    while forward is not None and forward in gone:
        forward = gone[forward].forward
    if (back, forward) == (state.back, state.forward):
        return
    label = state.label
    if back != state.back and not label.endswith(MORE):
        label = f"{label[: 200 - len(MORE)]}{MORE}"
    Revision.objects.filter(project=project_id, number=state.number).update(back=back, forward=forward, label=label)


def thin_all() -> int:
    """Thin the states of every project, one after the other; returns how many went."""
    return sum(thin(project_id) for project_id in Project.objects.values_list("id", flat=True))
