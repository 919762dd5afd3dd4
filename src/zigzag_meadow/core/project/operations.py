"""Edits as typed operations: each turns a document into the next and names itself for undo."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import Field, TypeAdapter, ValidationError

from zigzag_meadow.core.errors import BadDocument, NotFound
from zigzag_meadow.core.project.check import check_project, uses_of_mask
from zigzag_meadow.core.project.document import (
    BaseLayer,
    Delivery,
    Id,
    Layer,
    Line,
    Mask,
    Name,
    Project,
    Sheet,
    WeightSource,
)
from zigzag_meadow.core.project.labels import line_change, verb_title
from zigzag_meadow.core.project.ops_base import Index, Op, inserted, moved, replaced, with_changes, without
from zigzag_meadow.core.project.ops_ground import (
    AddStep,
    DeleteStep,
    MoveStep,
    ReplaceHeightmap,
    SetGround,
    SetStep,
)
from zigzag_meadow.core.project.ops_readings import AddReading, DeleteReading, SetReading
from zigzag_meadow.core.project.propose import proposed_sheets

__all__ = ["Operation", "apply_operations", "parse_operations"]


def _mask(project: Project, mask_id: str) -> Mask:
    mask = project.mask(mask_id)
    if mask is None:
        raise NotFound("That mask is no longer there. Undo brings it back.", field="mask")
    return mask


class RenameProject(Op):
    op: Literal["rename_project"] = "rename_project"
    name: Name

    def apply(self, project: Project) -> tuple[Project, str]:
        return with_changes(project, name=self.name), f"rename to {self.name}"


class AddMask(Op):
    op: Literal["add_mask"] = "add_mask"
    mask: Mask
    at: Index | None = None

    def apply(self, project: Project) -> tuple[Project, str]:
        return with_changes(project, masks=inserted(project.masks, self.mask, self.at)), f"new mask {self.mask.name}"


class RenameMask(Op):
    op: Literal["rename_mask"] = "rename_mask"
    mask: Id
    name: Name

    def apply(self, project: Project) -> tuple[Project, str]:
        new = _mask(project, self.mask).model_copy(update={"name": self.name})
        return with_changes(project, masks=replaced(project.masks, new)), f"rename to {self.name}"


class CopyMask(Op):
    op: Literal["copy_mask"] = "copy_mask"
    mask: Id
    id: Id
    name: Name

    def apply(self, project: Project) -> tuple[Project, str]:
        old = _mask(project, self.mask)
        new = old.model_copy(update={"id": self.id, "name": self.name})
        at = [m.id for m in project.masks].index(old.id) + 1
        return with_changes(project, masks=inserted(project.masks, new, at)), f"copy {old.name}"


class MoveMask(Op):
    op: Literal["move_mask"] = "move_mask"
    mask: Id
    to: Index

    def apply(self, project: Project) -> tuple[Project, str]:
        name = _mask(project, self.mask).name
        return with_changes(project, masks=moved(project.masks, self.mask, self.to)), f"move {name}"


class DeleteMask(Op):
    op: Literal["delete_mask"] = "delete_mask"
    mask: Id

    def apply(self, project: Project) -> tuple[Project, str]:
        mask = _mask(project, self.mask)
        used = uses_of_mask(project, self.mask)
        if used:
            raise BadDocument(f"{mask.name} is used by {', '.join(used)}. Take it out there first.", field="mask")
        return with_changes(project, masks=without(project.masks, self.mask)), f"delete {mask.name}"


class AddLine(Op):
    op: Literal["add_line"] = "add_line"
    mask: Id
    line: Line
    at: Index | None = None

    def apply(self, project: Project) -> tuple[Project, str]:
        mask = _mask(project, self.mask)
        new = mask.model_copy(update={"lines": inserted(mask.lines, self.line, self.at)})
        return with_changes(project, masks=replaced(project.masks, new)), f"add {verb_title(self.line)}"


class SetLine(Op):
    op: Literal["set_line"] = "set_line"
    mask: Id
    line: Line

    def apply(self, project: Project) -> tuple[Project, str]:
        mask = _mask(project, self.mask)
        before = next((line for line in mask.lines if line.id == self.line.id), None)
        if before is None:
            raise NotFound("That line is no longer there. Undo brings it back.", field="line")
        new = mask.model_copy(update={"lines": replaced(mask.lines, self.line)})
        label = line_change(project, before, self.line)
        return with_changes(project, masks=replaced(project.masks, new)), label


class MoveLine(Op):
    op: Literal["move_line"] = "move_line"
    mask: Id
    line: Id
    to: Index

    def apply(self, project: Project) -> tuple[Project, str]:
        mask = _mask(project, self.mask)
        if self.line not in [line.id for line in mask.lines]:
            raise NotFound("That line is no longer there. Undo brings it back.", field="line")
        new = mask.model_copy(update={"lines": moved(mask.lines, self.line, self.to)})
        return with_changes(project, masks=replaced(project.masks, new)), "move a line"


class DeleteLine(Op):
    op: Literal["delete_line"] = "delete_line"
    mask: Id
    line: Id

    def apply(self, project: Project) -> tuple[Project, str]:
        mask = _mask(project, self.mask)
        gone = next((line for line in mask.lines if line.id == self.line), None)
        if gone is None:
            raise NotFound("That line is no longer there.", field="line")
        new = mask.model_copy(update={"lines": without(mask.lines, self.line)})
        return with_changes(project, masks=replaced(project.masks, new)), f"delete {verb_title(gone)}"


class AddLayer(Op):
    op: Literal["add_layer"] = "add_layer"
    layer: Layer
    at: Index | None = None

    def apply(self, project: Project) -> tuple[Project, str]:
        return with_changes(
            project, layers=inserted(project.layers, self.layer, self.at)
        ), f"new layer {self.layer.name}"


class SetLayer(Op):
    op: Literal["set_layer"] = "set_layer"
    layer: Layer

    def apply(self, project: Project) -> tuple[Project, str]:
        if project.layer(self.layer.id) is None:
            raise NotFound("That layer is no longer there. Undo brings it back.", field="layer")
        return with_changes(project, layers=replaced(project.layers, self.layer)), f"change {self.layer.name}"


class MoveLayer(Op):
    op: Literal["move_layer"] = "move_layer"
    layer: Id
    to: Index

    def apply(self, project: Project) -> tuple[Project, str]:
        layer = project.layer(self.layer)
        if layer is None:
            raise NotFound("That layer is no longer there. Undo brings it back.", field="layer")
        return with_changes(project, layers=moved(project.layers, self.layer, self.to)), f"move {layer.name}"


class DeleteLayer(Op):
    """Delete a layer; channels that carried its weight become empty."""

    op: Literal["delete_layer"] = "delete_layer"
    layer: Id

    def apply(self, project: Project) -> tuple[Project, str]:
        layer = project.layer(self.layer)
        if layer is None:
            raise NotFound("That layer is no longer there.", field="layer")
        sheets = []
        for sheet in project.sheets:
            freed: dict[str, None] = {
                channel: None
                for channel in sheet.channels
                if isinstance(source := sheet.source(channel), WeightSource) and source.layer == self.layer
            }
            sheets.append(sheet.model_copy(update=freed))
        layers = without(project.layers, self.layer)
        return with_changes(project, layers=layers, sheets=tuple(sheets)), f"delete {layer.name}"


class SetBase(Op):
    op: Literal["set_base"] = "set_base"
    base: BaseLayer

    def apply(self, project: Project) -> tuple[Project, str]:
        return with_changes(project, base=self.base), f"change {self.base.name}"


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
    RenameProject | SetGround | AddMask | RenameMask | CopyMask | MoveMask | DeleteMask | AddLine | SetLine
    | MoveLine | DeleteLine | AddLayer | SetLayer | MoveLayer | DeleteLayer | SetBase | AddSheet | SetSheet
    | DeleteSheet | ProposeSheets | SetDelivery | AddStep | SetStep | MoveStep | DeleteStep | ReplaceHeightmap
    | AddReading | SetReading | DeleteReading,
    Field(discriminator="op"),
]  # fmt: skip
_ADAPTER: TypeAdapter[list[Operation]] = TypeAdapter(list[Operation])


def parse_operations(data: Any) -> list[Operation]:
    """Typed operations from plain JSON data. Raises :class:`BadDocument` with the place that is wrong."""
    try:
        return _ADAPTER.validate_python(data)
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"])
        raise BadDocument(f"The edit is wrong at {place}: {first['msg']}.", field=place) from None


def apply_operations(project: Project, operations: Sequence[Operation]) -> tuple[Project, str]:
    """(the next document, the name of the edit). Raises what does not hold together; nothing is half-applied."""
    label = "no change"
    for operation in operations:
        project, label = operation.apply(project)
    check_project(project)
    return project, label
