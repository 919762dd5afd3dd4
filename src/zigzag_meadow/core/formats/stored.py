"""What reading a heightmap file gives, before it is turned into metres."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.formats.layout import FileFormat, RgbCode
from zigzag_meadow.core.formats.raw import ByteOrder, SampleType

__all__ = ["Placement", "Remark", "Stored", "narrowed"]


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
