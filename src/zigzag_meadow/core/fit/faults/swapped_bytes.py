"""Both bytes of every sample exchanged."""

from __future__ import annotations

import numpy as np

from zigzag_meadow.core.fit.case import Case
from zigzag_meadow.core.fit.faults.base import Explained, Fault, subject, undone

__all__ = ["SwappedBytes"]


class SwappedBytes(Fault):
    kind = "byte-order"
    title = "Byte order"
    cost = 1.0

    def explain(self, case: Case) -> Explained | None:
        if case.bits != 16:
            return None
        share = undone(case, lambda v: (v & 255) << 8 | v >> 8) if case.in_full else self._by_counts(case)
        if share is None:
            return None
        return Explained(
            share,
            f"{subject(case, case.wrong)} has its bytes in the other order: it reads as noise.",
            "Read it with the other byte order, or write it again.",
        )

    @staticmethod
    def _by_counts(case: Case) -> float | None:
        """Of what lies between, only how often each byte occurs is known."""
        was = now = 0
        for c in case.wrong:
            seen, meant = case.seen[c], case.meant[c]
            if seen.low is None or meant.low is None:
                return None
            was += int(np.abs(seen.levels - meant.levels).sum() + np.abs(seen.low - meant.low).sum())
            now += int(np.abs(seen.levels - meant.low).sum() + np.abs(seen.low - meant.levels).sum())
        return 1 - now / was if was else None
