"""BMP: grey with a palette, or 24 bits."""

from __future__ import annotations

import struct
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.formats.declare import Form, Format, Head, Opened, Pixels
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.stored import Stored
from zigzag_meadow.core.formats.writing.headed import UpwardWriter
from zigzag_meadow.core.stripes import Stripes

__all__ = ["BMP"]

_HEAD = 14 + 40
_GREYS = b"".join(bytes((k, k, k, 0)) for k in range(256))


def _begins(head: Head) -> bool:
    # Two letters are little: raw heights may begin with them.
    return head.data.startswith(b"BM") and head.suffix in (".bmp", "")


def _heights(path: Path, name: str, layout: Layout) -> Stored:
    from zigzag_meadow.core.formats.reading.by_pillow import picture_heights  # only here: its library is slow to load

    return picture_heights(path, name, "bmp", "a BMP", layout)


def _pixels(path: Path, name: str) -> Pixels:
    from zigzag_meadow.core.formats.reading.by_pillow import picture_pixels  # as above

    return picture_pixels(path, name, "bmp", "a picture")


class _Writer(UpwardWriter):
    """Rows from the bottom, padded to four bytes, blue first."""

    @property
    def stride(self) -> int:
        return (self.raster.cols * 8 * self.raster.channels + 31) // 32 * 4

    def head(self) -> bytes:
        raster, greys = self.raster, _GREYS if self.raster.channels == 1 else b""
        start, body = _HEAD + len(greys), self.stride * raster.rows
        head = struct.pack("<2sIHHI", b"BM", start + body, 0, 0, start)
        head += struct.pack(
            "<IiiHHIIiiII", 40, raster.cols, raster.rows, 1, 8 * raster.channels, 0, body, 0, 0, len(greys) // 4, 0
        )
        return head + greys

    def coded(self, block: NDArray[Any]) -> bytes:
        rows = np.zeros((len(block), self.stride), np.uint8)
        flat = block.reshape(len(block), self.raster.cols, -1)
        flat = flat if flat.shape[2] == 1 else flat[..., ::-1]
        rows[:, : self.raster.cols * self.raster.channels] = flat.reshape(len(block), -1)
        return rows.tobytes()


def _open(path: Path, raster: Any, stripes: Stripes) -> Opened:
    return _Writer(path, raster)


BMP = Format(
    "bmp",
    "BMP",
    (".bmp",),
    "image/bmp",
    begins=_begins,
    heights=_heights,
    pixels=_pixels,
    forms=(
        Form("bmp8", "BMP 8", "bmp", "raster", "u8", (1,), "untagged", _open),
        Form("bmp24", "BMP 24", "bmp", "raster", "u8", (3,), "untagged", _open),
    ),
)
