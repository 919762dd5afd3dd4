"""Look at a heightmap file before it becomes a ground: what it is and what is odd about it."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.formats.names import safe_file_name
from zigzag_meadow.core.formats.raw import ByteOrder, propose_sizes
from zigzag_meadow.core.formats.read import Stored, read_stored

__all__ = ["Inspection", "Oddity", "inspect_file"]


@dataclass(frozen=True, slots=True)
class Oddity:
    """One thing found: a stable code, how much it matters, and a sentence."""

    code: str
    severity: Literal["note", "attention"]
    message: str


@dataclass(frozen=True, slots=True)
class Inspection:
    """What a heightmap file holds. ``depth`` is 8, 16 or 32f; low and high are stored values."""

    name: str
    format: str
    rows: int
    columns: int
    depth: str
    byte_order: ByteOrder | None
    low: float
    high: float
    levels: int
    sizes: tuple[tuple[int, int], ...]
    findings: tuple[Oddity, ...]


def _levels(samples: NDArray[Any]) -> int:
    if samples.dtype == np.uint8 or samples.dtype == np.uint16:
        return int(np.count_nonzero(np.bincount(samples.ravel(), minlength=2)))
    return int(np.unique(samples).size)


def _oddities(stored: Stored, levels: int) -> list[Oddity]:
    samples = stored.samples
    found = []
    if stored.order_guessed:
        found.append(
            Oddity(
                "byte-order-guessed",
                "note",
                f"The byte order was guessed as {stored.byte_order} endian: the other way the ground is noise.",
            )
        )
    if stored.depth == "8":
        found.append(
            Oddity(
                "eight-bit",
                "attention",
                "Heights have 8 bits: slopes will show stair steps. Use 16 if you can.",
            )
        )
    elif levels <= 256:
        found.append(
            Oddity(
                "few-levels",
                "attention",
                f"Only {levels} different heights are used: 8-bit heights in a {stored.depth}-bit file.",
            )
        )
    for code, edge, word in (
        ("flat-top", samples.max(), "highest"),
        ("flat-bottom", samples.min(), "lowest"),
    ):
        share = float((samples == edge).mean())
        if share > 0.005:
            found.append(
                Oddity(
                    code,
                    "note",
                    f"{share:.1%} of the samples are at the {word} value: level ground, or cut off.",
                )
            )
    return found


def inspect_file(
    path: Path,
    name: str | None = None,
    *,
    rows: int | None = None,
    cols: int | None = None,
    byte_order: ByteOrder | None = None,
) -> Inspection:
    """Read a heightmap file and say what it is. Raises what :func:`read_stored` raises."""
    shown = safe_file_name(name if name is not None else path.name)
    stored = read_stored(path, shown, rows=rows, cols=cols, byte_order=byte_order)
    samples = stored.samples
    levels = _levels(samples)
    sizes = tuple(propose_sizes(path.stat().st_size)) if stored.format == "raw16" else ()
    return Inspection(
        name=shown,
        format=stored.format,
        rows=samples.shape[0],
        columns=samples.shape[1],
        depth=stored.depth,
        byte_order=stored.byte_order,
        low=float(samples.min()),
        high=float(samples.max()),
        levels=levels,
        sizes=sizes,
        findings=tuple(_oddities(stored, levels)),
    )
