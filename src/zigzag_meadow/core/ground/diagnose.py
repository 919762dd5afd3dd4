"""Look at a heightmap file before it becomes a ground: what it is and how it was understood."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadFile
from zigzag_meadow.core.formats.header import read_header, with_header
from zigzag_meadow.core.formats.layout import FileFormat, Layout, RgbCode
from zigzag_meadow.core.formats.names import safe_file_name
from zigzag_meadow.core.formats.raw import ByteOrder, SampleType, propose_sizes
from zigzag_meadow.core.formats.read import read_stored
from zigzag_meadow.core.formats.stored import Placement, Stored
from zigzag_meadow.core.ground.findings import HIGHEST

__all__ = ["Inspection", "Oddity", "inspect_file"]

MANY_LEVELS = 2**20
"""More different heights than this are not told apart: no stair is so fine."""


@dataclass(frozen=True, slots=True)
class Oddity:
    """One thing found: a stable code, how much it matters, and a sentence."""

    code: str
    severity: Literal["note", "attention"]
    message: str


@dataclass(frozen=True, slots=True)
class Inspection:
    """What a heightmap file holds. Low and high are stored values; ``placement`` is what it says of the world."""

    name: str
    format: FileFormat
    rows: int
    columns: int
    depth: str
    byte_order: ByteOrder | None
    sample: SampleType | None
    header: int
    channel: str | None
    channels: tuple[str, ...]
    code: RgbCode | None
    nodata: float | None
    voids: int
    placement: Placement | None
    low: float
    high: float
    levels: int
    sizes: tuple[tuple[int, int], ...]
    findings: tuple[Oddity, ...]


def _levels(samples: NDArray[Any]) -> int:
    """How many different heights there are; counted no further than :data:`MANY_LEVELS`."""
    if samples.dtype == np.uint8 or samples.dtype == np.uint16:
        return int(np.count_nonzero(np.bincount(samples.ravel(), minlength=2)))
    levels = np.empty(0, samples.dtype)
    for at in range(0, len(samples), 256):
        block = samples[at : at + 256]
        levels = np.unique(np.concatenate([levels, np.unique(block[np.isfinite(block)])]))
        if levels.size > MANY_LEVELS:
            break
    return int(min(levels.size, MANY_LEVELS))


def _guesses(stored: Stored) -> list[Oddity]:
    oddities = []
    if "byte_order" in stored.guessed:
        if stored.order_because:
            text = f"The byte order was guessed as {stored.byte_order} endian: {stored.order_because}."
            oddities.append(Oddity("byte-order-guessed", "note", text))
        else:
            text = (
                f"The byte order could be either; {stored.byte_order} endian was taken. Look at the ground, and choose "
                "the other if it is noise."
            )
            oddities.append(Oddity("byte-order-unclear", "attention", text))
    if "channel" in stored.guessed:
        others = ", ".join(stored.channels)
        text = f"Heights are taken from the channel {stored.channel}. There are: {others}."
        oddities.append(Oddity("channel-guessed", "note", text))
    if "code" in stored.guessed:
        way = "tenths of a metre" if stored.code == "tenths" else "metres and 256ths"
        oddities.append(Oddity("code-guessed", "note", f"Its colours look like heights in three bytes, in {way}."))
    return oddities


def _oddities(stored: Stored, levels: int) -> list[Oddity]:
    samples = stored.samples
    oddities = _guesses(stored) + [Oddity(r.code, r.severity, r.message) for r in stored.remarks]
    if stored.voids:
        share = stored.voids / samples.size
        text = f"{stored.voids} samples ({share:.2%}) have no height. Fill them as a first step of preparation."
        oddities.append(Oddity("voids", "attention", text))
    if stored.depth in ("1", "2", "4", "8"):
        text = f"Heights have {stored.depth} bits: slopes will show stair steps. Un-terrace takes them out."
        oddities.append(Oddity("eight-bit", "attention", text))
    elif levels <= 256:
        text = f"Only {levels} different heights are used: 8-bit heights in a {stored.depth}-bit file."
        oddities.append(Oddity("few-levels", "attention", text))
    if float(np.nanmax(samples)) > HIGHEST or float(np.nanmin(samples)) < -HIGHEST:
        text = (
            f"It reaches from {np.nanmin(samples):.3g} to {np.nanmax(samples):.3g}: no ground does. Such numbers often "
            "mark missing samples: say which value stands for no height, or another sample type."
        )
        oddities.append(Oddity("impossible-heights", "attention", text))
    for code, edge, word in (
        ("flat-top", np.nanmax(samples), "highest"),
        ("flat-bottom", np.nanmin(samples), "lowest"),
    ):
        share = float((samples == edge).mean())
        if share > 0.005:
            text = f"{share:.1%} of the samples are at the {word} value: level ground, or cut off."
            oddities.append(Oddity(code, "note", text))
    return oddities


def inspect_file(
    path: Path, name: str | None = None, layout: Layout | None = None, header: Path | None = None
) -> Inspection:
    """Read a heightmap file and say what it is; ``header``: a header file that lies beside raw heights.

    Raises what :func:`read_stored` and :func:`read_header` raise.
    """
    shown = safe_file_name(name if name is not None else path.name)
    beside = None if header is None else read_header(header, safe_file_name(f"{Path(shown).stem}.hdr"))
    layout = layout if beside is None else with_header(layout or Layout(), beside)
    stored = read_stored(path, shown, layout)
    low, high = np.nanmin(stored.samples), np.nanmax(stored.samples)
    if low == high:
        raise BadFile(f"{shown} has the same height everywhere ({low}). Check that it was exported with its relief.")
    samples = stored.samples
    levels = _levels(samples)
    sizes: tuple[tuple[int, int], ...] = ()
    if stored.format == "raw":
        sizes = tuple(propose_sizes(path.stat().st_size, stored.sample or "u16", stored.header))
    return Inspection(
        name=shown,
        format=stored.format,
        rows=samples.shape[0],
        columns=samples.shape[1],
        depth=stored.depth,
        byte_order=stored.byte_order,
        sample=stored.sample,
        header=stored.header,
        channel=stored.channel,
        channels=stored.channels,
        code=stored.code,
        nodata=stored.nodata,
        voids=stored.voids,
        placement=stored.placement if beside is None else beside.placement,
        low=float(np.nanmin(samples)),
        high=float(np.nanmax(samples)),
        levels=levels,
        sizes=sizes,
        findings=tuple(_oddities(stored, levels)),
    )
