"""Another file's map under this name."""

from __future__ import annotations

from zigzag_meadow.core.fit.case import Case, left_over
from zigzag_meadow.core.fit.faults.base import Explained, Fault
from zigzag_meadow.core.fit.registering import resized

__all__ = ["GIVE_BACK", "Another", "holds_another"]

TOLERANCE = 1e-3
GIVE_BACK = "Give both files their own names back, or write them again."


def holds_another(file: str, other: str, title: str) -> str:
    """Says whose map lies under a file's name."""
    return f"{file} holds what belongs in {other} ({title})."


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
                best = Explained(share, holds_another(case.file, other.file, other.title), GIVE_BACK)
        return best
