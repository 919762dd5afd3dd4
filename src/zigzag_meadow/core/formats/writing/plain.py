"""Rows one after the other behind a short header: raw, NPY, TGA, BMP."""

from __future__ import annotations

import io
import struct
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.formats.writing.raster import DTYPES, Raster, RowWriter

__all__ = ["BmpWriter", "NpyWriter", "RawWriter", "TgaWriter"]


class RawWriter(RowWriter):
    """Samples and nothing else, in the byte order that is asked for."""

    def __init__(self, path: Path, raster: Raster) -> None:
        super().__init__(path, raster)
        self._dtype = np.dtype(DTYPES[raster.sample]).newbyteorder("<" if raster.order == "little" else ">")
        self._file = path.open("wb")
        self._file.write(self.head())

    def head(self) -> bytes:
        return b""

    def coded(self, block: NDArray[Any]) -> bytes:
        return block.astype(self._dtype, copy=False).tobytes()

    def add(self, block: NDArray[Any]) -> None:
        self._file.write(self.coded(block))

    def finish(self) -> None:
        self._file.close()

    def give_up(self) -> None:
        self._file.close()


class NpyWriter(RawWriter):
    """A NumPy array of shape (rows, columns) or (rows, columns, channels)."""

    def head(self) -> bytes:
        raster, out = self.raster, io.BytesIO()
        shape = (raster.rows, raster.cols, raster.channels) if raster.channels > 1 else (raster.rows, raster.cols)
        told = {"descr": self._dtype.str, "fortran_order": False, "shape": shape}
        np.lib.format.write_array_header_1_0(out, told)
        return out.getvalue()


class TgaWriter(RawWriter):
    """Uncompressed, rows from the top, blue first; grey, 24 or 32 bits."""

    def head(self) -> bytes:
        raster = self.raster
        kind, alpha = (3, 0) if raster.channels == 1 else (2, 8 if raster.channels == 4 else 0)
        bits = 8 * raster.channels
        return struct.pack("<BBB5xHHHHBB", 0, 0, kind, 0, 0, raster.cols, raster.rows, bits, 0x20 | alpha)

    def coded(self, block: NDArray[Any]) -> bytes:
        return block.tobytes() if block.ndim == 2 or block.shape[2] == 1 else block[..., _BGR[block.shape[2]]].tobytes()


_BGR = {3: [2, 1, 0], 4: [2, 1, 0, 3]}
_HEAD = 14 + 40


class BmpWriter(RowWriter):
    """Rows from the bottom, padded to four bytes, blue first; grey with a palette, or 24 bits."""

    def __init__(self, path: Path, raster: Raster) -> None:
        super().__init__(path, raster)
        bits = 8 * raster.channels
        self._stride = (raster.cols * bits + 31) // 32 * 4
        greys = raster.channels == 1
        self._start = _HEAD + (1024 if greys else 0)
        size = self._start + self._stride * raster.rows
        head = struct.pack("<2sIHHI", b"BM", size, 0, 0, self._start)
        head += struct.pack("<IiiHHIIiiII", 40, raster.cols, raster.rows, 1, bits, 0, size - self._start, 0, 0,
                            256 if greys else 0, 0)  # fmt: skip
        if greys:
            head += b"".join(bytes((k, k, k, 0)) for k in range(256))
        self._file = path.open("wb")
        self._file.write(head)
        self._file.truncate(size)

    def add(self, block: NDArray[Any]) -> None:
        rows = np.zeros((len(block), self._stride), np.uint8)
        flat = block.reshape(len(block), self.raster.cols, -1)
        flat = flat if flat.shape[2] == 1 else flat[..., ::-1]
        rows[:, : self.raster.cols * self.raster.channels] = flat.reshape(len(block), -1)
        self._file.seek(self._start + (self.raster.rows - self.row - len(block)) * self._stride)
        self._file.write(rows[::-1].tobytes())

    def finish(self) -> None:
        self._file.close()

    def give_up(self) -> None:
        self._file.close()
