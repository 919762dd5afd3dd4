"""The survey desk: a stand-in for services of elevation and aerial images, with the troubles that real ones have."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import Any, Literal

from numpy.typing import NDArray

from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.core.survey.desk import SurveyRefused, TileKind, TileMissing
from zigzag_meadow.core.survey.world import aerial_tile, height_tile, tile_grid
from zigzag_meadow.core.terrain.lattice import unit_hash

__all__ = ["SurveyService", "Weather"]

Weather = Literal["fair", "slow", "patchy", "busy", "closed"]
_SLOW_SECONDS = 0.12


class SurveyService:
    """Tiles of the made-up world, as a service would hand them out.

    ``weather``: *slow* answers take their time; *patchy* surveys lack some tiles for good; a *busy* desk refuses
    the first asking of every other tile; a *closed* one refuses everything. ``sleep`` waits that many seconds.
    """

    def __init__(self, pool: Stripes, weather: Weather = "fair", sleep: Callable[[float], None] = time.sleep) -> None:
        self._pool = pool
        self._weather = weather
        self._sleep = sleep
        self._asked: set[tuple[TileKind, int, int, int]] = set()

    def tile(self, kind: TileKind, level: int, column: int, row: int) -> NDArray[Any]:
        """One tile. Raises :class:`TileMissing`, :class:`SurveyRefused`, or :class:`NotFound` outside the world."""
        tile_grid(level, column, row)
        luck = unit_hash(column + 4096 * level, row, 77)
        place = (kind, level, column, row)
        first = place not in self._asked
        self._asked.add(place)
        if self._weather == "closed" or (self._weather == "busy" and first and luck < 0.5):
            raise SurveyRefused("The survey desk is too busy to answer. Try again in a while.")
        if self._weather == "slow":
            self._sleep(_SLOW_SECONDS)
        if self._weather == "patchy" and level > 3 and luck < 0.08:
            raise TileMissing("The survey has no picture of this place.")
        make = height_tile if kind == "height" else aerial_tile
        return make(level, column, row, self._pool)
