"""One channel of several flipped, mirrored, turned or transposed."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.alignment import ORIENTATIONS
from zigzag_meadow.core.fit.case import Case, Pair
from zigzag_meadow.core.fit.faults.base import Explained, Fault, by_channel, subject

__all__ = ["PartTurned"]

F64 = NDArray[np.float64]


class PartTurned(Fault):
    kind = "orientation"
    title = "A channel in another orientation"
    cost = 1.05

    def explain(self, case: Case) -> Explained | None:
        if len(case.letters) < 2:
            return None
        best: tuple[float, list[int], str] | None = None
        # Windows of a large map lie elsewhere once it is turned: of those the means of the whole are held together.
        whole = Case(case.file, case.kind, case.letters, case.titles, case.bits, case.whole)
        for turn in ORIENTATIONS[1:]:

            def predict(pair: Pair, channel: int, turn=turn) -> F64 | None:  # type: ignore[no-untyped-def]
                made: F64 = turn.harm(pair.meant[:, :, channel : channel + 1])[:, :, 0]
                return made if made.shape == pair.seen.shape[:2] else None

            found = by_channel(whole, predict)
            if found is not None and (best is None or found[0] > best[0] + 1e-9):
                best = (*found, turn.happened)
        if best is None or len(best[1]) == len(case.letters):
            return None
        share, used, happened = best
        return Explained(
            share,
            f"{subject(case, used)} is {happened}, the other channels are not.",
            "Write it again: channels were put together out of files in different orders.",
        )
