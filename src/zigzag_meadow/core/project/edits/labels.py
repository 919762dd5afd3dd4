"""The names of edits, as undo shows them: "fade to 6°"."""

from __future__ import annotations

from zigzag_meadow.core.masks.sources import Band, MaskUse
from zigzag_meadow.core.parts import Part, Told
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.readings import kind_of, title_of
from zigzag_meadow.core.project.model.recipe import Line

__all__ = ["field_change", "line_change", "verb_title"]

_BAND_FIELDS = {
    "low": "lower edge",
    "high": "upper edge",
    "fade_low": "lower fade",
    "fade_high": "upper fade",
}


def verb_title(line: Line) -> str:
    return line.title.lower()


def _told(part: Part, field: str) -> Told | None:
    return next((m for m in type(part).model_fields[field].metadata if isinstance(m, Told)), None)


def field_change(before: Part, after: Part) -> str | None:
    """The first number or choice that differs between two states of a part, in a few words."""
    for field in type(after).model_fields:
        told, value = _told(after, field), getattr(after, field)
        if told is None or getattr(before, field, None) == value:
            continue
        if told.choices:
            return f"{told.title.lower()}: {dict(told.choices).get(str(value), value)}"
        shown = _number(value * 100) if told.unit == "%" else _number(value)
        return f"{told.title.lower()} to {shown} {told.unit}".rstrip()
    return None


def _number(value: float) -> str:
    return f"{value:.2f}".rstrip("0").rstrip(".")


def _band_change(project: Project, before: Band, after: Band) -> str | None:
    if before.reading != after.reading:
        return f"read {title_of(project, after.reading).lower()}"
    declared = kind_of(project, after.reading)
    for field, title in _BAND_FIELDS.items():
        value = getattr(after, field)
        if getattr(before, field) != value:
            fade = declared.scale == "log" and field.startswith("fade")
            unit = " doublings" if fade else ("°" if declared.unit == "°" else f" {declared.unit}".rstrip())
            return f"{title} to {_number(value)}{unit}"
    if before.smooth != after.smooth:
        return "smooth fades" if after.smooth else "straight fades"
    return None


def line_change(project: Project, before: Line, after: Line) -> str:
    """What changed between two states of a line, in a few words."""
    verb = verb_title(after)
    if before.verb != after.verb:
        return f"{verb_title(before)} becomes {verb}"
    if before.muted != after.muted:
        return f"mute {verb}" if after.muted else f"unmute {verb}"
    if before.note != after.note:
        return f"note on {verb}"
    named = after.renamed(before)
    if named is not None:
        return named
    old, new = getattr(before, "source", None), getattr(after, "source", None)
    if isinstance(old, Band) and isinstance(new, Band):
        text = _band_change(project, old, new)
        if text:
            return text
    if isinstance(new, MaskUse) and old != new:
        used = project.mask(new.mask)
        return f"{verb} {used.name if used else 'a mask'}"
    if isinstance(new, Band) and not isinstance(old, Band):
        return f"{verb} by {title_of(project, new.reading).lower()}"
    return field_change(before, after) or f"change {verb}"
