"""PNG."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from zigzag_meadow.core.formats.declare import Form, Format, Head, Opened, Pixels
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.stored import Stored
from zigzag_meadow.core.stripes import Stripes

__all__ = ["PNG"]

SIGNATURE = b"\x89PNG\r\n\x1a\n"


def _begins(head: Head) -> bool:
    return head.data.startswith(SIGNATURE)


def _heights(path: Path, name: str, layout: Layout) -> Stored:
    from zigzag_meadow.core.formats.reading.png import read_png_heights  # only here: its decoders are slow to load

    return read_png_heights(path, name, layout)


def _pixels(path: Path, name: str) -> Pixels:
    from zigzag_meadow.core.formats.reading.png import read_png  # as above

    return read_png(path, name)


def _open(path: Path, raster: Any, stripes: Stripes) -> Opened:
    from zigzag_meadow.core.formats.writing.png_stream import PngWriter  # only here: it brings a compiler

    return PngWriter(path, raster.rows, raster.cols, raster.channels, raster.bits, stripes, srgb=raster.srgb)


_ANY = (1, 2, 3, 4)
PNG = Format(
    "png",
    "PNG",
    (".png",),
    "image/png",
    begins=_begins,
    heights=_heights,
    pixels=_pixels,
    texture=_pixels,
    dense=True,
    forms=(
        Form("png8", "PNG 8", "png", "raster", "u8", _ANY, "tagged", _open),
        Form("png16", "PNG 16", "png", "raster", "u16", _ANY, "tagged", _open),
    ),
)
