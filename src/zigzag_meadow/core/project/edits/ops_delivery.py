"""Edits of sheets, of the delivery and of targets."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from zigzag_meadow.core.errors import BadDocument, NotFound
from zigzag_meadow.core.formats.catalogue import form
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.map_name import map_name, reading_of
from zigzag_meadow.core.parts import Id
from zigzag_meadow.core.project.edits.ops_base import Op, replaced, with_changes, without
from zigzag_meadow.core.project.model.delivery import Delivery, ItemChoice
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.items import deliverables, find_deliverable
from zigzag_meadow.core.project.model.propose import (
    DATA_SHEETS,
    DataSheet,
    carries_weights,
    proposed_data_sheets,
    proposed_sheets,
)
from zigzag_meadow.core.project.model.sheets import CHANNELS, Sheet
from zigzag_meadow.core.targets.catalogue import built_in, check_target, target
from zigzag_meadow.core.targets.model import Target
from zigzag_meadow.core.targets.sizes import nearest_pair

__all__ = [
    "AddSheet",
    "ChooseTarget",
    "DeleteSheet",
    "DeleteTarget",
    "ProposeDataSheets",
    "ProposeSheets",
    "SetDelivery",
    "SetItems",
    "SetSheet",
    "SetTarget",
]


class AddSheet(Op):
    op: Literal["add_sheet"] = "add_sheet"
    changes: ClassVar = ("sheets",)
    sheet: Sheet

    def apply(self, project: Project) -> tuple[Project, str]:
        return with_changes(project, sheets=(*project.sheets, self.sheet)), f"new sheet {self.sheet.name}"


class SetSheet(Op):
    op: Literal["set_sheet"] = "set_sheet"
    replaces: ClassVar = "sheets/{sheet}"
    sheet: Sheet

    def apply(self, project: Project) -> tuple[Project, str]:
        if project.sheet(self.sheet.id) is None:
            raise NotFound("That sheet is no longer there. Undo brings it back.", field="sheet")
        before = project.sheet(self.sheet.id)
        assert before is not None  # looked up above
        # Other channels make it one's own: no proposal takes it away again.
        same = all(before.source(c) == self.sheet.source(c) for c in CHANNELS["rgba"])
        made = self.sheet.model_copy(update={"proposed": before.proposed and same})
        return with_changes(project, sheets=replaced(project.sheets, made)), f"change {self.sheet.name}"


class DeleteSheet(Op):
    op: Literal["delete_sheet"] = "delete_sheet"
    changes: ClassVar = ("sheets",)
    sheet: Id

    def apply(self, project: Project) -> tuple[Project, str]:
        sheet = project.sheet(self.sheet)
        if sheet is None:
            raise NotFound("That sheet is no longer there.", field="sheet")
        return with_changes(project, sheets=without(project.sheets, self.sheet)), f"delete {sheet.name}"


class ProposeSheets(Op):
    """Replace sheets that were proposed for weights by as few as hold every layer, the way the target takes them;
    ``channels``: so many to a sheet at most, three where alpha would harm."""

    op: Literal["propose_sheets"] = "propose_sheets"
    changes: ClassVar = ("sheets",)
    reads: ClassVar = ("layers", "merges", "base", "delivery", "targets")
    channels: Literal[3, 4] = 4

    def apply(self, project: Project) -> tuple[Project, str]:
        return with_changes(project, sheets=proposed_sheets(project, self.channels)), "propose sheets"


class ProposeDataSheets(Op):
    """One more sheet (or several) of a usual kind for data."""

    op: Literal["propose_data_sheets"] = "propose_data_sheets"
    changes: ClassVar = ("sheets", "delivery")
    reads: ClassVar = ("readings", "layers", "masks", "targets")
    what: DataSheet

    def apply(self, project: Project) -> tuple[Project, str]:
        sheets = proposed_data_sheets(project, self.what)
        changed = with_changes(project, sheets=sheets)
        if self.what == "readings":
            # They travel in the sheets now, not by themselves as well.
            items = project.delivery.items
            left = tuple(item for item in items if not item.deliver or reading_of(map_name(item.of)) is None)
            changed = with_changes(changed, delivery=project.delivery.model_copy(update={"items": left}))
        return changed, f"a sheet for {DATA_SHEETS[self.what].lower()}"


class SetDelivery(Op):
    op: Literal["set_delivery"] = "set_delivery"
    replaces: ClassVar = "delivery"
    delivery: Delivery

    def apply(self, project: Project) -> tuple[Project, str]:
        return with_changes(project, delivery=self.delivery), "change the delivery"


class SetItems(Op):
    """Choose of one item or of many at once."""

    op: Literal["set_items"] = "set_items"
    replaces: ClassVar = "delivery/items/{items}"
    items: Annotated[tuple[ItemChoice, ...], Field(min_length=1, max_length=400)]

    def apply(self, project: Project) -> tuple[Project, str]:
        chosen = {item.of: item for item in project.delivery.items}
        chosen.update((item.of, item) for item in self.items)
        kept = tuple(item for of, item in chosen.items() if item != ItemChoice(of=of))
        first = find_deliverable(project, self.items[0].of)
        name = "a file" if first is None else first.title
        label = f"{len(self.items)} files" if len(self.items) > 1 else name
        return with_changes(project, delivery=project.delivery.model_copy(update={"items": kept})), f"deliver {label}"


def _taken(project: Project, chosen: Target, item: ItemChoice) -> ItemChoice:
    """A choice as another target can keep it: forms that it does not take go, and so do sizes."""
    found = find_deliverable(project, item.of)
    if found is None or found.kind == "points":
        return item
    forms = chosen.height.forms if found.rule is None else chosen.kind(found.rule).forms
    kept = item.form if item.form in forms else None
    raw = kept is not None and form(kept).endings
    fixed = found.kind == "height" and chosen.height.coding.kind not in ("range", "metres")
    floats = kept is not None and form(kept).floats
    return item.model_copy(
        update=({"black": None, "white": None} if fixed else {})
        | ({"stored": None} if item.stored is not None and not floats else {})
        | {
            "form": kept,
            "rows": None,
            "cols": None,
            "ending": item.ending if raw else None,
            "order": item.order if raw else None,
        }
    )


class ChooseTarget(Op):
    """Deliver to another target: its nearest size, its names, its way to pack weights."""

    op: Literal["choose_target"] = "choose_target"
    changes: ClassVar = ("delivery", "sheets", "targets")
    reads: ClassVar = ("ground", "layers", "merges", "base")
    target: Id

    def apply(self, project: Project) -> tuple[Project, str]:
        chosen = target(self.target, project.targets)
        now = project.delivery
        home = project.ground.home
        # A size that is legal stays, unless another place had stretched it: equal sides over ground that is not square.
        size, nearest = (now.rows, now.cols), nearest_pair(chosen.sizes, home)
        keep = chosen.sizes.fits(*size) and _stretch(home, *size) <= 1.02 * _stretch(home, *nearest)
        rows, cols = size if keep else nearest
        items = tuple(_taken(project, chosen, item) for item in now.items)
        items = tuple(item for item in items if item != ItemChoice(of=item.of))
        delivery = now.model_copy(
            update={"target": chosen.id, "rows": rows, "cols": cols, "pattern": None, "items": items, "region": None}
            | {"tile_names": None, "sizes": ()}
        )
        changed = with_changes(project, delivery=delivery)
        # Numbers of layers in one file leave no sheets behind; the next place has its weights packed all the same.
        packed = any(carries_weights(sheet) for sheet in project.sheets) or project.target.sheets.kind == "classes"
        if packed and project.layers:
            changed = with_changes(changed, sheets=proposed_sheets(changed))
        return changed, f"deliver to {chosen.title}"


def _stretch(home: Grid, rows: int, cols: int) -> float:
    """How much longer samples are one way than the other, 1 or more."""
    grid = home.resized(rows, cols)
    ratio = grid.dx / grid.dy
    return max(ratio, 1 / ratio)


class SetTarget(Op):
    """Keep a target of the project's own, new or changed."""

    op: Literal["set_target"] = "set_target"
    replaces: ClassVar = "targets/{target}"
    target: Target

    def apply(self, project: Project) -> tuple[Project, str]:
        check_target(self.target)
        if any(item.id == self.target.id for item in built_in()):
            raise BadDocument("A built-in target is not changed: keep a copy under another name.", field="id")
        there = any(item.id == self.target.id for item in project.targets)
        kept = replaced(project.targets, self.target) if there else (*project.targets, self.target)
        return with_changes(project, targets=kept), f"target {self.target.title}"


class DeleteTarget(Op):
    op: Literal["delete_target"] = "delete_target"
    changes: ClassVar = ("targets",)
    target: Id

    def apply(self, project: Project) -> tuple[Project, str]:
        gone = next((item for item in project.targets if item.id == self.target), None)
        if gone is None:
            raise NotFound("That target is no longer there.", field="target")
        if project.delivery.target == gone.id:
            raise BadDocument(f"{gone.title} is what the project delivers to. Choose another target first.")
        return with_changes(project, targets=without(project.targets, gone.id)), f"delete target {gone.title}"


def without_gone_items(project: Project) -> Project:
    """The project without choices for maps that are there no more: they go with what they were for."""
    if not project.delivery.items:
        return project
    there = {item.of for item in deliverables(project)}
    kept = tuple(item for item in project.delivery.items if item.of in there)
    if len(kept) == len(project.delivery.items):
        return project
    return with_changes(project, delivery=project.delivery.model_copy(update={"items": kept}))
