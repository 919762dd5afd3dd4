"""Edits as typed operations: each turns a document into the next and names itself for undo."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field, TypeAdapter, ValidationError

from zigzag_meadow.core.parts import Name
from zigzag_meadow.core.project.checks.whole import read_back
from zigzag_meadow.core.project.edits.ops_base import Op, with_changes
from zigzag_meadow.core.project.edits.ops_classes import SetClasses, without_gone_classes
from zigzag_meadow.core.project.edits.ops_coats import (
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
from zigzag_meadow.core.project.edits.ops_delivery import (
    AddSheet,
    ChooseTarget,
    DeleteSheet,
    DeleteTarget,
    ProposeDataSheets,
    ProposeSheets,
    SetDelivery,
    SetItems,
    SetSheet,
    SetTarget,
    without_gone_items,
)
from zigzag_meadow.core.project.edits.ops_features import (
    AddFeature,
    AddScatter,
    DeleteFeature,
    DeleteScatter,
    SetFeature,
    SetScatter,
)
from zigzag_meadow.core.project.edits.ops_ground import (
    AddStep,
    DeleteStep,
    MoveStep,
    ReplaceHeightmap,
    SetGround,
    SetStep,
)
from zigzag_meadow.core.project.edits.ops_layers import (
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
from zigzag_meadow.core.project.edits.ops_masks import (
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
from zigzag_meadow.core.project.edits.ops_pieces import ApplyKit, DeletePiece, MakePiece, SetPiece, TakeApart
from zigzag_meadow.core.project.edits.ops_readings import AddReading, DeleteReading, SetReading
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.wrong import told

__all__ = ["Operation", "apply_operations", "parse_operations"]


class RenameProject(Op):
    op: Literal["rename_project"] = "rename_project"
    replaces: ClassVar = "name"
    name: Name

    def apply(self, project: Project) -> tuple[Project, str]:
        return with_changes(project, name=self.name), f"rename to {self.name}"


Operation = Annotated[
    RenameProject
    | SetGround
    | AddMask
    | RenameMask
    | CopyMask
    | MoveMask
    | DeleteMask
    | AddLine
    | SetLine
    | SetLines
    | MoveLine
    | DeleteLine
    | MakePiece
    | SetPiece
    | DeletePiece
    | TakeApart
    | AddFeature
    | SetFeature
    | DeleteFeature
    | AddScatter
    | SetScatter
    | DeleteScatter
    | ApplyKit
    | AddLayer
    | SetLayer
    | MoveLayer
    | DeleteLayer
    | SetBase
    | AddSheet
    | SetSheet
    | DeleteSheet
    | ProposeSheets
    | SetDelivery
    | AddStep
    | SetStep
    | MoveStep
    | DeleteStep
    | ReplaceHeightmap
    | SetClasses
    | AddReading
    | SetReading
    | DeleteReading
    | AddLayers
    | SetMixing
    | MergeLayers
    | TakeMergeApart
    | SetStrokes
    | DeleteStrokes
    | AddLook
    | SetLook
    | DeleteLook
    | AddCoat
    | SetCoat
    | MoveCoat
    | DeleteCoat
    | BeginColour
    | MakeCoatPiece
    | SetCoatPiece
    | DeleteCoatPiece
    | TakeCoatApart
    | SetSurface
    | ProposeDataSheets
    | SetItems
    | ChooseTarget
    | SetTarget
    | DeleteTarget,
    Field(discriminator="op"),
]
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
    label, before = "no change", project
    for operation in operations:
        project, label = operation.apply(project)
    if project.classes == before.classes:
        # What somebody says anew is held to; what only lost its layer goes with it.
        project = without_gone_classes(project)
    return read_back(without_gone_items(project), before), label
