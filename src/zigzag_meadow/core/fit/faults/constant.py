"""A channel that holds one value everywhere."""

from __future__ import annotations

import numpy as np

from zigzag_meadow.core.fit.case import Case
from zigzag_meadow.core.fit.faults.base import Explained, Fault, subject

__all__ = ["AlphaLost", "Constant"]


def _flat(case: Case, channel: int) -> float | None:
    """The one value of a channel that was not meant to have one; else None."""
    parts = [pair.seen[:, :, channel] for pair in (case.whole, *case.close)]
    low, high = min(float(p.min()) for p in parts), max(float(p.max()) for p in parts)
    if high - low > 1.0 / max(case.full, 65535):
        return None
    if case.seen and np.count_nonzero(case.seen[channel].levels) > 1:
        return None
    varies = any(float(np.ptp(pair.meant[:, :, channel])) > 2 * pair.tolerance + 1e-9 for pair in case.near)
    return low if varies else None


def _shares(case: Case) -> dict[int, float]:
    return {c: value for c in case.wrong if (value := _flat(case, c)) is not None}


def _share(case: Case, flat: list[int]) -> float:
    """Of all that differs, what lies in those channels."""
    per = {c: sum(float(((pair.seen - pair.meant)[:, :, c] ** 2).sum()) for pair in case.near) for c in case.wrong}
    total = sum(per.values())
    return sum(per[c] for c in flat) / total if total else 0.0


class Constant(Fault):
    kind = "constant"
    title = "A channel is empty"
    cost = 0.8

    def explain(self, case: Case) -> Explained | None:
        found = _shares(case)
        found = {c: v for c, v in found.items() if not _is_alpha(case, c)}
        if not found:
            return None
        value = next(iter(found.values()))
        shown = f"{value * case.full:.0f}" if case.bits else f"{value:.4g}"
        lost = ", ".join(case.titles[c] for c in found)
        return Explained(
            _share(case, list(found)), f"{subject(case, list(found))} is {shown} everywhere: {lost} is gone."
        )


class AlphaLost(Fault):
    kind = "alpha-lost"
    title = "Alpha lost"
    cost = 0.7

    def explain(self, case: Case) -> Explained | None:
        found = {c: v for c, v in _shares(case).items() if _is_alpha(case, c)}
        if not found:
            return None
        channel, value = next(iter(found.items()))
        return Explained(
            _share(case, [channel]),
            f"{case.file}: alpha is {value * case.full:.0f} everywhere: {case.titles[channel]} was lost on the way.",
            "Write it again through a format and a program that keep alpha as data.",
        )


def _is_alpha(case: Case, channel: int) -> bool:
    return case.letters[channel] == "a"
