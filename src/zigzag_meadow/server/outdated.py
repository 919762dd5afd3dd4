"""What a project would write now: files of earlier deliveries that hold anything else need making again."""

from __future__ import annotations

from zigzag_meadow.core.evaluate.scattered import points_key
from zigzag_meadow.core.project.document import Project
from zigzag_meadow.server.engine import engine

__all__ = ["written_keys"]


def written_keys(document: Project) -> set[str]:
    """The keys of every map that a delivery of this document would hold: equal keys, equal bytes."""
    evaluation = engine().evaluation(document)
    names = ["reading:height", *(f"sheet:{sheet.id}" for sheet in document.sheets)]
    names += [f"scatter:{scatter.id}" for scatter in document.scatters]
    keys = {evaluation.key(name, document.final) for name in names}
    return keys | {points_key(evaluation, scatter.id) for scatter in document.scatters}
