"""Make the demo heightmaps: deterministic, made up, with real erosion so that flow and slope look like land.

Run ``python demo/make_terrain.py`` to write them again next to this script; they are committed, since a minute of
erosion is no part of set-up.
"""

from __future__ import annotations

from pathlib import Path

import numpy as np
from numba import njit
from numpy.typing import NDArray
from scipy import ndimage

from zigzag_meadow.core.formats.writing.png_stream import PngWriter
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.readings.flow import accumulate, directions
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.core.terrain.filling import fill_depressions

HERE = Path(__file__).parent
F64 = NDArray[np.float64]


def noise(shape: tuple[int, int], size: float, seed: int) -> F64:
    """Smooth noise of about ``size`` samples, mean 0 and deviation 1."""
    rng = np.random.default_rng(seed)
    margin = int(4 * size)
    raw = rng.standard_normal((shape[0] // max(int(size / 4), 1) + 40, shape[1] // max(int(size / 4), 1) + 40))
    soft = ndimage.gaussian_filter(raw, 2.2, mode="wrap")
    zoom = max(int(size / 4), 1)
    big = ndimage.zoom(soft, zoom, order=3)[margin // 8 : margin // 8 + shape[0], margin // 8 : margin // 8 + shape[1]]
    return (big - big.mean()) / big.std()


def layered(shape: tuple[int, int], largest: float, octaves: int, seed: int, roughness: float = 0.52) -> F64:
    out = np.zeros(shape)
    for k in range(octaves):
        out += roughness**k * noise(shape, max(largest / 2**k, 4), seed + k)
    return out


_DR = np.array([-1, -1, 0, 1, 1, 1, 0, -1])
_DC = np.array([0, 1, 1, 1, 0, -1, -1, -1])


@njit(cache=True)
def _cut_down(z: F64, order: NDArray[np.int64], code: NDArray[np.int8], k: F64, spacing: float) -> None:
    """One implicit step of stream-power erosion, downstream samples first (Braun & Willett 2013)."""
    cols = z.shape[1]
    for index in order:
        r, c = index // cols, index % cols
        way = code[r, c]
        if way < 0:
            continue
        i, j = r + _DR[way], c + _DC[way]
        distance = spacing * (1.0 if way % 2 == 0 else 1.4142135623730951)
        f = k[r, c] / distance
        if z[r, c] > z[i, j]:
            z[r, c] = (z[r, c] + f * z[i, j]) / (1 + f)


def erode(z: F64, spacing: float, steps: int, strength: float, hardness: F64, creep: float) -> F64:
    """Rivers cut by drained area, hill slopes creep, steep faces slump."""
    grid = Grid(z.shape[0], z.shape[1], spacing, spacing)
    for step in range(steps):
        filled = fill_depressions(z.astype(np.float32))
        code = directions(filled, grid)
        area = accumulate(code) * spacing**2
        ground = np.maximum(z, filled.astype(np.float64))
        order = np.argsort(ground.ravel(), kind="stable")
        _cut_down(ground, order, code, strength * area**0.45 / hardness, spacing)
        settle = 0.35 if step % 2 else 0.15
        lowered = z - ground
        z = np.where(lowered > 0, ground, z + settle * (ground - z))
        z += creep * ndimage.laplace(z, mode="nearest")
        z = slump(z, spacing, 46.0)
    return z


def slump(z: F64, spacing: float, angle: float) -> F64:
    """Move material off faces steeper than ``angle`` degrees to the neighbour below."""
    most = np.tan(np.radians(angle)) * spacing
    for axis in (0, 1):
        step = np.diff(z, axis=axis)
        over = np.sign(step) * np.maximum(np.abs(step) - most, 0) * 0.4
        low, high = [slice(None)] * 2, [slice(None)] * 2
        low[axis], high[axis] = slice(None, -1), slice(1, None)
        z[tuple(low)] += over * 0.5
        z[tuple(high)] -= over * 0.5
    return z


def bowl(y: F64, x: F64, cy: float, cx: float, ry: float, rx: float, turn: float) -> F64:
    """Distance from a turned ellipse's centre: 1 on its rim."""
    a = np.radians(turn)
    u = ((x - cx) * np.cos(a) + (y - cy) * np.sin(a)) / rx
    v = (-(x - cx) * np.sin(a) + (y - cy) * np.cos(a)) / ry
    return np.hypot(u, v)


def lantern_moor() -> F64:
    """Peat upland, 1009² at 4 m, 38–458 m: a corrie, a lochan, drumlins and a gorge."""
    n, spacing = 1009, 4.0
    y, x = np.mgrid[0:n, 0:n] / (n - 1.0)
    warp_x = x + 0.05 * noise((n, n), 260, 11)
    warp_y = y + 0.05 * noise((n, n), 260, 12)
    massif = np.exp(-(((warp_x - 0.30) / 0.24) ** 2 + ((warp_y - 0.27) / 0.20) ** 2))
    ridge = np.exp(-(((warp_y - 0.20 - 0.35 * (warp_x - 0.3)) / 0.10) ** 2)) * np.clip(
        1.2 - np.abs(warp_x - 0.45) * 1.6, 0, 1
    )
    far_hill = np.exp(-(((warp_x - 0.85) / 0.16) ** 2 + ((warp_y - 0.62) / 0.18) ** 2))
    z = 90 + 210 * massif + 110 * ridge + 120 * far_hill - 60 * (warp_y - 0.5) - 25 * warp_x
    z += 40 * layered((n, n), 240, 6, 21) * (0.5 + massif + 0.7 * ridge + 0.5 * far_hill)
    # The corrie: a bowl bitten out of the north-east flank, with a lip that holds a small tarn.
    d = bowl(y, x, 0.205, 0.370, 0.062, 0.088, -38) + 0.16 * layered((n, n), 60, 3, 51)
    back = np.clip((0.30 - y) * 3 + (0.42 - x) * 2, 0, 1)
    z -= 105 * np.clip(1.1 - d, 0, 1) ** 1.1 * (0.35 + 0.65 * back)
    # The lochan's basin in the south-west and the low ground of the south-east.
    basin = bowl(y, x, 0.73, 0.30, 0.085, 0.155, -18)
    basin = basin + 0.22 * layered((n, n), 90, 4, 61)
    z -= 75 * np.exp(-(np.clip(basin, 0, None) ** 2) * 1.3)
    # The gorge: a narrow trench through the long ridge.
    line = 0.70 + 0.05 * np.sin(9 * y) + 0.015 * np.sin(31 * y + 1)
    gorge = np.exp(-(((x - line) / 0.011) ** 2)) * np.exp(-(((y - 0.36) / 0.13) ** 2))
    hardness = 1.0 + 1.5 * np.clip(layered((n, n), 120, 3, 41), -0.4, 1.6) * (massif + ridge)
    z = erode(z, spacing, 22, 0.055, np.maximum(hardness, 0.5), 0.035)
    z -= 62 * gorge * np.clip((z - 60) / 80, 0, 1)
    # Drumlins: a swarm of long, blunt mounds on the plain, all lying the same way.
    rng = np.random.default_rng(77)
    for _ in range(46):
        cy, cx = rng.uniform(0.60, 0.97), rng.uniform(0.50, 0.97)
        length, high = rng.uniform(0.014, 0.028), rng.uniform(6, 15)
        d = bowl(y, x, cy, cx, length * 0.42, length, 62 + rng.normal(0, 6))
        z += high * np.clip(1 - d**2, 0, 1) ** 1.5 * np.exp(-np.clip(z - 150, 0, 200) / 40)
    z = erode(z, spacing, 5, 0.03, np.maximum(hardness, 0.5), 0.03)
    z += 0.22 * noise((n, n), 6, 91) + 0.5 * noise((n, n), 18, 92)
    return _into(z, 38, 458, floor=0.004)


def skerry_sound() -> F64:
    """Islands and a drowned valley, 505 rows × 1025 columns at 3 m, −40 to 180 m."""
    rows, cols, spacing = 505, 1025, 3.0
    y, x = np.mgrid[0:rows, 0:cols] / (rows - 1.0)
    shape = (rows, cols)
    z = 10 + 55 * layered(shape, 210, 6, 301)
    z += 70 * np.exp(-(((x - 0.42) / 0.30) ** 2 + ((y - 0.35) / 0.26) ** 2))
    z += 60 * np.exp(-(((x - 1.55) / 0.34) ** 2 + ((y - 0.70) / 0.22) ** 2))
    z -= 90 * np.exp(-(((y - 0.62 - 0.28 * np.sin(2.4 * x)) / 0.10) ** 2))
    z = erode(z, spacing, 16, 0.06, np.ones(shape), 0.03)
    z += 0.25 * noise(shape, 6, 391)
    # Bent towards the low side, so that a good part of it lies under the sea.
    return _into(z, -40, 180, floor=0.004, bend=1.8)


def _into(z: F64, low: float, high: float, floor: float, bend: float = 1.0) -> F64:
    """Stretch to exactly low…high, ignoring a thin tail of outliers."""
    a, b = np.quantile(z, [floor, 1.0])
    return np.clip((z - a) / (b - a), 0, 1) ** bend * (high - low) + low


def write(name: str, z: F64) -> None:
    low, high = z.min(), z.max()
    values = np.floor((z - low) / (high - low) * 65535 + 0.5).astype(np.uint16)
    with PngWriter(HERE / name, z.shape[0], z.shape[1], 1, 16, Stripes()) as png:
        png.write(values)
    print(f"{name}: {z.shape[1]} × {z.shape[0]}, {low:.1f} to {high:.1f} m")


if __name__ == "__main__":
    write("lantern_moor.png", lantern_moor())
    write("skerry_sound.png", skerry_sound())
