"""Blurred, resampled down and up again, or sharpened."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.case import Case, Pair
from zigzag_meadow.core.fit.faults.base import AGAIN, Explained, Fault
from zigzag_meadow.core.fit.faults.shifted import explained_by_shift
from zigzag_meadow.core.fit.registering import softened

__all__ = ["BESIDE", "LIKELY", "Blurred", "Sharpened", "evenly_rougher"]

F64 = NDArray[np.float64]
WIDTHS = (0.5, 0.7, 1.0, 1.4, 2.0, 2.8, 4.0, 6.0)
MOST = 256
BESIDE = "With the project beside it these can be told apart."
LIKELY = 0.76
"""Statistics alone never prove as much as a prediction does."""


def _strength(pair: Pair, channels: list[int], width: float) -> tuple[float, float]:
    """(how much of what a blur takes away is gone, how much of the difference that explains)."""
    meant, seen = pair.meant[:, :, channels], pair.seen[:, :, channels]
    fine = meant - softened(meant, width)
    gone = meant - seen
    # What was cut off at black and white says nothing of the strength.
    open_ends = (seen > 0) & (seen < 1)
    size = float((fine * fine)[open_ends].sum())
    k = float((fine * gone)[open_ends].sum()) / size if size > 1e-12 else 0.0
    alone = Pair(seen, meant, pair.per, pair.tolerance)
    return k, alone.share(np.clip(meant - k * fine, 0, 1))


def _fit(case: Case) -> tuple[float, float, float]:
    """(width in samples, strength, share) of the blur that explains most."""
    if "blur" not in case.scratch:
        case.scratch["blur"] = _fitted(case)
    made: tuple[float, float, float] = case.scratch["blur"]
    return made


def _fitted(case: Case) -> tuple[float, float, float]:
    pair = max(case.close, key=lambda p: p.before)
    rows, cols = pair.seen.shape[:2]
    r, c = max(rows - MOST, 0) // 2, max(cols - MOST, 0) // 2
    part = (slice(r, r + MOST), slice(c, c + MOST))
    pair = Pair(pair.seen[part], pair.meant[part], tolerance=pair.tolerance)
    found = {width: _strength(pair, case.wrong, width) for width in WIDTHS}
    for _ in range(3):
        best = max(found, key=lambda width: found[width][1])
        near = sorted(found)
        at = near.index(best)
        for other in (near[max(at - 1, 0)], near[min(at + 1, len(near) - 1)]):
            middle = round(float(np.sqrt(best * other)), 4)
            if middle not in found:
                found[middle] = _strength(pair, case.wrong, middle)
    best = max(found, key=lambda width: found[width][1])
    return (best, *found[best])


def _rougher(case: Case) -> list[F64]:
    """How rough wrong channels are against what was meant, at growing distances: (4,) each."""
    found = []
    for c in case.wrong:
        seen, meant = case.seen[c].rough.mean(axis=1), case.meant[c].rough.mean(axis=1)
        if meant.min() > 1e-10:
            found.append(seen / meant)
    return found


class Blurred(Fault):
    kind = "blurred"
    title = "Blurred"
    cost = 3.0

    def explain(self, case: Case) -> Explained | None:
        if not case.wrong:
            return None
        if not case.in_full:
            return self._by_roughness(case)
        width, k, share = _fit(case)
        if k < 0.3:
            return None
        metres = width * sum(case.spacing) / 2
        return Explained(
            share,
            f"{case.file} is blurred, by about {width:.2g} samples ({metres:.2g} m).",
            AGAIN,
            (("width", width), ("metres", round(metres, 3))),
        )

    @staticmethod
    def _by_roughness(case: Case) -> Explained | None:
        """Fine detail is gone, more of it than of what is coarser."""
        ratios = _rougher(case) if case.seen else []
        if not ratios or not all(r[0] < 0.95 and r[0] <= r[1] + 0.02 and r[1] <= r[3] + 0.03 for r in ratios):
            return None
        if explained_by_shift(case) > 0.3:
            return None
        text = f"{case.file} is softer, fine detail is gone: blurred, or bent or moved between samples."
        return Explained(LIKELY, f"{text} {BESIDE}")


class Sharpened(Fault):
    kind = "sharpened"
    title = "Sharpened"
    cost = 3.1

    def explain(self, case: Case) -> Explained | None:
        if not case.wrong:
            return None
        if case.in_full:
            _, k, share = _fit(case)
            return Explained(share, f"{case.file} is sharpened: edges ring.") if k < -0.05 else None
        if not case.seen or not self._rings(case):
            return None
        text = f"{case.file} has harder edges: sharpened, made steeper by a curve, or put together otherwise."
        return Explained(LIKELY, f"{text} {BESIDE}")

    @staticmethod
    def _rings(case: Case) -> bool:
        """Finest detail grew most, and only where there was some."""
        ratios = _rougher(case)
        if not ratios or not all(r[0] > 1.03 and r[0] >= r[2] - 0.02 for r in ratios):
            return False
        return all(evenly_rougher(case, c) < 0.35 for c in case.wrong)


def evenly_rougher(case: Case, channel: int) -> float:
    """Which part of the roughness that came on top is the same in calm cells and in rough ones: noise is everywhere,
    ringing only where there was something to ring."""
    before, after = case.meant[channel].local.ravel(), case.seen[channel].local.ravel()
    more = after - before
    spread = before - before.mean()
    power = float(spread @ spread)
    slope = float(spread @ more) / power if power > 1e-18 else 0.0
    mean = float(more.mean())
    return (mean - slope * float(before.mean())) / mean if mean > 0 else 0.0
