"""Edits as typed operations: each turns a document into the next and names itself for undo."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import Field, TypeAdapter, ValidationError

from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.parts import Id, Name
from zigzag_meadow.core.project.check import read_back
from zigzag_meadow.core.project.document import Delivery, Project, Sheet
from zigzag_meadow.core.project.ops_base import Op, replaced, with_changes, without
from zigzag_meadow.core.project.ops_coats import (
    AddCoat,
    BeginColour,
    DeleteCoat,
    DeleteCoatPiece,
    MakeCoatPiece,
    MoveCoat,
    SetCoat,
    SetCoatPiece,
    SetSurface,
    TakeCoatApart,
)
from zigzag_meadow.core.project.ops_features import (
    AddFeature,
    AddScatter,
    DeleteFeature,
    DeleteScatter,
    SetFeature,
    SetScatter,
)
from zigzag_meadow.core.project.ops_ground import (
    AddStep,
    DeleteStep,
    MoveStep,
    ReplaceHeightmap,
    SetGround,
    SetStep,
)
from zigzag_meadow.core.project.ops_layers import (
    AddLayer,
    AddLayers,
    AddLook,
    DeleteLayer,
    DeleteLook,
    DeleteStrokes,
    MergeLayers,
    MoveLayer,
    SetBase,
    SetLayer,
    SetLook,
    SetMixing,
    SetStrokes,
    TakeMergeApart,
)
from zigzag_meadow.core.project.ops_masks import (
    AddLine,
    AddMask,
    CopyMask,
    DeleteLine,
    DeleteMask,
    MoveLine,
    MoveMask,
    RenameMask,
    SetLine,
    SetLines,
)
from zigzag_meadow.core.project.ops_pieces import ApplyKit, DeletePiece, MakePiece, SetPiece, TakeApart
from zigzag_meadow.core.project.ops_readings import AddReading, DeleteReading, SetReading
from zigzag_meadow.core.project.propose import proposed_sheets
from zigzag_meadow.core.project.wrong import told

__all__ = ["Operation", "apply_operations", "parse_operations"]


class RenameProject(Op):
    op: Literal["rename_project"] = "rename_project"
    name: Name

    def apply(self, project: Project) -> tuple[Project, str]:
        return with_changes(project, name=self.name), f"rename to {self.name}"


class AddSheet(Op):
    op: Literal["add_sheet"] = "add_sheet"
    sheet: Sheet

    def apply(self, project: Project) -> tuple[Project, str]:
        return with_changes(project, sheets=(*project.sheets, self.sheet)), f"new sheet {self.sheet.name}"


class SetSheet(Op):
    op: Literal["set_sheet"] = "set_sheet"
    sheet: Sheet

    def apply(self, project: Project) -> tuple[Project, str]:
        if project.sheet(self.sheet.id) is None:
            raise NotFound("That sheet is no longer there. Undo brings it back.", field="sheet")
        return with_changes(project, sheets=replaced(project.sheets, self.sheet)), f"change {self.sheet.name}"


class DeleteSheet(Op):
    op: Literal["delete_sheet"] = "delete_sheet"
    sheet: Id

    def apply(self, project: Project) -> tuple[Project, str]:
        sheet = project.sheet(self.sheet)
        if sheet is None:
            raise NotFound("That sheet is no longer there.", field="sheet")
        return with_changes(project, sheets=without(project.sheets, self.sheet)), f"delete {sheet.name}"


class ProposeSheets(Op):
    """Replace the sheets that carry weights by as few as hold every layer and the base."""

    op: Literal["propose_sheets"] = "propose_sheets"

    def apply(self, project: Project) -> tuple[Project, str]:
        return with_changes(project, sheets=proposed_sheets(project)), "propose sheets"


class SetDelivery(Op):
    op: Literal["set_delivery"] = "set_delivery"
    delivery: Delivery

    def apply(self, project: Project) -> tuple[Project, str]:
        return with_changes(project, delivery=self.delivery), "change the delivery"


Operation = Annotated[
    RenameProject | SetGround | AddMask | RenameMask | CopyMask | MoveMask | DeleteMask | AddLine | SetLine | SetLines
    | MoveLine | DeleteLine | MakePiece | SetPiece | DeletePiece | TakeApart | AddFeature | SetFeature
    | DeleteFeature | AddScatter | SetScatter | DeleteScatter | ApplyKit | AddLayer | SetLayer | MoveLayer
    | DeleteLayer | SetBase | AddSheet | SetSheet | DeleteSheet | ProposeSheets | SetDelivery | AddStep | SetStep
    | MoveStep | DeleteStep | ReplaceHeightmap | AddReading | SetReading | DeleteReading | AddLayers | SetMixing
    | MergeLayers | TakeMergeApart | SetStrokes | DeleteStrokes | AddLook | SetLook | DeleteLook | AddCoat | SetCoat
    | MoveCoat | DeleteCoat | BeginColour | MakeCoatPiece | SetCoatPiece | DeleteCoatPiece | TakeCoatApart
    | SetSurface,
    Field(discriminator="op"),
]  # fmt: skip
_ADAPTER: TypeAdapter[list[Operation]] = TypeAdapter(list[Operation])


def parse_operations(data: Any) -> list[Operation]:
    """Typed operations from plain JSON data. Raises :class:`BadDocument` with the place that is wrong."""
    try:
        return _ADAPTER.validate_python(data)
    except ValidationError as error:
        raise told(error, "The edit") from None


def apply_operations(project: Project, operations: Sequence[Operation]) -> tuple[Project, str]:
    """(the next document, the name of the edit). Raises what does not hold together; nothing is half-applied.

    Operations copy parts without validating them, so the result is read back the way it will be stored: what comes
    out of here can be read again.
    """
    label = "no change"
    for operation in operations:
        project, label = operation.apply(project)
    return read_back(project), label
