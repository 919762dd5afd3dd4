"""Compare what the rehearsal reads with what was meant, and name what is wrong."""

from __future__ import annotations

import base64
import binascii
import hashlib
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, Protocol

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import MeadowError
from zigzag_meadow.core.fit.alignment import Orientation, best_orientation, best_shift, exact_turn, likeness
from zigzag_meadow.core.fit.rehearsal import NoteFile, Rehearsal
from zigzag_meadow.core.fit.report import Fact, Finding, FitReport
from zigzag_meadow.core.targets.rules import target

__all__ = ["Pictures", "Truth", "check_delivery"]

F64 = NDArray[np.float64]
AGAIN = "Deliver again, or put the delivered file back."


class Truth(Protocol):
    """The project's own maps on the delivered grid, for a comparison in full."""

    def heights(self) -> NDArray[np.float64]:
        """Metres, float64 (rows, columns)."""
        ...

    def sheet(self, sheet_id: str) -> NDArray[np.uint8]:
        """Bytes, uint8 (rows, columns, channels)."""
        ...


@dataclass
class Pictures:
    """Maps to look at: height rebuilt from the files, and rebuilt − project (float32 metres)."""

    rebuilt: NDArray[np.float32] | None = None
    difference: NDArray[np.float32] | None = None


@dataclass
class _Run:
    rehearsal: Rehearsal
    truth: Truth | None
    manifest: dict[str, dict[str, Any]]
    report: FitReport = field(default_factory=FitReport)
    pictures: Pictures = field(default_factory=Pictures)
    sums: NDArray[np.int32] | None = None
    summed_all: bool = True

    def say(self, kind: str, file: str, message: str, fix: str = AGAIN, severity: Any = "error") -> None:
        self.report.findings.append(Finding(kind, severity, file, message, fix))


def check_delivery(folder: Path, truth: Truth | None = None) -> tuple[FitReport, Pictures]:
    """Read a delivery back as its target would, and compare.

    Without ``truth`` files are held against the manifest's checksums and 64² summaries; with it, sample by sample.
    Raises :class:`NotFound` or :class:`BadFile` when the folder is no delivery.
    """
    rehearsal = Rehearsal(folder)
    run = _Run(rehearsal, truth, rehearsal.manifest())
    run.report.compared_in_full = truth is not None
    run.report.check_points = list(rehearsal.note.get("check_points", []))
    run.report.height_step = rehearsal.step
    sizes: list[str] = []
    for entry in rehearsal.files:
        run.report.files += 1
        try:
            samples = rehearsal.read(entry)
        except MeadowError as error:
            run.summed_all = False
            kind = "missing-file" if error.code == "not-found" else "unreadable"
            run.say("wrong-size" if "bytes" in error.message else kind, entry.file, error.message)
            continue
        _check_file(run, entry, samples, sizes)
    _size_fact(run, sizes)
    _sum_fact(run)
    _untagged_fact(run)
    run.report.facts.sort(key=lambda fact: _ORDER.index(fact.title))
    return run.report, run.pictures


_ORDER = ["Height", "Sizes", "Position", "Weights", "Step", "Colour space", "Files"]


def _check_file(run: _Run, entry: NoteFile, samples: NDArray[Any], sizes: list[str]) -> None:
    rows, cols, channels = samples.shape
    sizes.append(f"{cols} × {rows}")
    wanted = max(len(entry.channels), 1)
    if (rows, cols) != (entry.rows, entry.cols):
        run.summed_all = False
        _wrong_size(run, entry, rows, cols)
        return
    if channels != wanted:
        run.summed_all = False
        names = ", ".join(c["channel"].upper() for c in entry.channels[channels:])
        lost = f" Missing: {names}." if channels < wanted else ""
        run.say(
            "channels", entry.file, f"{entry.file} has {channels} channels, the note says {wanted}.{lost}",
            "Write it again in a format that keeps every channel, alpha included.",
        )  # fmt: skip
        return
    if samples.dtype.itemsize * 8 != entry.bits:
        run.summed_all = False
        run.say(
            "depth", entry.file, f"{entry.file} has {samples.dtype.itemsize * 8} bits, the note says {entry.bits}.",
            "Write it again without changing its depth.",
        )  # fmt: skip
        return
    _check_content(run, entry, samples)
    if entry.kind == "height":
        _check_height(run, entry, samples[:, :, 0])
    elif run.truth is not None and entry.sheet is not None and not run.report.has(entry.file):
        _check_sheet(run, entry, samples, run.truth.sheet(entry.sheet))
    _add_sums(run, entry, samples)


def _wrong_size(run: _Run, entry: NoteFile, rows: int, cols: int) -> None:
    chosen = target(run.rehearsal.target)
    legal = chosen.is_legal(rows) and chosen.is_legal(cols)
    tail = "" if legal else f" {chosen.title} does not even take that size."
    run.say(
        "wrong-size", entry.file,
        f"{entry.file} is {cols} × {rows}; the note says {entry.cols} × {entry.rows}: it was resized.{tail}",
    )  # fmt: skip


def _summaries(run: _Run, file: str) -> dict[str, F64]:
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


def _means(values: NDArray[Any], side: int) -> F64:
    """Means over ``side``² cells, 0–1 (written apart from the delivery's own, on purpose)."""
    rows, cols = values.shape
    down = np.searchsorted(np.arange(rows) * side // rows, np.arange(side))
    across = np.searchsorted(np.arange(cols) * side // cols, np.arange(side))
    sums = np.add.reduceat(np.add.reduceat(values.astype(np.float64), down, axis=0), across, axis=1)
    counts = np.outer(np.diff([*down, rows]), np.diff([*across, cols]))
    means: F64 = sums / counts / np.iinfo(values.dtype).max
    return means


def _check_content(run: _Run, entry: NoteFile, samples: NDArray[Any]) -> None:
    """Swapped, turned or changed, by the manifest's checksum and summaries."""
    listed = run.manifest.get(entry.file)
    if listed is None:
        run.say("not-in-manifest", entry.file, f"{entry.file} is not in the manifest.", severity="attention")
        return
    with (run.rehearsal.folder / entry.file).open("rb") as file:
        digest = hashlib.file_digest(file, "sha256").hexdigest()
    if digest == listed.get("sha256"):
        return
    twin = next((name for name, e in run.manifest.items() if e.get("sha256") == digest), None)
    if twin is not None:
        run.say("swapped", entry.file, f"{entry.file} holds what belongs in {twin}: the two were swapped.",
                "Give both files their own names back, or deliver again.")  # fmt: skip
        return
    _name_change(run, entry, samples)


def _name_change(run: _Run, entry: NoteFile, samples: NDArray[Any]) -> None:
    expected = _summaries(run, entry.file)
    if not expected:
        return
    side = next(iter(expected.values())).shape[0]
    names = [c["channel"] for c in entry.channels] or ["height"]
    seen = {name: _means(samples[:, :, i], side) for i, name in enumerate(names)}
    if _is_other_file(run, entry, seen):
        return
    turned = [best_orientation(seen[n], expected[n]) for n in names if n in expected and expected[n].std() > 1e-4]
    wrong = [t for t in turned if t.wrong]
    if wrong and len(wrong) * 2 > len(turned):
        _say_turned(run, entry, wrong[0])
        return
    if run.truth is None:
        off = max(float(np.abs(seen[n] - expected[n]).max()) for n in names if n in expected)
        full = 2**entry.bits - 1
        message = f"{entry.file} was changed after delivery (means differ by up to {off * full:.1f} of {full})."
        run.say("changed", entry.file, message)


def _say_turned(run: _Run, entry: NoteFile, turned: Orientation) -> None:
    run.say(
        "orientation", entry.file,
        f"{entry.file} is {turned.happened}. It matches {turned.likeness:.2f} when put right, "
        f"{max(turned.as_it_is, 0):.2f} as it is.",
        f"Write it again, or {turned.cure}.",
    )  # fmt: skip


def _is_other_file(run: _Run, entry: NoteFile, seen: dict[str, F64]) -> bool:
    """Whether every channel is like another file's and not like its own."""
    own = _summaries(run, entry.file)
    for other in run.rehearsal.files:
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


def _check_height(run: _Run, entry: NoteFile, values: NDArray[Any]) -> None:
    rebuilt = run.rehearsal.heights(values)
    run.pictures.rebuilt = rebuilt.astype(np.float32)
    step = run.rehearsal.step
    listed = abs(float(run.rehearsal.note["height"]["step"]) / step - 1)
    run.report.facts.append(
        Fact("Step", listed < 1e-6, f"{step * 1000:.4g} mm", "vertical scale and base step make the step of the note")
    )
    if run.truth is None:
        return
    expected = run.truth.heights()
    difference = rebuilt - expected
    run.pictures.difference = difference.astype(np.float32)
    worst = float(np.abs(difference).max()) / step
    run.report.height_error_steps = worst
    good = worst <= 0.51
    named = run.report.has(entry.file)
    turned = None if good or named else exact_turn(rebuilt, expected, 0.51 * step)
    if turned is not None:
        _say_turned(run, entry, turned)
        named = True
    dy, dx = (0, 0) if good or named else best_shift(rebuilt, expected)
    run.report.facts.append(
        Fact(
            "Height", good, "exact" if good else "off", f"largest error {worst:.2f} steps, {worst * step * 1000:.3g} mm"
        )
    )
    if named and not good:
        run.report.facts.append(Fact("Position", False, "wrong", "the height file is not what was delivered"))
        return
    place = f"{abs(dy)} rows, {abs(dx)} columns off" if dy or dx else "samples off, on both axes"
    run.report.facts.append(Fact("Position", not (dy or dx), f"{np.hypot(dy, dx):.2f}", place))
    if good:
        return
    if dy or dx:
        way = [f"{abs(dy)} rows {'south' if dy > 0 else 'north'}"] * bool(dy)
        way += [f"{abs(dx)} columns {'east' if dx > 0 else 'west'}"] * bool(dx)
        run.say("shifted", entry.file, f"{entry.file} lies {' and '.join(way)} of where it belongs.")
        return
    text = f"{entry.file} gives heights up to {worst:.1f} steps ({worst * step:.3g} m) off the project."
    run.say("height-off", entry.file, text, "Check vertical scale and position, or deliver again.")


def _check_sheet(run: _Run, entry: NoteFile, seen: NDArray[Any], expected: NDArray[np.uint8]) -> None:
    if np.array_equal(seen, expected) or _is_turned(run, entry, seen, expected):
        return
    for index, channel in enumerate(entry.channels):
        off = np.abs(seen[:, :, index].astype(np.int16) - expected[:, :, index])
        if not off.any():
            continue
        name = channel["channel"].upper()
        if entry.channels[-1]["channel"] == "a" and index < 3 and _is_premultiplied(seen, expected, index):
            run.say("premultiplied", entry.file, f"{entry.file}: {name} was multiplied by alpha.",
                    "Write it again with straight alpha.")  # fmt: skip
            return
        dy, dx = best_shift(seen[:, :, index].astype(np.float64), expected[:, :, index].astype(np.float64))
        if dy or dx:
            run.say("shifted", entry.file, f"{entry.file} lies {abs(dy)} rows and {abs(dx)} columns off.")
            return
        share = float((off > 0).mean())
        run.say("values-off", entry.file,
                f"{entry.file}: {name} ({channel['title']}) differs at {share:.2%} of the samples, by up to "
                f"{int(off.max())} of 255.")  # fmt: skip
        return


def _is_turned(run: _Run, entry: NoteFile, seen: NDArray[Any], expected: NDArray[np.uint8]) -> bool:
    """Whether all channels that say anything are the project's own in another orientation."""
    telling = [i for i in range(expected.shape[2]) if expected[:, :, i].std() > 0]
    turns = [exact_turn(seen[:, :, i].astype(np.float64), expected[:, :, i].astype(np.float64), 0) for i in telling]
    first = turns[0] if turns else None
    if first is None or any(turn is None or turn.happened != first.happened for turn in turns):
        return False
    _say_turned(run, entry, first)
    return True


def _is_premultiplied(seen: NDArray[Any], expected: NDArray[np.uint8], index: int) -> bool:
    product = expected[:, :, index].astype(np.float64) * expected[:, :, 3] / 255
    return bool((np.abs(seen[:, :, index] - product) <= 1).mean() > 0.99)


def _add_sums(run: _Run, entry: NoteFile, samples: NDArray[Any]) -> None:
    if not run.rehearsal.weights_add_up or entry.kind != "sheet":
        return
    for index, channel in enumerate(entry.channels):
        if channel["kind"] in ("weight", "base"):
            if run.sums is None:
                run.sums = np.zeros(samples.shape[:2], np.int32)
            run.sums += samples[:, :, index]


def _size_fact(run: _Run, sizes: list[str]) -> None:
    rehearsal = run.rehearsal
    wanted = f"{rehearsal.cols} × {rehearsal.rows}"
    cells, (bx, by) = rehearsal.block_cells, rehearsal.blocks
    legal = (cells * bx + 1, cells * by + 1) == (rehearsal.cols, rehearsal.rows)
    legal = legal and target(rehearsal.target).is_legal(rehearsal.rows)
    if not legal:
        run.say("illegal-size", "import_note.json", f"{wanted} is not {bx} × {by} blocks of {cells} cells plus one.")
    right = sum(1 for size in sizes if size == wanted)
    good = legal and right == len(rehearsal.files)
    many = f"{wanted} on all {right} files" if good else f"{wanted} on {right} of {len(rehearsal.files)} files"
    run.report.facts.append(Fact("Sizes", good, "legal" if legal else "illegal", many))


def _sum_fact(run: _Run) -> None:
    if run.sums is None:
        return
    if not run.summed_all:
        run.report.facts.append(Fact("Weights", False, "unknown", "a sheet could not be read"))
        return
    right, total = int((run.sums == 255).sum()), run.sums.size
    good = right == total
    detail = f"255 at {right:,} of {total:,}".replace(",", " ")
    run.report.facts.append(Fact("Weights", good, "exact" if good else "off", detail))
    if not good and not any(f.kind != "changed" for f in run.report.findings):
        low, high = int(run.sums.min()), int(run.sums.max())
        run.say(
            "sums-off", "all sheets", f"Weights add up to {low} to {high} instead of 255 at {total - right} samples."
        )


def _untagged_fact(run: _Run) -> None:
    tagged: list[str] = []
    untagged: list[str] = []
    for entry in run.rehearsal.files:
        try:
            chunks = run.rehearsal.colour_chunks(entry)
        except (MeadowError, OSError):
            continue
        if entry.colour_space == "sRGB":
            if chunks != ["sRGB"]:
                untagged.append(entry.file)
                told = f"tagged {' and '.join(chunks)}" if chunks else "not tagged"
                run.say("gamma", entry.file, f"{entry.file} holds sRGB colours and is {told}.",
                        "Write it again tagged sRGB, or say so on import.")  # fmt: skip
        elif chunks:
            tagged.append(entry.file)
            tags = " and ".join(chunks)
            run.say("gamma", entry.file, f"{entry.file} is tagged {tags}: it would be bent like a colour.",
                    "Write it again without colour tags.")  # fmt: skip
    wrong = tagged + untagged
    detail = "colours are tagged sRGB, data is not" if not wrong else ", ".join(wrong)
    run.report.facts.append(Fact("Colour space", not wrong, "wrong" if wrong else "right", detail))
