"""Numbers of a class map exchanged: every place of one layer has the number of another."""

from __future__ import annotations

import numpy as np

from zigzag_meadow.core.fit.case import Case
from zigzag_meadow.core.fit.faults.base import Explained, Fault

__all__ = ["Renumbered"]


class Renumbered(Fault):
    kind = "classes"
    title = "Numbers of layers exchanged"
    cost = 0.9

    def explain(self, case: Case) -> Explained | None:
        if case.kind != "classes" or not case.in_full:
            return None
        seen, meant = (
            np.concatenate([np.floor(part * case.full + 0.5).astype(int).ravel() for part in parts])
            for parts in ([p.seen for p in case.close], [p.meant for p in case.close])
        )
        there = np.unique(meant)
        became = {int(k): int(np.bincount(np.clip(seen[meant == k], 0, 255)).argmax()) for k in there}
        moved = {k: v for k, v in became.items() if k != v}
        if not moved or len(set(became.values())) != len(became):
            return None
        predicted = np.zeros_like(meant)
        for k, v in became.items():
            predicted[meant == k] = v
        wrong = int((seen != meant).sum())
        told = ", ".join(f"{k} became {v}" for k, v in sorted(moved.items()))
        share = 1 - int((seen != predicted).sum()) / max(wrong, 1)
        cure = "Deliver it again, or number the layers there as the note does."
        return Explained(share, f"{case.file} numbers its layers otherwise: {told}.", cure)
