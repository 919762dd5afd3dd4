"""Edits of masks and of their lines."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from zigzag_meadow.core.errors import BadDocument, NotFound
from zigzag_meadow.core.parts import Id, Name
from zigzag_meadow.core.project.edits.labels import line_change, verb_title
from zigzag_meadow.core.project.edits.ops_base import Index, Op, inserted, moved, replaced, with_changes, without
from zigzag_meadow.core.project.edits.taking_out import with_mask_taken_out
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.recipe import MOST_LINES, Line, Mask
from zigzag_meadow.core.project.model.uses import words_for

__all__ = [
    "AddLine",
    "AddMask",
    "CopyMask",
    "DeleteLine",
    "DeleteMask",
    "MoveLine",
    "MoveMask",
    "RenameMask",
    "SetLine",
    "SetLines",
    "mask_of",
]


def mask_of(project: Project, mask_id: str) -> Mask:
    mask = project.mask(mask_id)
    if mask is None:
        raise NotFound("That mask is no longer there. Undo brings it back.", field="mask")
    return mask


class AddMask(Op):
    op: Literal["add_mask"] = "add_mask"
    changes: ClassVar = ("masks",)
    mask: Mask
    at: Index | None = None

    def apply(self, project: Project) -> tuple[Project, str]:
        return with_changes(project, masks=inserted(project.masks, self.mask, self.at)), f"new mask {self.mask.name}"


class RenameMask(Op):
    op: Literal["rename_mask"] = "rename_mask"
    replaces: ClassVar = "masks/{mask}/name"
    mask: Id
    name: Name

    def apply(self, project: Project) -> tuple[Project, str]:
        new = mask_of(project, self.mask).model_copy(update={"name": self.name})
        return with_changes(project, masks=replaced(project.masks, new)), f"rename to {self.name}"


class CopyMask(Op):
    op: Literal["copy_mask"] = "copy_mask"
    changes: ClassVar = ("masks",)
    mask: Id
    id: Id
    name: Name

    def apply(self, project: Project) -> tuple[Project, str]:
        old = mask_of(project, self.mask)
        new = old.model_copy(update={"id": self.id, "name": self.name})
        at = [m.id for m in project.masks].index(old.id) + 1
        return with_changes(project, masks=inserted(project.masks, new, at)), f"copy {old.name}"


class MoveMask(Op):
    op: Literal["move_mask"] = "move_mask"
    changes: ClassVar = ("masks",)
    mask: Id
    to: Index

    def apply(self, project: Project) -> tuple[Project, str]:
        name = mask_of(project, self.mask).name
        return with_changes(project, masks=moved(project.masks, self.mask, self.to)), f"move {name}"


class DeleteMask(Op):
    """Delete a mask. Where it is used: refuse and say by whom, take it out there, or put another mask in its place."""

    op: Literal["delete_mask"] = "delete_mask"
    changes: ClassVar = (
        "masks",
        "pieces",
        "readings",
        "layers",
        "coats",
        "coat_pieces",
        "scatters",
        "sheets",
        "ground/steps",
        "classes",
        "delivery/items",
    )
    mask: Id
    uses: Literal["refuse", "take_out", "replace"] = "refuse"
    other: Id | None = None

    def apply(self, project: Project) -> tuple[Project, str]:
        mask = mask_of(project, self.mask)
        used = words_for(project, f"mask:{self.mask}")
        if used and self.uses == "refuse":
            raise BadDocument(f"{mask.name} is used by {', '.join(used)}. Take it out there first.", field="mask")
        to = None
        if self.uses == "replace":
            if self.other is None or self.other == self.mask:
                raise BadDocument(f"Choose another mask to stand for {mask.name}.", field="other")
            to = mask_of(project, self.other).id
        cleared = with_mask_taken_out(project, self.mask, to) if used else project
        if left := words_for(cleared, f"mask:{self.mask}"):
            raise BadDocument(f"{mask.name} is still used by {', '.join(left)}. Change that first.", field="mask")
        return with_changes(cleared, masks=without(cleared.masks, self.mask)), f"delete {mask.name}"


class AddLine(Op):
    op: Literal["add_line"] = "add_line"
    changes: ClassVar = ("masks/{mask}/lines",)
    mask: Id
    line: Line
    at: Index | None = None

    def apply(self, project: Project) -> tuple[Project, str]:
        mask = mask_of(project, self.mask)
        new = mask.model_copy(update={"lines": inserted(mask.lines, self.line, self.at)})
        return with_changes(project, masks=replaced(project.masks, new)), f"add {verb_title(self.line)}"


class SetLine(Op):
    op: Literal["set_line"] = "set_line"
    replaces: ClassVar = "masks/{mask}/lines/{line}"
    mask: Id
    line: Line

    def apply(self, project: Project) -> tuple[Project, str]:
        mask = mask_of(project, self.mask)
        before = next((line for line in mask.lines if line.id == self.line.id), None)
        if before is None:
            raise NotFound("That line is no longer there. Undo brings it back.", field="line")
        new = mask.model_copy(update={"lines": replaced(mask.lines, self.line)})
        label = line_change(project, before, self.line)
        return with_changes(project, masks=replaced(project.masks, new)), label


class SetLines(Op):
    """All lines of a mask at once: several of them moved, copied, muted or taken out, or the recipe read from text.
    ``what``: how undo calls it."""

    op: Literal["set_lines"] = "set_lines"
    replaces: ClassVar = "masks/{mask}/lines"
    mask: Id
    lines: Annotated[tuple[Line, ...], Field(max_length=MOST_LINES)]
    what: Annotated[str, Field(min_length=1, max_length=60)] = "change lines"

    def apply(self, project: Project) -> tuple[Project, str]:
        new = mask_of(project, self.mask).model_copy(update={"lines": self.lines})
        return with_changes(project, masks=replaced(project.masks, new)), self.what


class MoveLine(Op):
    op: Literal["move_line"] = "move_line"
    changes: ClassVar = ("masks/{mask}/lines",)
    mask: Id
    line: Id
    to: Index

    def apply(self, project: Project) -> tuple[Project, str]:
        mask = mask_of(project, self.mask)
        if self.line not in [line.id for line in mask.lines]:
            raise NotFound("That line is no longer there. Undo brings it back.", field="line")
        new = mask.model_copy(update={"lines": moved(mask.lines, self.line, self.to)})
        return with_changes(project, masks=replaced(project.masks, new)), "move a line"


class DeleteLine(Op):
    op: Literal["delete_line"] = "delete_line"
    changes: ClassVar = ("masks/{mask}/lines",)
    mask: Id
    line: Id

    def apply(self, project: Project) -> tuple[Project, str]:
        mask = mask_of(project, self.mask)
        gone = next((line for line in mask.lines if line.id == self.line), None)
        if gone is None:
            raise NotFound("That line is no longer there.", field="line")
        new = mask.model_copy(update={"lines": without(mask.lines, self.line)})
        return with_changes(project, masks=replaced(project.masks, new)), f"delete {verb_title(gone)}"
