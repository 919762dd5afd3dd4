"""The edit of classes of the ground and of where it is open."""

from __future__ import annotations

from typing import ClassVar, Literal

from zigzag_meadow.core.project.edits.ops_base import Op, with_changes
from zigzag_meadow.core.project.model.classes import GroundClasses
from zigzag_meadow.core.project.model.document import Project

__all__ = ["SetClasses", "without_gone_classes"]


class SetClasses(Op):
    op: Literal["set_classes"] = "set_classes"
    replaces: ClassVar = "classes"
    classes: GroundClasses

    def apply(self, project: Project) -> tuple[Project, str]:
        opened = self.classes.holes != project.classes.holes
        label = "where the ground is open" if opened else "classes of the ground"
        return with_changes(project, classes=self.classes), f"change {label}"


def without_gone_classes(project: Project) -> Project:
    """The project without classes of layers that are there no more: they go with what they were of."""
    told = project.classes
    ids = [layer.id for layer in project.layers] + [merge.id for merge in project.merges]
    there = {f"layer:{i}" for i in (*ids, *(outcome.id for outcome in project.outcomes))}
    kept = tuple(item for item in told.classes if not item.of.startswith("layer:") or item.of in there)
    if len(kept) == len(told.classes):
        return project
    return with_changes(project, classes=told.model_copy(update={"classes": kept}))
