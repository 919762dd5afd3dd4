"""Edits of readings: their numbers, and further readings of a kind."""

from __future__ import annotations

from typing import ClassVar, Literal

from zigzag_meadow.core.errors import BadDocument, NotFound
from zigzag_meadow.core.parts import Id
from zigzag_meadow.core.project.edits.ops_base import Op, inserted, replaced, with_changes, without
from zigzag_meadow.core.project.model.document import Project, ReadingSetting
from zigzag_meadow.core.project.model.readings import resolve
from zigzag_meadow.core.project.model.uses import words_for
from zigzag_meadow.core.readings.catalogue import READINGS

__all__ = ["AddReading", "DeleteReading", "SetReading"]


class AddReading(Op):
    """One more reading of a kind, with numbers of its own."""

    op: Literal["add_reading"] = "add_reading"
    changes: ClassVar = ("readings",)
    setting: ReadingSetting

    def apply(self, project: Project) -> tuple[Project, str]:
        new = with_changes(project, readings=inserted(project.readings, self.setting, None))
        return new, f"new reading {resolve(new, self.setting.id).title}"


class SetReading(Op):
    """Numbers of a reading. Those equal to its defaults need not be there; an empty set restores them all."""

    op: Literal["set_reading"] = "set_reading"
    replaces: ClassVar = "readings/{setting}"
    setting: ReadingSetting

    def apply(self, project: Project) -> tuple[Project, str]:
        old = project.setting(self.setting.id)
        first = any(r.name == self.setting.id for r in READINGS)
        if old is None and not first:
            raise NotFound("That reading is no longer there. Undo brings it back.", field="reading")
        if old is None:
            readings = inserted(project.readings, self.setting, None)
        elif first and not self.setting.numbers and self.setting.name is None:
            readings = without(project.readings, self.setting.id)
        else:
            readings = replaced(project.readings, self.setting)
        new = with_changes(project, readings=readings)
        resolved = resolve(new, self.setting.id)
        before = resolve(project, self.setting.id) if old is not None or first else None
        if before is not None and before.title != resolved.title:
            return new, f"rename to {resolved.title}"
        for param in resolved.kind.params:
            value = resolved.numbers[param.name]
            if before is not None and before.numbers[param.name] != value:
                shown = dict(param.choices).get(str(value), f"{value:g}" if isinstance(value, float) else str(value))
                what = f"{param.title.lower()} of {resolved.title.lower()}"
                return new, f"{what} to {shown} {param.unit}".rstrip() if param.kind != "map" else f"change {what}"
        return new, f"change {resolved.title.lower()}"


class DeleteReading(Op):
    op: Literal["delete_reading"] = "delete_reading"
    changes: ClassVar = ("readings",)
    reading: Id

    def apply(self, project: Project) -> tuple[Project, str]:
        if project.setting(self.reading) is None:
            raise NotFound("That reading is no longer there.", field="reading")
        title = resolve(project, self.reading).title
        used = words_for(project, f"reading:{self.reading}")
        if used and not any(r.name == self.reading for r in READINGS):
            raise BadDocument(f"{title} is used by {', '.join(used)}. Take it out there first.", field="reading")
        return with_changes(project, readings=without(project.readings, self.reading)), f"delete {title}"
