"""One file on its way from the disk, band by band: measured, compared with what was meant, and kept to be shown."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.fit.reading import Rows
from zigzag_meadow.core.fit.rehearsal import upright
from zigzag_meadow.core.fit.seen_maps import Shown
from zigzag_meadow.core.signature import Measuring
from zigzag_meadow.core.targets.note import FileNote

__all__ = ["CODED", "ROUNDED", "Difference", "bands", "compares", "tolerance", "visit"]

F64 = NDArray[np.float64]
BAND = 512
WIDE = 4608
ROUNDED = 0.5 + 1e-2
"""Half a step is what rounding costs; a little more is what 32 bits cost before it."""
CODED = 6e-6
"""How far colours may be off by the tables that code them, of full scale."""
Look = Callable[[int, NDArray[Any]], None]


def compares(file: FileNote) -> bool:
    """Whether a file can be held against the project sample by sample: not textures, what was reduced more sharply than
    by means, and what comes back otherwise than it was written."""
    return file.kind != "look" and "Lanczos" not in file.resampled and file.reads != "jpeg"


def tolerance(file: FileNote, meant: NDArray[Any]) -> float:
    """How far samples may lie off what was meant before it counts, in stored units."""
    if file.floats:
        most = float(np.abs(meant).max()) if meant.size else 0.0
        return most * 2.0 ** (-10 if file.bits == 16 else -20)
    if file.kind == "sheet" or file.kind == "classes":
        return 0.0
    full = 2.0**file.bits - 1
    return ROUNDED + full * 2e-7 + (full * CODED if file.colour_space == "sRGB" else 0.0)


@njit(nogil=True, cache=True)
def _compare(
    seen: Any, meant: Any, within: float, sums: F64, off: Any, rows: Any, cols: Any, scale: float, plane: Any
) -> None:
    """Compare a band sample by sample. ``sums``: (largest, sum) of differences; ``off``: how many samples are.
    The largest differences times ``scale`` go where ``rows`` and ``cols`` say that samples are shown."""
    many = seen.shape[2]
    for r in range(seen.shape[0]):
        for j in range(seen.shape[1]):
            wrong = False
            for c in range(many):
                apart = np.float64(seen[r, j, c]) - np.float64(meant[r, j, c])
                size = abs(apart)
                if not size < np.inf:
                    # What is no number is further off than anything can be.
                    size, apart = np.float64(1e30), np.float64(0.0)
                sums[0] = max(sums[0], size)
                sums[1] += size
                if size > within:
                    wrong = True
                apart *= scale
                if abs(apart) > abs(plane[rows[r], cols[j], c]):
                    plane[rows[r], cols[j], c] = apart
            if wrong:
                off[0] += 1


@dataclass
class Difference:
    """What a map is off by, in stored units, and the largest differences around every sample that is shown."""

    channels: int
    samples: int = 0

    def __post_init__(self) -> None:
        self._sums = np.zeros(2)
        self._off = np.zeros(1, np.int64)

    def add(
        self,
        seen: NDArray[Any],
        meant: NDArray[Any],
        within: float,
        shown: Shown,
        row: int,
        col: int,
        scale: float,
    ) -> None:
        """Count a band that begins at (row, col) of the whole map; ``scale``: of differences as they are shown."""
        self.samples += seen.shape[0] * seen.shape[1]
        if seen.dtype == meant.dtype and np.array_equal(seen, meant):
            return
        rows, cols, plane = shown.cells(row, col, seen)
        _compare(readable(seen), readable(meant), within, self._sums, self._off, rows, cols, scale, plane)

    @property
    def off(self) -> int:
        """Samples that are not as they were meant."""
        return int(self._off[0])

    @property
    def worst(self) -> float:
        return float(self._sums[0])

    @property
    def mean(self) -> float:
        return float(self._sums[1]) / (self.samples * self.channels) if self.samples else 0.0

    @property
    def exact(self) -> float:
        """Share of samples that are as they were meant."""
        return 1 - self.off / self.samples if self.samples else 1.0


def bands(file: FileNote, first_row: int) -> Iterator[tuple[int, int]]:
    """(first, end) rows of a file, north up, in the order in which it holds them; they end where tiles of the whole
    map do."""
    # Tiles are 512 rows high: a band is one of them, or a half of wide ones, so that it stays small.
    band = BAND if file.columns <= WIDE else BAND // 2
    inner = range((first_row // band + 1) * band, first_row + file.rows, band)
    edges = [0, *(at - first_row for at in inner), file.rows]
    pairs = list(pairwise(edges))
    yield from reversed(pairs) if file.first_row == "south" else pairs


def visit(file: FileNote, source: Rows, tape: Measuring, first_row: int, look: Look) -> None:
    """Read a file to its end: ``tape`` gets rows in its own order, ``look`` bands north up with their first row. The
    next band is read while one is looked at.

    Raises what its reader raises.
    """

    def read(rows: int) -> NDArray[Any]:
        block = source.read(rows)
        tape.add(block)
        return block

    parts = list(bands(file, first_row))
    with ThreadPoolExecutor(1, "reading") as ahead:
        coming = ahead.submit(read, parts[0][1] - parts[0][0])
        for at, (first, _) in enumerate(parts):
            block = coming.result()
            if at + 1 < len(parts):
                coming = ahead.submit(read, parts[at + 1][1] - parts[at + 1][0])
            look(first, upright(file, block))
