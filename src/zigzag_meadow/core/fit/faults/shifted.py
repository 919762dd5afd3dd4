"""Shifted by whole samples or by parts of one."""

from __future__ import annotations

import math

import numpy as np

from zigzag_meadow.core.fit.case import Case, Pair
from zigzag_meadow.core.fit.faults.base import AGAIN, Explained, Fault
from zigzag_meadow.core.fit.registering import moved, shift_between

__all__ = ["Shifted", "explained_by_shift", "found_shift", "shift_words"]

FARTHEST = 0.25
WAYS = ("linear", "cubic", "sharp", "lanczos", "rolled")


def shift_words(south: float, east: float) -> str:
    """``half a sample east and 2 samples north``."""
    parts = [
        f"{_amount(abs(by))} {way}"
        for by, way in ((south, "south" if south > 0 else "north"), (east, "east" if east > 0 else "west"))
        if abs(by) >= 0.05
    ]
    return " and ".join(parts) or "less than a twentieth of a sample"


def _amount(by: float) -> str:
    if abs(by - 0.5) < 0.06:
        return "half a sample"
    near = round(by)
    if near >= 1 and abs(by - near) < 0.06:
        return "1 sample" if near == 1 else f"{near} samples"
    return f"{by:.2f} samples"


class Shifted(Fault):
    kind = "shifted"
    title = "Not in its place"
    cost = 1.5
    enough = 0.75
    brief = 0.4

    def explain(self, case: Case) -> Explained | None:
        found = found_shift(case)
        if found is None:
            return None
        pair, south, east, share = found
        down, across = south * pair.per[0], east * pair.per[1]
        metres = math.hypot(down * case.spacing[0], across * case.spacing[1])
        return Explained(
            share,
            f"{case.file} lies {shift_words(down, across)} ({metres:.3g} m) off its place.",
            AGAIN,
            (("south", round(down, 3)), ("east", round(across, 3))),
        )


Found = tuple[Pair, float, float, float]


def explained_by_shift(case: Case) -> float:
    """How much of the difference a shift explains."""
    found = found_shift(case)
    return 0.0 if found is None else found[3]


def found_shift(case: Case) -> Found | None:
    """Where it was looked, samples south and east, and the share, of the shift that explains most."""
    if "shift" not in case.scratch:
        case.scratch["shift"] = _best(case)
    made: Found | None = case.scratch["shift"]
    return made


def _best(case: Case) -> Found | None:
    """(where it was looked, south, east, share) of the shift that explains most."""
    pair = max(case.near, key=lambda p: p.before)
    found = shift_between(pair.seen, pair.meant, FARTHEST)
    if found is None or max(abs(found[0]) * pair.per[0], abs(found[1]) * pair.per[1]) < 0.04:
        return None
    south, east = found
    if _both_ways(pair, south, east):
        return None
    share = max(_share(pair, south, east, how) for how in WAYS)
    tidy = _tidy(pair, south, east)
    tried = max(_share(pair, *tidy, how) for how in WAYS)
    if tried >= share - 0.01:
        south, east, share = *tidy, max(tried, share)
    return pair, south, east, share


def _tidy(pair: Pair, south: float, east: float) -> tuple[float, float]:
    """The nearest halves of samples, where they are near."""

    def near(value: float, per: float) -> float:
        half = round(value * per * 2) / 2
        return half / per if abs(half - value * per) < 0.12 else value

    return near(south, pair.per[0]), near(east, pair.per[1])


def _both_ways(pair: Pair, south: float, east: float) -> bool:
    """Whether the other way explains as much: what is read between samples is softer, wherever it lies."""
    there, back = (max(_share(pair, k * south, k * east, how) for how in ("linear", "cubic")) for k in (1, -1))
    return there - back < 0.25


def _share(pair: Pair, south: float, east: float, how: str) -> float:
    if how == "rolled":
        if not (float(south).is_integer() and float(east).is_integer()):
            return 0.0
        return pair.share(np.roll(pair.meant, (int(south), int(east)), (0, 1)))
    margin = (math.ceil(abs(south)) + 3, math.ceil(abs(east)) + 3)
    if pair.meant.shape[0] <= 3 * margin[0] or pair.meant.shape[1] <= 3 * margin[1]:
        return 0.0
    return pair.share(moved(pair.meant, south, east, how), margin)
