"""A made-up world: heights and aerial pictures of any place in it, the same every time."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.readings.noise import NoiseKind, noise
from zigzag_meadow.core.stripes import Stripes

__all__ = ["LEVELS", "TILE_SIDE", "WORLD_SIDE", "aerial_tile", "height_tile", "spacing_of", "tile_grid"]

F32 = NDArray[np.float32]
WORLD_SIDE = 262144.0
"""Metres a side; the north-west corner is (0, 0)."""
TILE_SIDE = 256
"""Samples a side; tiles lie side by side without a shared border."""
LEVELS = 11
"""Level 0 is one tile; each level has twice as many a side, down to 1 m between samples."""
_SNOW, _TREES = 1150.0, 620.0


def spacing_of(level: int) -> float:
    """Metres between samples of a level. Raises :class:`NotFound` for levels that are not there."""
    if not 0 <= level < LEVELS:
        raise NotFound(f"The survey has levels 0 to {LEVELS - 1}, got {level}.", field="level")
    return WORLD_SIDE / TILE_SIDE / float(2**level)


def tile_grid(level: int, column: int, row: int) -> Grid:
    """Where the samples of a tile lie. Raises :class:`NotFound` for tiles outside the world."""
    s = spacing_of(level)
    if not (0 <= column < 2**level and 0 <= row < 2**level):
        raise NotFound(f"Tile {column}, {row} of level {level} lies outside the world.", field="tile")
    side = s * TILE_SIDE
    return Grid(TILE_SIDE, TILE_SIDE, s, s, "area", (row * side, column * side))


def _part(grid: Grid, window: Window, kind: NoiseKind, size: float, octaves: float, seed: int, pool: Stripes) -> F32:
    return noise(grid, window, kind=kind, size=size, octaves=octaves, seed=seed, stripes=pool)


def _heights(grid: Grid, window: Window, pool: Stripes) -> F32:
    land = _part(grid, window, "gradient", 90000, 5, 11, pool)
    rise = np.clip((land - 0.46) * 7, 0, 1)
    chains = _part(grid, window, "ridged", 21000, 9, 12, pool)
    hills = _part(grid, window, "gradient", 5200, 9, 13, pool)
    valleys = _part(grid, window, "ridged", 9000, 8, 14, pool)
    shelf = (land - 0.46) * 900
    z = shelf + rise * (hills * 190 + rise * chains**2 * 1500 - valleys * valleys * 260 * (1 - rise * 0.5))
    return np.where(land < 0.46, shelf + hills * 40 - 30, z).astype(np.float32)


def height_tile(level: int, column: int, row: int, pool: Stripes) -> F32:
    """Metres above the sea, float32 (256, 256). Coarse levels show the mean of fine ones."""
    grid = tile_grid(level, column, row)
    return _heights(grid, grid.whole, pool)


def _lit(z: F32, spacing: float) -> tuple[F32, F32]:
    """(light from the north-west, steepness as rise over run) of heights with a rim of one sample."""
    gx = (z[1:-1, 2:] - z[1:-1, :-2]) / (2 * spacing)
    gy = (z[:-2, 1:-1] - z[2:, 1:-1]) / (2 * spacing)
    light = (0.7071 + 0.5 * gx - 0.5 * gy) / np.sqrt(1 + gx * gx + gy * gy)
    return np.clip(light, 0.1, 1.2), np.hypot(gx, gy)


def aerial_tile(level: int, column: int, row: int, pool: Stripes) -> NDArray[np.uint8]:
    """The same ground from above, uint8 (256, 256, 3) sRGB: sea, sand, grass, trees, rock and snow."""
    grid = tile_grid(level, column, row)
    rim = _heights(grid, grid.whole.grown(1, 1), pool)
    z = rim[1:-1, 1:-1]
    light, steep = _lit(rim, grid.dy)
    patches = _part(grid, grid.whole, "gradient", 700, 7, 21, pool)
    colour = np.empty((*z.shape, 3), np.float32)
    grass = np.array([116, 128, 78], np.float32)
    colour[:] = grass + (patches[..., None] - 0.5) * np.array([60, 46, 30], np.float32)
    woods = np.clip((patches - 0.5) * 9, 0, 1) * np.clip((_TREES - z) / 90, 0, 1) * np.clip(z / 12, 0, 1)
    for part, paint in (
        (woods, (54, 74, 48)),
        (np.clip((steep - 0.55) * 4, 0, 1), (122, 117, 110)),
        (np.clip((z - _SNOW + (patches - 0.5) * 300) / 120, 0, 1) * np.clip(1.6 - steep, 0, 1), (238, 241, 244)),
        (np.clip(1 - np.abs(z - 1.5) / 3, 0, 1), (203, 190, 152)),
    ):
        colour += (np.array(paint, np.float32) - colour) * part[..., None]
    colour *= light[..., None] * 1.25
    sea = z < 0
    depth = np.clip(-z / 90, 0, 1)[..., None]
    deep: NDArray[Any] = np.array([98, 146, 150], np.float32) * (1 - depth) + np.array([32, 66, 96], np.float32) * depth
    colour[sea] = deep[sea]
    return np.clip(colour + 0.5, 0, 255).astype(np.uint8)
