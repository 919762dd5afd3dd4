"""What a file holds against the manifest's checksum and small means: swapped, turned or changed."""

from __future__ import annotations

import base64
import binascii
import hashlib
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.alignment import best_orientation, likeness
from zigzag_meadow.core.fit.compare import compares
from zigzag_meadow.core.fit.run import Run
from zigzag_meadow.core.targets.note import FileNote

__all__ = ["check_content", "check_listed"]

F64 = NDArray[np.float64]


def _summaries(run: Run, file: str) -> dict[str, F64]:
    """The manifest's summaries of a file by channel, 0–1."""
    squares: dict[str, F64] = {}
    for channel, text in run.manifest.get(file, {}).get("summary", {}).items():
        try:
            flat = np.frombuffer(base64.b64decode(text, validate=True), "<u2")
        except (binascii.Error, ValueError):
            continue
        side = int(flat.size**0.5)
        if side * side == flat.size and side > 1:
            squares[channel] = flat.reshape(side, side) / 65535
    return squares


def _means(values: NDArray[Any], side: int, zero: float, span: float) -> F64:
    """Means over ``side``² cells, 0–1 (written apart from the delivery's own, on purpose)."""
    rows, cols = values.shape
    down = np.searchsorted(np.arange(rows) * side // rows, np.arange(side))
    across = np.searchsorted(np.arange(cols) * side // cols, np.arange(side))
    sums = np.add.reduceat(np.add.reduceat(values.astype(np.float64), down, axis=0), across, axis=1)
    counts = np.outer(np.diff([*down, rows]), np.diff([*across, cols]))
    full = span if values.dtype.kind == "f" else np.iinfo(values.dtype).max
    means: F64 = np.clip((sums / counts - zero) / full, 0, 1)
    return means


def check_listed(run: Run, entry: FileNote) -> bool:
    """Whether a file is what the manifest lists; what is not listed, or lies under another's name, is said."""
    listed = run.manifest.get(entry.file)
    if listed is None:
        run.say("not-in-manifest", entry.file, f"{entry.file} is not in the manifest.", severity="attention")
        return True
    with (run.rehearsal.folder / entry.file).open("rb") as file:
        digest = hashlib.file_digest(file, "sha256").hexdigest()
    if digest == listed.get("sha256"):
        return True
    twin = next((name for name, e in run.manifest.items() if e.get("sha256") == digest), None)
    if twin is not None:
        run.say("swapped", entry.file, f"{entry.file} holds what belongs in {twin}: the two were swapped.",
                "Give both files their own names back, or deliver again.")  # fmt: skip
    return False


def check_content(run: Run, entry: FileNote, samples: NDArray[Any]) -> None:
    """Swapped, turned or changed, by the manifest's checksum and summaries."""
    if not check_listed(run, entry) and not run.report.has(entry.file):
        _name_change(run, entry, samples)


def _name_change(run: Run, entry: FileNote, samples: NDArray[Any]) -> None:
    expected = _summaries(run, entry.file)
    if not expected:
        run.say("changed", entry.file, f"{entry.file} was changed after delivery.")
        return
    side = next(iter(expected.values())).shape[0]
    names = ["height"] if entry.kind == "height" else [str(c.channel) for c in entry.channels]
    listed = run.manifest[entry.file]
    scale = (float(listed.get("zero", 0.0)), float(listed.get("span", 1.0)))
    seen = {name: _means(samples[:, :, i], side, *scale) for i, name in enumerate(names)}
    if _is_other_file(run, entry, seen):
        return
    turned = [best_orientation(seen[n], expected[n]) for n in names if n in expected and expected[n].std() > 1e-4]
    wrong = [t for t in turned if t.wrong]
    if wrong and len(wrong) * 2 > len(turned):
        run.say_turned(entry.file, wrong[0])
        return
    if run.truth is None or not compares(entry):
        off = max(float(np.abs(seen[n] - expected[n]).max()) for n in names if n in expected)
        full = 1 if entry.floats else 2**entry.bits - 1
        message = f"{entry.file} was changed after delivery (means differ by up to {off * full:.1f} of {full})."
        run.say("changed", entry.file, message)


def _is_other_file(run: Run, entry: FileNote, seen: dict[str, F64]) -> bool:
    """Whether every channel is like another file's and not like its own."""
    own = _summaries(run, entry.file)
    for other in run.rehearsal.note.images:
        theirs = _summaries(run, other.file)
        if other.file == entry.file or not theirs or set(theirs) != set(seen) or entry.kind != other.kind:
            continue
        near = min(likeness(seen[n], theirs[n]) for n in seen)
        mine = min(likeness(seen[n], own[n]) for n in seen if n in own)
        if near > 0.99 and near > mine + 0.05:
            run.say("swapped", entry.file, f"{entry.file} holds the picture of {other.file} ({near:.2f} alike).",
                    "Give both files their own names back, or deliver again.")  # fmt: skip
            return True
    return False
