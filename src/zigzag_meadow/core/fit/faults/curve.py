"""Bent by a curve: contrast, evened out, a logarithm. Every place is right, values are not."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.case import Case, Pair
from zigzag_meadow.core.fit.faults.base import AGAIN, Explained, Fault, by_channel, subject
from zigzag_meadow.core.fit.faults.gamma import Gamma
from zigzag_meadow.core.fit.faults.scaled import Scaled

__all__ = ["Curve"]

F64 = NDArray[np.float64]
LEVELS = 256
SIMPLER = 0.99
"""What a line or a power explains so well is no curve of its own."""


class Curve(Fault):
    kind = "curve"
    title = "Bent by a curve"
    cost = 2.3
    enough = 0.98

    def explain(self, case: Case) -> Explained | None:
        if not case.in_full:
            return None
        found = by_channel(case, _bent)
        if found is None or found[0] < self.enough:
            return None
        simpler = (fault.explain(case) for fault in (Scaled(), Gamma()))
        if any(made is not None and made.share > SIMPLER for made in simpler):
            return None
        share, used = found
        says = f"{subject(case, used)} has other values in the right places: contrast or a curve was laid over it."
        return Explained(share, says, f"Read it as data, without corrections. {AGAIN}")


def _bent(pair: Pair, channel: int) -> F64 | None:
    """What was meant, every value by what most often became of it; None where that does not rise throughout."""
    meant, seen = pair.meant[:, :, channel], pair.seen[:, :, channel]
    low, tall = float(meant.min()), float(np.ptp(meant))
    if tall <= 0:
        return None
    at = (meant - low) / tall * (LEVELS - 1)
    level = np.floor(at + 0.5).astype(np.int64)
    counts = np.bincount(level.ravel(), minlength=LEVELS)
    sums = np.bincount(level.ravel(), seen.ravel(), LEVELS)
    there = np.flatnonzero(counts)
    curve = sums[there] / counts[there]
    if there.size < 8 or np.diff(curve).min() < -1 / LEVELS:
        return None
    made: F64 = np.interp(at, there, curve)
    return made
