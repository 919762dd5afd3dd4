"""Write a delivery: every file in one pass over the ground, tile row by tile row, then the note and manifest."""

from __future__ import annotations

import base64
import hashlib
import shutil
import tempfile
from collections.abc import Callable, Iterator
from contextlib import ExitStack
from pathlib import Path
from typing import Any

import numpy as np
import orjson
from numpy.typing import NDArray

from zigzag_meadow.core.delivery.note import CheckPoint, import_note
from zigzag_meadow.core.delivery.note_text import note_as_html, note_as_text
from zigzag_meadow.core.delivery.plan import Item, Plan
from zigzag_meadow.core.delivery.points import points_as
from zigzag_meadow.core.delivery.summaries import Summariser, packed
from zigzag_meadow.core.errors import TooLarge
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.evaluate.scattered import points_key, scatter_points
from zigzag_meadow.core.formats.png_stream import PngWriter
from zigzag_meadow.core.formats.zip_stream import ZipEntry, zip_pieces
from zigzag_meadow.core.grid import TILE, Window
from zigzag_meadow.core.rounding import quantise_mask
from zigzag_meadow.core.stripes import Stripes

__all__ = ["MANIFEST", "NOTE_JSON", "deliver", "delivery_pieces"]

NOTE_JSON = "import_note.json"
NOTE_TEXT = "import_note.txt"
NOTE_HTML = "import_note.html"
MANIFEST = "manifest.json"
Progress = Callable[[float, str], None]
_DATE = (2000, 1, 1, 0, 0, 0)


class _RawWriter:
    def __init__(self, path: Path, order: str) -> None:
        self._file = path.open("wb")
        self._dtype = "<u2" if order == "little" else ">u2"

    def __enter__(self) -> _RawWriter:
        return self

    def __exit__(self, *_: object) -> None:
        self._file.close()

    def write(self, block: NDArray[Any]) -> None:
        self._file.write(block.astype(self._dtype).tobytes())


class _Points:
    """Check points gathered on the way: corners, middle, highest and lowest sample, as they will be read back."""

    def __init__(self, plan: Plan) -> None:
        self.plan = plan
        rows, cols = plan.grid.shape
        self._wanted = {
            "North-west corner": (0, 0),
            "South-east corner": (rows - 1, cols - 1),
            "Middle": (rows // 2, cols // 2),
        }
        self._found: dict[str, tuple[int, int, int]] = {}

    def add(self, row0: int, values: NDArray[np.uint16]) -> None:
        for title, (row, col) in self._wanted.items():
            if row0 <= row < row0 + values.shape[0]:
                self._found[title] = (row, col, int(values[row - row0, col]))
        for title, at, sign in (
            ("Highest sample", int(values.argmax()), 1),
            ("Lowest sample", int(values.argmin()), -1),
        ):
            value = int(values.flat[at])
            if title not in self._found or sign * value > sign * self._found[title][2]:
                row, col = divmod(at, values.shape[1])
                self._found[title] = (row0 + row, col, value)

    def all(self) -> list[CheckPoint]:
        grid, coding = self.plan.grid, self.plan.coding
        return [
            {
                "title": title,
                "east": round(col * grid.dx, 3),
                "north": round((grid.rows - 1 - row) * grid.dy, 3),
                "height": (value - 32768) * coding.step + coding.position,
            }
            for title, (row, col, value) in sorted(self._found.items())
        ]


def _check_room(plan: Plan, folder: Path) -> None:
    free = shutil.disk_usage(folder).free
    if plan.bytes_needed > free:
        raise TooLarge(
            f"This delivery may need {plan.bytes_needed / 2**20:.0f} MiB and {free / 2**20:.0f} MiB are free. "
            "Make room or choose a smaller size."
        )


def deliver(evaluation: Evaluation, plan: Plan, folder: Path, stripes: Stripes, progress: Progress) -> list[str]:
    """Write all files of ``plan`` into ``folder`` (which exists and is empty); returns their names.

    ``progress(share, sentence)`` is called after every band of rows. Raises :class:`TooLarge` when the disk is too
    full and :class:`Cancelled` when the evaluation's cancel turns true; the caller throws the folder away.
    """
    _check_room(plan, folder)
    grid = plan.grid
    points = _Points(plan)
    images = [item for item in plan.items if item.is_image]
    summaries = [Summariser(grid.rows, grid.cols, item.channels, 2**item.bits - 1) for item in images]
    clipped = 0
    with ExitStack() as stack:
        writers = [stack.enter_context(_open(plan, item, folder, stripes)) for item in images]
        for row0 in range(0, grid.rows, TILE):
            band = Window(row0, min(row0 + TILE, grid.rows), 0, grid.cols)
            for item, writer, small in zip(images, writers, summaries, strict=True):
                block, lost = _block(evaluation, plan, item, band)
                clipped += lost
                if item.kind == "height":
                    points.add(row0, block)
                writer.write(block)
                small.add(block)
                done = (row0 + band.rows * (images.index(item) + 1) / len(images)) / grid.rows
                progress(0.96 * done, f"{item.file}: row {band.row1} of {grid.rows}")
    for item in plan.items:
        if not item.is_image:
            _write_points(evaluation, item, folder)
    note = import_note(plan, points.all())
    note["height"]["clipped_samples"] = clipped
    means = [small.means() for small in summaries]
    _write_notes(folder, note, plan, means, stripes)
    _write_manifest(folder, evaluation, plan, means)
    progress(1.0, "done")
    return sorted(path.name for path in folder.iterdir())


def _open(plan: Plan, item: Item, folder: Path, stripes: Stripes) -> Any:
    path = folder / item.file
    if item.format == "raw":
        return _RawWriter(path, plan.target.byte_order)
    colours = item.sheet is not None and item.sheet.holds_colours
    return PngWriter(path, plan.grid.rows, plan.grid.cols, item.channels, item.bits, stripes, srgb=colours)


def _block(evaluation: Evaluation, plan: Plan, item: Item, band: Window) -> tuple[NDArray[Any], int]:
    if item.scatter is not None:
        return quantise_mask(evaluation.map(f"scatter:{item.scatter.id}", plan.grid, band), item.bits), 0
    if item.sheet is None:
        return plan.coding.encode(evaluation.above_base(plan.grid, band), evaluation.project.ground.base)
    block = evaluation.map(f"sheet:{item.sheet.id}", plan.grid, band)
    return (block[:, :, 0] if item.channels == 1 else block), 0


def _write_points(evaluation: Evaluation, item: Item, folder: Path) -> None:
    assert item.scatter is not None  # only what is scattered has points
    scattered = scatter_points(evaluation, item.scatter.id)
    data = points_as(item.format, scattered.points, evaluation.home.length, item.scatter.name)
    (folder / item.file).write_bytes(data)


def _write_notes(
    folder: Path, note: dict[str, Any], plan: Plan, means: list[NDArray[np.float64]], stripes: Stripes
) -> None:
    pictures: dict[tuple[str, str], str] = {}
    for item, small in zip((item for item in plan.items if item.is_image), means, strict=True):
        for index, channel in enumerate(item.sheet.channels if item.sheet else ("r",) if item.scatter else ()):
            pictures[item.file, channel] = _picture(small[:, :, index], stripes)
    (folder / NOTE_JSON).write_bytes(orjson.dumps(note, option=orjson.OPT_INDENT_2))
    (folder / NOTE_TEXT).write_text(note_as_text(note), encoding="utf-8")
    (folder / NOTE_HTML).write_text(note_as_html(note, pictures), encoding="utf-8")


def _picture(means: NDArray[np.float64], stripes: Stripes) -> str:
    with tempfile.TemporaryDirectory() as place:
        path = Path(place) / "legend.png"
        with PngWriter(path, means.shape[0], means.shape[1], 1, 8, stripes) as png:
            png.write(quantise_mask(means.astype(np.float32)))
        return "data:image/png;base64," + base64.b64encode(path.read_bytes()).decode("ascii")


def _write_manifest(folder: Path, evaluation: Evaluation, plan: Plan, means: list[NDArray[np.float64]]) -> None:
    files = []
    summaries = iter(means)
    for item in plan.items:
        path = folder / item.file
        channels = item.sheet.channels if item.sheet else ("r",) if item.scatter else ("height",)
        name = f"sheet:{item.sheet.id}" if item.sheet else "reading:height"
        name = f"scatter:{item.scatter.id}" if item.scatter else name
        small = next(summaries) if item.is_image else None
        files.append(
            {
                "file": item.file,
                "bytes": path.stat().st_size,
                "sha256": _checksum(path),
                "key": evaluation.key(name, plan.grid) if item.is_image else points_key(evaluation, name[8:]),
                "summary": {} if small is None else {c: packed(small[:, :, i]) for i, c in enumerate(channels)},
            }
        )
    (folder / MANIFEST).write_bytes(orjson.dumps({"manifest": 1, "files": files}, option=orjson.OPT_INDENT_2))


def _checksum(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def delivery_pieces(folder: Path) -> Iterator[bytes]:
    """Every file of a delivery as one zip, piece by piece; images are packed already."""
    return zip_pieces(
        ZipEntry(path.name, path, packed=path.suffix != ".png") for path in sorted(folder.iterdir())
    )  # fmt: skip
