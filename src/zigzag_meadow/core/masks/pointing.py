"""Point at the ground: from places in and places out to short recipes that tell them apart."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadNumber

__all__ = ["Candidate", "Edge", "Proposal", "propose"]

F64 = NDArray[np.float64]
MOST_LINES = 3
_LINE_COSTS = 0.03
"""What one more line must win in separation, in shares of the ground."""
_APART = 0.004
"""Marks nearer than this share of the ground are not told apart."""


@dataclass(frozen=True, slots=True)
class Candidate:
    """A reading with its values at the marks, and in ``ground`` a fair sample of its values everywhere (float64).

    ``cost``: how much less plain it is than the plainest reading, in shares of the ground.
    """

    reading: str
    inside: F64
    outside: F64
    ground: F64
    log: bool = False
    wraps: bool = False
    cost: float = 0.0


@dataclass(frozen=True, slots=True)
class Edge:
    """One line of a proposal: a band of a reading; fades in its unit, in doublings for log readings."""

    reading: str
    low: float
    high: float
    fade_low: float
    fade_high: float


@dataclass(frozen=True, slots=True)
class Proposal:
    """Up to three bands, the first taken and each next one kept within.

    ``apart``: the share of the ground between the marks that are told apart worst. ``wrong_in`` and ``wrong_out``:
    marks that this recipe gets wrong, by number.
    """

    lines: tuple[Edge, ...]
    apart: float
    wrong_in: tuple[int, ...] = ()
    wrong_out: tuple[int, ...] = ()


class _Ranked:
    """One reading at the marks: values, and how much of the ground lies below each."""

    def __init__(self, given: Candidate, turn: float = 0.0) -> None:
        self.given, self.turn = given, turn
        sample = given.ground[np.isfinite(given.ground)]
        self.sample = np.sort(self._turned(sample))
        self.inside, self.outside = self._turned(given.inside), self._turned(given.outside)
        self.rank_in, self.rank_out = self._rank(self.inside), self._rank(self.outside)
        self.low, self.high = float(self.inside.min()), float(self.inside.max())
        self.margin = self._margins(self.low, self.high)

    def _turned(self, values: F64) -> F64:
        return (values - self.turn) % 360 if self.given.wraps else values

    def _rank(self, values: F64) -> F64:
        n = max(self.sample.size, 1)
        left, right = (np.searchsorted(self.sample, values, side) for side in ("left", "right"))
        rank: F64 = (left + right) / (2.0 * n)
        return rank

    def _margins(self, low: float, high: float) -> F64:
        """By how much of the ground each mark outside lies outside of the band from ``low`` to ``high``."""
        ends = self._rank(np.array([low, high]))
        below = np.where(self.outside < low, ends[0] - self.rank_out, 0)
        above = np.where(self.outside > high, self.rank_out - ends[1], 0)
        margin: F64 = np.maximum(below, above)
        return margin

    def trimmed(self) -> tuple[float, float, F64]:
        """The band with the fewest marks wrong: (low, high, margins), by trying all pairs of marks inside."""
        best = (self.inside.size + self.outside.size + 1, 0.0, self.low, self.high)
        values = np.unique(self.inside)
        for i, low in enumerate(values):
            for high in values[i:]:
                kept = (self.inside >= low) & (self.inside <= high)
                wrong = int((~kept).sum() + ((self.outside >= low) & (self.outside <= high)).sum())
                best = min(best, (wrong, -float(high - low), float(low), float(high)))
        return best[2], best[3], self._margins(best[2], best[3])

    def edge(self, low: float, high: float, must: NDArray[np.bool_]) -> Edge:
        """The band, opened to the end of the reading on a side where nothing must be kept out."""
        lo, fade_lo = self._side(low, self.outside[must & (self.outside < low)], -1)
        hi, fade_hi = self._side(high, self.outside[must & (self.outside > high)], 1)
        if self.given.wraps:
            lo, hi = (lo + self.turn) % 360, (hi + self.turn) % 360
        return Edge(self.given.reading, lo, hi, fade_lo, fade_hi)

    def _side(self, at: float, others: F64, way: int) -> tuple[float, float]:
        """(edge, fade): the edge a quarter of the way to the nearest mark outside, the fade reaching three quarters."""
        if others.size == 0:
            end = float(self.sample[0] if way < 0 else self.sample[-1])
            return ((max(end, at) if way > 0 else min(end, at)), 0.0) if not self.given.wraps else (at, 0.0)
        near = float(others.max() if way < 0 else others.min())
        if self.given.log:
            a, b = np.log2(max(at, 1e-9)), np.log2(max(near, 1e-9))
            return float(2 ** (a + 0.25 * (b - a))), float(abs(b - a) / 2)
        return at + 0.25 * (near - at), abs(near - at) / 2


def _ranked(given: Candidate) -> _Ranked:
    if not given.wraps:
        return _Ranked(given)
    # Directions go round: begin in the middle of the widest gap between marks inside.
    angles = np.sort(given.inside % 360)
    gaps = np.diff(np.append(angles, angles[0] + 360))
    widest = int(gaps.argmax())
    return _Ranked(given, float((angles[widest] + gaps[widest] / 2) % 360))


def propose(candidates: Sequence[Candidate], most: int = 3) -> list[Proposal]:
    """Up to ``most`` recipes that hold the marks inside and not those outside, best first.

    Ranked by how much of the ground lies between the marks told apart worst, less a price for every further line and
    for readings that are less plain. Where no three readings separate the marks, the recipes with the fewest marks
    wrong come, and say which. Raises :class:`BadNumber` without a mark inside and one outside.
    """
    if not candidates or candidates[0].inside.size == 0 or candidates[0].outside.size == 0:
        raise BadNumber("Mark at least one place that should be in and one that should not.", field="marks")
    ready = [_ranked(c) for c in candidates if np.isfinite(c.inside).all() and np.isfinite(c.outside).all()]
    ranked: list[tuple[float, Proposal]] = []
    for count in range(1, MOST_LINES + 1):
        for group in combinations(ready, count):
            margins = np.stack([item.margin for item in group])
            apart = float(margins.max(axis=0).min())
            # Every line must keep out something that the others do not.
            needed = all(
                count == 1 or float(np.delete(margins, k, axis=0).max(axis=0).min()) <= _APART for k in range(count)
            )
            if apart > _APART and needed:
                score = apart - _LINE_COSTS * (count - 1) - sum(item.given.cost for item in group)
                ranked.append((score, Proposal(_lines(group, margins), apart)))
    ranked.sort(key=lambda pair: -pair[0])
    return [proposal for _, proposal in ranked[:most]] or _with_mistakes(ready, most)


def _lines(group: Sequence[_Ranked], margins: F64) -> tuple[Edge, ...]:
    who = margins.argmax(axis=0)
    # The line that keeps out most comes first.
    order = sorted(range(len(group)), key=lambda k: -int((who == k).sum()))
    return tuple(group[k].edge(group[k].low, group[k].high, who == k) for k in order)


def _with_mistakes(ready: Sequence[_Ranked], most: int) -> list[Proposal]:
    ranked: list[tuple[tuple[float, ...], Proposal]] = []
    bands = [item.trimmed() for item in ready]
    for count in (1, 2):
        for group in combinations(range(len(ready)), count):
            margins = np.stack([bands[k][2] for k in group])
            wrong_out = np.flatnonzero(margins.max(axis=0) <= 0)
            kept = np.ones(ready[0].inside.size, bool)
            for k in group:
                kept &= (ready[k].inside >= bands[k][0]) & (ready[k].inside <= bands[k][1])
            wrong_in = np.flatnonzero(~kept)
            right = margins.max(axis=0) > 0
            lines = tuple(
                ready[k].edge(bands[k][0], bands[k][1], right & (margins[i] > 0)) for i, k in enumerate(group)
            )
            cost = sum(ready[k].given.cost for k in group)
            apart = float(margins.max(axis=0)[right].min()) if right.any() else 0.0
            order = (wrong_in.size + wrong_out.size, count, cost - apart)
            proposal = Proposal(lines, apart, tuple(map(int, wrong_in)), tuple(map(int, wrong_out)))
            ranked.append((order, proposal))
    ranked.sort(key=lambda pair: pair[0])
    return [proposal for _, proposal in ranked[:most]]
