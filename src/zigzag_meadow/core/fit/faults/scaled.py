"""Every value multiplied and raised: a wrong low, high, step or water level."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.case import Case, Pair
from zigzag_meadow.core.fit.faults.base import Explained, Fault, by_channel, subject

__all__ = ["Scaled", "line_through"]

F64 = NDArray[np.float64]


def line_through(meant: F64, seen: F64, slack: float, cut: bool = True) -> tuple[float, float] | None:
    """(a, b) of seen = a · meant + b, from values that are not ``cut`` off at either end, to within ``slack``; None
    where nothing varies."""
    x, y = meant.ravel(), seen.ravel()
    kept = (y > 1e-6) & (y < 1 - 1e-6) if cut else np.isfinite(y)
    for _ in range(3):
        if np.count_nonzero(kept) < 16:
            return None
        u, v = x[kept], y[kept]
        spread = float(((u - u.mean()) ** 2).sum())
        if spread < 1e-9:
            return None
        a = float(((u - u.mean()) * (v - v.mean())).sum()) / spread
        b = float(v.mean()) - a * float(u.mean())
        off = np.abs(y - (a * x + b))
        kept &= off <= max(3 * float(np.median(off[kept])), slack, 1e-5)
    return a, b


_UNITS = (
    (0.01, ": its metres were taken for centimetres"),
    (100.0, ": centimetres in the place of metres"),
    (0.001, ": kilometres in the place of metres"),
    (1000.0, ": millimetres in the place of metres"),
    (3.28084, ": feet in the place of metres"),
    (0.3048, ": its metres were taken for feet"),
    (-1.0, ": up is down"),
)


class Scaled(Fault):
    kind = "scaled"
    title = "Range, step or offset"
    cost = 2.0
    enough = 0.95
    # By means alone a curve that rises evenly looks much like a line.
    brief = 0.98
    rivals = ("gamma",)

    def explain(self, case: Case) -> Explained | None:
        lines: dict[int, tuple[float, float]] = {}

        def predict(pair: Pair, channel: int) -> F64 | None:
            if channel not in lines:
                meant = np.concatenate([p.meant[:, :, channel].ravel() for p in case.near])
                seen = np.concatenate([p.seen[:, :, channel].ravel() for p in case.near])
                # Floats are cut off nowhere: any factor is possible, another sign too.
                line = line_through(meant, seen, 2 * pair.tolerance, cut=case.bits > 0)
                if line is None or (line[0] < 0.05 if case.bits else abs(line[0]) < 1e-9):
                    return None
                lines[channel] = line
            a, b = lines[channel]
            made: F64 = a * pair.meant[:, :, channel] + b
            return np.clip(made, 0, 1) if case.bits else made

        found = by_channel(case, predict)
        if found is None:
            return None
        share, used = found
        a, b = lines[used[0]]
        if not case.in_full:
            # Other things move means towards the middle, too; all that varies must have become larger alike.
            share = share if all(self._alike(case, c, lines[c][0]) for c in used) else 0.0
        return Explained(
            share,
            f"{subject(case, used)} {_words(case, a, b)}.",
            "Put in the ends that the note has, or write it again.",
            _numbers(case, a, b),
        )

    @staticmethod
    def _alike(case: Case, channel: int, a: float) -> bool:
        if not case.seen or not case.meant:
            return True
        seen, meant = case.seen[channel], case.meant[channel]
        there = meant.rough > 1e-10
        if not there.any():
            return True
        # Where values are cut off they vary less.
        grown = (seen.rough[there] / meant.rough[there]) / a**2
        return bool(grown.max() < 1.1 and grown.min() > 0.7 and np.ptp(grown) < 0.2)


def _numbers(case: Case, a: float, b: float) -> tuple[tuple[str, float | str], ...]:
    return (("factor", round(a, 6)), ("offset", round(_offset(case, a, b), 4)))


def _offset(case: Case, a: float, b: float) -> float:
    """What is added after the multiplication: metres of heights, else stored steps."""
    if case.metres is None:
        return b * case.full
    low, high = case.metres
    return low + b * (high - low) - a * low


def _words(case: Case, a: float, b: float) -> str:
    offset, unit = _offset(case, a, b), " m" if case.kind == "height" else " steps" if case.bits else ""
    if case.metres is not None and abs(a - 1) < 5e-5:
        return f"lies {abs(offset):.4g}{unit} too {'high' if offset > 0 else 'low'}"
    sign = "−" if offset < 0 else ""
    if not case.bits and abs(offset) < 1e-3 * abs(case.metres[1] - case.metres[0] if case.metres else 1.0):
        other = next((words for factor, words in _UNITS if abs(a / factor - 1) < 2e-3), "")
        return f"is scaled by {a:.6g}{other}"
    return f"is scaled by {a:.4g}, offset {sign}{abs(offset):.4g}{unit}"
