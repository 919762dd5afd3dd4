"""What a hypothesis may look at: a file as it is and as it was meant, by samples, by means, and by signatures."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.signature import Signature

__all__ = ["Box", "Case", "Other", "Pair", "channel_words", "left_over"]

F64 = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Box:
    """Where on a file, as shares of its height and width from the north and the west."""

    top: float
    left: float
    bottom: float
    right: float

    @property
    def area(self) -> float:
        return max(self.bottom - self.top, 0) * max(self.right - self.left, 0)

    def words(self) -> str:
        """Where it is, in words."""
        row = "north" if self.bottom <= 0.4 else "south" if self.top >= 0.6 else ""
        col = "west" if self.right <= 0.4 else "east" if self.left >= 0.6 else ""
        if self.area > 0.6:
            return "all over"
        return f"in the {row}{'-' if row and col else ''}{col}" if row or col else "in the middle"


def left_over(seen: F64, meant: F64, tolerance: float) -> float:
    """What is left of a difference beyond ``tolerance``: the sum of its squares."""
    off = np.abs(seen - meant)
    off -= tolerance
    np.maximum(off, 0, out=off)
    return float(np.dot(off.ravel(), off.ravel()))


@dataclass(frozen=True)
class Pair:
    """A part of a file as it is and as it was meant: float64 (rows, columns, channels), 0–1 of full scale, north up.

    ``per``: samples of the file to one here, down and across. ``tolerance``: up to which values count as equal.
    """

    seen: F64
    meant: F64
    per: tuple[float, float] = (1.0, 1.0)
    tolerance: float = 0.0

    @property
    def by_sample(self) -> bool:
        return self.per == (1.0, 1.0)

    @cached_property
    def before(self) -> float:
        """What is to be explained."""
        return left_over(self.seen, self.meant, self.tolerance)

    @cached_property
    def off(self) -> F64:
        """Differences beyond the tolerance, largest of all channels: (rows, columns)."""
        off: F64 = np.abs(self.seen - self.meant).max(axis=2)
        return np.maximum(off - self.tolerance, 0)

    def share(self, predicted: F64, margin: tuple[int, int] = (0, 0)) -> float:
        """How much of the difference a prediction explains, at most 1; below 0 where it makes things worse.

        ``margin``: rows and columns along the borders that nothing is said of.
        """
        if not any(margin):
            return 1 - left_over(self.seen, predicted, self.tolerance) / self.before if self.before else 0.0
        rows, cols = self.seen.shape[:2]
        inner = (slice(margin[0], rows - margin[0]), slice(margin[1], cols - margin[1]))
        if rows <= 2 * margin[0] + 4 or cols <= 2 * margin[1] + 4:
            return 0.0
        before = left_over(self.seen[inner], self.meant[inner], self.tolerance)
        return 1 - left_over(self.seen[inner], predicted[inner], self.tolerance) / before if before else 0.0

    def textured(self, channel: int) -> bool:
        """Whether a channel varies enough to tell places apart."""
        return float(self.meant[:, :, channel].std()) > max(4 * self.tolerance, 1e-4)


@dataclass(frozen=True, slots=True)
class Other:
    """Another file of the delivery, by its means: float64 (side, side, channels), north up."""

    file: str
    title: str
    means: F64


@dataclass(frozen=True)
class Case:
    """One file that is not as it was meant.

    ``whole``: all of it, sample by sample where it is small, else means of equal cells; ``close``: parts of it sample
    by sample (none without the project). ``seen``, ``meant``: signatures of its channels, where they are known.
    ``bits``: of a channel, 0 for floats. ``metres``: of heights (metres at stored 0, metres at full scale).
    ``scratch``: what several hypotheses ask for, worked out once.
    """

    file: str
    kind: str
    letters: Sequence[str]
    titles: Sequence[str]
    bits: int
    whole: Pair
    close: tuple[Pair, ...] = ()
    seen: tuple[Signature, ...] = ()
    meant: tuple[Signature, ...] = ()
    others: tuple[Other, ...] = ()
    metres: tuple[float, float] | None = None
    spacing: tuple[float, float] = (1.0, 1.0)
    rows: int = 0
    cols: int = 0
    scratch: dict[str, Any] = field(default_factory=dict)

    @property
    def in_full(self) -> bool:
        return bool(self.close)

    @property
    def full(self) -> int:
        return 2**self.bits - 1 if self.bits else 1

    @property
    def near(self) -> tuple[Pair, ...]:
        """What is known most closely."""
        return self.close or (self.whole,)

    @cached_property
    def wrong(self) -> list[int]:
        """Channels that are not as they were meant."""
        many = self.whole.meant.shape[2]
        found = []
        for c in range(many):
            off = any(
                left_over(pair.seen[:, :, c], pair.meant[:, :, c], pair.tolerance) > 0
                for pair in (*self.close, self.whole)
            )
            if off or self._counts_differ(c):
                found.append(c)
        return found

    def _counts_differ(self, channel: int) -> bool:
        if not self.seen or not self.meant:
            return False
        return bool((self.seen[channel].levels != self.meant[channel].levels).any())


def channel_words(case: Case, channels: Sequence[int]) -> str:
    """``R, G and B`` of a file, or nothing where it has one channel or all are meant."""
    if len(case.letters) < 2 or len(channels) == len(case.letters):
        return ""
    names = [case.letters[c].upper() for c in channels]
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
