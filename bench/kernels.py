"""Kernels against plain NumPy at 4096², and flow at 1024²."""

from __future__ import annotations

import numpy as np

from measure import Row, median_ms, ratio
from plain import F32
from plain import band as plain_band
from plain import shares as plain_shares
from plain import slope as plain_slope
from zigzag_meadow.core.formats.reading.png import read_png
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.ground.heights import in_metres
from zigzag_meadow.core.layers.sharing import cover
from zigzag_meadow.core.masks.algebra import band
from zigzag_meadow.core.readings.slope import slope
from zigzag_meadow.core.resample import resample
from zigzag_meadow.core.rounding import quantise_weights
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.core.terrain.flow import flow
from zigzag_meadow.demo import FOLDER

SIZE = 4096


def rows() -> list[Row]:
    stripes = Stripes()
    home = Grid(1009, 1009, 4.0, 4.0)
    moor = in_metres(read_png(FOLDER / "lantern_moor.png", "lantern_moor.png"), 38, 458)
    return [*_local(stripes, home, moor), _weights(stripes), _flow(stripes, home, moor)]


def _local(stripes: Stripes, home: Grid, moor: F32) -> list[Row]:
    big = home.resized(SIZE, SIZE)
    z = resample(moor, home, big)
    out = np.empty_like(z)
    degrees = slope(z, big, stripes=stripes)
    assert np.abs(degrees - plain_slope(z, big.dy, big.dx)).max() < 0.01
    return [
        ratio(
            "slope at 4096²",
            lambda: slope(z, big, stripes=stripes, out=out),
            lambda: plain_slope(z, big.dy, big.dx),
            15,
        ),
        ratio(
            "soft band at 4096²",
            lambda: band(degrees, 25, 40, 6, 8, stripes=stripes, out=out),
            lambda: plain_band(degrees, 25, 40, 6, 8),
            15,
        ),
    ]


def _weights(stripes: Stripes) -> Row:
    weights = cover(np.random.default_rng(1).random((5, SIZE // 2, SIZE // 2), np.float32))
    whole = np.empty(weights.shape, np.uint8)
    assert (quantise_weights(weights, 8, stripes=stripes) == plain_shares(weights)).all()
    return ratio(
        "six weights to exact bytes at 2048²",
        lambda: quantise_weights(weights, 8, stripes=stripes, out=whole),
        lambda: plain_shares(weights),
        15,
    )


def _flow(stripes: Stripes, home: Grid, moor: F32) -> Row:
    grid = home.resized(1024, 1024)
    ground = resample(moor, home, grid)
    taken = median_ms(lambda: flow(ground, grid, stripes))
    return Row("fill + D8 + accumulation at 1024²", f"{taken:.0f} ms", "<= 300 ms", taken <= 300)
