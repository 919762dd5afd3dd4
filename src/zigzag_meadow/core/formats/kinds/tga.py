"""TGA, which has no signature: a name tells of it, or few numbers that can stand in its header."""

from __future__ import annotations

import struct
from pathlib import Path
from typing import Any

from numpy.typing import NDArray

from zigzag_meadow.core.formats.declare import Form, Format, Head, Opened, Pixels
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.stored import Stored
from zigzag_meadow.core.formats.writing.headed import HeadedWriter
from zigzag_meadow.core.stripes import Stripes

__all__ = ["TGA"]

_BGR = {3: [2, 1, 0], 4: [2, 1, 0, 3]}


def _called(head: Head) -> bool:
    return head.suffix == ".tga"


def _may_be(head: Head) -> bool:
    data = head.data
    if len(data) < 18:
        return False
    table, kind, wide, high, bits = data[1], data[2], data[12:14], data[14:16], data[16]
    cols, rows = int.from_bytes(wide, "little"), int.from_bytes(high, "little")
    plain = kind not in (1, 2, 3) or head.size >= 18 + data[0] + cols * rows * bits // 8
    return table < 2 and kind in (1, 2, 3, 9, 10, 11) and bits in (8, 16, 24, 32) and cols * rows > 0 and plain


def _heights(path: Path, name: str, layout: Layout) -> Stored:
    from zigzag_meadow.core.formats.reading.by_pillow import picture_heights  # only here: its library is slow to load

    return picture_heights(path, name, "tga", "a TGA", layout)


def _pixels(path: Path, name: str) -> Pixels:
    from zigzag_meadow.core.formats.reading.by_pillow import picture_pixels  # as above

    return picture_pixels(path, name, "tga", "a picture")


class _Writer(HeadedWriter):
    """Uncompressed, rows from the top, blue first; grey, 24 or 32 bits."""

    def head(self) -> bytes:
        raster = self.raster
        kind, alpha = (3, 0) if raster.channels == 1 else (2, 8 if raster.channels == 4 else 0)
        bits = 8 * raster.channels
        return struct.pack("<BBB5xHHHHBB", 0, 0, kind, 0, 0, raster.cols, raster.rows, bits, 0x20 | alpha)

    def coded(self, block: NDArray[Any]) -> bytes:
        return block.tobytes() if block.ndim == 2 or block.shape[2] == 1 else block[..., _BGR[block.shape[2]]].tobytes()


def _open(path: Path, raster: Any, stripes: Stripes) -> Opened:
    return _Writer(path, raster)


TGA = Format(
    "tga",
    "TGA",
    (".tga",),
    called=_called,
    may_be=_may_be,
    heights=_heights,
    pixels=_pixels,
    forms=(Form("tga", "TGA", "tga", "raster", "u8", (1, 3, 4), "untagged", _open),),
)
