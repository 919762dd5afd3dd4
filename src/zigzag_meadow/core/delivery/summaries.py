"""Small means of every delivered channel: thumbnails for the legend, and 64² summaries to check files against."""

from __future__ import annotations

import base64
from typing import Any

import numpy as np
from numpy.typing import NDArray

__all__ = ["Summariser", "packed"]


class Summariser:
    """Means over square cells of a map that arrives in blocks of rows; up to 128 cells a side."""

    def __init__(self, rows: int, cols: int, channels: int, full: float) -> None:
        self.side = max(side for side in (128, 64, 32, 16, 8, 4, 2, 1) if side <= min(rows, cols))
        self._row_cell = np.arange(rows) * self.side // rows
        starts = np.searchsorted(np.arange(cols) * self.side // cols, np.arange(self.side))
        self._starts = starts
        self._counts = np.outer(np.bincount(self._row_cell), np.diff([*starts, cols]))
        self._sums = np.zeros((self.side, self.side, channels))
        self._full = full
        self._at = 0

    def add(self, block: NDArray[Any]) -> None:
        """Add rows: numbers of shape (n, columns) or (n, columns, channels)."""
        cells = np.add.reduceat(block.reshape(*block.shape[:2], -1), self._starts, axis=1, dtype=np.float64)
        np.add.at(self._sums, self._row_cell[self._at : self._at + block.shape[0]], cells)
        self._at += block.shape[0]

    def means(self) -> NDArray[np.float64]:
        """Means from 0 to 1, shape (side, side, channels)."""
        means: NDArray[np.float64] = self._sums / self._counts[:, :, None] / self._full
        return means


def packed(means: NDArray[np.float64]) -> str:
    """One channel's means (a square of 64 cells a side or fewer) as base64 of little-endian uint16."""
    while means.shape[0] > 64:
        means = (means[::2, ::2] + means[1::2, ::2] + means[::2, 1::2] + means[1::2, 1::2]) / 4
    return base64.b64encode(np.floor(means * 65535 + 0.5).astype("<u2").tobytes()).decode("ascii")
