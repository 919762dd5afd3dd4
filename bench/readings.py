"""Readings at 4096² against plain NumPy and SciPy and against a copy by two threads, and limits for the long ones."""

from __future__ import annotations

import time

import numpy as np

from measure import Row, median_ms, ratio
from plain import F32
from plain import aspect as plain_aspect
from plain import profile_curvature as plain_curvature
from plain import relative_height as plain_relative
from zigzag_meadow.core.blur import blur
from zigzag_meadow.core.evaluate.cache import TileCache
from zigzag_meadow.core.evaluate.engine import Engine
from zigzag_meadow.core.formats.reading.png import read_png
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.ground.heights import in_metres
from zigzag_meadow.core.masks.algebra import band
from zigzag_meadow.core.readings.curvature import CURVATURES, curvature_padded
from zigzag_meadow.core.readings.differences import extended, offsets
from zigzag_meadow.core.readings.disc import disc_margin, relative_padded
from zigzag_meadow.core.readings.horizon import horizon_margin, horizon_padded
from zigzag_meadow.core.readings.noise import noise
from zigzag_meadow.core.readings.slope import aspect_padded, slope
from zigzag_meadow.core.resample import resample
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.core.terrain.erosion import erode
from zigzag_meadow.core.terrain.flow import flow
from zigzag_meadow.demo import FOLDER, lantern_moor

SIZE = 4096
RADIUS = 8


def rows() -> list[Row]:
    stripes = Stripes()
    home = Grid(1009, 1009, 4.0, 4.0)
    moor = in_metres(read_png(FOLDER / "lantern_moor.png", "lantern_moor.png"), 38, 458)
    big = home.resized(SIZE, SIZE)
    z = resample(moor, home, big)
    return [
        *_ratios(stripes, big, z),
        *_copies(stripes, big, z),
        *_long(stripes, big, z),
        *_erosion(home, moor),
        *_first(),
    ]


def _ratios(stripes: Stripes, big: Grid, z: F32) -> list[Row]:
    out = np.empty_like(z)
    off = offsets(big, big.dx)
    padded = extended(z, big.whole, big.whole.grown(*off.margin))
    inner = slice(2, -2), slice(2, -2)
    ours = aspect_padded(padded, off, stripes)
    turned = (ours - plain_aspect(z, big.dy, big.dx) + 180) % 360 - 180
    assert np.nanpercentile(np.abs(turned), 99.9) < 0.1
    bent = curvature_padded(padded, off, "profile", stripes)[inner]
    assert np.percentile(np.abs(bent - plain_curvature(z, big.dy, big.dx)[inner]), 99) < 1e-3
    radius = RADIUS * big.dx
    wide = extended(z, big.whole, big.whole.grown(*disc_margin(big, radius)))
    return [
        ratio(
            "aspect at 4096²",
            lambda: aspect_padded(padded, off, stripes, out=out),
            lambda: plain_aspect(z, big.dy, big.dx),
            15,
        ),
        ratio(
            "profile curvature at 4096²",
            lambda: curvature_padded(padded, off, "profile", stripes, out=out),
            lambda: plain_curvature(z, big.dy, big.dx),
            15,
        ),
        ratio(
            f"relative height over {RADIUS} samples at 4096²",
            lambda: relative_padded(wide, big, radius, stripes),
            lambda: plain_relative(z, RADIUS),
            15,
        ),
    ]


def _copies(stripes: Stripes, big: Grid, z: F32) -> list[Row]:
    """Local kernels as multiples of a copy by two threads into what is there: the least that any of them can take."""
    out = np.empty_like(z)
    off = offsets(big, big.dx)
    padded = extended(z, big.whole, big.whole.grown(*off.margin))
    copy = median_ms(lambda: stripes.run(*z.shape, lambda i, j: np.copyto(out[i:j], z[i:j])), 15)
    kernels = {
        "slope": lambda: slope(z, big, stripes=stripes, out=out),
        "aspect": lambda: aspect_padded(padded, off, stripes, out=out),
        **{
            f"{kind} curvature": lambda kind=kind: curvature_padded(padded, off, kind, stripes, out=out)
            for kind in CURVATURES
        },
        "band": lambda: band(z, 25, 40, 6, 8, stripes=stripes, out=out),
    }
    rows = [Row("a copy of 4096² float32 by two threads, beside", f"{copy:.1f} ms", "", True)]
    for name, work in kernels.items():
        times = median_ms(work, 9) / copy
        rows.append(Row(f"{name} at 4096²", f"{times:.2f} copies", "<= 2.5 copies", times <= 2.5))
    return rows


def _limit(what: str, taken_ms: float, limit_ms: float) -> Row:
    return Row(what, f"{taken_ms:.0f} ms", f"<= {limit_ms:.0f} ms", taken_ms <= limit_ms)


def _long(stripes: Stripes, big: Grid, z: F32) -> list[Row]:
    out = np.empty_like(z)
    radius = 64 * big.dx
    small = z[:1009, :1009].copy()
    margin = horizon_margin(big, radius)
    around = np.pad(z, [(m, m) for m in margin], constant_values=-np.inf)
    found = [
        _limit(
            "occlusion, 16 directions × 32 samples, at 4096²",
            median_ms(lambda: horizon_padded(around, big, radius, "occlusion", stripes, out=out), 3),
            1200,
        ),
        _limit("fill + D8 + accumulation at 4096²", median_ms(lambda: flow(z, big, stripes), 1), 6000),
        _limit(
            "noise of six octaves at 4096²",
            median_ms(
                lambda: noise(big, big.whole, kind="gradient", size=200, octaves=6, seed=1, stripes=stripes, out=out),
                3,
            ),
            1200,
        ),
        _limit(
            "cellular noise of six octaves at 4096²",
            median_ms(
                lambda: noise(big, big.whole, kind="cellular", size=200, octaves=6, seed=1, stripes=stripes, out=out),
                3,
            ),
            2000,
        ),
        _limit(
            "heights raised from 1009² to 4096²",
            median_ms(lambda: resample(small, big.resized(*small.shape), big, stripes=stripes), 3),
            600,
        ),
    ]
    copy = median_ms(z.copy, 5)
    for samples in (2, 30, 300):
        taken = median_ms(lambda s=samples: blur(z, big, s * big.dx, stripes), 3)  # type: ignore[misc]
        text = f"{taken / copy:.1f}x a copy ({taken:.0f} ms)"
        found.append(Row(f"blur over {samples} samples at 4096²", text, "<= 15x", taken <= 15 * copy))
    return found


def _erosion(home: Grid, moor: F32) -> list[Row]:
    grid = home.resized(1024, 1024)
    ground = resample(moor, home, grid)
    run = erode(ground, grid, rain=0.2, strength=0.5, seed=1)
    balance = Row("earth lost or made in an erosion run", f"{run.error:.1e}", "<= 0.1 %", run.error <= 1e-3)
    taken = median_ms(lambda: erode(ground, grid, rain=0.2, strength=0.5, seed=1), 2)
    return [_limit("erosion run at 1024²", taken, 6000), balance]


def _first() -> list[Row]:
    """What an artist waits for: the first picture of an erosion run, of a project just opened."""
    engine = Engine(Stripes(), TileCache(), lambda _: FOLDER / "lantern_moor.png")
    start = time.perf_counter()
    draft = engine.evaluation(lantern_moor(), draft=True)
    draft.map("reading:scour", draft.home)
    return [_limit("first picture of an erosion run", (time.perf_counter() - start) * 1000, 1000)]
