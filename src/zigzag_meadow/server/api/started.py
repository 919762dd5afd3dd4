"""Whether the application answers, and whether it had to be started again."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router, Schema

from zigzag_meadow.server.engine import watch
from zigzag_meadow.server.middleware import START

router = Router(tags=["started"])


class StartedOut(Schema):
    """``start`` names this start of the web process; ``again``: what happened, where it took the place of another."""

    start: str
    again: str | None


@router.get("/started", response=StartedOut, operation_id="started")
def started(request: HttpRequest) -> StartedOut:
    """Answers as soon as anything does."""
    return StartedOut(start=START, again=watch().again)
