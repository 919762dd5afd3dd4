"""How the bytes of a heightmap file are to be understood, where the file does not say so itself."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from zigzag_meadow.core.formats.raw import ByteOrder, SampleType

__all__ = ["FileFormat", "Layout", "RgbCode", "SampleType"]

FileFormat = str
"""The id of a format of the register."""
RgbCode = Literal["tenths", "metres256"]
"""Heights in three bytes. *tenths*: −10000 + 0.1·(65536R + 256G + B) m; *metres256*: 256R + G + B/256 − 32768 m."""


@dataclass(frozen=True, slots=True)
class Layout:
    """What a person said about a file; None: as the file says, or as guessed.

    ``header``: bytes to skip in a raw file. ``channel``: of an image with several. ``nodata``: a stored value that
    stands for no height.
    """

    rows: int | None = None
    cols: int | None = None
    byte_order: ByteOrder | None = None
    header: int = 0
    sample: SampleType | None = None
    channel: str | None = None
    code: RgbCode | None = None
    nodata: float | None = None
