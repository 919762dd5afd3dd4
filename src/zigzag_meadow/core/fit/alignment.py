"""How a map lies against another: which of the eight orientations, and how far off, with a confidence."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

__all__ = ["ORIENTATIONS", "Orientation", "best_orientation", "best_shift", "exact_turn", "likeness"]

F64 = NDArray[np.float64]
Turn = Callable[[F64], F64]

ORIENTATIONS: tuple[tuple[str, str, Turn], ...] = (
    ("as it is", "nothing", lambda a: a),
    ("flipped north–south", "flip it north–south", lambda a: a[::-1]),
    ("mirrored east–west", "mirror it east–west", lambda a: a[:, ::-1]),
    ("turned by 180°", "turn it by 180°", lambda a: a[::-1, ::-1]),
    ("transposed (rows and columns swapped)", "swap its rows and columns", lambda a: a.T),
    ("turned by 90° clockwise", "turn it by 90° counter-clockwise", lambda a: np.rot90(a, 1)),
    ("turned by 90° counter-clockwise", "turn it by 90° clockwise", lambda a: np.rot90(a, -1)),
    ("transposed about the other diagonal", "swap rows and columns, then turn by 180°", lambda a: a[::-1, ::-1].T),
)
"""(what happened to the map, what mends it, the mending itself)."""


@dataclass(frozen=True, slots=True)
class Orientation:
    """The orientation in which a map matches best: its words and cure, and how like it is then and as it is."""

    happened: str
    cure: str
    likeness: float
    as_it_is: float

    @property
    def wrong(self) -> bool:
        """Whether another orientation matches well, and clearly better than the map as it is."""
        return self.happened != "as it is" and self.likeness > 0.6 and self.likeness > self.as_it_is + 0.15


def likeness(a: F64, b: F64) -> float:
    """Correlation of two maps of one shape, −1 to 1; two constant maps are alike when they are equal."""
    if a.shape != b.shape:
        return -1.0
    x, y = a - a.mean(), b - b.mean()
    scale = float(np.sqrt((x * x).sum() * (y * y).sum()))
    if scale < 1e-12:
        return 1.0 if np.allclose(a, b, atol=1e-3) else 0.0
    return float((x * y).sum() / scale)


def best_orientation(seen: F64, expected: F64) -> Orientation:
    """Which turn makes ``seen`` most like ``expected``. Both are square summaries (means of cells)."""
    scores = [(likeness(turn(seen), expected), happened, cure) for happened, cure, turn in ORIENTATIONS]
    as_it_is = scores[0][0]
    # Ties go to the earlier: a map that is alike both ways is not accused.
    best = max(scores, key=lambda item: round(item[0], 6))
    return Orientation(best[1], best[2], best[0], as_it_is)


def exact_turn(seen: F64, expected: F64, within: float) -> Orientation | None:
    """The turn after which ``seen`` equals ``expected`` (sample by sample, up to ``within``), if there is one."""
    for happened, cure, turn in ORIENTATIONS[1:]:
        turned = turn(seen)
        if turned.shape == expected.shape and float((np.abs(turned - expected) <= within).mean()) > 0.999:
            return Orientation(happened, cure, 1.0, likeness(seen, expected))
    return None


def best_shift(seen: F64, expected: F64, reach: int = 4) -> tuple[int, int]:
    """(rows south, columns east) by which ``seen`` lies off ``expected``, whole samples up to ``reach``.

    Compared on the middle of the maps by mean absolute difference; (0, 0) unless a shift takes away nearly all
    of it.
    """
    rows, cols = expected.shape
    r0, r1, c0, c1 = reach, min(rows, 640) - reach, reach, min(cols, 640) - reach
    if r1 - r0 < 8 or c1 - c0 < 8:
        return 0, 0
    middle = expected[r0:r1, c0:c1]
    best, shift, unmoved = np.inf, (0, 0), np.inf
    steps = sorted(
        ((dy, dx) for dy in range(-reach, reach + 1) for dx in range(-reach, reach + 1)),
        key=lambda step: abs(step[0]) + abs(step[1]),
    )
    for dy, dx in steps:
        off = float(np.abs(seen[r0 + dy : r1 + dy, c0 + dx : c1 + dx] - middle).mean())
        if (dy, dx) == (0, 0):
            unmoved = off
        if off < best - 1e-12:
            best, shift = off, (dy, dx)
    return shift if best < 0.1 * unmoved else (0, 0)
