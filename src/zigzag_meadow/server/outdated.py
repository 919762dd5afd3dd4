"""What a project would write now: files of earlier deliveries that hold anything else need making again."""

from __future__ import annotations

from zigzag_meadow.core.delivery.plan import make_plan
from zigzag_meadow.core.delivery.run import planned_keys
from zigzag_meadow.core.errors import MeadowError
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.server.engine import engine

__all__ = ["written_keys"]


def written_keys(document: Project) -> set[str]:
    """The keys of every file that a delivery of this document would hold: equal keys, equal bytes. None where none
    could be made."""
    try:
        return set(planned_keys(engine().evaluation(document), make_plan(document)).values())
    except (MeadowError, OSError):
        return set()
