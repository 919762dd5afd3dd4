"""Raw samples, laid out as the note says."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from zigzag_meadow.core.errors import BadFile
from zigzag_meadow.core.fit.witness.base import ByPart, Pixels, Rows, Witness
from zigzag_meadow.core.targets.note import FileNote

__all__ = ["RAW"]


def _open(path: Path, file: FileNote) -> Rows:
    many = max(len(file.channels), 1)
    each = file.bits // 8
    expected, actual = each * file.rows * file.columns * many, path.stat().st_size
    if actual != expected:
        side = int((actual / each) ** 0.5)
        square = f", as {side} × {side} samples would" if each * side * side == actual and many == 1 else ""
        raise BadFile(
            f"{file.file} has {actual} bytes{square}; the note says {file.columns} × {file.rows} of {file.bits} bits, "
            f"{expected} bytes."
        )
    kind = np.dtype(("<" if file.byte_order != "big" else ">") + ("f4" if file.floats else f"u{each}"))
    stream = path.open("rb")

    def part(first: int, end: int) -> Pixels:
        data = stream.read((end - first) * file.columns * many * each)
        if len(data) != (end - first) * file.columns * many * each:
            raise BadFile(f"{file.file} is cut short. Copy it again.")
        return np.frombuffer(data, kind).reshape(end - first, file.columns, many)

    return ByPart((file.rows, file.columns, many), kind, part, stream.close)


RAW = Witness(_open)
