"""Write single maps for the command line: NPY, TIFF (32-bit float), PNG 8 or 16, raw 16."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import tifffile
from numpy.typing import NDArray

from zigzag_meadow.core.errors import WrongFormat
from zigzag_meadow.core.formats.png_stream import PngWriter
from zigzag_meadow.core.rounding import quantise_mask
from zigzag_meadow.core.stripes import Stripes

__all__ = ["write_map"]


def write_map(path: Path, values: NDArray[np.float32], stripes: Stripes) -> str:
    """Write a float32 map of shape (rows, columns); the extension says how. Returns what was written, in words.

    ``.npy`` and ``.tif`` keep the values; ``.png`` is 16-bit grey with 0–1 over the full scale (for masks and
    weights). Raises :class:`WrongFormat` for other extensions, or values outside 0–1 in a PNG.
    """
    suffix = path.suffix.lower()
    if suffix == ".npy":
        np.save(path, values)
        return "NPY, 32-bit float"
    if suffix in (".tif", ".tiff"):
        tifffile.imwrite(path, values, software="", metadata=None)
        return "TIFF, 32-bit float"
    if suffix == ".png":
        if float(values.min()) < 0 or float(values.max()) > 1:
            raise WrongFormat("A PNG holds 0 to 1 here; write readings in their own unit as .tif or .npy.")
        with PngWriter(path, values.shape[0], values.shape[1], 1, 16, stripes) as png:
            png.write(quantise_mask(values, 16))
        return "PNG, 16-bit grey"
    raise WrongFormat(f"{path.name}: write a map as .npy, .tif or .png.")
