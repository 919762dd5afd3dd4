"""TIFF, plain and with where it lies in the world."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Any

from zigzag_meadow.core.formats.declare import Form, Format, Head, Opened, Pixels
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.stored import Stored
from zigzag_meadow.core.stripes import Stripes

__all__ = ["TIFF"]

# Little or big endian; 43 instead of 42 where it holds more than four gigabytes.
_SIGNATURES = (b"II*\0", b"MM\0*", b"II+\0", b"MM\0+")


def _begins(head: Head) -> bool:
    return head.data.startswith(_SIGNATURES)


def _heights(path: Path, name: str, layout: Layout) -> Stored:
    from zigzag_meadow.core.formats.reading.tiff import read_tiff  # only here: its library is slow to load

    return read_tiff(path, name, layout)


def _pixels(path: Path, name: str) -> Pixels:
    from zigzag_meadow.core.formats.reading.tiff import read_tiff_pixels  # as above

    return read_tiff_pixels(path, name)


def _texture(path: Path, name: str) -> Pixels:
    from zigzag_meadow.core.formats.reading.tiff import read_tiff_texture  # as above

    return read_tiff_texture(path, name)


def _open(path: Path, raster: Any, stripes: Stripes) -> Opened:
    from zigzag_meadow.core.formats.writing.tiff import TiffWriter  # as above

    return TiffWriter(path, raster)


def _open_placed(path: Path, raster: Any, stripes: Stripes) -> Opened:
    from zigzag_meadow.core.formats.writing.tiff import GeoTiffWriter  # as above

    return GeoTiffWriter(path, raster)


_ANY = (1, 2, 3, 4)
_EIGHT = Form("tiff8", "TIFF 8", "tif", "raster", "u8", _ANY, "tagged", _open, packs=True, tiled=True)
_SIXTEEN = replace(_EIGHT, id="tiff16", title="TIFF 16", sample="u16")
_FLOAT = replace(_EIGHT, id="tiff32f", title="TIFF float", sample="f32", colours="linear")
TIFF = Format(
    "tiff",
    "TIFF",
    (".tif", ".tiff"),
    "image/tiff",
    begins=_begins,
    heights=_heights,
    pixels=_pixels,
    texture=_texture,
    dense=True,
    forms=(
        _EIGHT,
        _SIXTEEN,
        _FLOAT,
        replace(_SIXTEEN, id="geotiff16", title="GeoTIFF 16", open=_open_placed, places=True, world=True),
        replace(_FLOAT, id="geotiff32f", title="GeoTIFF float", open=_open_placed, places=True, world=True),
    ),
)
