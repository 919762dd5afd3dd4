"""Memory for long work on whole grounds: said beforehand, waited for, and refused where there can never be enough."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager

from zigzag_meadow.core.errors import TooLarge
from zigzag_meadow.core.evaluate.cache import raise_if
from zigzag_meadow.core.stripes import Cancel

__all__ = ["MOST_WORK", "WorkRoom"]

MOST_WORK = 5 * 2**29
"""Bytes that one piece of long work may need, beyond what caches hold."""
MOST_TOGETHER = 2**30
"""Bytes that several may need at one time."""
_LOOK_SECONDS = 0.05


class WorkRoom:
    """Room shared by all long work of a process: ``most`` bytes for one alone, ``together`` for several.

    Whoever takes room has gathered all inputs before: nobody waits for somebody else's result while holding room, so
    everybody who holds it gets done.
    """

    def __init__(self, most: int = MOST_WORK, together: int = MOST_TOGETHER) -> None:
        self.most = most
        self.together = min(together, most)
        self._taken = 0
        self._changed = threading.Condition()

    @contextmanager
    def take(self, need: int, what: str, cancel: Cancel | None) -> Iterator[None]:
        """Hold ``need`` bytes, waiting until they are free. Raises :class:`TooLarge` when they never can be, and
        :class:`Cancelled` while waiting."""
        if need > self.most:
            raise TooLarge(
                f"{what} would need {need / 2**30:.1f} GiB of memory on this ground; at most {self.most / 2**30:g} GiB "
                "are used for such work. Resample the ground to fewer samples first."
            )
        with self._changed:
            while self._taken and self._taken + need > self.together:
                self._changed.wait(_LOOK_SECONDS)
                raise_if(cancel)
            self._taken += need
        try:
            yield
        finally:
            with self._changed:
                self._taken -= need
                self._changed.notify_all()
