"""What tests of the server share: a worker that works when told, and what has become outdated."""

from __future__ import annotations

from typing import Any

from zigzag_meadow.server.jobs import Claim, Claims
from zigzag_meadow.server.work import run_claim

__all__ = ["claim", "outdated", "run_all"]


def claim(**more: Any) -> Claim:
    """What a worker that starts now takes first."""
    taken = Claims(**more).next()
    assert taken is not None
    return taken


def run_all() -> None:
    """Do every job that waits, as one worker does."""
    claims = Claims()
    while (taken := claims.next()) is not None:
        run_claim(taken)


def outdated(api: Any, project: str, number: int = 1) -> set[str]:
    """Files of a delivery that the project would write otherwise now."""
    made = next(d for d in api.get(f"/projects/{project}/deliveries") if d["number"] == number)
    writes = set(api.get(f"/projects/{project}")["writes"])
    return {file["file"] for file in made["files"] if file["key"] and file["key"] not in writes}
