"""Every so many rows or columns wrong, all others right."""

from __future__ import annotations

import numpy as np

from zigzag_meadow.core.fit.case import Case
from zigzag_meadow.core.fit.faults.base import AGAIN, Explained, Fault

__all__ = ["Stripes"]


class Stripes(Fault):
    kind = "stripes"
    title = "Stripes"
    cost = 1.4

    def explain(self, case: Case) -> Explained | None:
        if not case.whole.by_sample:
            return _by_roughness(case)
        off = case.whole.off > 0
        for axis, name in ((1, "row"), (0, "column")):
            share = off.mean(axis=axis)
            # Some of what is written anew happens to be right.
            lines = np.flatnonzero(share > 0)
            if not 4 <= lines.size <= share.size // 2 + 1:
                continue
            every = int(np.diff(lines).min())
            on = np.zeros(share.size, bool)
            on[lines[0] % every :: every] = True
            if every >= 2 and not share[~on].any() and (share[on] > 0).mean() > 0.8:
                which = "second" if every == 2 else f"{every}th"
                says = f"{case.file} is wrong in every {which} {name}, right between them: two pictures are in one."
                return Explained(1.0, says, AGAIN, (("every", float(every)),))
        return None


def _by_roughness(case: Case) -> Explained | None:
    """Neighbours differ more than what lies two samples apart: no ground does so, every second line does."""
    for axis, name in ((0, "row"), (1, "column")):
        for c in case.wrong if case.seen and case.meant else ():
            next_to, apart = case.seen[c].rough[:2, axis]
            if next_to > max(4 * apart, 1e-3) and case.meant[c].rough[0, axis] < case.meant[c].rough[1, axis]:
                says = f"{case.file} is wrong in every second {name}: two pictures are in one."
                return Explained(1.0, says, AGAIN, (("every", 2.0),))
    return None
