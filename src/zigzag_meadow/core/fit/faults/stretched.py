"""Cropped and stretched, or laid over another extent."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.case import Case, Pair
from zigzag_meadow.core.fit.faults.base import AGAIN, Explained, Fault
from zigzag_meadow.core.fit.registering import Fitting, best_fitting, fitted_to, resized

__all__ = ["Repeated", "Stretched"]

F64 = NDArray[np.float64]


LEAST = 0.012


class Stretched(Fault):
    kind = "stretched"
    title = "Cropped and stretched"
    cost = 3.4

    def explain(self, case: Case) -> Explained | None:
        pair = case.whole
        telling = [c for c in range(pair.meant.shape[2]) if pair.textured(c)]
        if not telling:
            return None
        found = best_fitting(pair.seen[:, :, telling], pair.meant[:, :, telling])
        if found is None or found.is_plain or _whole_times(found):
            return None
        if max(abs(found.down - 1), abs(found.across - 1)) < LEAST:
            # That is a shift.
            return None
        predicted, inside = fitted_to(pair.meant, found)
        if inside.mean() < 0.25:
            return None
        part = Pair(pair.seen[inside][None], pair.meant[inside][None], pair.per, pair.tolerance)
        return Explained(
            part.share(predicted[inside][None]),
            f"{case.file} {_words(case, found)}.",
            AGAIN,
            (("down", round(found.down, 4)), ("across", round(found.across, 4))),
        )


def _whole_times(found: Fitting) -> bool:
    """Whether it shows the map twice or more: then it repeats, see below."""
    times = (found.down, found.across)
    return min(times) > 1.9 and all(abs(t - round(t)) < 0.04 * t for t in times)


def _words(case: Case, found: Fitting) -> str:
    """What part of the map fills it, in samples."""
    top, left = round(found.top * case.rows), round(found.left * case.cols)
    rows, cols = round(found.down * case.rows), round(found.across * case.cols)
    if found.down <= 1.001 and found.across <= 1.001:
        return (
            f"was cropped and stretched: {cols} × {rows} samples, from {left} east and {top} south on, fill all "
            f"{case.cols} × {case.rows}"
        )
    return f"lies over a wrong extent: it shows {cols / case.cols:.3g} by {rows / case.rows:.3g} times the ground"


class Repeated(Fault):
    kind = "extent"
    title = "Repeats"
    cost = 1.8
    enough = 0.55
    brief = 0.55

    def explain(self, case: Case) -> Explained | None:
        pair = case.whole
        best, times = 0.0, (1, 1)
        for down in (1, 2, 3, 4):
            for across in (1, 2, 3, 4):
                if (down, across) == (1, 1):
                    continue
                share = max(pair.share(_tiled(pair.meant, down, across, phase)) for phase in (0.0, 0.5))
                if share > best:
                    best, times = share, (down, across)
        if best <= 0:
            return None
        return Explained(
            best,
            f"{case.file} repeats {times[1]} × {times[0]} times over the ground: it lies over a wrong extent.",
            "Lay it over exactly the extent of the note.",
        )


def _tiled(meant: F64, down: int, across: int, phase: float) -> F64:
    """The whole map shown so many times over."""
    rows, cols = meant.shape[:2]
    small = resized(meant, max(rows // down, 2), max(cols // across, 2))
    y = ((np.arange(rows) + phase) / rows * down % 1 * small.shape[0]).astype(int)
    x = ((np.arange(cols) + phase) / cols * across % 1 * small.shape[1]).astype(int)
    made: F64 = small[np.minimum(y, small.shape[0] - 1)][:, np.minimum(x, small.shape[1] - 1)]
    return made
