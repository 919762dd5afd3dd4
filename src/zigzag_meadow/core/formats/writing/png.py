"""PNG as a form."""

from __future__ import annotations

from pathlib import Path

from zigzag_meadow.core.formats.png_stream import PngWriter
from zigzag_meadow.core.formats.writing.raster import Raster
from zigzag_meadow.core.stripes import Stripes

__all__ = ["png_rows"]


def png_rows(path: Path, raster: Raster, stripes: Stripes) -> PngWriter:
    """A writer of a PNG with 8 or 16 bits."""
    return PngWriter(path, raster.rows, raster.cols, raster.channels, raster.bits, stripes, srgb=raster.srgb)
