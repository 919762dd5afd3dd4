"""Every map of a delivery: its files are read back, put together and held against what was meant."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadFile, MeadowError
from zigzag_meadow.core.fit.casing import case_by_manifest, case_in_full, letters_of
from zigzag_meadow.core.fit.faults.another import GIVE_BACK, Another, holds_another
from zigzag_meadow.core.fit.height_numbers import HeightLook, say_heights, taken_in
from zigzag_meadow.core.fit.listed import digest
from zigzag_meadow.core.fit.naming import named
from zigzag_meadow.core.fit.reading import Rows, opened
from zigzag_meadow.core.fit.report import MapState
from zigzag_meadow.core.fit.run import Run
from zigzag_meadow.core.fit.seen_maps import Shown
from zigzag_meadow.core.fit.together import Together
from zigzag_meadow.core.fit.under_name import other_under_name
from zigzag_meadow.core.fit.visiting import Difference, compares, tolerance, visit
from zigzag_meadow.core.grid import Window
from zigzag_meadow.core.signature import Measuring
from zigzag_meadow.core.targets.note import FileNote

__all__ = ["check_map"]


@dataclass
class _Map:
    """One map while its files are read."""

    files: list[FileNote]
    in_full: bool
    listed: bool
    difference: Difference
    shown: Shown
    heights: HeightLook | None = None
    unread: int = 0
    changed: int = 0
    compared: int = 0


def check_map(run: Run, files: list[FileNote], together: Together, name: str) -> None:
    """Check the files of one map; what all maps add up to is gathered in ``together``."""
    first = files[0]
    listed = all(file.file in run.rehearsal.listing.files for file in files)
    made = _Map(
        files,
        run.truth is not None and compares(first),
        listed,
        Difference(max(len(first.channels), 1)),
        Shown(first.whole_rows, first.whole_columns),
    )
    if first.kind == "height":
        made.heights = HeightLook(run.rehearsal, first)
    for file in files:
        run.report.files += 1
        _check_file(run, made, file, together)
    if made.heights is not None:
        say_heights(run, made.heights, made.difference, made.shown, made.in_full and not made.unread)
    made.shown.keep(name, run.keep)
    run.report.maps.append(_state(run, made, name))


def _state(run: Run, made: _Map, name: str) -> MapState:
    first, off = made.files[0], made.difference
    wrong = any(f.severity == "error" and f.file in {file.file for file in made.files} for f in run.report.findings)
    full = made.in_full and made.compared == len(made.files)
    unit = "" if first.floats else " steps"
    if made.unread:
        state, words = (
            "unread",
            f"{made.unread} of {len(made.files)} files could not be read"
            if len(made.files) > 1
            else "could not be read",
        )
    elif full:
        state = "wrong" if wrong else "exact"
        words = _compared_words(off, unit)
    else:
        state = "wrong" if wrong else "unchanged"
        words = "as it was delivered, by its checksum" if not made.changed else "changed since it was delivered"
        if not wrong and made.changed:
            words = "saved anew, the samples are the same"
        if not made.listed:
            words = "read, and not compared: the manifest knows nothing of it"
    step = made.heights.step if made.heights is not None else None
    return MapState(
        first.of,
        first.title,
        first.kind,
        tuple(file.file for file in made.files),
        state,  # type: ignore[arg-type]
        words,
        "samples" if full else "manifest" if made.listed else "no",
        off.exact if full else None,
        off.worst if full else None,
        off.mean if full else None,
        (off.worst * step, off.mean * step) if full and step is not None else None,
        tuple(c.channel for c in first.channels),
        "" if made.unread else name,
        1.0 if first.floats else 2.0**first.bits - 1,
    )


def _compared_words(off: Difference, unit: str) -> str:
    if not off.off:
        least = f", to {off.worst:.2f}{unit}" if off.worst >= 0.005 else ""
        return f"every sample is as meant{least}"
    worst = f"{off.worst:,.0f}".replace(",", "\u202f") if off.worst >= 100 else f"{off.worst:.3g}"
    return f"{off.exact:.2%} of the samples are as meant; up to {worst}{unit} off"


def _check_file(run: Run, made: _Map, file: FileNote, together: Together) -> None:
    listed = run.rehearsal.listing.files.get(file.file)
    try:
        source = opened(run.rehearsal.folder, file)
    except (MeadowError, OSError) as error:
        _unread(run, made, file, error)
        return
    with source:
        if not _fits_note(run, file, source):
            made.unread += 1
            together.miss(file)
            return
        zero, span = (listed.zero, listed.span) if listed is not None else (0.0, 1.0)
        tape = Measuring(source.rows, source.cols, source.channels, zero, span, letters_of(file)[-1] == "a")
        before = made.difference.off
        try:
            _read(run, made, file, source, tape, together)
        except (MeadowError, OSError) as error:
            if isinstance(error, MeadowError) and error.code in ("cancelled", "bad-document"):
                raise
            _unread(run, made, file, error)
            together.miss(file)
            return
    if tape.gone:
        run.say(
            "not-numbers",
            file.file,
            f"{file.file} holds {tape.gone} samples that are no numbers.",
            "Write it again.",
            title="No numbers",
        )
    _judge(run, made, file, tape, made.difference.off > before)


def _unread(run: Run, made: _Map, file: FileNote, error: MeadowError | OSError) -> None:
    made.unread += 1
    if isinstance(error, OSError):
        run.say("unreadable", file.file, f"{file.file} cannot be read: {error.strerror or error}.", title="Unreadable")
    elif error.code == "not-found":
        run.say("missing-file", file.file, error.message, title="Missing")
    else:
        resized = "bytes; the note" in error.message or "samples would" in error.message
        run.say(
            "wrong-size" if resized else "unreadable",
            file.file,
            error.message,
            title="Another size" if resized else "Unreadable",
        )


def _fits_note(run: Run, file: FileNote, source: Rows) -> bool:
    """Whether size, channels and depth are those of the note."""
    rows, cols = source.rows, source.cols
    wanted = max(len(file.channels), 1)
    if (rows, cols, source.channels) != (file.rows, file.columns, wanted):
        other = other_under_name(run.rehearsal, file, source)
        if other is not None:
            text = holds_another(file.file, other.file, other.title)
            run.say(Another.kind, file.file, text, GIVE_BACK, title=Another.title)
            return False
    if (rows, cols) != (file.rows, file.columns):
        told = f"the note says {file.columns} × {file.rows}"
        how = "it was resized"
        if (cols, rows) == (file.rows, file.columns):
            how = "it was turned by 90° or transposed"
        elif rows == cols and file.rows != file.columns:
            how = "it was stretched to a square"
        run.say("wrong-size", file.file, f"{file.file} is {cols} × {rows}; {told}: {how}.", title="Another size")
        return False
    if source.channels != wanted:
        names = ", ".join(c.channel.upper() for c in file.channels[source.channels :])
        lost = f" Missing: {names}." if source.channels < wanted else ""
        kind = "alpha-lost" if names == "A" else "channels"
        run.say(
            kind,
            file.file,
            f"{file.file} has {source.channels} channels, the note says {wanted}.{lost}",
            "Write it again in a format that keeps every channel, alpha included.",
            title="Alpha lost" if kind == "alpha-lost" else "Channels",
        )
        return False
    bits = source.dtype.itemsize * 8
    # One reader gives half floats as whole ones: what they hold is compared later.
    halves = file.reads == "exr" and file.floats
    if (bits != file.bits or (source.dtype.kind == "f") != file.floats) and not halves:
        if file.reads == "asc":
            return True
        run.say(
            "depth",
            file.file,
            f"{file.file} has {bits} bits, the note says {file.bits}.",
            "Write it again without changing its depth.",
            title="Another depth",
        )
        return False
    return True


def _read(run: Run, made: _Map, file: FileNote, source: Rows, tape: Measuring, together: Together) -> None:
    truth = run.truth if made.in_full else None
    row0, col0 = (0, 0) if file.tile is None else (file.tile.first_row, file.tile.first_column)

    def look(first: int, block: NDArray[Any]) -> None:
        together.add(file, first, block)
        if made.heights is not None:
            made.heights.add(row0 + first, col0, block[:, :, 0])
        made.shown.add("rebuilt", row0 + first, col0, block, lambda values: _to_show(made, values))
        if truth is not None:
            _compare(
                made, truth.part(file, Window(first, first + len(block), 0, file.columns)), block, row0 + first, col0
            )
        run.tell(len(block), f"{file.file}: row {first + len(block)} of {file.rows}")

    visit(file, source, tape, 0 if truth is None else truth.first_row(file), look)
    made.compared += truth is not None


def _compare(made: _Map, meant: NDArray[Any], block: NDArray[Any], row: int, col: int) -> None:
    file = made.files[0]
    if meant.shape != block.shape:
        raise BadFile(f"{file.file} lies elsewhere than the project's {file.title} by its note. Deliver again.")
    step = made.heights.step if made.heights is not None else 1.0
    made.difference.add(block, meant, tolerance(file, meant), made.shown, row, col, step)

    def show(values: NDArray[Any]) -> NDArray[Any]:
        if file.floats:
            return _to_show(made, values)
        return _to_show(made, np.floor(np.clip(values, 0, 2.0**file.bits - 1) + 0.5).astype(block.dtype))

    made.shown.add("meant", row, col, meant, show)


def _to_show(made: _Map, stored: NDArray[Any]) -> NDArray[Any]:
    """Heights in metres, other whole numbers as they are stored."""
    if made.heights is not None:
        return made.heights.metres(stored).astype(np.float32)
    return stored.astype(np.float32) if stored.dtype.kind == "f" else stored


def _judge(run: Run, made: _Map, file: FileNote, tape: Measuring, off: bool) -> None:
    """Name what is wrong with a file that was read to its end."""
    listed = run.rehearsal.listing.files.get(file.file)
    if listed is None and run.rehearsal.listing.files:
        run.say(
            "not-in-manifest",
            file.file,
            f"{file.file} is not in the manifest.",
            severity="attention",
            title="Not listed",
        )
    same = listed is not None and digest(run.rehearsal.folder / Path(file.file).name) == listed.sha256
    made.changed += not same and listed is not None
    if made.in_full and run.truth is not None:
        if not off:
            return
        if same and run.rehearsal.listing.document and run.rehearsal.listing.document != run.truth.document:
            run.say(
                "stale",
                file.file,
                f"{file.file} was delivered from an older state of the project.",
                title="Out of date",
            )
            return
        found = named(case_in_full(run.rehearsal, run.truth, file))
        run.say_named(file, found, taken_in(found, file))
        return
    if listed is None or same or (listed.samples != "" and listed.samples == tape.samples):
        return
    case = case_by_manifest(run.rehearsal, file, tape.signatures())
    if case is None:
        text = f"{file.file} was changed after delivery."
        run.say("changed", file.file, text, title="Changed")
        return
    found = named(case)
    run.say_named(file, found, taken_in(found, file))
