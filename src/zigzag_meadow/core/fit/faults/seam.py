"""A row or column that is missing, doubled or overwritten: what lies beyond is one sample off."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.case import Box, Case, Pair
from zigzag_meadow.core.fit.faults.base import AGAIN, Explained, Fault
from zigzag_meadow.core.fit.registering import moved

__all__ = ["Line", "Seam"]

F64 = NDArray[np.float64]


def _per_line(pair: Pair, predicted: F64, axis: int) -> F64:
    off = np.maximum(np.abs(pair.seen - predicted) - pair.tolerance, 0)
    sums: F64 = (off * off).sum(axis=(1 - axis, 2))
    return sums


def _split(pair: Pair, axis: int) -> tuple[float, int, int] | None:
    """(share, first line that is off, samples by which) of the best seam across an axis.

    Lines before it are as they were meant, those from it on are those that should lie ``by`` further on. What was cut
    off at the far end is made up by whoever cut it: the last lines are left out.
    """
    step = 1.0 / pair.per[axis]
    as_is = _per_line(pair, pair.meant, axis)
    n = len(as_is)
    if n < 16 or not as_is.any():
        return None
    best: tuple[float, int, int] | None = None
    for by in (-1, 1, -2, 2):
        shift = (by * step, 0.0) if axis == 0 else (0.0, by * step)
        ways = ("linear",) if pair.by_sample else ("cubic", "linear")
        for how in ways:
            off = _per_line(pair, moved(pair.meant, *shift, how), axis)
            keep = n - max(2, int(np.ceil(2 * step)))
            before = np.concatenate([[0.0], np.cumsum(as_is[:keep])])
            after = np.cumsum(off[:keep][::-1])[::-1]
            total = before[:-1] + np.concatenate([after[1:], [0.0]])
            at = int(total[4:-4].argmin()) + 4
            share = 1 - float(total[at]) / max(float(as_is[:keep].sum()), 1e-30)
            if best is None or share > best[0]:
                best = (share, at, by)
    return best


def _all_beyond(pair: Pair, axis: int, at: int) -> bool:
    """Whether everything from a line on differs, right across, and nothing before it."""
    off = pair.off > 0
    lines = off.mean(axis=1 - axis)
    return bool(lines[: max(at - 1, 1)].max() == 0 and (lines[at + 1 :] > 0).mean() > 0.5)


class Seam(Fault):
    kind = "seam"
    title = "A missing or doubled line"
    cost = 3.0

    def explain(self, case: Case) -> Explained | None:
        made: Explained | None = None
        for axis, name in ((0, "row"), (1, "column")):
            found = _split(case.whole, axis)
            if found is None:
                continue
            share, at, by = found
            if not case.whole.by_sample and share > 0.3 and _all_beyond(case.whole, axis, at):
                # Means cannot be moved by parts of a cell exactly; that nothing before it changed says the rest.
                share = 0.9 + 0.1 * share
            start = at / case.whole.seen.shape[axis]
            if not 0.02 < start < 0.98 or self._differs_before(case, axis, at):
                continue
            first = round(at * case.whole.per[axis])
            what = (
                f"{name} {first} is {'doubled' if by > 0 else 'missing'}"
                if abs(by) == 1
                else (f"{abs(by)} {name}s are {'doubled' if by > 0 else 'missing'} at {name} {first}")
            )
            exact = "" if case.whole.by_sample else "about "
            way = {0: ("north", "south"), 1: ("west", "east")}[axis]
            text = f"{case.file}: {exact}{what}, and all beyond lies too far {way[by > 0]}."
            box = Box(start, 0, min(start + 0.02, 1), 1) if axis == 0 else Box(0, start, 1, min(start + 0.02, 1))
            if made is None or share > made.share:
                made = Explained(share, text, AGAIN, ((name, first),), box)
        return made

    @staticmethod
    def _differs_before(case: Case, axis: int, at: int) -> bool:
        """What lies before a seam is exactly as it was meant."""
        off = case.whole.off.max(axis=1 - axis)
        return bool((off[: max(at - 1, 1)] > 0).mean() > 0.02)


class Line(Fault):
    kind = "seam"
    title = "A line across"
    cost = 2.9

    def explain(self, case: Case) -> Explained | None:
        off = case.whole.off > 0
        most = 4 if case.whole.by_sample else 2
        for axis, name in ((0, "row"), (1, "column")):
            lines = np.flatnonzero(off.any(axis=1 - axis))
            if not lines.size or lines.size > most or lines[-1] - lines[0] != lines.size - 1:
                continue
            across = off.any(axis=axis)
            wide = np.flatnonzero(across)
            if wide[-1] - wide[0] < 0.3 * across.size or lines[0] < 2 or lines[-1] > off.shape[axis] - 3:
                continue
            if not case.whole.by_sample:
                lines = np.array([round(lines[0] * case.whole.per[axis])])
            many = f"{name} {lines[0]}" if lines.size == 1 else f"{name}s {lines[0]} to {lines[-1]}"
            at = lines[0] / (case.rows, case.cols)[axis]
            box = Box(at, 0, at + 0.02, 1) if axis == 0 else Box(0, at, 1, at + 0.02)
            differs = "differs" if lines.size == 1 else "differ"
            return Explained(
                1.0, f"{case.file}: {many} {differs} all the way across: a seam.", AGAIN, ((name, int(lines[0])),), box
            )
        return None
