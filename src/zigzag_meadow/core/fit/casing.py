"""Evidence on a file that is not as it was meant, for hypotheses to be tried on."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.case import Case, Other, Pair
from zigzag_meadow.core.fit.listed import Listed
from zigzag_meadow.core.fit.reading import opened, read_whole
from zigzag_meadow.core.fit.registering import in_bands
from zigzag_meadow.core.fit.rehearsal import Rehearsal, typed_scale, upright
from zigzag_meadow.core.fit.truth import Truth
from zigzag_meadow.core.fit.visiting import BAND, tolerance
from zigzag_meadow.core.grid import Window
from zigzag_meadow.core.signature import Measuring, Signature
from zigzag_meadow.core.targets.note import FileNote

__all__ = ["case_by_manifest", "case_in_full", "letters_of", "means_of"]

F64 = NDArray[np.float64]
SMALL = 520
REDUCED = 256
CLOSE = 512
MOST_CLOSE = 4
MEANS = 1.5 / 65535
"""Means are kept with 16 bits."""


def letters_of(file: FileNote) -> tuple[str, ...]:
    """Channels as the manifest names them."""
    return ("height",) if file.kind == "height" else tuple(c.channel for c in file.channels) or ("r",)


def _frame(rehearsal: Rehearsal, file: FileNote) -> dict[str, Any]:
    metres = None
    if file.kind == "height" and file.stored is not None:
        step, at_zero = typed_scale(file.stored)
        low = at_zero + rehearsal.note.ground.zero
        metres = (low, low + step * file.stored.full)
    return {
        "file": file.file,
        "kind": file.kind,
        "letters": letters_of(file),
        "titles": tuple(c.title for c in file.channels) or (file.title,),
        "bits": 0 if file.floats else file.bits,
        "metres": metres,
        "spacing": (file.spacing_y, file.spacing_x),
        "rows": file.rows,
        "cols": file.columns,
    }


def _others(rehearsal: Rehearsal, file: FileNote) -> tuple[Other, ...]:
    """Every other file that could lie under this one's name."""
    found = []
    for other in rehearsal.note.images:
        listed = rehearsal.listing.files.get(other.file)
        if other.file == file.file or listed is None or len(letters_of(other)) != len(letters_of(file)):
            continue
        means = means_of(other, listed)
        if means is not None and other.kind != "look":
            found.append(Other(other.file, other.title, means))
    return tuple(found)


def means_of(file: FileNote, listed: Listed) -> F64 | None:
    """Means of a file as it was written, north up: (side, side, channels); None where the manifest tells too little."""
    letters = letters_of(file)
    if any(letter not in listed.channels for letter in letters):
        return None
    planes = [listed.channels[letter].means for letter in letters]
    return upright(file, np.stack(planes, axis=-1)) if len({p.shape for p in planes}) == 1 else None


def _turned(file: FileNote, made: Signature) -> Signature:
    """A signature whose means are north up."""
    alpha = None if made.with_alpha is None else upright(file, made.with_alpha)
    squares = upright(file, made.squares)
    return replace(made, means=upright(file, made.means), squares=squares, with_alpha=alpha)


def case_by_manifest(rehearsal: Rehearsal, file: FileNote, seen: Sequence[Signature]) -> Case | None:
    """What can be told without the project. None where the manifest knows too little."""
    listed = rehearsal.listing.files.get(file.file)
    if listed is None:
        return None
    letters = letters_of(file)
    found = [listed.channels.get(letter) for letter in letters]
    meant = [_turned(file, made) for made in found if made is not None]
    now = [_turned(file, made) for made in seen]
    if len(meant) != len(letters) or any(a.means.shape != b.means.shape for a, b in zip(meant, now, strict=True)):
        return None
    side = meant[0].means.shape[0]
    pair = Pair(
        np.stack([s.means for s in now], axis=-1),
        np.stack([s.means for s in meant], axis=-1),
        (file.rows / side, file.columns / side),
        MEANS,
    )
    return Case(
        whole=pair, seen=tuple(now), meant=tuple(meant), others=_others(rehearsal, file), **_frame(rehearsal, file)
    )


def case_in_full(rehearsal: Rehearsal, truth: Truth, file: FileNote) -> Case:
    """A file sample by sample beside the project's own map. Raises what reading raises."""
    with opened(rehearsal.folder, file) as source:
        seen = upright(file, read_whole(source))
    zero, span = _ends(truth, file)
    small = max(file.rows, file.columns) <= SMALL
    whole = (
        _pair(truth, file, seen, Window(0, file.rows, 0, file.columns), zero, span)
        if small
        else (_reduced(truth, file, seen, zero, span))
    )
    close = (
        (whole,) if small else tuple(_pair(truth, file, seen, window, zero, span) for window in _telling(file, whole))
    )
    most = max(close, key=lambda pair: pair.before)
    frame = _frame(rehearsal, file)
    if file.floats:
        up = rehearsal.note.ground.zero if file.kind == "height" else 0.0
        frame["metres"] = (zero + up, zero + span + up)
    return Case(
        whole=whole,
        close=close,
        seen=_signed(most.seen, file),
        meant=_signed(most.meant, file),
        others=_others(rehearsal, file),
        **frame,
    )


def _ends(truth: Truth, file: FileNote) -> tuple[float, float]:
    """What is 0 and what spans 0 to 1: full scale of whole numbers, of floats all that occurs."""
    if not file.floats:
        return 0.0, 2.0**file.bits - 1
    low, high = np.inf, -np.inf
    for row in range(0, file.rows, BAND):
        part = truth.part(file, Window(row, min(row + BAND, file.rows), 0, file.columns))
        low, high = min(low, float(part.min())), max(high, float(part.max()))
    return low, max(high - low, 1e-12)


def _unit(values: NDArray[Any], zero: float, span: float) -> F64:
    made: F64 = (np.nan_to_num(values.astype(np.float64)) - zero) / span
    return made


def _pair(truth: Truth, file: FileNote, seen: NDArray[Any], window: Window, zero: float, span: float) -> Pair:
    meant = truth.part(file, window)
    here = seen[window.row0 : window.row1, window.col0 : window.col1]
    # A prediction is rounded once more than what was meant.
    within = max(tolerance(file, meant), 0.0 if file.floats else 1.0) / span
    return Pair(_unit(here, zero, span), _unit(meant, zero, span), tolerance=within)


def _reduced(truth: Truth, file: FileNote, seen: NDArray[Any], zero: float, span: float) -> Pair:
    """All of a large map as means of equal cells, made band by band."""

    def as_it_is(first: int, end: int) -> F64:
        return _unit(seen[first:end], zero, span)

    def as_meant(first: int, end: int) -> F64:
        return _unit(truth.part(file, Window(first, end, 0, file.columns)), zero, span)

    parts = [in_bands(part, file.rows, REDUCED, REDUCED) for part in (as_it_is, as_meant)]
    per = (file.rows / REDUCED, file.columns / REDUCED)
    return Pair(parts[0], parts[1], per, (0.0 if file.floats else 0.02) / span + 1e-9)


def _telling(file: FileNote, whole: Pair) -> list[Window]:
    """Windows where a difference lies and much can be told apart."""
    texture = np.abs(np.diff(whole.meant, axis=0, append=whole.meant[-1:])).sum(axis=2)
    off = whole.off
    found = []
    for row in range(0, file.rows, CLOSE):
        for col in range(0, file.columns, CLOSE):
            window = Window(row, row + CLOSE, col, col + CLOSE).clipped(file.rows, file.columns)
            a, b = (int(r / whole.per[0]) for r in (window.row0, window.row1))
            c, d = (int(r / whole.per[1]) for r in (window.col0, window.col1))
            cells = (slice(a, max(b, a + 1)), slice(c, max(d, c + 1)))
            if min(window.shape) >= CLOSE // 4:
                found.append((float(off[cells].sum()), float(texture[cells].sum()), window))
    by_off = sorted(found, key=lambda item: -item[0])
    by_texture = sorted(found, key=lambda item: -item[1])
    picked = [by_off[0][2], *(item[2] for item in by_texture if item[0] > 0), *(item[2] for item in by_off)]
    return list(dict.fromkeys(picked))[:MOST_CLOSE]


def _signed(values: F64, file: FileNote) -> tuple[Signature, ...]:
    """Signatures of a part, as it would be stored."""
    rows, cols, many = values.shape
    tape = Measuring(rows, cols, many, alpha=letters_of(file)[-1] == "a")
    if file.floats:
        tape.add(values.astype(np.float32))
    else:
        stored = np.floor(np.clip(values, 0, 1) * (2.0**file.bits - 1) + 0.5)
        tape.add(stored.astype(np.uint8 if file.bits == 8 else np.uint16))
    return tuple(tape.signatures())
