"""What was typed at the target in place of the note's numbers, and what was read off there."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from zigzag_meadow.core.fit.noting import scale_words
from zigzag_meadow.core.fit.read_off import ReadOff, check_read_off
from zigzag_meadow.core.fit.report import Fact
from zigzag_meadow.core.fit.run import Run
from zigzag_meadow.core.targets.note import ImportNote, StoredHeights, UnitNote

__all__ = ["Typed", "TypedNumber", "check_typed", "typed_numbers"]


class Typed(BaseModel):
    """``numbers``: by the names of :func:`typed_numbers`, only those that were typed otherwise or looked at;
    ``left_on``: settings of the note that are not neutral there; ``points``: what was read off."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, frozen=True, defer_build=True)

    numbers: Annotated[dict[Annotated[str, Field(max_length=40)], float], Field(max_length=40)] = {}
    left_on: Annotated[tuple[Annotated[str, Field(max_length=200)], ...], Field(max_length=40)] = ()
    points: Annotated[tuple[ReadOff, ...], Field(max_length=12)] = ()

    @property
    def is_empty(self) -> bool:
        return not (self.numbers or self.left_on or self.points)


@dataclass(frozen=True, slots=True)
class TypedNumber:
    """One number that is typed from the note, in its ``unit``; ``each``: metres in one of that, 0 for what is no
    length."""

    name: str
    title: str
    unit: str
    value: float
    each: float = 0.0

    def metres(self, value: float) -> float:
        """What was typed, in metres; plain numbers as they are."""
        return value * (self.each or 1.0)


def _in_metres(note: ImportNote, point: ReadOff) -> ReadOff:
    """What was read off in the target's units."""
    places, heights = note.units.positions.metres, note.units.heights.metres
    moved = {"east": point.east * places, "north": point.north * places, "height": point.height * heights}
    return point.model_copy(update=moved)


def typed_numbers(note: ImportNote) -> tuple[TypedNumber, ...]:
    """Every number that somebody types at the target, in the order of the note."""
    ground, made = note.ground, []
    heights, lengths, positions = note.units.heights, note.units.lengths, note.units.positions

    def told(name: str, title: str, unit: UnitNote, metres: float) -> TypedNumber:
        title = title if unit.plain else title.removeprefix("Metres ").capitalize()
        return TypedNumber(name, title, unit.symbol, metres / unit.metres, unit.metres)

    made += [
        TypedNumber("columns", "Samples across", "", ground.columns),
        TypedNumber("rows", "Samples down", "", ground.rows),
        told("spacing_x", "Metres between samples, east", lengths, ground.spacing_x),
        told("spacing_y", "Metres between samples, north", lengths, ground.spacing_y),
    ]
    if ground.blocks is not None:
        made.append(TypedNumber("cells", "Cells along a block side", "", ground.blocks.cells))
    stored = note.height.stored if note.height is not None else None
    if stored is not None:
        if stored.multiplier is not None:
            made.append(TypedNumber("multiplier", "Multiplier of the step", "", stored.multiplier))
            made.append(told("at_middle", f"Metres at stored {stored.middle}", heights, stored.at_middle))
        else:
            made.append(told("at_zero", "Metres at stored 0", heights, stored.at_zero))
            made.append(told("at_full", f"Metres at stored {stored.full}", heights, stored.at_full))
    corner = ("west", "south") if ground.anchor == "corner" else ("east_of", "north_of")
    values = (ground.extent.west, ground.extent.south) if ground.anchor == "corner" else ground.extent.centre
    where = "south-west corner" if ground.anchor == "corner" else "middle"
    made += [
        told(corner[0], f"The {where}, {_along(positions)}east", positions, values[0]),
        told(corner[1], f"The {where}, {_along(positions)}north", positions, values[1]),
    ]
    if note.height is not None and note.height.water is not None:
        made.append(told("water", "Water level", heights, note.height.water))
    return tuple(made)


def _along(unit: UnitNote) -> str:
    return "metres " if unit.plain else ""


def check_typed(run: Run, typed: Typed) -> None:
    """Hold what was typed against the note, and what was read off against the files."""
    known = {number.name: number for number in typed_numbers(run.rehearsal.note)}
    off = {
        name: value
        for name, value in typed.numbers.items()
        if name in known and abs(value - known[name].value) > _slack(known[name])
    }
    run.report.typed = [
        {
            "name": n.name,
            "title": n.title,
            "unit": n.unit,
            "value": n.value,
            "typed": typed.numbers.get(n.name),
            "off": n.name in off,
        }
        for n in known.values()
    ]
    run.report.typed_in = typed.model_dump(mode="json")
    before = len(run.report.findings)
    metres = {name: known[name].metres(value) for name, value in off.items()}
    _scale(run, metres)
    _spacing(run, metres)
    for name in ("columns", "rows", "cells", "west", "south", "east_of", "north_of", "water"):
        if name in off:
            _plain(run, known[name], off[name])
    for setting in typed.left_on:
        _left_on(run, setting)
    _unknown(
        run,
        [name for name in typed.numbers if name not in known],
        [item.setting for item in run.rehearsal.note.neutral],
        typed.left_on,
    )
    check_read_off(run, tuple(_in_metres(run.rehearsal.note, point) for point in typed.points))
    wrong = len(run.report.findings) - before
    if not typed.is_empty:
        many = f"{wrong} to look at" if wrong else "as the note says"
        run.report.facts.append(Fact("What was typed", not wrong, "off" if wrong else "right", many))


def _slack(number: TypedNumber) -> float:
    """By how much what is typed may be off: the last digit of the note, and of plain metres a hundredth of one."""
    least = 1.0 / number.each if number.each else 1.0
    return 2e-6 * max(abs(number.value), least)


def _say(run: Run, kind: str, title: str, text: str, fix: str, numbers: dict[str, float] | None = None) -> None:
    run.say(kind, "what was typed", text, fix, title=title, remedy="outside", typed=True, numbers=numbers)


def _scale(run: Run, off: dict[str, float]) -> None:
    note = run.rehearsal.note
    stored = note.height.stored if note.height is not None else None
    names = [name for name in ("multiplier", "at_middle", "at_zero", "at_full") if name in off]
    if stored is None or not names:
        return
    changed: StoredHeights = stored.model_copy(update={name: off[name] for name in names})
    words, a, b = scale_words(stored, changed)
    right = ", ".join(f"{_title(note, name)} {_of(note, name):.9g}{_behind(note, name)}" for name in names)
    _say(
        run,
        "typed-scale",
        "Step or range",
        f"With what was typed {words.partition(': ')[2] or words}.",
        f"Type: {right}.",
        {"factor": round(a, 6), "offset": round(b, 4)},
    )


def _title(note: ImportNote, name: str) -> str:
    return next(number.title[:1].lower() + number.title[1:] for number in typed_numbers(note) if number.name == name)


def _behind(note: ImportNote, name: str) -> str:
    """What stands behind a number that is typed in no metres."""
    found = next(number for number in typed_numbers(note) if number.name == name)
    return f" {found.unit}" if found.each not in (0.0, 1.0) else ""


def _of(note: ImportNote, name: str) -> float:
    return next(number.value for number in typed_numbers(note) if number.name == name)


def _spacing(run: Run, off: dict[str, float]) -> None:
    ground = run.rehearsal.note.ground
    x, y = off.get("spacing_x", ground.spacing_x), off.get("spacing_y", ground.spacing_y)
    if "spacing_x" not in off and "spacing_y" not in off:
        return
    unit = run.rehearsal.note.units.lengths
    across, down = x / ground.spacing_x, y / ground.spacing_y
    text = (
        f"With what was typed the ground is {across:.4g} times as wide and {down:.4g} times as long: it should be "
        f"{ground.extent.width:g} × {ground.extent.length:g} m, and slopes come out wrong."
    )
    _say(
        run,
        "typed-spacing",
        "Spacing",
        text,
        f"Type {ground.spacing_x / unit.metres:.9g} {unit.symbol} east and "
        f"{ground.spacing_y / unit.metres:.9g} {unit.symbol} north.",
        {"across": round(across, 6), "down": round(down, 6)},
    )


_CONSEQUENCE = {
    "columns": "the target would resample or refuse the files",
    "rows": "the target would resample or refuse the files",
    "cells": "blocks would not meet the samples",
    "west": "the ground lies beside its place",
    "south": "the ground lies beside its place",
    "east_of": "the ground lies beside its place",
    "north_of": "the ground lies beside its place",
    "water": "water fills the ground to another height",
}


def _plain(run: Run, number: TypedNumber, value: float) -> None:
    apart = value - number.value
    unit = f" {number.unit}" if number.unit else ""
    _say(
        run,
        f"typed-{number.name}",
        number.title,
        f"{number.title}: {value:.9g}{unit} was typed, the note says {number.value:.9g}{unit} "
        f"({apart:+.4g}{unit}): {_CONSEQUENCE[number.name]}.",
        f"Type {number.value:.9g}{unit}.",
    )


def _unknown(run: Run, numbers: list[str], settings: list[str], left_on: tuple[str, ...]) -> None:
    """What the note does not ask for cannot be held against it."""
    others = [f"no number “{name}”" for name in numbers]
    others += [f"no setting “{name}”" for name in left_on if name not in settings]
    if others:
        run.say(
            "typed-unknown",
            "what was typed",
            f"The note asks for {', '.join(others)}: that was not checked.",
            "Use the names that the note gives.",
            "attention",
            "Not on the note",
            "outside",
            True,
        )


def _left_on(run: Run, setting: str) -> None:
    found = next((item for item in run.rehearsal.note.neutral if item.setting == setting), None)
    if found is not None:
        _say(
            run,
            "setting",
            "A setting that must be neutral",
            f"{found.setting} is not {found.to}. {found.because}",
            f"Set it to: {found.to}.",
        )
