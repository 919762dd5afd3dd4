"""Edits of readings: their numbers, and further readings of a kind."""

from __future__ import annotations

from typing import Literal

from zigzag_meadow.core.errors import BadDocument, NotFound
from zigzag_meadow.core.project.document import Id, Project, ReadingSetting
from zigzag_meadow.core.project.ops_base import Op, inserted, replaced, with_changes, without
from zigzag_meadow.core.project.readings import resolve
from zigzag_meadow.core.project.recipe import Mask, Piece, sources_of
from zigzag_meadow.core.project.sources import Band, ReadingUse
from zigzag_meadow.core.readings.catalogue import READINGS

__all__ = ["AddReading", "DeleteReading", "SetReading", "uses_of_reading"]


def _reads(holder: Mask | Piece, reading_id: str) -> bool:
    return any(
        isinstance(source, Band | ReadingUse) and source.reading == reading_id
        for line in holder.lines
        for source in sources_of(line)
    )


def uses_of_reading(project: Project, reading_id: str) -> list[str]:
    """Who uses a reading, in words: masks, channels, preparation steps, other readings."""
    used = [f"the mask {mask.name}" for mask in project.masks if _reads(mask, reading_id)]
    used += [f"the piece {piece.name}" for piece in project.pieces if _reads(piece, reading_id)]
    used += [f"the scattered {s.name}" for s in project.scatters if s.size_by == f"reading:{reading_id}"]
    for sheet in project.sheets:
        for channel in sheet.channels:
            source = sheet.source(channel)
            if source is not None and source.kind == "reading" and source.reading == reading_id:
                used.append(f"channel {channel.upper()} of the sheet {sheet.name}")
    for number, step in enumerate(project.ground.steps, 1):
        if any(band.reading == reading_id for band in step.where):
            used.append(f"preparation step {number}")
    used += [
        f"the reading {resolve(project, s.id).title}"
        for s in project.readings
        if f"reading:{reading_id}" in s.numbers.values()
    ]
    return used


class AddReading(Op):
    """One more reading of a kind, with numbers of its own."""

    op: Literal["add_reading"] = "add_reading"
    setting: ReadingSetting

    def apply(self, project: Project) -> tuple[Project, str]:
        new = with_changes(project, readings=inserted(project.readings, self.setting, None))
        return new, f"new reading {resolve(new, self.setting.id).title}"


class SetReading(Op):
    """Numbers of a reading. Those equal to its defaults need not be there; an empty set restores them all."""

    op: Literal["set_reading"] = "set_reading"
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
    reading: Id

    def apply(self, project: Project) -> tuple[Project, str]:
        if project.setting(self.reading) is None:
            raise NotFound("That reading is no longer there.", field="reading")
        title = resolve(project, self.reading).title
        used = uses_of_reading(project, self.reading)
        if used and not any(r.name == self.reading for r in READINGS):
            raise BadDocument(f"{title} is used by {', '.join(used)}. Take it out there first.", field="reading")
        return with_changes(project, readings=without(project.readings, self.reading)), f"delete {title}"
