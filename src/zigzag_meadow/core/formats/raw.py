"""Headerless heights: size proposals, sample type, byte order, reading."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadFile, BadNumber
from zigzag_meadow.core.formats.limits import LONGEST_SIDE, SHORTEST_SIDE, check_size

__all__ = [
    "BYTES",
    "NAMED",
    "ByteOrder",
    "SampleType",
    "guess_byte_order",
    "propose_sizes",
    "read_raw",
    "sample_of_name",
]

ByteOrder = Literal["little", "big"]
SampleType = Literal["u8", "i8", "u16", "i16", "f32"]
BYTES: dict[SampleType, int] = {"u8": 1, "i8": 1, "u16": 2, "i16": 2, "f32": 4}
NAMED: dict[str, SampleType] = {
    ".r8": "u8",
    ".raw8": "u8",
    ".r16": "u16",
    ".raw16": "u16",
    ".r32": "f32",
    ".raw32": "f32",
    ".f32": "f32",
    ".flt": "f32",
}
"""Endings that say what the samples of a raw file are."""


def sample_of_name(name: str) -> SampleType:
    """What a raw file's ending says about its samples; 16-bit unsigned where it says nothing."""
    return NAMED.get(Path(name).suffix.lower(), "u16")


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


def _plausible(words: NDArray[Any]) -> float:
    """The share of samples that heights could be: finite, and no float that only shuffled bytes make."""
    if words.dtype.kind != "f":
        return 1.0
    with np.errstate(invalid="ignore"):
        size = np.abs(words)
        return float((np.isfinite(words) & ((size == 0) | ((size > 1e-6) & (size < 1e6)))).mean())


def _roughness(words: NDArray[Any]) -> float:
    """Mean step from sample to sample along rows over the spread of all; gaps are left out."""
    with np.errstate(invalid="ignore", over="ignore"):
        values = np.where(np.abs(words.astype(np.float64)) < 1e6, words.astype(np.float64), np.nan)
        steps = np.abs(np.diff(values, axis=1))
    if not np.isfinite(steps).any():
        return math.inf
    spread = float(np.nanmax(values) - np.nanmin(values))
    return float(np.nanmean(steps)) / spread if spread > 0 else 0.0


def guess_byte_order(words: NDArray[Any]) -> tuple[ByteOrder, str]:
    """(the byte order, why in words; empty where both fit and somebody must be asked).

    ``words``: samples of two or four bytes of shape (rows, columns) as read little-endian. Floats are heights in one
    order and, mostly, impossible numbers in the other, gaps or none; else real ground changes little from sample to
    sample, and with its bytes swapped it is noise.
    """
    some = words[:: max(1, words.shape[0] // 256)]
    swapped = some.byteswap()
    here, there = _plausible(some), _plausible(swapped)
    if abs(here - there) > 0.05:
        share = f"{max(here, there):.0%} of the samples can be heights that way, {min(here, there):.0%} the other"
        return ("little" if here > there else "big"), share
    smooth, rough = _roughness(some), _roughness(swapped)
    order: ByteOrder = "little" if smooth <= rough else "big"
    clear = max(smooth, rough) > 1.5 * min(smooth, rough)
    return order, "the other way the ground is noise" if clear else ""


def read_raw(
    path: Path,
    name: str,
    *,
    rows: int | None,
    cols: int | None,
    sample: SampleType | None = None,
    header: int = 0,
    order: ByteOrder | None = None,
) -> tuple[NDArray[Any], SampleType, ByteOrder | None, str | None]:
    """Read headerless samples: (array, sample type, byte order, why that order was guessed, or None).

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
        return words, kind, None, None
    chosen, why = (order, None) if order else guess_byte_order(words)
    if chosen == "big":
        words = words.byteswap()
    return np.ascontiguousarray(words.astype(words.dtype.newbyteorder("="), copy=False)), kind, chosen, why
