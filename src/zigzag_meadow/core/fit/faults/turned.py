"""Flipped, mirrored, turned or transposed."""

from __future__ import annotations

from zigzag_meadow.core.fit.alignment import ORIENTATIONS
from zigzag_meadow.core.fit.case import Case
from zigzag_meadow.core.fit.faults.base import Explained, Fault

__all__ = ["Turned"]


class Turned(Fault):
    kind = "orientation"
    title = "Another orientation"
    cost = 1.0

    def explain(self, case: Case) -> Explained | None:
        best, words = 0.0, None
        for turn in ORIENTATIONS[1:]:
            predicted = turn.harm(case.whole.meant)
            if predicted.shape != case.whole.seen.shape:
                continue
            share = case.whole.share(predicted)
            if share > best + 1e-9:
                best, words = share, turn
        if words is None:
            return None
        return Explained(best, f"{case.file} is {words.happened}.", f"Write it again, or {words.cure}.")
