"""An open file as rows, and what a witness of a format is."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from types import TracebackType
from typing import Any, Protocol, Self

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.targets.note import FileNote

__all__ = ["ByPart", "Pixels", "Rows", "Whole", "Witness"]

Pixels = NDArray[Any]


class Rows(Protocol):
    """An open file: its size, and its rows in its own order. ``dtype`` in the byte order of this machine."""

    rows: int
    cols: int
    channels: int
    dtype: np.dtype[Any]

    def __enter__(self) -> Self: ...

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None: ...

    def read(self, rows: int) -> Pixels:
        """The next rows (rows, columns, channels)."""
        ...


class Whole:
    """Rows of what its format gives only as a whole."""

    def __init__(self, pixels: Pixels) -> None:
        self._pixels = pixels if pixels.ndim == 3 else pixels[:, :, None]
        self.rows, self.cols, self.channels = self._pixels.shape
        self.dtype = self._pixels.dtype.newbyteorder("=")
        self._at = 0

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        return None

    def read(self, rows: int) -> Pixels:
        part = self._pixels[self._at : self._at + rows].astype(self.dtype, copy=False)
        self._at += rows
        return part


class ByPart(Whole):
    """Rows by a function of the first and the end row, for what is open as a file."""

    def __init__(
        self, shape: tuple[int, int, int], dtype: Any, part: Callable[[int, int], Pixels], close: Callable[[], None]
    ) -> None:
        self.rows, self.cols, self.channels = shape
        self.dtype = np.dtype(dtype).newbyteorder("=")
        self._part, self._close, self._at = part, close, 0

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self._close()

    def read(self, rows: int) -> Pixels:
        made = self._part(self._at, self._at + rows)
        self._at += rows
        return made.astype(self.dtype, copy=False)


def _no_tags(path: Path, file: FileNote) -> list[str]:
    return []


@dataclass(frozen=True, slots=True)
class Witness:
    """A reader of what was delivered in a format, that shares nothing with what wrote it.

    ``open``: a file, ready to be read row by row; both it and reading raise :class:`BadFile`. ``tags``: what a file
    says of its colours.
    """

    open: Callable[[Path, FileNote], Rows]
    tags: Callable[[Path, FileNote], list[str]] = _no_tags
