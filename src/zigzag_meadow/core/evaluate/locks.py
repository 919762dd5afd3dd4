"""One lock a key, kept while somebody holds or waits for it."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager

from zigzag_meadow.core.evaluate.cache import raise_if
from zigzag_meadow.core.stripes import Cancel

__all__ = ["Locks"]

_LOOK_SECONDS = 0.05


class Locks:
    """Locks by key; safe for concurrent callers."""

    def __init__(self) -> None:
        self._guard = threading.Lock()
        self._locks: dict[str, tuple[threading.Lock, int]] = {}

    @contextmanager
    def hold(self, key: str, cancel: Cancel | None) -> Iterator[None]:
        """Hold the lock of a key. Raises :class:`Cancelled` when ``cancel`` turns true while waiting."""
        with self._guard:
            lock, users = self._locks.get(key, (threading.Lock(), 0))
            self._locks[key] = (lock, users + 1)
        try:
            while not lock.acquire(timeout=_LOOK_SECONDS):
                raise_if(cancel)
            try:
                yield
            finally:
                lock.release()
        finally:
            self._leave(key)

    def _leave(self, key: str) -> None:
        with self._guard:
            lock, users = self._locks[key]
            if users == 1:
                del self._locks[key]
            else:
                self._locks[key] = (lock, users - 1)
