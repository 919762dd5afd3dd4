"""NPY."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from zigzag_meadow.core.errors import BadFile
from zigzag_meadow.core.fit.witness.base import Pixels, Rows, Whole, Witness
from zigzag_meadow.core.formats.limits import check_bytes, check_size
from zigzag_meadow.core.formats.reading.decoding import decoding
from zigzag_meadow.core.targets.note import FileNote

__all__ = ["NPY"]


def _open(path: Path, file: FileNote) -> Rows:
    check_bytes(path.stat().st_size, file.file)
    with decoding(file.file, "an array"):
        found: Pixels = np.load(path, mmap_mode="r", allow_pickle=False)
    if found.ndim not in (2, 3) or found.dtype.kind not in "uif" or 0 in found.shape:
        raise BadFile(f"{file.file} holds no picture. Write it again.")
    check_size(found.shape[0], found.shape[1], file.file)
    return Whole(found)


NPY = Witness(_open)
