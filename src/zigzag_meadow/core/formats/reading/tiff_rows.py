"""A TIFF read some rows at a time: by strips, or by rows of tiles."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from types import TracebackType
from typing import Any, Self

import numpy as np
import tifffile
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadFile
from zigzag_meadow.core.formats.limits import check_bytes, check_size
from zigzag_meadow.core.formats.reading.decoding import decoding

__all__ = ["TiffRows"]


class TiffRows:
    """Rows of the first picture of a TIFF, as they are stored. Use as a context manager.

    ``by_rows`` is false where channels lie one after the other or the picture is no plain one: then it has to be read
    whole. Raises :class:`BadFile` when it is damaged or cut.
    """

    def __init__(self, path: Path, name: str) -> None:
        size = path.stat().st_size
        check_bytes(size, name)
        self._name = name
        with decoding(name, "TIFF"):
            self._tiff = tifffile.TiffFile(path)
        try:
            with decoding(name, "TIFF"):
                page = self._tiff.pages[0]
                if not isinstance(page, tifffile.TiffPage):
                    raise BadFile(f"{name} is damaged: its first image cannot be found.")
                self.rows, self.cols, self.channels = page.imagelength, page.imagewidth, page.samplesperpixel
                self.dtype = np.dtype(page.dtype) if page.dtype is not None else np.dtype(np.void)
                check_size(self.rows, self.cols, name)
                ends = [a + n for a, n in zip(page.dataoffsets, page.databytecounts, strict=True)]
                if max(ends, default=0) > size:
                    raise BadFile(f"{name} is cut short: the file ends before the picture does. Copy it again.")
                plain = page.planarconfig == 1 or self.channels == 1
                self.by_rows = plain and page.imagedepth == 1 and self.dtype.kind in "uif"
        except BaseException:
            self._tiff.close()
            raise
        self._bands = self._decoded(page)
        self._held = np.empty((0, self.cols, self.channels), self.dtype)

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self._tiff.close()

    def _decoded(self, page: tifffile.TiffPage) -> Iterator[NDArray[Any]]:
        """Rows of strips or tiles, one after the other."""
        band, first = None, 0
        for data, index, shape in page.segments(maxworkers=1):
            row, col = index[2], index[3]
            rows, cols = min(shape[1], self.rows - row), min(shape[2], self.cols - col)
            if band is not None and row != first:
                yield band
                band = None
            if band is None:
                band, first = np.zeros((rows, self.cols, self.channels), self.dtype), row
            if data is not None:
                band[:, col : col + cols] = data[0, :rows, :cols]
        if band is not None:
            yield band

    def read(self, rows: int) -> NDArray[Any]:
        """The next rows: (rows, columns, channels)."""
        parts, many = [self._held], len(self._held)
        with decoding(self._name, "TIFF"):
            while many < rows:
                band = next(self._bands, None)
                if band is None:
                    raise BadFile(f"{self._name} is cut short: the file ends before the picture does. Copy it again.")
                parts.append(band)
                many += len(band)
        whole = np.concatenate(parts) if len(parts) > 1 else parts[0]
        self._held = whole[rows:]
        return whole[:rows]
