"""What reading a heightmap file gives, before it is turned into metres."""

from __future__ import annotations

import struct
import zlib
from dataclasses import dataclass, field
from tokenize import TokenError
from typing import Any, Literal

import numpy as np
import tifffile
from numpy.typing import NDArray

from zigzag_meadow.core.formats.layout import FileFormat, RgbCode
from zigzag_meadow.core.formats.raw import ByteOrder, SampleType

__all__ = ["DECODER_ERRORS", "Placement", "Stored"]

# What decoders raise on damaged input; each becomes one typed error.
DECODER_ERRORS = (
    RuntimeError, ValueError, IndexError, KeyError, TypeError, AttributeError, OverflowError, AssertionError,
    ZeroDivisionError, EOFError, OSError, MemoryError, SyntaxError, TokenError, struct.error, zlib.error,
    tifffile.TiffFileError,
)  # fmt: skip


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
class Stored:
    """A file as it is: samples at stored depth (float32 with NaN where some have no height), and how it was read.

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

    @property
    def order_guessed(self) -> bool:
        return "byte_order" in self.guessed

    @property
    def voids(self) -> int:
        """How many samples have no height."""
        return int(np.isnan(self.samples).sum()) if self.samples.dtype.kind == "f" else 0
