"""What is kept of every channel of a file, so that a changed one can be told without the project.

Writer and fit check hold the same tape to their samples: it measures, and knows nothing of what is right.
"""

from __future__ import annotations

import base64
import binascii
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
from isal import isal_zlib
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable

__all__ = ["LAGS", "LEVELS", "Measuring", "Signature", "side_of"]

F64 = NDArray[np.float64]
LAGS = (1, 2, 4, 8)
"""Samples apart at which differences are measured."""
LEVELS = 256
_SIDES = (64, 32, 16, 8, 4, 2, 1)
_ALL_ROWS = 1024
_EVERY = 8


def side_of(rows: int, cols: int) -> int:
    """Cells a side of the means of a map: a power of two, at most 64, no cell smaller than a sample."""
    return max(side for side in _SIDES if side <= min(rows, cols))


@dataclass(frozen=True, slots=True)
class Signature:
    """One channel. Values are 0–1 of full scale.

    ``means``: float64 (side, side), true means of equal areas, in the file's own order. ``with_alpha``: the same of the
    product with the file's alpha, where it has one. ``levels``: int64 (256,), how many samples are in each 256th;
    ``low``: the same of the lower byte of whole numbers of 16 bits. ``rough``: float64 (4, 2), mean squared differences
    at 1, 2, 4, 8 samples south and east. ``mean``, ``square``: of all samples and their squares;
    ``squares``: true means of squares over cells twice as wide.
    """

    means: F64
    levels: NDArray[np.int64]
    low: NDArray[np.int64] | None
    rough: F64
    mean: float
    square: float
    squares: F64
    with_alpha: F64 | None = None

    @property
    def variance(self) -> float:
        return max(self.square - self.mean * self.mean, 0.0)

    @property
    def local(self) -> F64:
        """How much samples vary inside each cell of ``squares``."""
        return np.maximum(self.squares - _halved(self.means * self.means), 0)

    def as_json(self) -> dict[str, Any]:
        told: dict[str, Any] = {
            "means": _packed(np.floor(np.clip(self.means, 0, 1) * 65535 + 0.5), "<u2"),
            "levels": _packed(self.levels, "<u4"),
            "rough": [float(x) for x in self.rough.ravel()],
            "mean": self.mean,
            "square": self.square,
            "squares": _packed(self.squares, "<f4"),
        }
        if self.low is not None:
            told["low"] = _packed(self.low, "<u4")
        if self.with_alpha is not None:
            told["with_alpha"] = _packed(np.floor(np.clip(self.with_alpha, 0, 1) * 65535 + 0.5), "<u2")
        return told

    @staticmethod
    def from_json(told: Mapping[str, Any]) -> Signature | None:
        """What :meth:`as_json` gave; None where it is damaged."""
        try:
            means, alpha = _square(told["means"]), told.get("with_alpha")
            levels, low = _unpacked(told["levels"], "<u4"), told.get("low")
            made = Signature(
                means,
                levels.astype(np.int64),
                None if low is None else _unpacked(low, "<u4").astype(np.int64),
                np.array(told["rough"], np.float64).reshape(len(LAGS), 2),
                float(told["mean"]),
                float(told["square"]),
                _unpacked(told["squares"], "<f4").astype(np.float64).reshape([max(means.shape[0] // 2, 1)] * 2),
                None if alpha is None else _square(alpha),
            )
        except (KeyError, TypeError, ValueError, binascii.Error):
            return None
        counted = [made.levels] if made.low is None else [made.levels, made.low]
        finite = bool(np.isfinite(made.rough).all()) and np.isfinite([made.mean, made.square]).all()
        return made if finite and all(part.size == LEVELS for part in counted) else None


def _halved(cells: F64) -> F64:
    """Means over two by two cells."""
    if cells.shape[0] < 2:
        return cells
    return (cells[::2, ::2] + cells[1::2, ::2] + cells[::2, 1::2] + cells[1::2, 1::2]) / 4


def _packed(values: NDArray[Any], code: str) -> str:
    return base64.b64encode(values.astype(code).tobytes()).decode("ascii")


def _unpacked(text: str, code: str) -> NDArray[Any]:
    return np.frombuffer(base64.b64decode(text, validate=True), code)


def _square(text: str) -> F64:
    flat = _unpacked(text, "<u2")
    side = int(flat.size**0.5)
    if side * side != flat.size or side not in _SIDES:
        raise ValueError("not a square of means")
    return flat.reshape(side, side) / 65535


@njit(nogil=True, cache=True)
def _row_cells(row: Any, side: int, alpha: bool, out: F64) -> None:
    """Sums over the cells of one row, (3, side, channels): of values, their squares, and with ``alpha`` their products
    with the last channel."""
    cols, many = row.shape
    out[:] = 0
    sums, squares, products = np.empty(many), np.empty(many), np.empty(many)
    for m in range(side):
        # Cell m reaches from m·cols to (m + 1)·cols, sample j from j·side to (j + 1)·side.
        first, last = m * cols // side, ((m + 1) * cols - 1) // side
        sums[:], squares[:], products[:] = 0, 0, 0
        for j in range(first + 1, last):
            over = np.float64(row[j, many - 1])
            for c in range(many):
                value = np.float64(row[j, c])
                sums[c] += value
                squares[c] += value * value
                if alpha:
                    products[c] += value * over
        for c in range(many):
            out[0, m, c], out[1, m, c], out[2, m, c] = sums[c] * side, squares[c] * side, products[c] * side
        for end in range(1 if first == last else 2):
            j = last if end else first
            part = min((j + 1) * side, (m + 1) * cols) - max(j * side, m * cols)
            over = np.float64(row[j, many - 1])
            for c in range(many):
                value = np.float64(row[j, c])
                out[0, m, c] += part * value
                out[1, m, c] += part * (value * value)
                if alpha:
                    out[2, m, c] += part * (value * over)


@njit(nogil=True, cache=True)
def _add_means(block: Any, row0: int, rows: int, alpha: bool, sums: F64, squares: F64, products: F64) -> None:
    """Add rows to sums over cells. Areas are counted in whole units (a sample is ``side`` long and a cell as long as
    there are samples), so that sums of whole numbers are exact whatever pieces they come in."""
    side = sums.shape[0]
    cells = np.empty((3, side, block.shape[2]))
    for r in range(block.shape[0]):
        y = (row0 + r) * side
        k = y // rows
        above = min((k + 1) * rows - y, side)
        _row_cells(block[r], side, alpha, cells)
        for how in range(3 if alpha else 2):
            into = sums if how == 0 else squares if how == 1 else products
            into[k] += cells[how] * above
            if above < side:
                into[k + 1] += cells[how] * (side - above)


@njit(nogil=True, cache=True)
def _count_whole(block: Any, levels: Any, low: Any) -> None:
    """Count whole numbers by their higher byte and, of two, by the lower one."""
    two = block.itemsize == 2
    for r in range(block.shape[0]):
        for j in range(block.shape[1]):
            for c in range(block.shape[2]):
                value = block[r, j, c]
                if two:
                    levels[c, value >> 8] += 1
                    low[c, value & 255] += 1
                else:
                    levels[c, value] += 1


@njit(nogil=True, cache=True)
def _count_floats(block: Any, levels: Any) -> None:
    for r in range(block.shape[0]):
        for j in range(block.shape[1]):
            for c in range(block.shape[2]):
                levels[c, np.int64(min(max(np.float32(0), block[r, j, c] * np.float32(256)), np.float32(255)))] += 1


@njit(nogil=True, cache=True)
def _differ(block: Any, held: int, row0: int, every: int, lag: int, at: int, sums: F64, counts: Any) -> None:
    """Add squared differences at ``lag``; the first ``held`` rows of ``block`` were there before."""
    rows, cols, many = block.shape
    for r in range(held, rows):
        if (row0 + r - held) % every:
            continue
        for j in range(cols - lag):
            for c in range(many):
                step = np.float64(block[r, j + lag, c]) - np.float64(block[r, j, c])
                sums[c, at, 1] += step * step
        counts[at, 1] += cols - lag
        if r < lag:
            continue
        for j in range(cols):
            for c in range(many):
                step = np.float64(block[r, j, c]) - np.float64(block[r - lag, j, c])
                sums[c, at, 0] += step * step
        counts[at, 0] += cols


class Measuring:
    """Measures a file whose rows come in its own order: (n, columns) or (n, columns, channels), all of one dtype.

    ``zero``, ``span``: of floats what 0 and 1 of full scale are; whole numbers fill their type. ``alpha``: whether the
    last channel is one. What is no number counts as 0 and is told by ``gone``.
    """

    def __init__(
        self, rows: int, cols: int, channels: int, zero: float = 0.0, span: float = 1.0, alpha: bool = False
    ) -> None:
        self.rows, self.cols, self.channels = rows, cols, channels
        self.zero, self.span, self.alpha = zero, span, alpha
        side = side_of(rows, cols)
        self._sums, self._products = np.zeros((side, side, channels)), np.zeros((side, side, channels))
        self._of_squares = np.zeros((side, side, channels))
        self._levels = np.zeros((channels, LEVELS), np.int64)
        self._low = np.zeros((channels, LEVELS), np.int64)
        self._rough = np.zeros((channels, len(LAGS), 2))
        self._counts = np.zeros((len(LAGS), 2), np.int64)
        self._every = 1 if rows <= _ALL_ROWS else _EVERY
        self._tail: NDArray[Any] | None = None
        self._crc = 0
        self._full = 1.0
        self._bits = 0
        self.gone = 0
        self.done = 0

    def add(self, block: NDArray[Any]) -> None:
        """Rows in the byte order of this machine, as they are stored otherwise."""
        values = block.reshape(*block.shape[:2], -1)
        # Half floats come back as whole ones from some readers.
        plain = np.ascontiguousarray(values, np.float32 if values.dtype.kind == "f" else None)
        self._crc = isal_zlib.crc32(plain, self._crc)
        if values.dtype.kind == "f":
            shifted = (values.astype(np.float64) - self.zero) / self.span
            there = np.isfinite(shifted)
            self.gone += int(shifted.size - np.count_nonzero(there))
            plain = np.where(there, shifted, 0).astype(np.float32)
        else:
            self._bits = values.dtype.itemsize * 8
            self._full = 2.0**self._bits - 1
        kept = readable(plain)
        _add_means(kept, self.done, self.rows, self.alpha, self._sums, self._of_squares, self._products)
        if self._bits:
            _count_whole(kept, self._levels, self._low)
        else:
            _count_floats(kept, self._levels)
        joined = kept if self._tail is None else readable(np.concatenate([self._tail, kept]))
        held = joined.shape[0] - kept.shape[0]
        for at, lag in enumerate(LAGS):
            if lag < self.cols:
                _differ(joined, held, self.done, self._every, lag, at, self._rough, self._counts)
        self._tail = joined[-max(LAGS) :]
        self.done += kept.shape[0]

    @property
    def samples(self) -> str:
        """Checksum (CRC-32) of the samples alone, whatever they are packed in; against slips, not against forgers."""
        return f"{self._crc:08x}"

    def signatures(self) -> list[Signature]:
        """One a channel, once all rows were added."""
        area = float(self.rows) * self.cols
        full = self._full
        total = self._sums.sum(axis=(0, 1)) / (self._sums.shape[0] ** 2 * area * full)
        rough = self._rough / np.maximum(self._counts, 1) / full**2
        squares = self._of_squares / (area * full**2)
        made = []
        for c in range(self.channels):
            product = self._products[:, :, c] / (area * full**2) if self.alpha and c < self.channels - 1 else None
            made.append(
                Signature(
                    self._sums[:, :, c] / (area * full),
                    self._levels[c],
                    self._low[c] if self._bits == 16 else None,
                    rough[c],
                    float(total[c]),
                    float(squares[:, :, c].mean()),
                    _halved(squares[:, :, c]),
                    product,
                )
            )
        return made
