"""Delivered files read back at their stored depth, some rows at a time, by readers that share nothing with what wrote
them."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from zigzag_meadow.core.errors import BadFile, NotFound
from zigzag_meadow.core.fit.witness.base import Pixels, Rows, Witness
from zigzag_meadow.core.fit.witness.catalogue import WITNESSES
from zigzag_meadow.core.targets.note import FileNote

__all__ = ["Rows", "colour_tags", "opened", "read_whole"]


def _witness(file: FileNote) -> Witness:
    found = WITNESSES.get(file.reads)
    if found is None:
        raise BadFile(f"{file.file}: there is no reader for {file.reads}. Deliver again.")
    return found


def opened(folder: Path, file: FileNote) -> Rows:
    """A file, ready to be read row by row; to be used as a context manager.

    Raises :class:`NotFound` when it is missing and :class:`BadFile` (or its kin) when it is cut or not what its format
    says; reading raises the latter, too.
    """
    path = folder / Path(file.file).name
    if not path.is_file():
        raise NotFound(f"{file.file} is missing.")
    return _witness(file).open(path, file)


def read_whole(source: Rows) -> Pixels:
    """All rows of a file that was just opened: (rows, columns, channels) as stored."""
    out = np.empty((source.rows, source.cols, source.channels), source.dtype)
    for at in range(0, source.rows, 512):
        out[at : at + 512] = source.read(min(512, source.rows - at))
    return out


def colour_tags(folder: Path, file: FileNote) -> list[str]:
    """What a file says of its colours: parts of a PNG, a profile of a TIFF or JPEG.

    Raises :class:`BadFile` where it cannot be told.
    """
    return _witness(file).tags(folder / Path(file.file).name, file)
