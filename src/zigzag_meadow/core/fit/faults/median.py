"""Put through a median filter: specks and thin lines are gone, edges are sharp."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.case import Case, Pair
from zigzag_meadow.core.fit.faults.base import AGAIN, Explained, Fault, by_channel, subject

__all__ = ["Median"]

F64 = NDArray[np.float64]
SIDES = (3, 5, 7)


class Median(Fault):
    kind = "median"
    title = "Median filter"
    cost = 2.4

    def explain(self, case: Case) -> Explained | None:
        if not case.in_full:
            return None
        from scipy import ndimage  # only here: it is slow to load

        best: tuple[float, list[int], int] | None = None
        for side in SIDES:

            def predict(pair: Pair, channel: int, side: int = side) -> F64:
                made: F64 = ndimage.median_filter(pair.meant[:, :, channel], side, mode="nearest")
                return made

            found = by_channel(case, predict)
            if found is not None and (best is None or found[0] > best[0]):
                best = (*found, side)
        if best is None:
            return None
        share, used, side = best
        says = (
            f"{subject(case, used)} went through a median of {side} × {side} samples: specks and thin lines are gone."
        )
        return Explained(share, says, AGAIN, (("side", float(side)),))
