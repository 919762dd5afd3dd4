"""Half a sample or a whole one too much or too little along the borders: samples taken for cells, or cells for
samples."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.case import Case, Pair, left_over
from zigzag_meadow.core.fit.faults.base import AGAIN, Explained, Fault
from zigzag_meadow.core.fit.registering import sampled

__all__ = ["AtTheBorders"]

F64 = NDArray[np.float64]
Ends = tuple[float, float]
MARGIN = 4
WAYS = ("linear", "cubic", "sharp", "lanczos")
_EACH: tuple[Ends, ...] = (
    (0.5, 0.5),
    (-0.5, -0.5),
    (0.0, 1.0),
    (1.0, 0.0),
    (1.0, 1.0),
    (0.0, -1.0),
    (-1.0, 0.0),
    (-1.0, -1.0),
)
_PLAIN: Ends = (0.0, 0.0)
TRIED = tuple((down, across) for each in _EACH for down, across in ((each, each), (each, _PLAIN), (_PLAIN, each)))
"""Samples left out at both ends of the rows and of the columns."""


class AtTheBorders(Fault):
    kind = "stretched"
    title = "Half a sample at the borders"
    cost = 1.6
    enough = 0.8

    def explain(self, case: Case) -> Explained | None:
        pair = case.whole
        if not pair.by_sample or min(pair.meant.shape[:2]) <= 4 * MARGIN:
            return None

        best = min(TRIED, key=lambda ends: _left(pair, ends, "linear", 4))
        inner = (slice(MARGIN, -MARGIN), slice(MARGIN, -MARGIN))
        before = left_over(pair.seen[inner], pair.meant[inner], pair.tolerance)
        if before <= 0:
            return None
        share = 1 - min(_left(pair, best, how) for how in WAYS) / before
        told = (*best[0], *best[1])
        numbers = tuple(zip(("north", "south", "west", "east"), told, strict=True))
        says = f"{case.file} is laid over another extent: {_words(told)}."
        return Explained(share, says, f"Take samples for samples and cells for cells. {AGAIN}", numbers)


def _left(pair: Pair, ends: tuple[Ends, Ends], how: str, step: int = 1) -> float:
    """What is left unexplained inside the margin, of every row or of some only."""
    rows, cols = pair.meant.shape[:2]
    down, across = slice(MARGIN, rows - MARGIN, step), slice(MARGIN, cols - MARGIN)
    made = sampled(pair.meant, _read_at(ends[0], rows)[down], _read_at(ends[1], cols)[across], how)
    return left_over(pair.seen[down, across], made, pair.tolerance)


def _read_at(ends: Ends, many: int) -> F64:
    """Where its samples lie on what was meant."""
    at = ends[0] + (np.arange(many) + 0.5) * ((many - ends[0] - ends[1]) / many) - 0.5
    return at.astype(np.float64)


def _words(ends: tuple[float, ...]) -> str:
    told = []
    for way, end in zip(("north", "south", "west", "east"), ends, strict=True):
        if end:
            amount = {0.5: "half a sample", 1.0: "1 sample"}.get(abs(end), f"{abs(end):g} samples")
            told.append(f"{amount} {'is missing' if end > 0 else 'too much'} in the {way}")
    return ", ".join(told)
