"""What a picture to be written is like, and what every writer of rows does alike."""

from __future__ import annotations

from abc import ABC, abstractmethod
from dataclasses import dataclass
from pathlib import Path
from types import TracebackType
from typing import TYPE_CHECKING, Any, Literal, Self

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.formats.raw import ByteOrder

if TYPE_CHECKING:
    from zigzag_meadow.core.formats.reading.georeference import GeoReference

__all__ = ["DTYPES", "Raster", "RowWriter", "SampleKind"]

SampleKind = Literal["u8", "u16", "f16", "f32"]
DTYPES: dict[SampleKind, Any] = {"u8": np.uint8, "u16": np.uint16, "f16": np.float16, "f32": np.float32}


@dataclass(frozen=True, slots=True)
class Raster:
    """A picture that will come row by row.

    ``srgb``: its colours are coded as sRGB. ``alpha``: a fourth channel counts as straight alpha where it is read; else
    nothing is said of it.
    ``packed``: compressed where the format can. ``tile``: side of the tiles inside the file, 0 for strips.
    ``spacing``: metres (y, x) between samples; ``south_west``: metres (east, north) of the south-west corner of its
    extent; ``vertex``: samples are points and the outermost lie on the border. ``nodata``: what stands for no height.
    """

    rows: int
    cols: int
    channels: int
    sample: SampleKind
    srgb: bool = False
    alpha: bool = False
    order: ByteOrder = "little"
    packed: bool = True
    tile: int = 0
    spacing: tuple[float, float] = (1.0, 1.0)
    south_west: tuple[float, float] = (0.0, 0.0)
    vertex: bool = True
    geo: GeoReference | None = None

    @property
    def bits(self) -> int:
        return int(np.dtype(DTYPES[self.sample]).itemsize * 8)

    @property
    def bytes(self) -> int:
        """What its samples need without any packing."""
        return self.rows * self.cols * self.channels * self.bits // 8


class RowWriter(ABC):
    """Takes a picture some rows at a time, from the first of the file to its last; use as a context manager.

    Raises :class:`BadNumber` for blocks of another width, depth or number of channels, and when rows are missing at
    the end.
    """

    def __init__(self, path: Path, raster: Raster) -> None:
        self.path, self.raster, self.row = path, raster, 0

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        if kind is None:
            self.close()
        else:
            self.give_up()

    def write(self, block: NDArray[Any]) -> None:
        """Add rows of shape (n, columns) or (n, columns, channels) in the raster's own type."""
        raster, wanted = self.raster, np.dtype(DTYPES[self.raster.sample])
        channels = 1 if block.ndim == 2 else block.shape[2]
        fits = block.shape[1] == raster.cols and channels == raster.channels
        if block.dtype != wanted or not fits or self.row + len(block) > raster.rows:
            raise BadNumber(
                f"{self.path.name}: rows must be {raster.cols} × {raster.channels} of {wanted.name}, {raster.rows} in "
                f"all, got {block.shape} of {block.dtype.name} after {self.row}."
            )
        self.add(block)
        self.row += len(block)

    def close(self) -> None:
        """Finish the file."""
        if self.row != self.raster.rows:
            self.give_up()
            raise BadNumber(f"{self.path.name} needs {self.raster.rows} rows, got {self.row}.")
        self.finish()

    @abstractmethod
    def add(self, block: NDArray[Any]) -> None:
        """Take rows that were checked."""

    @abstractmethod
    def finish(self) -> None:
        """Write what is left and let the file go."""

    @abstractmethod
    def give_up(self) -> None:
        """Let the file go as it is; whoever asked for it throws it away."""
