"""Results by key: a bounded store in memory, one computation a key however many ask, whole-ground maps on disk."""

from __future__ import annotations

import os
import threading
from collections import OrderedDict
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import Cancelled

__all__ = ["DiskStore", "TileCache", "raise_if"]

Array = NDArray[Any]
GIB = 1024**3
_LOOK_SECONDS = 0.05


class TileCache:
    """Least recently used arrays up to ``limit`` bytes; read-only, safe for concurrent callers."""

    def __init__(self, limit: int = int(1.5 * GIB)) -> None:
        self.limit = limit
        self._held: OrderedDict[str, Array] = OrderedDict()
        self._bytes = 0
        self._lent = 0
        self._lock = threading.Lock()
        self._running: dict[str, threading.Event] = {}

    def get(self, key: str, compute: Callable[[], Array], cancel: Callable[[], bool] | None = None) -> Array:
        """The array of ``key``, computed at most once at a time.

        Should the caller that computes be stopped or fail, one of those that wait takes over. Who waits looks at its
        own ``cancel`` meanwhile. Raises :class:`Cancelled`.
        """
        while True:
            with self._lock:
                held = self._held.get(key)
                if held is not None:
                    self._held.move_to_end(key)
                    return held
                running = self._running.get(key)
                if running is None:
                    mine = self._running[key] = threading.Event()
                    break
            while not running.wait(_LOOK_SECONDS):
                raise_if(cancel)
        try:
            value = compute()
            value.flags.writeable = False
            self._put(key, value)
            return value
        finally:
            with self._lock:
                del self._running[key]
            mine.set()

    def peek(self, key: str) -> Array | None:
        """The array of ``key`` if it is held."""
        with self._lock:
            return self._held.get(key)

    def offer(self, key: str, value: Array) -> None:
        """Hold a result that came along with another."""
        value.flags.writeable = False
        if self.peek(key) is None:
            self._put(key, value)

    @contextmanager
    def lending(self, room: int) -> Iterator[None]:
        """While work needs so many bytes, as many fewer are held, down to a third of the limit: both together take no
        more memory than the store may alone."""
        with self._lock:
            self._lent += room
            self._drop()
        try:
            yield
        finally:
            with self._lock:
                self._lent -= room

    def _put(self, key: str, value: Array) -> None:
        with self._lock:
            before = self._held.pop(key, None)
            self._bytes += value.nbytes - (0 if before is None else before.nbytes)
            self._held[key] = value
            self._drop()

    def _drop(self) -> None:
        limit = max(self.limit - self._lent, self.limit // 3)
        while self._bytes > limit and len(self._held) > 1:
            _, dropped = self._held.popitem(last=False)
            self._bytes -= dropped.nbytes


class DiskStore:
    """Whole-ground maps as files named by key, up to ``limit`` bytes; the longest unused go first."""

    def __init__(self, folder: Path, limit: int = 8 * GIB) -> None:
        self.folder = folder
        self.limit = limit
        folder.mkdir(parents=True, exist_ok=True)

    def load(self, key: str) -> Array | None:
        path = self.folder / f"{key}.npy"
        try:
            value: Array = np.load(path)
            os.utime(path)
        except (OSError, ValueError, EOFError):
            return None
        return value

    def has(self, key: str) -> bool:
        """Whether a map of this key is on the disk."""
        return (self.folder / f"{key}.npy").is_file()

    def save(self, key: str, value: Array) -> None:
        """Write aside, then rename: a reader sees the whole map or none. A full disk loses nothing but time."""
        aside = self.folder / f"{key}.{os.getpid()}.{threading.get_ident()}.part"
        try:
            with aside.open("wb") as file:
                np.save(file, value)
            aside.replace(self.folder / f"{key}.npy")
            self._trim()
        except OSError:
            aside.unlink(missing_ok=True)

    def _trim(self) -> None:
        files = sorted(self.folder.glob("*.npy"), key=lambda path: path.stat().st_mtime)
        total = sum(path.stat().st_size for path in files)
        for path in files[:-1]:
            if total <= self.limit:
                return
            total -= path.stat().st_size
            path.unlink(missing_ok=True)


def raise_if(cancel: Callable[[], bool] | None) -> None:
    if cancel is not None and cancel():
        raise Cancelled()
