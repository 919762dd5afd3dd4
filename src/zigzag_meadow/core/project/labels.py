"""The names of edits, as undo shows them: "fade to 6°"."""

from __future__ import annotations

from zigzag_meadow.core.project.document import Band, Line, MaskUse, Project
from zigzag_meadow.core.project.readings import kind_of, title_of

__all__ = ["line_change", "verb_title"]

_VERBS = {
    "take": "take",
    "leave_out": "leave out",
    "keep_within": "keep only within",
    "turn_over": "turn over",
    "levels": "levels",
}
_FIELDS = {
    "in_low": "darkest input",
    "in_high": "brightest input",
    "middle": "middle",
    "out_low": "darkest output",
    "out_high": "brightest output",
}
_BAND_FIELDS = {
    "low": "lower edge",
    "high": "upper edge",
    "fade_low": "lower fade",
    "fade_high": "upper fade",
}


def verb_title(line: Line) -> str:
    return _VERBS[line.verb]


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
    if before.verb != after.verb:
        return f"{_VERBS[before.verb]} becomes {_VERBS[after.verb]}"
    if before.muted != after.muted:
        return f"mute {_VERBS[after.verb]}" if after.muted else f"unmute {_VERBS[after.verb]}"
    old, new = getattr(before, "source", None), getattr(after, "source", None)
    if isinstance(old, Band) and isinstance(new, Band):
        text = _band_change(project, old, new)
        if text:
            return text
    if isinstance(new, MaskUse) and old != new:
        used = project.mask(new.mask)
        return f"{_VERBS[after.verb]} {used.name if used else 'a mask'}"
    if isinstance(new, Band) and not isinstance(old, Band):
        return f"{_VERBS[after.verb]} by {title_of(project, new.reading).lower()}"
    strength = getattr(after, "strength", None)
    if strength is not None and getattr(before, "strength", None) != strength:
        return f"strength to {_number(strength * 100)} %"
    for field, title in _FIELDS.items():
        if getattr(before, field, None) != getattr(after, field, None):
            return f"{title} to {_number(getattr(after, field))}"
    return f"change {_VERBS[after.verb]}"
