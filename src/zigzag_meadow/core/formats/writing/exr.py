"""OpenEXR by its library: half or float, linear light, one channel called Y or R, G, B, A."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.formats.writing.raster import Raster, RowWriter

__all__ = ["ExrWriter"]

NAMES = {1: ("Y",), 2: ("Y", "A"), 3: ("R", "G", "B"), 4: ("R", "G", "B", "A")}


class ExrWriter(RowWriter):
    """Scan lines, packed in blocks of sixteen or not at all."""

    def __init__(self, path: Path, raster: Raster) -> None:
        import Imath  # only here: it is slow to load and few deliveries need it
        import OpenEXR

        super().__init__(path, raster)
        head = OpenEXR.Header(raster.cols, raster.rows)
        kind = Imath.PixelType.HALF if raster.sample == "f16" else Imath.PixelType.FLOAT
        head["channels"] = {name: Imath.Channel(Imath.PixelType(kind)) for name in NAMES[raster.channels]}
        packing = Imath.Compression.ZIP_COMPRESSION if raster.packed else Imath.Compression.NO_COMPRESSION
        head["compression"] = Imath.Compression(packing)
        self._file = OpenEXR.OutputFile(str(path), head)

    def add(self, block: NDArray[Any]) -> None:
        planes = block.reshape(len(block), self.raster.cols, self.raster.channels)
        parts = {
            name: np.ascontiguousarray(planes[..., k]).tobytes() for k, name in enumerate(NAMES[self.raster.channels])
        }
        self._file.writePixels(parts, len(block))

    def finish(self) -> None:
        self._file.close()

    def give_up(self) -> None:
        self._file.close()
