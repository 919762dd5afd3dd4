"""The import note itself: whether it still says what was written, and what a changed number would do."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from zigzag_meadow.core.errors import MeadowError
from zigzag_meadow.core.fit.listed import digest
from zigzag_meadow.core.fit.rehearsal import NOTE, typed_scale
from zigzag_meadow.core.fit.report import Fact
from zigzag_meadow.core.fit.run import Run
from zigzag_meadow.core.targets.note import FileNote, ImportNote, StoredHeights

__all__ = ["check_note", "scale_words"]

PUT_BACK = "Put the delivered note back, or deliver again."
_WORDS = {
    "columns": "samples across",
    "rows": "samples down",
    "spacing_x": "metres between samples, east",
    "spacing_y": "metres between samples, north",
    "step": "metres a step",
    "at_zero": "metres at stored 0",
    "at_middle": "metres at the middle",
    "at_full": "metres at full scale",
    "multiplier": "multiplier of the step",
    "base_step": "base step",
    "lowest": "lowest height",
    "highest": "highest height",
    "water": "water level",
    "zero": "height that counts as 0",
    "west": "west",
    "south": "south",
    "width": "width",
    "length": "length",
    "file": "name of a file",
    "title": "title",
    "first_row": "first row",
    "first_column": "first column",
    "byte_order": "byte order",
    "bits": "bits",
    "height": "height of a check point",
}


def check_note(run: Run) -> None:
    """What can be said of note, manifest and the other texts without reading a picture."""
    rehearsal = run.rehearsal
    for name, error in rehearsal.troubles:
        _say_trouble(run, name, error)
    written, given = rehearsal.listing.note, rehearsal.given
    before = len(run.report.findings)
    if written is not None and given is not None and written != given:
        _say_changes(run, written, given)
    _texts(run)
    good = len(run.report.findings) == before and given is not None
    if rehearsal.listing.files:
        told = "says what was written" if good else "see below"
        run.report.facts.append(Fact("Import note", good, "unchanged" if good else "changed", told))


def _say_trouble(run: Run, name: str, error: MeadowError) -> None:
    kind = "missing-file" if error.code == "not-found" else "unreadable"
    if name == NOTE:
        run.say(kind, name, f"The import note cannot be read: {error.message}", "Deliver again.", title="Import note")
    else:
        text = f"{error.message} Nothing can be held against checksums."
        run.say(kind, name, text, "Deliver again.", "attention", title="Manifest")


def _texts(run: Run) -> None:
    """Texts and recipes, by their checksums."""
    pictures = {file.file for file in run.rehearsal.note.files}
    for name, listed in run.rehearsal.listing.files.items():
        path = run.rehearsal.folder / name
        if name in pictures or name == NOTE or "/" in name or "\\" in name:
            continue
        if not path.is_file():
            run.say("missing-file", name, f"{name} is missing.", severity="attention", title="Missing")
        elif digest(path) != listed.sha256:
            run.say(
                "changed-text",
                name,
                f"{name} was changed after delivery: its numbers may not be those of the files.",
                PUT_BACK,
                "attention",
                title="Changed text",
            )


def _say_changes(run: Run, written: ImportNote, given: ImportNote) -> None:
    said: set[str] = set()
    old, new = (note.height.stored if note.height is not None else None for note in (written, given))
    if old is not None and new is not None and old != new:
        words, a, b = scale_words(old, new)
        said |= {"height.stored", *(f"files.{i}.stored" for i in range(len(given.files)))}
        run.say(
            "note-scale",
            NOTE,
            f"The note's numbers of the height were changed: {words}.",
            PUT_BACK,
            title="Scale in the note",
            numbers={"factor": round(a, 6), "offset": round(b, 4)},
        )
    for at, (before, after) in enumerate(zip(written.files, given.files, strict=False)):
        exchanged = _exchanged(before, after)
        if exchanged:
            said.add(f"files.{at}.channels")
            run.say(
                "note-channels",
                NOTE,
                f"In the note {exchanged} of {after.file} are exchanged.",
                PUT_BACK,
                title="Channels in the note",
            )
    rest = [
        (path, a, b)
        for path, a, b in _changes(written.model_dump(), given.model_dump(), "")
        if not any(path.startswith(done) for done in said)
    ]
    if rest:
        shown = "; ".join(f"{_named(path)} is {_value(b)} instead of {_value(a)}" for path, a, b in rest[:3])
        more = f", and {len(rest) - 3} more" if len(rest) > 3 else ""
        run.say("note-changed", NOTE, f"The import note was changed: {shown}{more}.", PUT_BACK, title="Note changed")


def scale_words(old: StoredHeights, new: StoredHeights) -> tuple[str, float, float]:
    """What heights become by other numbers: (words, factor, metres added after it)."""
    (step, zero), (other, start) = typed_scale(old), typed_scale(new)
    a = other / step
    b = start - a * zero
    if abs(a - 1) < 1e-7:
        return f"heights come out {abs(b):.4g} m too {'high' if b > 0 else 'low'}", a, b
    asked = (
        ("multiplier of the step", old.multiplier, new.multiplier),
        ("metres at stored 0", old.at_zero, new.at_zero),
        ("metres at full scale", old.at_full, new.at_full),
        ("metres a step", old.step, new.step),
    )
    told = next(
        (
            f"{words} {after:.7g} instead of {was:.7g}"
            for words, was, after in asked
            if was is not None and after is not None and was != after
        ),
        "",
    )
    return f"{told}: heights come out scaled by {a:.4g}, offset {b:.4g} m", a, b


def _exchanged(before: FileNote, after: FileNote) -> str:
    """Letters of the channels that a file's note has in each other's places."""
    if before.file != after.file or before.channels == after.channels or len(before.channels) != len(after.channels):
        return ""
    was = [c.model_copy(update={"channel": "r"}) for c in before.channels]
    now = [c.model_copy(update={"channel": "r"}) for c in after.channels]
    moved = [c.channel.upper() for c, a, b in zip(before.channels, was, now, strict=True) if a != b]
    same = sorted(c.model_dump_json() for c in was) == sorted(c.model_dump_json() for c in now)
    letters = sorted(c.channel for c in after.channels) == sorted(c.channel for c in before.channels)
    if same and letters and len(moved) >= 2:
        return f"{', '.join(moved[:-1])} and {moved[-1]}"
    return ""


def _changes(old: Any, new: Any, path: str) -> Iterator[tuple[str, Any, Any]]:
    if isinstance(old, dict) and isinstance(new, dict):
        for key in old:
            yield from _changes(old[key], new.get(key), f"{path}.{key}" if path else key)
    elif isinstance(old, list | tuple) and isinstance(new, list | tuple) and len(old) == len(new):
        for at, (a, b) in enumerate(zip(old, new, strict=True)):
            yield from _changes(a, b, f"{path}.{at}")
    elif old != new:
        yield path, old, new


def _named(path: str) -> str:
    last = path.rpartition(".")[2]
    return _WORDS.get(last, last.replace("_", " "))


def _value(value: Any) -> str:
    if isinstance(value, list | tuple):
        return f"{len(value)} entries"
    return f"{value:.7g}" if isinstance(value, float) else str(value)
