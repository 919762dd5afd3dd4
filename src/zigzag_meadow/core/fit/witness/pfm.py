"""PFM: three lines of text, then floats with the last row of the picture first."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from zigzag_meadow.core.errors import BadFile
from zigzag_meadow.core.fit.witness.base import ByPart, Pixels, Rows, Witness
from zigzag_meadow.core.formats.limits import check_bytes, check_size
from zigzag_meadow.core.targets.note import FileNote

__all__ = ["PFM"]

_LONGEST_LINE = 80


def _open(path: Path, file: FileNote) -> Rows:
    check_bytes(path.stat().st_size, file.file)
    with path.open("rb") as stream:
        lines = [stream.readline(_LONGEST_LINE).split() for _ in range(3)]
        start = stream.tell()
    try:
        (kind,), (across, down), (scale,) = lines
        channels = {b"Pf": 1, b"PF": 3}[kind]
        cols, rows, order = int(across), int(down), "<" if float(scale) < 0 else ">"
    except (KeyError, ValueError):
        raise BadFile(f"{file.file} has no header of a PFM. Write it again.") from None
    check_size(rows, cols, file.file)
    row = 4 * cols * channels
    if path.stat().st_size != start + rows * row:
        raise BadFile(
            f"{file.file} has {path.stat().st_size} bytes; {cols} × {rows} samples of {channels} floats need "
            f"{start + rows * row}. Copy it again."
        )
    stored = np.memmap(path, f"{order}f4", "r", offset=start, shape=(rows, cols, channels))

    def part(first: int, end: int) -> Pixels:
        return np.ascontiguousarray(stored[::-1][first:end])

    return ByPart((rows, cols, channels), stored.dtype, part, lambda: None)


PFM = Witness(_open)
