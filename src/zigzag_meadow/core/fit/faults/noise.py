"""Noise all over, such as lossy compression or dithering leave."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.case import Case
from zigzag_meadow.core.fit.faults.base import AGAIN, Explained, Fault, subject
from zigzag_meadow.core.fit.faults.blurred import BESIDE, LIKELY, evenly_rougher
from zigzag_meadow.core.fit.faults.shifted import explained_by_shift

__all__ = ["Noise"]

F64 = NDArray[np.float64]
AROUND, NOWHERE = 3, 0.08
"""Samples around one that it may have come from, and the share of changed ones that came from none of them."""


class Noise(Fault):
    kind = "noise"
    title = "Noise"
    cost = 5.0
    last = True

    def explain(self, case: Case) -> Explained | None:
        if not case.wrong or explained_by_shift(case) > 0.5:
            return None
        found = self._by_samples(case) if case.in_full else self._by_roughness(case)
        if found is None:
            return None
        share, size = found
        steps = f"about {size * case.full:.3g} steps" if case.bits else f"about {size:.3g}"
        if case.in_full:
            says = f"is noisy all over, by {steps}: dithered, or compressed with loss."
        else:
            says = f"is rougher all over, by {steps}: noise, loss of a compression, or rings beside edges. {BESIDE}"
        return Explained(share, f"{subject(case, case.wrong)} {says}", AGAIN, (("size", round(size, 6)),))

    @staticmethod
    def _by_samples(case: Case) -> tuple[float, float] | None:
        pair = max(case.close, key=lambda p: p.before)
        seen, meant = pair.seen[:, :, case.wrong], pair.meant[:, :, case.wrong]
        inside = (seen > 0) & (seen < 1)
        off = np.where(inside, seen - meant, 0)
        rows, cols = off.shape[:2]
        many: NDArray[np.bool_] = np.abs(off) > pair.tolerance
        judged: NDArray[np.bool_]
        cells = many[: rows // 8 * 8, : cols // 8 * 8].reshape(rows // 8, 8, cols // 8, 8, -1).any(axis=(1, 3))
        open_cells = inside[: rows // 8 * 8, : cols // 8 * 8].reshape(rows // 8, 8, cols // 8, 8, -1).mean(axis=(1, 3))
        judged = open_cells > 0.25
        if not judged.any() or float(np.asarray(cells)[judged].mean()) < 0.85:
            return None
        before = float((off * off).sum())
        off -= np.where(inside, _usual(off, meant, inside), 0)
        power = float((off * off).sum())
        if power < 0.2 * before or not _comes_from_nowhere(seen, meant, pair.tolerance):
            return None
        along = float((off[1:] * off[:-1]).sum() + (off[:, 1:] * off[:, :-1]).sum()) / 2
        return 1 - max(abs(along) / power, 0.0), float(np.sqrt((off[inside] ** 2).mean()))

    @staticmethod
    def _by_roughness(case: Case) -> tuple[float, float] | None:
        """White noise makes differences at every distance rougher by the same amount, calm places as much as others."""
        if not case.seen:
            return None
        sizes = []
        for c in case.wrong:
            more = (case.seen[c].rough - case.meant[c].rough).mean(axis=1)
            if more.min() <= 0 or float(np.ptp(more)) > 0.35 * float(more.mean()) or evenly_rougher(case, c) < 0.35:
                return None
            sizes.append(float(np.sqrt(more.mean() / 2)))
        return LIKELY, max(sizes)


def _comes_from_nowhere(seen: F64, meant: F64, tolerance: float) -> bool:
    """Whether much of what changed is like nothing around it: what merely moved is."""
    from scipy import ndimage  # only here: it is slow to load

    size = (2 * AROUND + 1, 2 * AROUND + 1, 1)
    low, high = ndimage.minimum_filter(meant, size), ndimage.maximum_filter(meant, size)
    changed = np.abs(seen - meant) > tolerance
    beyond = changed & ((seen < low - tolerance) | (seen > high + tolerance))
    return bool(np.count_nonzero(beyond) > NOWHERE * np.count_nonzero(changed))


def _usual(off: F64, meant: F64, inside: NDArray[np.bool_]) -> F64:
    """What is added on average to such values: noise that is cut off at black makes it brighter."""
    level = np.clip((meant * 16).astype(int), 0, 15)
    counts = np.bincount(level[inside], minlength=16)
    sums = np.bincount(level[inside], off[inside], 16)
    return np.asarray((sums / np.maximum(counts, 1))[level])
