"""ASCII grids."""

from __future__ import annotations

from pathlib import Path

from zigzag_meadow.core.fit.witness.base import Rows, Whole, Witness
from zigzag_meadow.core.formats.reading.asc import read_asc
from zigzag_meadow.core.targets.note import FileNote

__all__ = ["ASC"]


def _open(path: Path, file: FileNote) -> Rows:
    return Whole(read_asc(path, file.file).samples)


ASC = Witness(_open)
