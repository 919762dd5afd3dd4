"""Read a delivery back as its target would, compare it with what was meant, and name what is wrong."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import MeadowError
from zigzag_meadow.core.fit.compare import compare
from zigzag_meadow.core.fit.content import check_content, check_listed
from zigzag_meadow.core.fit.reading import colour_tags
from zigzag_meadow.core.fit.rehearsal import Rehearsal
from zigzag_meadow.core.fit.report import Fact, FitReport
from zigzag_meadow.core.fit.run import Pictures, Run, Truth
from zigzag_meadow.core.targets.note import FileNote

__all__ = ["Pictures", "Truth", "check_delivery"]

_ORDER = ["Height", "Sizes", "Position", "Weights", "Step", "Colour space", "Compared"]


def check_delivery(folder: Path, truth: Truth | None = None) -> tuple[FitReport, Pictures]:
    """Read a delivery back as its target would, and compare.

    Without ``truth`` files are held against the manifest's checksums and small means; with it, sample by sample.
    Raises :class:`NotFound` or :class:`BadFile` when the folder is no delivery.
    """
    rehearsal = Rehearsal(folder)
    run = Run(rehearsal, truth, rehearsal.manifest())
    report, note = run.report, rehearsal.note
    report.compared_in_full = truth is not None
    report.check_points = [point.model_dump() for point in note.check_points]
    if note.height is not None and note.height.stored is not None:
        report.height_step = note.height.stored.step
    sizes: list[bool] = []
    for files in _maps(note.images):
        _check_map(run, files, sizes)
    for file in note.files:
        if file.kind == "points":
            _check_points(run, file)
    _size_fact(run, sizes)
    _sum_fact(run)
    _colour_fact(run)
    _compared_fact(run)
    report.facts.sort(key=lambda fact: _ORDER.index(fact.title))
    return report, run.pictures


def _maps(files: tuple[FileNote, ...]) -> list[list[FileNote]]:
    """Files by the map that they are part of."""
    groups: dict[str, list[FileNote]] = {}
    for file in files:
        groups.setdefault(file.of, []).append(file)
    return list(groups.values())


def _check_map(run: Run, files: list[FileNote], sizes: list[bool]) -> None:
    parts: dict[str, NDArray[Any]] = {}
    for file in files:
        run.report.files += 1
        try:
            samples = run.rehearsal.read(file)
        except MeadowError as error:
            kind = "missing-file" if error.code == "not-found" else "unreadable"
            run.say("wrong-size" if "bytes" in error.message else kind, file.file, error.message)
            sizes.append(False)
            continue
        sizes.append(samples.shape[:2] == (file.rows, file.columns))
        if _fits_note(run, file, samples):
            check_content(run, file, samples)
            parts[file.file] = samples
    if len(parts) < len(files):
        run.summed_all = run.summed_all and files[0].kind != "sheet"
        return
    whole = run.rehearsal.whole(files, parts)
    compare(run, files[0], whole)
    _add_sums(run, files[0], whole)


def _fits_note(run: Run, file: FileNote, samples: NDArray[Any]) -> bool:
    """Whether size, channels and depth are those of the note."""
    rows, cols, channels = samples.shape
    if (rows, cols) != (file.rows, file.columns):
        told = f"the note says {file.columns} × {file.rows}: it was resized."
        run.say("wrong-size", file.file, f"{file.file} is {cols} × {rows}; {told}")
        return False
    wanted = max(len(file.channels), 1)
    if channels != wanted:
        names = ", ".join(c.channel.upper() for c in file.channels[channels:])
        lost = f" Missing: {names}." if channels < wanted else ""
        run.say(
            "channels", file.file, f"{file.file} has {channels} channels, the note says {wanted}.{lost}",
            "Write it again in a format that keeps every channel, alpha included.",
        )  # fmt: skip
        return False
    # One reader gives half floats as whole ones: what they hold is compared later.
    bits = samples.dtype.itemsize * 8
    halves = file.reads == "exr" and file.floats
    if (bits != file.bits or (samples.dtype.kind == "f") != file.floats) and not halves:
        run.say("depth", file.file, f"{file.file} has {bits} bits, the note says {file.bits}.",
                "Write it again without changing its depth.")  # fmt: skip
        return False
    return True


def _check_points(run: Run, file: FileNote) -> None:
    if not (run.rehearsal.folder / Path(file.file).name).is_file():
        run.say("missing-file", file.file, f"{file.file} is missing.")
    elif not check_listed(run, file) and not run.report.has(file.file):
        run.say("changed", file.file, f"{file.file} was changed after delivery.")


def _add_sums(run: Run, file: FileNote, samples: NDArray[Any]) -> None:
    if run.rehearsal.note.weights.full is None or file.kind != "sheet":
        return
    for index, channel in enumerate(file.channels):
        if channel.kind in ("weight", "base"):
            if run.sums is None:
                run.sums = np.zeros(samples.shape[:2], np.int64)
            run.sums += samples[:, :, index]


def _size_fact(run: Run, sizes: list[bool]) -> None:
    ground = run.rehearsal.note.ground
    blocks = ground.blocks
    legal = blocks is None or (
        (blocks.cells * blocks.across + 1, blocks.cells * blocks.down + 1) == (ground.columns, ground.rows)
    )
    wanted = f"{ground.columns} × {ground.rows}"
    if not legal and blocks is not None:
        told = f"{blocks.across} × {blocks.down} blocks of {blocks.cells} cells plus one"
        run.say("illegal-size", "import_note.json", f"{wanted} is not {told}.")
    right = sum(sizes)
    good = legal and right == len(sizes)
    many = f"all {right} files as the note says" if good else f"{right} of {len(sizes)} files as the note says"
    run.report.facts.append(Fact("Sizes", good, "right" if good else "wrong", many))


def _sum_fact(run: Run) -> None:
    full = run.rehearsal.note.weights.full
    if run.sums is None or full is None:
        return
    if not run.summed_all:
        run.report.facts.append(Fact("Weights", False, "unknown", "a sheet could not be read"))
        return
    right, total = int((run.sums == full).sum()), run.sums.size
    good = right == total
    detail = f"{full} at {right:,} of {total:,}".replace(",", " ")
    run.report.facts.append(Fact("Weights", good, "exact" if good else "off", detail))
    if not good and not any(f.kind != "changed" for f in run.report.findings):
        low, high = int(run.sums.min()), int(run.sums.max())
        text = f"Weights add up to {low} to {high} instead of {full} at {total - right} samples."
        run.say("sums-off", "all sheets", text)


def _colour_fact(run: Run) -> None:
    wrong: list[str] = []
    for file in run.rehearsal.note.images:
        try:
            tags = colour_tags(run.rehearsal.folder, file)
        except (MeadowError, OSError):
            continue
        told = " and ".join(tags)
        if file.tagged and not tags:
            wrong.append(file.file)
            run.say("gamma", file.file, f"{file.file} holds sRGB colours and is not tagged.",
                    "Write it again tagged sRGB, or say so on import.")  # fmt: skip
        elif file.tagged and file.reads == "png" and tags != ["sRGB"]:
            wrong.append(file.file)
            run.say("gamma", file.file, f"{file.file} holds sRGB colours and is tagged {told}.",
                    "Write it again tagged sRGB, or say so on import.")  # fmt: skip
        elif tags and not file.tagged:
            wrong.append(file.file)
            run.say("gamma", file.file, f"{file.file} is tagged {told}: it would be bent like a colour.",
                    "Write it again without colour tags.")  # fmt: skip
    detail = "colours are tagged sRGB, data is not" if not wrong else ", ".join(wrong)
    run.report.facts.append(Fact("Colour space", not wrong, "wrong" if wrong else "right", detail))


def _compared_fact(run: Run) -> None:
    if run.truth is None:
        return
    every = [files[0] for files in _maps(run.rehearsal.note.images)]
    left = [file.title for file in every if file.of not in run.compared and not run.report.has(file.file)]
    left += [file.title for file in run.rehearsal.note.files if file.kind == "points"]
    many = len(every) + sum(1 for file in run.rehearsal.note.files if file.kind == "points")
    detail = "every map, sample by sample" if not left else f"not compared: {', '.join(left)}"
    run.report.facts.append(Fact("Compared", True, f"{len(run.compared)} of {many}", detail))
