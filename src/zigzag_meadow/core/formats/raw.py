"""Headerless 16-bit heights: size proposals, byte order, reading."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadFile, BadNumber
from zigzag_meadow.core.formats.limits import LONGEST_SIDE, SHORTEST_SIDE, check_size

__all__ = ["ByteOrder", "guess_byte_order", "propose_sizes", "read_raw16"]

ByteOrder = Literal["little", "big"]


def propose_sizes(byte_count: int) -> list[tuple[int, int]]:
    """(rows, columns) that a raw 16-bit file of this length could have, likeliest first.

    A square comes first when the root is whole; then pairs of at most 4 : 1, nearest to square first.
    Odd lengths propose nothing.
    """
    if byte_count % 2:
        return []
    samples = byte_count // 2
    proposals: list[tuple[int, int]] = []
    root = math.isqrt(samples)
    for short in range(root, SHORTEST_SIDE - 1, -1):
        long = samples // short
        if long > 4 * short or long > LONGEST_SIDE or len(proposals) >= 8:
            break
        if short * long == samples:
            proposals.append((short, long))
            if short != long:
                proposals.append((long, short))
    return proposals


def guess_byte_order(words: NDArray[np.uint16]) -> ByteOrder:
    """The byte order with the smaller total variation along rows.

    ``words`` is uint16 of shape (rows, columns) as read little-endian. Real ground changes little from sample
    to sample; with its bytes swapped it is noise.
    """
    step = max(1, words.shape[0] // 256)
    some = words[::step]

    def variation(a: NDArray[np.uint16]) -> float:
        return float(np.abs(np.diff(a.astype(np.int64), axis=1)).sum())

    return "little" if variation(some) <= variation(some.byteswap()) else "big"


def read_raw16(
    path: Path, name: str, rows: int | None, cols: int | None, order: ByteOrder | None
) -> tuple[NDArray[np.uint16], ByteOrder, bool]:
    """Read headerless unsigned 16-bit samples: (uint16 array, byte order, whether the order was guessed).

    Raises :class:`BadFile` when the length does not fit the size, or no size is given and none can be guessed.
    """
    length = path.stat().st_size
    if (rows is None) != (cols is None):
        raise BadNumber("Give both rows and columns of the raw file, or neither.", field="rows")
    if rows is None or cols is None:
        proposals = propose_sizes(length)
        square = [p for p in proposals if p[0] == p[1]]
        if not square:
            known = ", ".join(f"{c} × {r}" for r, c in proposals[:4])
            hint = f"It could be {known}: type the size." if known else "Its length fits no 16-bit heightmap."
            raise BadFile(f"{name} has no header and its {length} bytes are not a square. {hint}", field="rows")
        rows, cols = square[0]
    check_size(rows, cols, name)
    if length != 2 * rows * cols:
        raise BadFile(
            f"{name} has {length} bytes; {cols} × {rows} samples of 16 bits need {2 * rows * cols}. "
            "Check columns and rows, or save it without a header.",
            field="rows",
        )
    words = np.fromfile(path, dtype="<u2").reshape(rows, cols)
    guessed = order is None
    chosen = order or guess_byte_order(words)
    if chosen == "big":
        words = words.byteswap()
    return np.ascontiguousarray(words.astype(np.uint16, copy=False)), chosen, guessed
