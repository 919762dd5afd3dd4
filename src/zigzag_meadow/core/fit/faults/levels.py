"""Fewer levels than were meant: cut to some bits, or to black and white."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.case import Case, Pair
from zigzag_meadow.core.fit.faults.base import AGAIN, Explained, Fault, by_channel, subject

__all__ = ["Levels", "Threshold"]

F64 = NDArray[np.float64]
_MOST = 64


def _values(case: Case, channel: int) -> F64:
    """The values that occur in what is known most closely, 0–1; empty where they are too many or were as few before."""
    found: F64 = np.unique(np.concatenate([np.unique(pair.seen[:, :, channel]) for pair in case.near]))
    before = np.unique(np.concatenate([np.unique(pair.meant[:, :, channel]) for pair in case.near])).size
    return found if found.size <= min(_MOST, before // 2) else np.empty(0)


class Levels(Fault):
    kind = "levels"
    title = "Levels cut"
    cost = 1.1

    def explain(self, case: Case) -> Explained | None:
        if not case.in_full or not case.bits:
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
        levels = max(many[c] for c in used)
        return Explained(share, f"{subject(case, used)} holds {levels} levels where there were more: it was cut to few "
                         "bits or colours on the way.", "Write it again, through nothing that reduces colours.",
                         (("levels", float(levels)),))  # fmt: skip


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
            return None
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
        return Explained(share, f"{subject(case, used)} is black and white only: all was cut at {at:.0%}.", AGAIN,
                         (("at", round(at, 4)),))  # fmt: skip
