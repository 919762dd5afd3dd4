"""What reading a heightmap file gives, before it is turned into metres."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadFile
from zigzag_meadow.core.formats.layout import FileFormat, RgbCode
from zigzag_meadow.core.formats.raw import ByteOrder, SampleType

__all__ = ["Placement", "Remark", "Stored", "finished", "narrowed"]


def narrowed(samples: NDArray[Any]) -> NDArray[Any]:
    """Floats (any shape) as float32 where that keeps every digit, else as float64."""
    if samples.dtype.itemsize <= 4:
        return samples.astype(np.float32, copy=False)
    wide: NDArray[np.float64] = samples.astype(np.float64, copy=False)
    with np.errstate(over="ignore", invalid="ignore"):
        narrow = wide.astype(np.float32)
    same = all(np.array_equal(narrow[k : k + 256], wide[k : k + 256], equal_nan=True) for k in range(0, len(wide), 256))
    return narrow if same else wide


@dataclass(frozen=True, slots=True)
class Placement:
    """What a file says about the real world: metres between samples, and where that came from.

    ``metres``: whether its samples are heights in metres. ``registration``: whether samples are points or cells.
    """

    spacing_y: float
    spacing_x: float
    registration: Literal["vertex", "area"]
    metres: bool
    says: str


@dataclass(frozen=True, slots=True)
class Remark:
    """Something to tell of how a file was read: a stable code, how much it matters, and a sentence."""

    code: str
    severity: Literal["note", "attention"]
    message: str


@dataclass(frozen=True, slots=True)
class Stored:
    """A file as it is: samples at stored depth (floats with NaN where some have no height), and how it was read.

    Floats are float32 where that holds them exactly, else float64: high ground has digits that 32 bits would lose.

    ``channels``: names to choose from, where there are several. ``guessed``: what was not said but guessed.
    """

    samples: NDArray[Any]
    format: FileFormat
    depth: str
    byte_order: ByteOrder | None = None
    sample: SampleType | None = None
    header: int = 0
    channel: str | None = None
    channels: tuple[str, ...] = ()
    code: RgbCode | None = None
    nodata: float | None = None
    placement: Placement | None = None
    guessed: tuple[str, ...] = field(default=())
    order_because: str = ""
    """Why the byte order was guessed so; empty where either fits."""
    remarks: tuple[Remark, ...] = ()
    scale: tuple[float, float] | None = None
    """By how much the file says that its numbers are to be multiplied, and what is to be added then; done already."""

    @property
    def order_guessed(self) -> bool:
        return "byte_order" in self.guessed

    @property
    def voids(self) -> int:
        """How many samples have no height."""
        return int(np.isnan(self.samples).sum()) if self.samples.dtype.kind == "f" else 0


def finished(stored: Stored, nodata: float | None, name: str) -> Stored:
    """A file as it is meant: gaps as NaN, samples by the scale that the file asks for. ``nodata``: what a person said
    stands for no height; None: as the file says.

    Raises :class:`BadFile` when nothing is left to stand on, or the scale makes no numbers.
    """
    return _scaled(_with_voids(stored, stored.nodata if nodata is None else nodata, name), name)


def _scaled(stored: Stored, name: str) -> Stored:
    """Samples by the scale and offset that the file asks for; after gaps, which are told in its own numbers."""
    if stored.scale is None:
        return stored
    scale, offset = stored.scale
    samples = narrowed(stored.samples.astype(np.float64) * scale + offset)
    if not np.isfinite(samples[~np.isnan(stored.samples)] if stored.samples.dtype.kind == "f" else samples).all():
        raise BadFile(f"{name} asks for a scale of {scale:g}: its heights would be no numbers any more.")
    text = f"As its tags say, its numbers are taken × {scale:g}{f' + {offset:g}' if offset else ''}."
    return replace(stored, samples=samples, remarks=(*stored.remarks, Remark("scaled", "note", text)))


def _with_voids(stored: Stored, nodata: float | None, name: str) -> Stored:
    """Samples that stand for no height become NaN. Raises :class:`BadFile` when nothing is left to stand on."""
    samples = stored.samples
    gone = 0
    if samples.dtype.kind != "f" and nodata is not None and bool((samples == nodata).any()):
        samples = samples.astype(np.float32)
    if samples.dtype.kind == "f":
        samples = samples if samples.flags.writeable else samples.copy()
        # Row by row: no mask of the whole is held beside it.
        for row in samples:
            void = ~np.isfinite(row)
            if nodata is not None:
                with np.errstate(over="ignore"):
                    void |= row == row.dtype.type(nodata)
            row[void] = np.nan
            gone += int(void.sum())
    if gone == samples.size:
        raise BadFile(f"{name} has no sample with a height: all are marked as missing or are not numbers.")
    return replace(stored, samples=samples, nodata=nodata)
