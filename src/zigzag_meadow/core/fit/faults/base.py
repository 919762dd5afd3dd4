"""A hypothesis: how a file could have come to differ from what was meant, and how much of that it explains."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.case import Box, Case, Pair, channel_words, left_over

__all__ = ["AGAIN", "Explained", "Fault", "by_channel", "counted", "subject", "undone"]

F64 = NDArray[np.float64]
AGAIN = "Write the file again."


@dataclass(frozen=True, slots=True)
class Explained:
    """``share``: of the difference that is explained, at most 1; ``says``: what happened, as a sentence; ``fix``: what
    mends it outside; ``numbers``: by name, for who reads them; ``place``: where, if not all over."""

    share: float
    says: str
    fix: str = AGAIN
    numbers: tuple[tuple[str, float | str], ...] = ()
    place: Box | None = None


class Fault(ABC):
    """One kind of fault. ``cost``: how much it takes for granted: of two that explain nearly all, the cheaper wins;
    ``enough``: how much it must explain; ``brief``: of means alone; ``rivals``: kinds that may look the same; ``last``:
    only tried where nothing else explains it, because it could explain much of anything."""

    kind: ClassVar[str]
    title: ClassVar[str]
    cost: ClassVar[float]
    enough: ClassVar[float] = 0.9
    brief: ClassVar[float] = 0.75
    severity: ClassVar[Literal["error", "attention"]] = "error"
    rivals: ClassVar[tuple[str, ...]] = ()
    last: ClassVar[bool] = False

    @abstractmethod
    def explain(self, case: Case) -> Explained | None:
        """What it makes of a case; None where it has nothing to say."""


def subject(case: Case, channels: Sequence[int]) -> str:
    """``splat.png`` or ``splat.png: R and B``, to begin a sentence with."""
    words = channel_words(case, channels)
    return f"{case.file}: {words}" if words else case.file


def by_channel(case: Case, predict: Callable[[Pair, int], F64 | None]) -> tuple[float, list[int]] | None:
    """Put to the test what is said of single channels: ``predict(pair, channel)`` gives (rows, columns), or None for
    channels that it leaves alone.

    Returns (share explained, channels that it was used on): only where it makes a channel nearly right. None where it
    helps no channel.
    """
    used: list[int] = []
    before = after = 0.0
    for c in case.wrong:
        was = now = 0.0
        for pair in case.near:
            made = predict(pair, c)
            alone = Pair(pair.seen[:, :, c : c + 1], pair.meant[:, :, c : c + 1], pair.per, pair.tolerance)
            was += alone.before
            now += alone.before if made is None else alone.before * (1 - alone.share(made[:, :, None]))
        before += was
        if was > 0 and now < 0.35 * was:
            used.append(c)
            after += now
        else:
            after += was
    if not used or before <= 0:
        return None
    return 1 - after / before, used


def undone(case: Case, undo: Callable[[NDArray[np.int64]], NDArray[np.int64]]) -> float:
    """The share explained by a change of stored whole numbers that can be taken back exactly: ``undo`` does."""
    before = after = 0.0
    for pair in case.close:
        seen, meant = pair.seen[:, :, case.wrong], pair.meant[:, :, case.wrong]
        stored = np.floor(seen * case.full + 0.5).astype(np.int64)
        before += left_over(seen, meant, pair.tolerance)
        after += left_over(undo(stored) / case.full, meant, pair.tolerance)
    return 1 - after / before if before else 0.0


def counted(case: Case, bend: Callable[[F64], F64]) -> tuple[float, list[int]] | None:
    """Put to the test what is said of values by how often each occurs: (share explained, channels it was used on).

    Means of bent values are not bent means; counts of them are. None where nothing is counted or it helps no channel.
    """
    if not case.seen or not case.meant:
        return None
    used: list[int] = []
    total = same = 0.0
    for c in case.wrong:
        meant, seen = case.meant[c].levels, case.seen[c].levels
        if case.bits == 8:
            at = np.floor(np.clip(bend(np.arange(256) / 255), 0, 1) * 255 + 0.5).astype(int)
        else:
            at = np.clip((np.clip(bend((np.arange(256) + 0.5) / 256), 0, 1) * 256).astype(int), 0, 255)
        was, now = _apart(meant, seen), _apart(np.bincount(at, meant, 256), seen)
        total += was
        if was > 0 and now < 0.35 * was:
            used.append(c)
            same += was - now
    return (same / total, used) if used and total else None


def _apart(a: NDArray[Any], b: NDArray[Any]) -> float:
    """How far values must be moved to make one count of the other (earth mover's distance on a line)."""
    return float(np.abs(np.cumsum(a.astype(np.float64) - b.astype(np.float64))).sum())
