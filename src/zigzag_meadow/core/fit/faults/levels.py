"""Fewer levels than were meant: cut to some bits, or to black and white."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.case import Case, Pair
from zigzag_meadow.core.fit.faults.base import AGAIN, Explained, Fault, by_channel, subject
from zigzag_meadow.core.fit.faults.blurred import LIKELY

__all__ = ["Levels", "Threshold"]

F64 = NDArray[np.float64]
_MOST = 64


def _values(case: Case, channel: int) -> F64:
    """The values that occur in what is known most closely, 0–1; empty where they are too many, lie side by side, or
    were as few before."""
    found: F64 = np.unique(np.concatenate([np.unique(pair.seen[:, :, channel]) for pair in case.near]))
    before = np.unique(np.concatenate([np.unique(pair.meant[:, :, channel]) for pair in case.near])).size
    # Levels that lie beside one another are not cut: they are what a smaller range holds.
    apart = found.size > 1 and float(np.median(np.diff(found))) * case.full > 1.5
    return found if apart and found.size <= min(_MOST, before // 2) else np.empty(0)


class Levels(Fault):
    kind = "levels"
    title = "Levels cut"
    cost = 1.1

    def explain(self, case: Case) -> Explained | None:
        if not case.in_full:
            counted = _by_counts(case, 3)
            return None if counted is None else self._says(case, LIKELY, case.wrong, counted)
        if not case.bits:
            return None
        many: dict[int, int] = {}

        def predict(pair: Pair, channel: int) -> F64 | None:
            values = _values(case, channel)
            if not 3 <= values.size <= _MOST:
                return None
            many[channel] = int(values.size)
            # Each level stands for those values around it that became it, wherever they were cut.
            meant = pair.meant[:, :, channel]
            edges = _edges(case, channel, values)
            made: F64 = values[np.searchsorted(edges, meant, "right")]
            return made

        found = by_channel(case, predict)
        if found is None:
            return None
        share, used = found
        return self._says(case, share, used, max(many[c] for c in used))

    @staticmethod
    def _says(case: Case, share: float, used: list[int], levels: int) -> Explained:
        return Explained(
            share,
            f"{subject(case, used)} holds {levels} levels where there were more: it was cut to few "
            "bits or colours on the way.",
            "Write it again, through nothing that reduces colours.",
            (("levels", float(levels)),),
        )


def _by_counts(case: Case, least: int) -> int | None:
    """How many levels there are, from how often each value occurs: at least so many, far fewer than were meant, and
    high where it should be high; None where that is not sure."""
    found = 0
    for c in case.wrong:
        if not case.seen or not case.meant:
            return None
        seen, meant = case.seen[c], case.meant[c]
        many, before = int(np.count_nonzero(seen.levels)), int(np.count_nonzero(meant.levels))
        if not least <= many <= min(_MOST, before // 2):
            return None
        u, v = seen.means - seen.means.mean(), meant.means - meant.means.mean()
        if float((u * v).sum()) < 0.8 * float(np.sqrt((u * u).sum() * (v * v).sum())):
            return None
        found = max(found, many)
    return found or None


def _edges(case: Case, channel: int, values: F64) -> F64:
    """Between which meant values one level gives way to the next: halfway between what became each."""
    seen = np.concatenate([pair.seen[:, :, channel].ravel() for pair in case.near])
    meant = np.concatenate([pair.meant[:, :, channel].ravel() for pair in case.near])
    index = np.searchsorted(values, seen)
    order = np.lexsort((meant, index))
    starts = np.searchsorted(index[order], np.arange(values.size + 1))
    ordered = meant[order]
    ends = []
    for (a, b), (c, d) in pairwise(pairwise(starts)):
        if a == b or c == d:
            return (values[1:] + values[:-1]) / 2
        low, high = ordered[b - 1], ordered[c]
        if low > high:  # a few samples are in neither order
            low, high = ordered[b - 1 - (b - a) // 50], ordered[c + (d - c) // 50]
        ends.append((low + high) / 2)
    return np.maximum.accumulate(np.array(ends))


class Threshold(Fault):
    kind = "threshold"
    title = "Cut to black and white"
    cost = 1.1

    def explain(self, case: Case) -> Explained | None:
        if not case.in_full:
            only = _by_counts(case, 2) == 2
            says = f"{subject(case, case.wrong)} is black and white only: all was cut at one value."
            return Explained(LIKELY, says, AGAIN) if only else None
        cuts: dict[int, float] = {}

        def predict(pair: Pair, channel: int) -> F64 | None:
            values = _values(case, channel)
            if values.size == 1:  # all of it lies on one side of the cut
                return np.full(pair.meant.shape[:2], values[0])
            if values.size != 2:
                return None
            cuts[channel] = float(_edges(case, channel, values)[0])
            made: F64 = np.where(pair.meant[:, :, channel] >= cuts[channel], values[1], values[0])
            return made

        found = by_channel(case, predict)
        if found is None or not cuts:
            return None
        share, used = found
        at = next(iter(cuts.values()))
        return Explained(
            share,
            f"{subject(case, used)} is black and white only: all was cut at {at:.0%}.",
            AGAIN,
            (("at", round(at, 4)),),
        )
