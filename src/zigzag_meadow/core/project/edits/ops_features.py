"""Edits of what is drawn on the map and of what is scattered."""

from __future__ import annotations

from typing import ClassVar, Literal

from zigzag_meadow.core.errors import BadDocument, NotFound
from zigzag_meadow.core.parts import Id
from zigzag_meadow.core.project.edits.ops_base import Op, inserted, replaced, sheets_with, with_changes, without
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.features import Feature, Scatter
from zigzag_meadow.core.project.model.sheets import ScatterSource
from zigzag_meadow.core.project.model.uses import words_for

__all__ = ["AddFeature", "AddScatter", "DeleteFeature", "DeleteScatter", "SetFeature", "SetScatter"]


class AddFeature(Op):
    op: Literal["add_feature"] = "add_feature"
    changes: ClassVar = ("features",)
    feature: Feature

    def apply(self, project: Project) -> tuple[Project, str]:
        return (
            with_changes(project, features=inserted(project.features, self.feature, None)),
            f"draw {self.feature.name}",
        )


class SetFeature(Op):
    op: Literal["set_feature"] = "set_feature"
    replaces: ClassVar = "features/{feature}"
    feature: Feature

    def apply(self, project: Project) -> tuple[Project, str]:
        before = project.feature(self.feature.id)
        if before is None:
            raise NotFound("That drawn line is no longer there. Undo brings it back.", field="feature")
        new = with_changes(project, features=replaced(project.features, self.feature))
        return new, f"move {before.name}" if before.points != self.feature.points else f"change {self.feature.name}"


class DeleteFeature(Op):
    op: Literal["delete_feature"] = "delete_feature"
    changes: ClassVar = ("features",)
    feature: Id

    def apply(self, project: Project) -> tuple[Project, str]:
        gone = project.feature(self.feature)
        if gone is None:
            raise NotFound("That drawn line is no longer there.", field="feature")
        used = words_for(project, f"feature:{gone.id}")
        if used:
            raise BadDocument(f"{gone.name} is used by {', '.join(used)}. Take it out there first.", field="feature")
        return with_changes(project, features=without(project.features, gone.id)), f"delete {gone.name}"


class AddScatter(Op):
    op: Literal["add_scatter"] = "add_scatter"
    changes: ClassVar = ("scatters",)
    scatter: Scatter

    def apply(self, project: Project) -> tuple[Project, str]:
        return (
            with_changes(project, scatters=inserted(project.scatters, self.scatter, None)),
            f"scatter {self.scatter.name}",
        )


class SetScatter(Op):
    op: Literal["set_scatter"] = "set_scatter"
    replaces: ClassVar = "scatters/{scatter}"
    scatter: Scatter

    def apply(self, project: Project) -> tuple[Project, str]:
        if project.scatter(self.scatter.id) is None:
            raise NotFound("What was scattered is no longer there. Undo brings it back.", field="scatter")
        new = with_changes(project, scatters=replaced(project.scatters, self.scatter))
        return new, f"change {self.scatter.name}"


class DeleteScatter(Op):
    """Take away what is scattered; channels that carried its density become empty."""

    op: Literal["delete_scatter"] = "delete_scatter"
    changes: ClassVar = ("scatters", "sheets")
    scatter: Id

    def apply(self, project: Project) -> tuple[Project, str]:
        gone = project.scatter(self.scatter)
        if gone is None:
            raise NotFound("What was scattered is no longer there.", field="scatter")
        sheets = sheets_with(project, lambda s: isinstance(s, ScatterSource) and s.scatter == gone.id)
        left = without(project.scatters, gone.id)
        return with_changes(project, scatters=left, sheets=sheets), f"delete {gone.name}"
