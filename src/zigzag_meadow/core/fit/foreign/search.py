"""Where a map lies on a height, tried over all orientations, scales and shifts at once, the likeliest looked at
more closely."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.alignment import ORIENTATIONS, Orientation
from zigzag_meadow.core.fit.foreign.channel_mixes import DETAIL, detail_in, mixed, sharp_even
from zigzag_meadow.core.fit.foreign.placing import Placing, refined
from zigzag_meadow.core.fit.foreign.sliding import Sliding
from zigzag_meadow.core.fit.foreign.traits import height_traits, independent, map_traits
from zigzag_meadow.core.fit.registering import Fitting, resized, softened
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["COARSE", "Matching", "smaller"]

F64 = NDArray[np.float64]
T = TypeVar("T")
M = TypeVar("M")
COARSE = 64
SEARCHED = 192
CLOSE = 160
MOST_TRAITS = 12
SOFT = 0.8
MOST_SAMPLES = 512
LEAST = 14
LOOSE = 8
"""Samples by which a map as large as the height may stick out of it."""
OBVIOUS = 500.0
"""Evidence of a map that covers the whole height beyond which nothing else is tried."""


def smaller(values: F64, side: int) -> F64:
    """(rows, columns, channels) reduced so that the longer side has at most ``side`` samples."""
    most = max(values.shape[:2])
    if most <= side:
        return values
    rows, cols = (max(round(n * side / most), 2) for n in values.shape[:2])
    return resized(values, rows, cols)


def _sizes(height: tuple[int, int], shape: tuple[int, int]) -> Iterator[tuple[float, float]]:
    """Which parts of the height's extent a map of ``shape`` samples may cover: (down, across), the likeliest first."""
    same = (shape[0] / height[0], shape[1] / height[1])
    for factor in (1.0, 2.0, 0.5, 4.0, 0.25):
        yield same[0] * factor, same[1] * factor
    # Square samples, any scale.
    longer = max(same)
    for part in np.geomspace(0.4, 2.0, 26):
        yield same[0] / longer * part, same[1] / longer * part


class Matching:
    """A height and a map to be laid on it, with all that several steps ask for worked out once.

    ``heights``: (rows, columns, 1 and further planes that belong to it), ``values``: (rows, columns, channels).
    """

    def __init__(self, heights: F64, values: F64, stripes: Stripes, cancel: Cancel | None = None) -> None:
        self.heights, self.values = heights, values
        self._stripes, self._cancel = stripes, cancel
        self._small = smaller(values, SEARCHED)
        self._traits: dict[int, F64] = {}
        self._parts: dict[tuple[str, int], F64] = {}

    def traits(self, side: int) -> F64:
        """Traits of the height with at most ``side`` samples."""
        if side not in self._traits:
            self._traits[side] = _soft(_traits_of(smaller(self.heights, side)), side)
        return self._traits[side]

    def parts(self, turn: Orientation, side: int) -> F64:
        """What the map put upright says, with at most ``side`` samples."""
        key = (turn.id, side)
        if key not in self._parts:
            plain = self._parts.get(("plain", side))
            if plain is None:
                plain = self._parts["plain", side] = _soft(map_traits(smaller(self.values, side)), side)
            self._parts[key] = np.ascontiguousarray(turn.mend(plain))
        return self._parts[key]

    def _of_each(self, items: Sequence[T], work: Callable[[T], M]) -> list[M]:
        made: dict[int, M] = {}

        def one(k: int) -> None:
            made[k] = work(items[k])

        self._stripes.each(len(items), one, self._cancel)
        return [made[k] for k in range(len(items))]

    def refined(self, starts: Sequence[Placing], side: int, steps: int, close: bool = False) -> list[Placing]:
        """Each of some placings after up to so many steps, on maps of at most ``side`` samples; ``close``: to
        parts of a sample."""
        at = [
            (self.traits(self._finer(item, side) if close else side), self.parts(item.orientation, side), item)
            for item in starts
        ]
        return self._of_each(at, lambda item: refined(*item, side, steps, close))

    @staticmethod
    def _finer(item: Placing, side: int) -> int:
        """Samples of the height, so that the part of it which a map shows has about as many as the map."""
        part = max(item.fitting.down, item.fitting.across, side / MOST_SAMPLES)
        return max(side, round(side / part / 64) * 64)

    def detailed(self, found: Sequence[Placing], side: int) -> list[float]:
        """The gain of each in what varies over short distances alone: where large forms are alike by chance, it is
        gone."""
        at = [(self.traits(side), self.parts(item.orientation, side), item.fitting) for item in found]
        return self._of_each(at, lambda item: mixed(*item, calm=DETAIL).gain)

    def share_of_detail(self, turn: Orientation, side: int) -> float:
        """How much of what varies within a tenth of the map varies over short distances, 0–1."""
        return detail_in(self.parts(turn, side))

    def searched(self) -> list[Placing]:
        """The best places for every orientation and scale, those most likely first. Where one that covers the whole
        height leaves no doubt, no others are looked for."""
        sliding = self._sliding(COARSE)
        rows, cols = sliding.traits.shape[:2]
        made = self._of_each(ORIENTATIONS, lambda turn: self._placed(turn, (rows, cols), sliding, COARSE))
        found = sorted((item for item in made if item is not None), key=lambda item: -item.evidence)
        if len(found) > 1 and found[0].evidence > OBVIOUS and found[0].evidence > 4 * found[1].evidence:
            return found
        more = self._of_each(ORIENTATIONS, lambda turn: self._parts_of(turn, sliding))
        found += [item for some in more for item in some]
        return sorted(found, key=lambda item: -item.evidence)

    def _sliding(self, side: int) -> Sliding:
        return Sliding(independent(sharp_even(self.traits(side), side))[:, :, :MOST_TRAITS])

    def _parts_of(self, turn: Orientation, sliding: Sliding) -> list[Placing]:
        """The best places of maps that show a part of the height, or more than it."""
        rows, cols = sliding.traits.shape[:2]
        found: list[Placing | None] = []
        seen = {(rows, cols)}
        for down, across in _sizes(self.heights.shape[:2], turn.mend(self.values).shape[:2]):
            size = (round(rows * down), round(cols * across))
            if size in seen or min(size) < LEAST or max(size) > 2.4 * COARSE:
                continue
            seen.add(size)
            if (size[0] <= rows and size[1] <= cols) or (size[0] >= rows and size[1] >= cols):
                found.append(self._placed(turn, size, sliding, COARSE))
        return [item for item in found if item is not None]

    def whole(self) -> list[Placing]:
        """Every orientation of a map that covers all of the height, more closely: shading is gone from a coarse one."""
        sliding = self._sliding(CLOSE)
        rows, cols = self.traits(CLOSE).shape[:2]
        made = self._of_each(ORIENTATIONS, lambda turn: self._placed(turn, (rows, cols), sliding, CLOSE))
        return sorted((item for item in made if item is not None), key=lambda item: -item.evidence)

    def _placed(self, turn: Orientation, size: tuple[int, int], sliding: Sliding, side: int) -> Placing | None:
        """The best place of a map that is so many samples large; None where it has not that many."""
        upright = turn.mend(self._small)
        if size[0] > upright.shape[0] or size[1] > upright.shape[1]:
            return None
        parts = sharp_even(map_traits(resized(upright, *size)), side)
        if not parts.shape[2]:
            return None
        (rows, cols), (h, w) = sliding.traits.shape[:2], size
        loose = (LOOSE, LOOSE) if (h, w) == (rows, cols) else (0, 0)
        south, east, many, gain = sliding.gains(parts, loose)
        terms = sliding.traits.shape[2] * parts.shape[2]
        k = int((many * gain).argmax())
        fitting = Fitting(south[k] / rows, east[k] / cols, h / rows, w / cols)
        return Placing(turn, fitting, float(gain[k]), terms, side)


def _soft(planes: F64, side: int) -> F64:
    """Between samples linear values are softer than on them: where it comes to parts of a sample, all are made soft."""
    return softened(planes, SOFT) if side > CLOSE else planes


def _traits_of(planes: F64) -> F64:
    made = height_traits(planes[:, :, 0])
    return made if planes.shape[2] == 1 else np.concatenate([made, planes[:, :, 1:]], axis=2)
