"""ASCII grids: a few lines of header, then every row as text."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import orjson
from numpy.typing import NDArray

from zigzag_meadow.core.formats.writing.raster import Raster, RowWriter

__all__ = ["AscWriter"]

_NONE = -9999


class AscWriter(RowWriter):
    """Numbers with as many digits as tell their 32 bits apart; rows from the north, cells or points."""

    def __init__(self, path: Path, raster: Raster) -> None:
        super().__init__(path, raster)
        dy, dx = raster.spacing
        east, north = raster.south_west
        place = "center" if raster.vertex else "corner"
        lines = [f"ncols {raster.cols}", f"nrows {raster.rows}", f"xll{place} {east!r}", f"yll{place} {north!r}"]
        lines += [f"cellsize {dx!r}"] if dx == dy else [f"dx {dx!r}", f"dy {dy!r}"]
        self._file = path.open("wb")
        self._file.write(("\n".join(lines) + f"\nNODATA_value {_NONE}\n").encode("ascii"))

    def add(self, block: NDArray[Any]) -> None:
        for row in block.reshape(len(block), -1):
            known = np.where(np.isnan(row), np.float32(_NONE), row).astype(np.float32, copy=False)
            text = orjson.dumps(known, option=orjson.OPT_SERIALIZE_NUMPY)
            self._file.write(text[1:-1].replace(b",", b" ") + b"\n")

    def finish(self) -> None:
        self._file.close()

    def give_up(self) -> None:
        self._file.close()
