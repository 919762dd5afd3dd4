"""PGM: the portable grey map, plain or binary."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadFile
from zigzag_meadow.core.formats.declare import Format, Head
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.limits import check_memory, check_size
from zigzag_meadow.core.formats.stored import Stored

__all__ = ["PGM"]

_MOST_HEAD = 16 * 1024
_GAP = rb"(?:\s|#[^\n]*\n)+"
_HEAD = re.compile(rb"P([25])" + (_GAP + rb"(\d{1,6})") * 3 + rb"\s")


def _begins(head: Head) -> bool:
    return re.match(rb"P[25]\s", head.data) is not None


def _heights(path: Path, name: str, layout: Layout) -> Stored:
    """8 or 16 bits, most significant byte first, or plain numbers."""
    data = path.read_bytes()
    head = _HEAD.match(data[:_MOST_HEAD])
    if head is None:
        raise BadFile(f"{name} is damaged: its first lines do not tell columns, rows and the highest value.")
    cols, rows, most = (int(head.group(at)) for at in (2, 3, 4))
    check_size(rows, cols, name)
    if not 1 <= most <= 65535:
        raise BadFile(f"{name} says that its highest value is {most}; it is 1 to 65535.")
    check_memory(rows * cols * 12 + len(data), name)
    wide = most > 255
    if head.group(1) == b"5":
        need = rows * cols * (2 if wide else 1)
        body = data[head.end() : head.end() + need]
        if len(body) < need:
            raise BadFile(f"{name} is cut short: {need} bytes of heights are declared, {len(body)} are there.")
        samples: NDArray[Any] = np.frombuffer(body, ">u2" if wide else "u1")
    else:
        numbers = data[head.end() :].split()
        if len(numbers) < rows * cols or not all(part.isdigit() and len(part) < 7 for part in numbers[: rows * cols]):
            raise BadFile(f"{name} is damaged: {rows * cols} whole numbers are declared, and not all are there.")
        samples = np.array(numbers[: rows * cols], np.int64)
    if int(samples.max()) > most:
        raise BadFile(f"{name} is damaged: it holds {int(samples.max())}, above its highest value of {most}.")
    native = np.ascontiguousarray(samples.astype(np.uint16 if wide else np.uint8).reshape(rows, cols))
    return Stored(native, "pgm", "16" if wide else "8")


PGM = Format("pgm", "PGM", (".pgm",), "image/x-portable-graymap", begins=_begins, heights=_heights)
