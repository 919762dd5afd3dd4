"""Eight bits in a file of sixteen: only every 256th value occurs."""

from __future__ import annotations

import numpy as np

from zigzag_meadow.core.fit.case import Case
from zigzag_meadow.core.fit.faults.base import Explained, Fault, subject

__all__ = ["EightBits"]


class EightBits(Fault):
    kind = "depth"
    title = "Eight bits where sixteen are due"
    cost = 1.0

    def explain(self, case: Case) -> Explained | None:
        if case.bits != 16 or not case.wrong or not case.seen or not case.meant:
            return None
        for c in case.wrong:
            seen, meant = case.seen[c], case.meant[c]
            if seen.low is None or meant.low is None:
                return None
            # Spread evenly the lower byte repeats the higher, widened plainly it is 0: either way it says nothing.
            repeats = bool((seen.low == seen.levels).all()) or np.count_nonzero(seen.low) == 1
            if not repeats or np.count_nonzero(meant.low) <= 2 * np.count_nonzero(meant.levels) ** 0.5:
                return None
            if float(np.abs(seen.means - meant.means).max()) > 1.5 / 255:
                return None
        for pair in case.close:
            if float(np.abs(pair.seen - pair.meant)[:, :, case.wrong].max()) > 1.5 / 255:
                return None
        return Explained(
            1.0,
            f"{subject(case, case.wrong)} holds 8 bits spread over 16: finer steps are lost.",
            "Write it again with 16 bits, through nothing that keeps only 8.",
        )
