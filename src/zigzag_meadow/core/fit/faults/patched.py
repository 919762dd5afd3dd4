"""Changed in one place, unchanged everywhere else."""

from __future__ import annotations

import numpy as np

from zigzag_meadow.core.fit.case import Box, Case, Pair
from zigzag_meadow.core.fit.faults.base import AGAIN, Explained, Fault

__all__ = ["Border", "Patched", "box_of"]

LARGEST = 0.5


def box_of(pair: Pair) -> Box | None:
    """Where a pair differs; None where it does not."""
    off = pair.off > 0
    rows, cols = np.flatnonzero(off.any(axis=1)), np.flatnonzero(off.any(axis=0))
    if not rows.size:
        return None
    down, across = off.shape
    return Box(rows[0] / down, cols[0] / across, (rows[-1] + 1) / down, (cols[-1] + 1) / across)


def _samples(case: Case, box: Box) -> str:
    about = "" if case.whole.by_sample else "about "
    return f"{about}{round((box.right - box.left) * case.cols)} × {round((box.bottom - box.top) * case.rows)} samples"


class Patched(Fault):
    kind = "patched"
    title = "Changed in one place"
    cost = 4.0

    def explain(self, case: Case) -> Explained | None:
        box = box_of(case.whole)
        if box is None or box.area > LARGEST:
            return None
        return Explained(
            1.0, f"{case.file} was changed in one place, {box.words()}: {_samples(case, box)}.", AGAIN, (), box
        )


class Border(Fault):
    kind = "border"
    title = "A line at the border"
    cost = 2.5

    def explain(self, case: Case) -> Explained | None:
        off = case.whole.off > 0
        wide = [max(2, round(2 / per)) if case.whole.by_sample else 1 for per in case.whole.per]
        rows, cols = off.shape
        if not off.any() or rows < 8 or cols < 8 or off[wide[0] : -wide[0], wide[1] : -wide[1]].any():
            return None
        sides = {
            "northern": off[: wide[0]],
            "southern": off[-wide[0] :],
            "western": off[:, : wide[1]],
            "eastern": off[:, -wide[1] :],
        }
        lined = [name for name, part in sides.items() if np.count_nonzero(part) > 0.03 * max(part.shape)]
        if not lined:
            return None
        words = lined[0] if len(lined) == 1 else f"{', '.join(lined[:-1])} and {lined[-1]}"
        return Explained(
            1.0,
            f"{case.file} has a line along its {words} border: it was laid over another extent, or repeats.",
            "Lay it over exactly the extent of the note, clamped at the border.",
        )
