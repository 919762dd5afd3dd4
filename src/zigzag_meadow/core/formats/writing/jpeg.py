"""JPEG, for colours only: it bends values in blocks of eight by eight."""

from __future__ import annotations

import struct
from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.formats.writing.raster import Raster, RowWriter
from zigzag_meadow.core.formats.writing.tiff import srgb_profile

__all__ = ["JpegWriter"]

_LEVEL = 92
_NAME = b"ICC_PROFILE\0\x01\x01"


class JpegWriter(RowWriter):
    """Its library takes pictures whole: rows wait in a file beside it, not in memory."""

    def __init__(self, path: Path, raster: Raster) -> None:
        super().__init__(path, raster)
        self._aside = path.with_name(f".{path.name}.rows")
        shape = (raster.rows, raster.cols, raster.channels)
        self._whole: np.memmap[Any, Any] | None = np.memmap(self._aside, np.uint8, "w+", shape=shape)

    def add(self, block: NDArray[Any]) -> None:
        assert self._whole is not None  # there until the end
        self._whole[self.row : self.row + len(block)] = block.reshape(len(block), self.raster.cols, -1)

    def finish(self) -> None:
        assert self._whole is not None
        pixels = self._whole if self.raster.channels == 3 else self._whole[..., 0]
        data = imagecodecs.jpeg8_encode(pixels, level=_LEVEL, subsampling="444")
        if self.raster.srgb:
            profile = _NAME + srgb_profile()
            data = data[:2] + b"\xff\xe2" + struct.pack(">H", len(profile) + 2) + profile + data[2:]
        self.give_up()
        self.path.write_bytes(data)

    def give_up(self) -> None:
        self._whole = None
        self._aside.unlink(missing_ok=True)
