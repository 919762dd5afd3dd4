"""Maps of a fit check to be looked at: as rebuilt, as meant, and what lies between, at most 1025 samples a side."""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import NotFound

__all__ = ["LONGEST", "Keep", "Shown", "shown_map"]

LONGEST = 1025
Show = Callable[[NDArray[Any]], NDArray[Any]]
Keep = Callable[[str, NDArray[Any]], None]
"""Takes a picture by name: ``3-rebuilt`` and the like."""


class Shown:
    """One whole map, put together from bands of its files: single samples, and of the difference the largest around."""

    def __init__(self, rows: int, cols: int) -> None:
        self._rows = np.unique(np.linspace(0, rows - 1, min(rows, LONGEST)).round().astype(int))
        self._cols = np.unique(np.linspace(0, cols - 1, min(cols, LONGEST)).round().astype(int))
        self._made: dict[str, NDArray[Any]] = {}
        # Every sample belongs to the one nearest to it that is shown.
        self._row_cell = np.searchsorted((self._rows[1:] + self._rows[:-1]) / 2, np.arange(rows))
        self._col_cell = np.searchsorted((self._cols[1:] + self._cols[:-1]) / 2, np.arange(cols))

    def _plane(self, name: str, like: NDArray[Any], dtype: Any) -> NDArray[Any]:
        if name not in self._made:
            self._made[name] = np.zeros((self._rows.size, self._cols.size, like.shape[2]), dtype)
        return self._made[name]

    def add(self, name: str, row: int, col: int, values: NDArray[Any], show: Show) -> None:
        """Samples of a band that begins at (row, col) of the whole map, as ``show`` makes them."""
        r0, r1 = np.searchsorted(self._rows, [row, row + values.shape[0]])
        c0, c1 = np.searchsorted(self._cols, [col, col + values.shape[1]])
        picked = show(values[self._rows[r0:r1] - row][:, self._cols[c0:c1] - col])
        self._plane(name, picked, picked.dtype)[r0:r1, c0:c1] = picked

    def cells(self, row: int, col: int, band: NDArray[Any]) -> tuple[NDArray[Any], NDArray[Any], NDArray[Any]]:
        """(rows, columns) of the shown samples that a band's are nearest to, and the plane of largest differences."""
        plane = self._plane("difference", band, np.float32)
        return self._row_cell[row : row + band.shape[0]], self._col_cell[col : col + band.shape[1]], plane

    @property
    def shape(self) -> tuple[int, int]:
        """Rows and columns that are shown."""
        return self._rows.size, self._cols.size

    def plane(self, name: str) -> NDArray[Any] | None:
        """What was put together under a name; None where nothing was."""
        return self._made.get(name)

    def keep(self, name: str, keep: Keep) -> None:
        for part, values in self._made.items():
            keep(f"{name}-{part}", values)


def shown_map(folder: Path, name: str) -> NDArray[Any]:
    """A picture that was kept in a folder: float32 or uint8 (rows, columns, channels); where nothing differed, zeros.

    Raises :class:`NotFound`.
    """
    found = re.fullmatch(r"(\d{1,4})-(rebuilt|meant|difference)", name)
    if found is None:
        raise NotFound("There is no such map. Ask for N-rebuilt, N-meant or N-difference.")
    path = folder / f"{name}.npy"
    other = folder / f"{found[1]}-rebuilt.npy"
    if path.is_file():
        values = np.load(path)
    elif found[2] == "difference" and other.is_file() and (folder / f"{found[1]}-meant.npy").is_file():
        values = np.zeros(np.load(other, mmap_mode="r").shape, np.float32)
    else:
        raise NotFound(f"There is no picture {name} of this fit check. Run it first.")
    made: NDArray[Any] = values if values.dtype == np.uint8 else values.astype(np.float32)
    return made
