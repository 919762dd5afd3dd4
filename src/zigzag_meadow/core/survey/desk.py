"""Asking the survey desk: a square of the world as a heightmap and an aerial image, put together from tiles."""

from __future__ import annotations

import math
import time
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal, Protocol

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadNumber, MeadowError
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.resample import resample
from zigzag_meadow.core.stripes import Cancel, Stripes
from zigzag_meadow.core.survey.world import LEVELS, TILE_SIDE, WORLD_SIDE, spacing_of
from zigzag_meadow.core.voids import fill_voids

__all__ = ["Practice", "Square", "SurveyRefused", "Surveyed", "Surveyor", "TileKind", "TileMissing", "survey"]

F32 = NDArray[np.float32]
Practice = Literal["right", "north_south", "east_west", "quarter", "shifted"]
MOST_SAMPLES = 4097
_TRIES = 3
_WAIT = 0.05
_ENOUGH = 1.25


TileKind = Literal["height", "aerial"]


class SurveyRefused(MeadowError):
    """The survey desk does not answer now."""

    code = "survey-refused"


class TileMissing(MeadowError):
    """The survey has no picture of a place."""

    code = "tile-missing"


class Surveyor(Protocol):
    """Whoever hands out tiles of the world."""

    def tile(self, kind: TileKind, level: int, column: int, row: int) -> NDArray[Any]:
        """One tile. Raises :class:`TileMissing`, :class:`SurveyRefused`."""


@dataclass(frozen=True, slots=True)
class Square:
    """A square of the world: metres east and south of its north-west corner, side in metres, samples a side."""

    west: float
    north: float
    side: float
    samples: int

    def check(self) -> None:
        """Raise :class:`BadNumber` where it cannot be surveyed."""
        if not 8 <= self.samples <= MOST_SAMPLES:
            raise BadNumber(f"A square has 8 to {MOST_SAMPLES} samples a side, got {self.samples}.", field="samples")
        if not 100 <= self.side <= WORLD_SIDE:
            raise BadNumber(f"A square is 100 to {WORLD_SIDE:.0f} m wide, got {self.side:g}.", field="side")
        if min(self.west, self.north) < 0 or max(self.west, self.north) + self.side > WORLD_SIDE:
            raise BadNumber("The square reaches beyond the survey. Move it inside.", field="west")

    @property
    def grid(self) -> Grid:
        spacing = self.side / (self.samples - 1)
        return Grid(self.samples, self.samples, spacing, spacing, "vertex", (self.north, self.west))


@dataclass(frozen=True, slots=True)
class Surveyed:
    """What came back: ``heights`` float32 metres (NaN where tiles were missing), ``aerial`` uint8 RGB, and notes."""

    heights: F32
    aerial: NDArray[np.uint8]
    spacing: float
    missing: int
    notes: tuple[str, ...]


def _level(spacing: float) -> int:
    """The coarsest level that is nearly as fine: a quarter coarser costs little detail and a quarter of the tiles."""
    return next((level for level in range(LEVELS) if spacing_of(level) <= spacing * _ENOUGH), LEVELS - 1)


def _asked(service: Surveyor, kind: TileKind, place: tuple[int, int, int]) -> NDArray[Any] | None:
    """A tile, asked for up to three times, with growing patience; None where the survey has none."""
    for turn in range(_TRIES):
        try:
            return service.tile(kind, *place)
        except TileMissing:
            return None
        except SurveyRefused:
            if turn == _TRIES - 1:
                raise
            time.sleep(_WAIT * 2**turn)
    return None


def _mosaic(
    service: Surveyor,
    kind: TileKind,
    square: Square,
    level: int,
    pool: Stripes,
    tell: Callable[[float], None],
    cancel: Cancel | None,
) -> tuple[NDArray[Any], Grid, int]:
    """(samples of all tiles around the square, their grid, how many tiles were missing)."""
    spacing = spacing_of(level)
    side = spacing * TILE_SIDE
    most = 2**level - 1
    rim = 2 * spacing
    c0, r0 = (max(math.floor((v - rim) / side), 0) for v in (square.west, square.north))
    c1, r1 = (min(math.floor((v + square.side + rim) / side), most) for v in (square.west, square.north))
    shape = ((r1 - r0 + 1) * TILE_SIDE, (c1 - c0 + 1) * TILE_SIDE)
    out: NDArray[Any] = np.full(shape, np.nan, np.float32) if kind == "height" else np.zeros((*shape, 3), np.uint8)
    places = [(r, c) for r in range(r0, r1 + 1) for c in range(c0, c1 + 1)]
    got: list[bool] = []

    def fetch(number: int) -> None:
        r, c = places[number]
        tile = _asked(service, kind, (level, c, r))
        if tile is not None:
            y, x = (r - r0) * TILE_SIDE, (c - c0) * TILE_SIDE
            out[y : y + TILE_SIDE, x : x + TILE_SIDE] = tile
        got.append(tile is not None)
        tell(len(got) / len(places))

    pool.each(len(places), fetch, cancel)
    return out, Grid(*shape, spacing, spacing, "area", (r0 * side, c0 * side)), got.count(False)


def _on_square(values: F32, src: Grid, dst: Grid) -> F32:
    gaps = np.isnan(values)
    if not gaps.any():
        return resample(values, src, dst)
    out = resample(fill_voids(values), src, dst)
    out[resample(gaps.astype(np.float32), src, dst, "nearest") > 0.5] = np.nan
    return out


def _practised(aerial: NDArray[np.uint8], practice: Practice) -> NDArray[np.uint8]:
    """An aerial image with a known mistake in it, to practise finding it."""
    if practice == "shifted":
        by = max(aerial.shape[0] // 40, 1)
        return np.roll(aerial, (by, 2 * by), (0, 1))
    ways = {"north_south": aerial[::-1], "east_west": aerial[:, ::-1], "quarter": np.rot90(aerial)}
    return np.ascontiguousarray(ways.get(practice, aerial))


def survey(
    service: Surveyor,
    square: Square,
    practice: Practice = "right",
    *,
    pool: Stripes,
    tell: Callable[[float], None] = lambda share: None,
    cancel: Cancel | None = None,
) -> Surveyed:
    """Heights and an aerial image of a square.

    A desk that refuses is asked again twice; tiles it does not have are gaps, and said so. Raises
    :class:`BadNumber`, :class:`SurveyRefused` where it stays closed, :class:`TileMissing` where most of the square
    is missing, :class:`Cancelled`.
    """
    square.check()
    level = _level(square.grid.dx)
    tiles, src, missing = _mosaic(service, "height", square, level, pool, lambda s: tell(s * 0.5), cancel)
    count = tiles.shape[0] * tiles.shape[1] // TILE_SIDE**2
    if missing * 2 > count:
        raise TileMissing(f"The survey lacks {missing} of {count} tiles here. Choose another square.")
    heights = _on_square(tiles, src, square.grid)
    # Pictures may be coarser: what they lack is laid over anyway.
    picture, seen, _ = _mosaic(service, "aerial", square, level, pool, lambda s: tell(0.5 + s * 0.5), cancel)
    bands = [resample(picture[..., k].astype(np.float32), seen, square.grid) for k in range(3)]
    aerial = np.clip(np.stack(bands, axis=-1) + 0.5, 0, 255).astype(np.uint8)
    notes = []
    if spacing_of(level) > square.grid.dx * _ENOUGH:
        text = f"The survey has a height every {spacing_of(level):g} m; between them the ground is interpolated."
        notes.append(text)
    if missing:
        notes.append(f"{missing} of {count} tiles were missing: the ground has gaps there.")
    return Surveyed(heights, _practised(aerial, practice), square.grid.dx, missing, tuple(notes))
