"""Signed read as unsigned, or the other way round."""

from __future__ import annotations

import numpy as np

from zigzag_meadow.core.fit.case import Case
from zigzag_meadow.core.fit.faults.base import Explained, Fault, subject, undone

__all__ = ["Signed"]


class Signed(Fault):
    kind = "signedness"
    title = "Signed or unsigned"
    cost = 1.0

    def explain(self, case: Case) -> Explained | None:
        if not case.bits or not case.wrong:
            return None
        share = (
            undone(case, lambda v: (v + (case.full + 1) // 2) & case.full) if case.in_full else self._by_counts(case)
        )
        half = (case.full + 1) // 2
        text = f"{subject(case, case.wrong)} is off by {half} of {case.full + 1}, turning over at the ends"
        return Explained(
            share, f"{text}: signed values were taken for unsigned ones.", "Read it as unsigned, or write it again."
        )

    @staticmethod
    def _by_counts(case: Case) -> float:
        was = now = 0
        for c in case.wrong:
            turned = np.roll(case.meant[c].levels, 128)
            was += int(np.abs(case.seen[c].levels - case.meant[c].levels).sum())
            now += int(np.abs(case.seen[c].levels - turned).sum())
        return 1 - now / was if was else 0.0
