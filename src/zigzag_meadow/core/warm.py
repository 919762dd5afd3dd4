"""Run every kernel once, so that nobody waits for the compiler later (its results are kept on disk)."""

from __future__ import annotations

import tempfile
from pathlib import Path

import numpy as np

from zigzag_meadow.core.formats.png_stream import PngWriter
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.layers.quantise import quantise_weights
from zigzag_meadow.core.layers.sharing import cover
from zigzag_meadow.core.masks import algebra
from zigzag_meadow.core.readings.differences import extended, offsets
from zigzag_meadow.core.readings.flow import flow
from zigzag_meadow.core.readings.shade import shade_padded
from zigzag_meadow.core.readings.slope import slope
from zigzag_meadow.core.resample import resample
from zigzag_meadow.core.stripes import Stripes

__all__ = ["warm_up"]


def warm_up() -> None:
    """Compile all kernels for the types they are called with."""
    stripes = Stripes(1)
    grid = Grid(24, 20, 2.0, 3.0)
    heights = np.random.default_rng(1).random(grid.shape, np.float32) * 40
    # Arrays from the cache are read-only, which is a type of its own to the compiler.
    heights.flags.writeable = False
    for width in (3.0, 4.5):
        slope(heights, grid, width=width, stripes=stripes)
    off = offsets(grid, (2.0, 3.0))
    shade_padded(np.ascontiguousarray(extended(heights, grid.whole, grid.whole.grown(1, 1))), off, stripes)
    flow(heights, grid, stripes)
    for rows, cols in ((40, 40), (12, 10), (40, 10)):
        for how in ("height", "mask", "linear", "nearest"):
            resample(heights, grid, grid.resized(rows, cols), how)
    mask = algebra.band(heights, 10, 20, 2, 3, smooth=True, stripes=stripes)
    algebra.combine(mask, mask, "take", 0.5)
    mask.flags.writeable = False
    algebra.combine(mask, mask, "take", 0.5)
    weights = cover(np.stack([mask, mask]))
    for bits in (8, 16):
        quantise_weights(weights, bits, stripes=stripes)
    weights.flags.writeable = False
    quantise_weights(weights, 8, stripes=stripes)
    with tempfile.TemporaryDirectory() as folder, PngWriter(Path(folder) / "w.png", 24, 20, 1, 8, stripes) as png:
        png.write(np.zeros((24, 20), np.uint8))
