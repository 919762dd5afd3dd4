"""Another file's map under this name."""

from __future__ import annotations

from zigzag_meadow.core.fit.case import Case, left_over
from zigzag_meadow.core.fit.faults.base import Explained, Fault
from zigzag_meadow.core.fit.registering import resized

__all__ = ["Another"]

TOLERANCE = 1e-3


class Another(Fault):
    kind = "swapped"
    title = "Another file's map"
    cost = 1.2
    enough = 0.98

    def explain(self, case: Case) -> Explained | None:
        best: Explained | None = None
        for other in case.others:
            side = other.means.shape[0]
            seen, meant = resized(case.whole.seen, side, side), resized(case.whole.meant, side, side)
            if other.means.shape != seen.shape:
                continue
            before = left_over(seen, meant, TOLERANCE)
            share = 1 - left_over(seen, other.means, TOLERANCE) / before if before > 0 else 0.0
            if best is None or share > best.share:
                best = Explained(share, f"{case.file} holds what belongs in {other.file} ({other.title}).",
                                 "Give both files their own names back, or write them again.")  # fmt: skip
        return best
