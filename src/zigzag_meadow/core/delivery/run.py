"""Write a delivery: every file band by band over the ground, then the note, the recipe and the manifest."""

from __future__ import annotations

import hashlib
import shutil
from collections.abc import Callable, Collection, Iterator
from contextlib import ExitStack, contextmanager
from copy import copy
from dataclasses import dataclass, field
from functools import partial
from pathlib import Path
from threading import Event
from typing import Any

import numpy as np
import orjson
from numpy.typing import NDArray

from zigzag_meadow.core.delivery.behind import Behind
from zigzag_meadow.core.delivery.chosen_tiles import check_again
from zigzag_meadow.core.delivery.content import Content, content_of
from zigzag_meadow.core.delivery.earlier import Earlier
from zigzag_meadow.core.delivery.height_looker import HeightLooker, check_places
from zigzag_meadow.core.delivery.manifest import MANIFEST, Entry, Looker, Manifest, checksum
from zigzag_meadow.core.delivery.notes import import_note
from zigzag_meadow.core.delivery.plan import Plan, PlannedFile, PlannedItem
from zigzag_meadow.core.delivery.raster import file_key, raster_of, source_reference
from zigzag_meadow.core.delivery.scattering import points_file_key, write_points
from zigzag_meadow.core.delivery.writing_notes import write_notes
from zigzag_meadow.core.errors import Conflict, TooLarge
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.formats.catalogue import FORMATS
from zigzag_meadow.core.formats.reading.georeference import GeoReference
from zigzag_meadow.core.formats.writing.raster import Raster
from zigzag_meadow.core.formats.zip_stream import ZipEntry, zip_pieces
from zigzag_meadow.core.grid import TILE, Window
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.core.targets.note import ImportNote

__all__ = ["deliver", "delivery_pieces", "planned_keys"]

Progress = Callable[[float, str], None]
_NOTES_FROM = 0.97


@dataclass
class _Open:
    """A file while it is written."""

    file: PlannedFile
    raster: Raster
    key: str
    looker: Looker
    heights: HeightLooker | None
    writer: Any = None
    closing: ExitStack = field(default_factory=ExitStack)
    rows_left: int = 0


@dataclass
class _Work:
    """An item with those of its files that must be written."""

    item: PlannedItem
    content: Content
    files: list[_Open] = field(default_factory=list)


@dataclass
class _Run:
    evaluation: Evaluation
    plan: Plan
    folder: Path
    stripes: Stripes
    progress: Progress
    entries: dict[str, Entry] = field(default_factory=dict)
    rows: int = 0
    done: int = 0

    def tell(self, rows: int, text: str) -> None:
        self.done += rows
        self.progress(_NOTES_FROM * self.done / max(self.rows, 1), text)


def deliver(
    evaluation: Evaluation,
    plan: Plan,
    folder: Path,
    stripes: Stripes,
    progress: Progress,
    earlier: Earlier | None = None,
    again: Collection[str] | None = None,
) -> list[str]:
    """Write all files of ``plan`` into ``folder`` (which exists and is empty); returns their names.

    Files that an ``earlier`` delivery wrote of the same samples in the same way are taken from there. ``again``: names
    of files that are made anew; all others are taken from there as they are, whatever was changed in the project since.
    Raises :class:`Conflict` where that cannot be.
    ``progress(share, sentence)`` is called after every band of rows. Raises :class:`TooLarge` when the disk is too
    full and :class:`Cancelled` when the evaluation's cancel turns true; the caller throws the folder away.
    """
    free = shutil.disk_usage(folder).free
    if plan.bytes_needed > free:
        raise TooLarge(
            f"This delivery may need {plan.bytes_needed / 2**20:.0f} MiB and {free / 2**20:.0f} MiB are free. "
            "Make room or choose a smaller size."
        )
    run = _Run(evaluation, plan, folder, stripes, progress)
    if again is not None:
        _carry(run, again, earlier)
    source = _reference(evaluation, plan)
    works = [_work(run, item, source, earlier) for item in plan.items if item.is_picture]
    works = [work for work in works if work.files]
    run.rows = sum(len(list(_bands(work.item))) * TILE for work in works)
    for group in _grouped(works):
        # Not sooner: what a later group needs would have to be held, or made again.
        with _long_work_begun(evaluation, group):
            _write_group(run, group)
    for item in plan.items:
        if not item.is_picture and item.files[0].name not in run.entries:
            run.entries[item.files[0].name] = _points(run, item, earlier)
    note = import_note(evaluation, plan, run.entries)
    manifest = _manifest(run, note)
    write_notes(folder, note, manifest, stripes)
    noted = [path for path in sorted(folder.iterdir()) if path.name not in run.entries and path.name != MANIFEST]
    listed = [Entry(file=p.name, bytes=p.stat().st_size, sha256=checksum(p)) for p in noted]
    whole = manifest.model_copy(update={"files": (*manifest.files, *listed)})
    (folder / MANIFEST).write_bytes(orjson.dumps(whole.model_dump(mode="json"), option=orjson.OPT_INDENT_2))
    progress(1.0, "done")
    return sorted(path.name for path in folder.iterdir())


def planned_keys(evaluation: Evaluation, plan: Plan) -> dict[str, str]:
    """What every file of a plan would be known by."""
    source = _reference(evaluation, plan)
    keys = {}
    for item in plan.items:
        for file in item.files:
            if item.is_picture:
                content = content_of(evaluation, plan, item)
                keys[file.name] = file_key(plan, item, content, file, raster_of(plan, item, file, source))
            else:
                keys[file.name] = points_file_key(evaluation, plan, item)
    return keys


def _reference(evaluation: Evaluation, plan: Plan) -> GeoReference | None:
    wanted = any(item.form.id.startswith("geotiff") for item in plan.items)
    return source_reference(evaluation) if wanted else None


def _work(run: _Run, item: PlannedItem, source: GeoReference | None, earlier: Earlier | None) -> _Work:
    """An item with the files that are not there already."""
    plan = run.plan
    work = _Work(item, content_of(run.evaluation, plan, item))
    for file in item.files:
        if file.name in run.entries:
            continue
        raster = raster_of(plan, item, file, source)
        key = file_key(plan, item, work.content, file, raster)
        kept = None if earlier is None else earlier.take(key, run.folder / file.name)
        if kept is not None:
            # The same samples may have gone out under another map before.
            run.entries[file.name] = kept.model_copy(update={"of": item.thing.of})
            continue
        heights = HeightLooker(check_places(plan), plan, item, file) if item.thing.kind == "height" else None
        zero, span = _floats_between(plan, item) if heights is not None else (0.0, 1.0)
        looker = Looker(item, raster.rows, raster.cols, *((zero, span) if item.form.floats else (0.0, 1.0)))
        work.files.append(_Open(file, raster, key, looker, heights, rows_left=raster.rows))
    return work


def _floats_between(plan: Plan, item: PlannedItem) -> tuple[float, float]:
    """Where stored heights begin, and how far they reach, where they are floats."""
    low, high = (end - plan.zero for end in plan.ends)
    if item.scale is None:
        return low, high - low
    return (low - item.scale.at_zero) / item.scale.step, (high - low) / item.scale.step


def _carry(run: _Run, again: Collection[str], earlier: Earlier | None) -> None:
    """Take over everything that is not written again."""
    stay = check_again(run.plan, again, None if earlier is None else earlier.manifest)
    for name, entry in stay.items():
        kept = None if earlier is None else earlier.carry(entry, run.folder / name)
        if kept is None:
            raise Conflict(f"{name} of the delivery before is gone or was changed. Deliver everything first.")
        run.entries[name] = kept


def _grouped(works: list[_Work]) -> list[list[_Work]]:
    """Items that go over the same samples in the same order go together: what they share is made once."""
    groups: dict[tuple[Any, ...], list[_Work]] = {}
    for work in works:
        item = work.item
        groups.setdefault((item.grid.key, item.window, item.rows_up, item.thing.kind == "look"), []).append(work)
    return list(groups.values())


def _bands(item: PlannedItem) -> Iterator[Window]:
    """Bands of a window on the rows of tiles, in the order in which files want them."""
    w = item.window
    starts = sorted({w.row0, *range((w.row0 // TILE + 1) * TILE, w.row1, TILE)}, reverse=item.rows_up)
    for row0 in starts:
        yield Window(row0, min((row0 // TILE + 1) * TILE, w.row1), w.col0, w.col1)


def _write_group(run: _Run, works: list[_Work]) -> None:
    """Blocks are written one after the other beside the making of the next, and files that are whole are summed up
    beside the writing of others; all of it is waited for before any file is closed."""
    with ExitStack() as stack, Behind() as sums, Behind() as behind:
        for band in _bands(works[0].item):
            for work in works:
                if any(_meets(open_file.file, band) for open_file in work.files):
                    block, lost = work.content.block(run.evaluation, work.item, band)
                    behind.hand(partial(_spread, run, stack, sums, work, band, block, lost))
                run.tell(TILE, f"{work.item.files[0].name}: row {band.row1} of {work.item.window.row1}")


@contextmanager
def _long_work_begun(evaluation: Evaluation, works: list[_Work]) -> Iterator[None]:
    """What runs over the whole ground, in one thread for a good part, is begun beside what does not wait for it. When
    nothing comes of the delivery, it is given up."""
    given_up = Event()
    beside = copy(evaluation)
    beside.cancel = lambda: given_up.is_set() or (evaluation.cancel is not None and evaluation.cancel())
    nodes = {node.key: node for work in works for node in evaluation.undone(work.content.node)}

    def work() -> None:
        for node in nodes.values():
            beside.whole(node)

    with Behind() as behind:
        behind.hand(work)
        try:
            yield
        except BaseException:
            given_up.set()
            raise


def _meets(file: PlannedFile, band: Window) -> bool:
    return file.tile.window.row0 < band.row1 and band.row0 < file.tile.window.row1


def _spread(
    run: _Run, stack: ExitStack, sums: Behind, work: _Work, band: Window, block: NDArray[Any], lost: int
) -> None:
    """Give every file its part of a band, turned the way it wants it."""
    for out in work.files:
        w = out.file.tile.window
        row0, row1 = max(w.row0, band.row0), min(w.row1, band.row1)
        if row0 >= row1:
            continue
        part = block[row0 - band.row0 : row1 - band.row0, w.col0 - band.col0 : w.col1 - band.col0]
        if out.heights is not None:
            out.heights.add(row0, part, lost)
        part = part[::-1] if work.item.rows_up else part
        part = np.ascontiguousarray(part[:, ::-1] if work.item.cols_back else part)
        if out.writer is None:
            # A stack of its own: what is finished is closed at once, what is not is given up with all others.
            out.closing = stack.enter_context(ExitStack())
            opened = work.item.form.open(run.folder / out.file.name, out.raster, run.stripes)
            out.writer = out.closing.enter_context(opened)
        out.writer.write(part)
        out.looker.add(part)
        out.rows_left -= len(part)
        if out.rows_left == 0:
            out.closing.close()
            sums.hand(partial(_finish, run, work.item, out))


def _finish(run: _Run, item: PlannedItem, out: _Open) -> None:
    path = run.folder / out.file.name
    run.entries[out.file.name] = Entry(
        file=out.file.name,
        bytes=path.stat().st_size,
        sha256=checksum(path),
        key=out.key,
        of=item.thing.of,
        zero=out.looker.zero,
        span=out.looker.span,
        samples=out.looker.samples,
        channels=out.looker.channels(),
        seen=None if out.heights is None else out.heights.seen(),
    )


def _points(run: _Run, item: PlannedItem, earlier: Earlier | None) -> Entry:
    name = item.files[0].name
    key = points_file_key(run.evaluation, run.plan, item)
    kept = None if earlier is None else earlier.take(key, run.folder / name)
    if kept is not None:
        return kept
    count = write_points(run.evaluation, run.plan, item, run.folder / name)
    path = run.folder / name
    return Entry(file=name, bytes=path.stat().st_size, sha256=checksum(path), key=key, of=item.thing.of, count=count)


def _manifest(run: _Run, note: ImportNote) -> Manifest:
    plan = run.plan
    height = plan.item("height")
    coding = (
        None
        if height is None or height.scale is None
        else {
            "step": height.scale.step,
            "at_zero": height.scale.at_zero,
            "full": height.scale.full,
            "least": height.scale.least,
        }
    )
    names = [file.name for item in plan.items for file in item.files]
    return Manifest(
        document=document_checksum(plan),
        target=plan.target.id,
        grid=plan.grid.as_json(),
        range=plan.ends,
        coding=coding,
        files=tuple(run.entries[name] for name in names),
        note=note.model_dump(mode="json"),
    )


def document_checksum(plan: Plan) -> str:
    """What the project document is known by."""
    return hashlib.sha256(plan.project.model_dump_json().encode()).hexdigest()


def delivery_pieces(folder: Path) -> Iterator[bytes]:
    """Every file of a delivery as one zip, piece by piece; images are packed already."""
    packed = {ending for kind in FORMATS if kind.dense for ending in kind.endings}
    return zip_pieces(ZipEntry(path.name, path, packed=path.suffix not in packed) for path in sorted(folder.iterdir()))
