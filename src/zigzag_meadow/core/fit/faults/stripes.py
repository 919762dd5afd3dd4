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
            return None
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
