"""Rows one after the other behind a short header."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.formats.writing.raster import DTYPES, Raster, RowWriter

__all__ = ["HeadedWriter", "UpwardWriter"]


class HeadedWriter(RowWriter):
    """Samples in the byte order that is asked for, behind a header: none, unless ``head`` says otherwise."""

    def __init__(self, path: Path, raster: Raster) -> None:
        super().__init__(path, raster)
        self._dtype = np.dtype(DTYPES[raster.sample]).newbyteorder("<" if raster.order == "little" else ">")
        self._file = path.open("wb")
        self._file.write(self.head())

    def head(self) -> bytes:
        """What stands before the samples."""
        return b""

    def coded(self, block: NDArray[Any]) -> bytes:
        """Rows as they stand in the file."""
        return block.astype(self._dtype, copy=False).tobytes()

    def add(self, block: NDArray[Any]) -> None:
        self._file.write(self.coded(block))

    def finish(self) -> None:
        self._file.close()

    def give_up(self) -> None:
        self._file.close()


class UpwardWriter(HeadedWriter):
    """The same with the last row of the picture first."""

    def __init__(self, path: Path, raster: Raster) -> None:
        super().__init__(path, raster)
        self._start = self._file.tell()
        self._file.truncate(self._start + self.stride * raster.rows)

    @property
    def stride(self) -> int:
        """Bytes from row to row."""
        return self.raster.bytes // self.raster.rows

    def add(self, block: NDArray[Any]) -> None:
        self._file.seek(self._start + (self.raster.rows - self.row - len(block)) * self.stride)
        self._file.write(self.coded(block[::-1]))
