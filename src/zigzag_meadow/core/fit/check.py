"""Read a delivery back as its target would, compare it with what was meant, and name what is wrong."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

from numpy.typing import NDArray

from zigzag_meadow.core.errors import MeadowError
from zigzag_meadow.core.fit.maps import check_map
from zigzag_meadow.core.fit.noting import check_note
from zigzag_meadow.core.fit.reading import colour_tags
from zigzag_meadow.core.fit.rehearsal import Rehearsal
from zigzag_meadow.core.fit.report import Fact, FitReport
from zigzag_meadow.core.fit.run import Progress, Run
from zigzag_meadow.core.fit.scattered import check_points_file
from zigzag_meadow.core.fit.seen_maps import Keep
from zigzag_meadow.core.fit.together import Together
from zigzag_meadow.core.fit.truth import Truth
from zigzag_meadow.core.fit.typed import Typed, check_typed
from zigzag_meadow.core.targets.note import FileNote

__all__ = ["check_delivery"]

_ORDER = [
    "Height",
    "Sizes",
    "Position",
    "Weights",
    "Base",
    "Step",
    "Resampling",
    "Colour space",
    "Layers a block",
    "Tile borders",
    "Points",
    "Import note",
    "What was typed",
    "Compared",
]


def _quiet(share: float, text: str) -> None:
    return None


def _forget(name: str, values: NDArray[Any]) -> None:
    return None


def check_delivery(
    folder: Path,
    truth: Truth | None = None,
    *,
    typed: Typed | None = None,
    progress: Progress = _quiet,
    keep: Keep = _forget,
    cancelled: Callable[[], bool] = lambda: False,
    rehearsal: Rehearsal | None = None,
) -> FitReport:
    """Read a delivery back as its target would, and compare.

    Without ``truth`` files are held against the manifest's checksums and signatures; with it, sample by sample.
    ``typed``: what was typed there in place of the note's numbers, and what was read off. ``keep`` takes pictures to
    look at: ``N-rebuilt``, ``N-meant`` and ``N-difference`` of the map N. Raises :class:`NotFound` or :class:`BadFile`
    when the folder is no delivery, and :class:`Cancelled`.
    """
    rehearsal = rehearsal or Rehearsal(folder)
    run = Run(rehearsal, truth, progress, keep, cancelled)
    report, note = run.report, rehearsal.note
    report.compared_in_full = truth is not None
    report.target = note.target.title
    report.check_points = [point.model_dump() for point in note.check_points]
    groups = _maps(note.images)
    run.rows = max(sum(file.rows for files in groups for file in files), 1)
    check_note(run)
    together = Together(note)
    for at, files in enumerate(groups):
        check_map(run, files, together, str(at))
    for file in note.files:
        if file.kind == "points":
            check_points_file(run, file)
    together.say(run)
    _required(run)
    _size_fact(run)
    _colour_fact(run)
    if typed is not None:
        check_typed(run, typed)
    _compared_fact(run)
    report.facts.sort(key=lambda fact: _ORDER.index(fact.title))
    progress(1.0, "done")
    return report


def _maps(files: tuple[FileNote, ...]) -> list[list[FileNote]]:
    """Files by the map that they are part of."""
    groups: dict[str, list[FileNote]] = {}
    for file in files:
        groups.setdefault(file.of, []).append(file)
    return list(groups.values())


def _required(run: Run) -> None:
    note = run.rehearsal.note
    there = {file.of for file in note.files} | {c.of for file in note.images for c in file.channels}
    for of in note.target.required:
        if of not in there and not note.trial:
            name = of.rpartition(":")[2].replace("_", " ")
            run.say(
                "required",
                "import_note.json",
                f"{note.target.title} takes nothing without its {name} map, and none was delivered.",
                "Deliver it, too.",
                title="A required map is missing",
                remedy="outside",
            )


def _size_fact(run: Run) -> None:
    ground = run.rehearsal.note.ground
    blocks = ground.blocks
    legal = blocks is None or (
        (blocks.cells * blocks.across + 1, blocks.cells * blocks.down + 1) == (ground.columns, ground.rows)
    )
    if not legal and blocks is not None:
        told = f"{blocks.across} × {blocks.down} blocks of {blocks.cells} cells plus one"
        run.say(
            "illegal-size",
            "import_note.json",
            f"{ground.columns} × {ground.rows} is not {told}.",
            "Choose a size that the target takes, and deliver again.",
            title="Illegal size",
            remedy="outside",
        )
    off = {f.file for f in run.report.findings if f.kind in ("wrong-size", "missing-file", "unreadable")}
    many = len(run.rehearsal.note.images)
    wrong = sum(1 for file in run.rehearsal.note.images if file.file in off)
    good = legal and not wrong
    told = f"all {many} files as the note says" if good else f"{many - wrong} of {many} files as the note says"
    run.report.facts.append(Fact("Sizes", good, "right" if good else "wrong", told))


def _colour_fact(run: Run) -> None:
    wrong: list[str] = []
    for file in run.rehearsal.note.images:
        try:
            tags = colour_tags(run.rehearsal.folder, file)
        except (MeadowError, OSError):
            continue
        told = " and ".join(tags)
        text = ""
        if file.tagged and not tags:
            text = f"{file.file} holds sRGB colours and is not tagged."
        elif file.tagged and file.reads == "png" and tags != ["sRGB"]:
            text = f"{file.file} holds sRGB colours and is tagged {told}."
        elif tags and not file.tagged:
            text = f"{file.file} is tagged {told}: it would be bent like a colour."
        if text:
            wrong.append(file.file)
            fix = (
                "Write it again tagged sRGB, or say so on import."
                if file.tagged
                else "Write it again without colour tags."
            )
            run.say("gamma", file.file, text, fix, title="Colour tags")
    tagged = sum(file.tagged for file in run.rehearsal.note.images)
    told = "1 colour file is" if tagged == 1 else f"{tagged or 'no'} colour files are"
    detail = f"{told} tagged sRGB, no data is" if not wrong else ", ".join(wrong)
    run.report.facts.append(Fact("Colour space", not wrong, "wrong" if wrong else "right", detail))


def _compared_fact(run: Run) -> None:
    if run.truth is None:
        known = [f for f in run.rehearsal.note.files if f.file in run.rehearsal.listing.files]
        many = len(run.rehearsal.note.files)
        run.report.facts.append(
            Fact(
                "Compared",
                True,
                f"{len(known)} of {many}",
                "files, with what the manifest knows of them; not with the project",
            )
        )
        return
    full = [item for item in run.report.maps if item.compared == "samples"]
    left = [item.title for item in run.report.maps if item.compared != "samples" and item.state != "unread"]
    detail = "maps, sample by sample" if not left else f"maps, sample by sample; by checksum: {', '.join(left)}"
    run.report.facts.append(Fact("Compared", True, f"{len(full)} of {len(run.report.maps)}", detail))
