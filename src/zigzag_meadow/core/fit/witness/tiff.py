"""TIFF."""

from __future__ import annotations

from pathlib import Path

from zigzag_meadow.core.fit.witness.base import Rows, Whole, Witness
from zigzag_meadow.core.fit.witness.pictures import profile
from zigzag_meadow.core.formats.reading.tiff import read_tiff_pixels
from zigzag_meadow.core.formats.reading.tiff_rows import TiffRows
from zigzag_meadow.core.targets.note import FileNote

__all__ = ["TIFF"]


def _open(path: Path, file: FileNote) -> Rows:
    made = TiffRows(path, file.file)
    if made.by_rows:
        return made
    made.__exit__(None, None, None)
    return Whole(read_tiff_pixels(path, file.file))


TIFF = Witness(_open, profile)
