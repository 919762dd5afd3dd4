"""Black and white exchanged."""

from __future__ import annotations

from zigzag_meadow.core.fit.case import Case
from zigzag_meadow.core.fit.faults.base import Explained, Fault, by_channel, subject

__all__ = ["TurnedOver"]


class TurnedOver(Fault):
    kind = "turned-over"
    title = "Black and white exchanged"
    cost = 1.0

    def explain(self, case: Case) -> Explained | None:
        found = by_channel(case, lambda pair, c: 1 - pair.meant[:, :, c])
        if found is None:
            return None
        share, used = found
        return Explained(
            share,
            f"{subject(case, used)} is turned over: black is white and white is black.",
            "Write it again, or turn it over.",
        )
