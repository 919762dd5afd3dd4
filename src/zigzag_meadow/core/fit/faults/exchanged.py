"""Parts of equal size exchanged: quadrants or tiles put together in another order."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.case import Case
from zigzag_meadow.core.fit.faults.base import AGAIN, Explained, Fault

__all__ = ["Exchanged"]

F64 = NDArray[np.float64]


def _cells(values: F64, many: int) -> F64:
    """(cells, rows, columns, channels): equal parts, from the north-west on, row by row."""
    rows, cols = (n // many for n in values.shape[:2])
    cut = values[: rows * many, : cols * many].reshape(many, rows, many, cols, -1)
    return np.ascontiguousarray(cut.swapaxes(1, 2).reshape(many * many, rows, cols, -1))


def _left_of_each(seen: F64, meant: F64, tolerance: float) -> F64:
    """What is left of one part where it was meant to be each of all: (cells,), as :func:`case.left_over` says it."""
    off = np.abs(meant - seen).reshape(len(meant), -1)
    off -= tolerance
    np.maximum(off, 0, out=off)
    left: F64 = np.einsum("cn,cn->c", off, off)
    return left


class Exchanged(Fault):
    kind = "parts"
    title = "Parts exchanged"
    cost = 1.3

    def explain(self, case: Case) -> Explained | None:
        best: Explained | None = None
        for many in (2, 3, 4, 8):
            if min(case.whole.seen.shape[:2]) < 8 * many:
                break
            seen, meant = _cells(case.whole.seen, many), _cells(case.whole.meant, many)
            left = np.stack([_left_of_each(part, meant, case.whole.tolerance) for part in seen])
            source = [
                i if left[i, i] <= left[i].min() * 1.0001 + 1e-12 else int(left[i].argmin()) for i in range(len(left))
            ]
            moved = [i for i, j in enumerate(source) if i != j]
            before, after = float(np.trace(left)), float(sum(left[i, j] for i, j in enumerate(source)))
            # Exchanged: what one lost another has; else one was copied over another, or merely looks like it.
            if before <= 0 or sorted(source[i] for i in moved) != moved or not moved:
                continue
            share = 1 - after / before
            if best is None or share > best.share + 0.01:
                says = f"{case.file} has {len(moved)} of its {many} × {many} parts exchanged: tiles in another order."
                best = Explained(share, says, AGAIN, (("parts", float(many)),))
        return best
