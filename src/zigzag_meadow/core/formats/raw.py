"""Headerless heights: size proposals, sample type, byte order, reading."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadFile, BadNumber
from zigzag_meadow.core.formats.limits import LONGEST_SIDE, SHORTEST_SIDE, check_size

__all__ = ["BYTES", "ByteOrder", "SampleType", "guess_byte_order", "propose_sizes", "read_raw", "sample_of_name"]

ByteOrder = Literal["little", "big"]
SampleType = Literal["u8", "i8", "u16", "i16", "f32"]
BYTES: dict[SampleType, int] = {"u8": 1, "i8": 1, "u16": 2, "i16": 2, "f32": 4}
_ENDINGS: dict[str, SampleType] = {
    ".r8": "u8", ".raw8": "u8", ".r16": "u16", ".raw16": "u16", ".r32": "f32", ".raw32": "f32", ".f32": "f32",
    ".flt": "f32",
}  # fmt: skip


def sample_of_name(name: str) -> SampleType:
    """What a raw file's ending says about its samples; 16-bit unsigned where it says nothing."""
    return _ENDINGS.get(Path(name).suffix.lower(), "u16")


def propose_sizes(byte_count: int, sample: SampleType = "u16", header: int = 0) -> list[tuple[int, int]]:
    """(rows, columns) that a raw file of this length could have, likeliest first.

    A square comes first when the root is whole; then pairs of at most 4 : 1, nearest to square first.
    Lengths that hold no whole number of samples propose nothing.
    """
    left = byte_count - header
    if left <= 0 or left % BYTES[sample]:
        return []
    samples = left // BYTES[sample]
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


def guess_byte_order(words: NDArray[Any]) -> ByteOrder:
    """The byte order with the smaller total variation along rows.

    ``words``: samples of two or four bytes of shape (rows, columns) as read little-endian. Real ground changes
    little from sample to sample; with its bytes swapped it is noise.
    """
    step = max(1, words.shape[0] // 256)
    some = words[::step]

    def variation(a: NDArray[Any]) -> float:
        with np.errstate(invalid="ignore", over="ignore"):
            steps = np.abs(np.diff(a.astype(np.float64), axis=1))
            odd = ~np.isfinite(steps)
            return math.inf if odd.mean() > 0.2 else float(steps[~odd].sum())

    return "little" if variation(some) <= variation(some.byteswap()) else "big"


def read_raw(
    path: Path,
    name: str,
    *,
    rows: int | None,
    cols: int | None,
    sample: SampleType | None = None,
    header: int = 0,
    order: ByteOrder | None = None,
) -> tuple[NDArray[Any], SampleType, ByteOrder | None, bool]:
    """Read headerless samples: (array, sample type, byte order, whether the order was guessed).

    The order is None where samples are single bytes. Raises :class:`BadFile` when the length does not fit the size,
    or no size is given and none can be guessed.
    """
    length = path.stat().st_size
    kind = sample or sample_of_name(name)
    size = BYTES[kind]
    if (rows is None) != (cols is None):
        raise BadNumber("Give both rows and columns of the raw file, or neither.", field="rows")
    if not 0 <= header < length:
        raise BadNumber(f"The header to skip must be 0 to {length - 1} bytes, got {header}.", field="header")
    if rows is None or cols is None:
        proposals = propose_sizes(length, kind, header)
        square = [p for p in proposals if p[0] == p[1]]
        if not square:
            known = ", ".join(f"{c} × {r}" for r, c in proposals[:4])
            hint = f"It could be {known}: type the size." if known else f"Its length fits no {8 * size}-bit heightmap."
            raise BadFile(f"{name} has no header and its {length} bytes are not a square. {hint}", field="rows")
        rows, cols = square[0]
    check_size(rows, cols, name)
    if length - header != size * rows * cols:
        raise BadFile(
            f"{name} has {length} bytes; {cols} × {rows} samples of {8 * size} bits need {size * rows * cols}"
            f"{f' after {header} skipped' if header else ''}. Check columns and rows, or save it without a header.",
            field="rows",
        )
    code = {"u8": "u1", "i8": "i1", "u16": "<u2", "i16": "<i2", "f32": "<f4"}[kind]
    words: NDArray[Any] = np.fromfile(path, dtype=code, offset=header).reshape(rows, cols)
    if size == 1:
        return words, kind, None, False
    chosen = order or guess_byte_order(words)
    if chosen == "big":
        words = words.byteswap()
    return np.ascontiguousarray(words.astype(words.dtype.newbyteorder("="), copy=False)), kind, chosen, order is None
