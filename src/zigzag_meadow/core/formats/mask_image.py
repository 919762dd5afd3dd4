"""A mask as an image to paint in: grey PNG of 8 or 16 bits, or a 16-bit TIFF."""

from __future__ import annotations

from pathlib import Path
from typing import Literal

import numpy as np
import tifffile
from numpy.typing import NDArray

from zigzag_meadow.core.formats.png_stream import PngWriter
from zigzag_meadow.core.rounding import quantise_mask
from zigzag_meadow.core.stripes import Stripes

__all__ = ["MASK_FORMS", "MaskForm", "write_mask_image"]

MaskForm = Literal["png8", "png16", "tiff"]
MASK_FORMS: dict[MaskForm, tuple[str, str]] = {
    "png8": ("png", "image/png"), "png16": ("png", "image/png"), "tiff": ("tif", "image/tiff"),
}  # fmt: skip
"""Per form: the ending of its files and their media type."""


def write_mask_image(path: Path, mask: NDArray[np.float32], form: MaskForm, stripes: Stripes) -> None:
    """Write a mask (float32, 0–1, rows × columns)."""
    samples = quantise_mask(mask, 8 if form == "png8" else 16)
    if form == "tiff":
        tifffile.imwrite(path, samples, software="", metadata=None)
        return
    rows, cols = samples.shape
    with PngWriter(path, rows, cols, 1, samples.dtype.itemsize * 8, stripes) as png:
        png.write(samples)
