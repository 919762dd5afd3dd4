"""Files on disk that are looked at for changes."""

from __future__ import annotations

import time
from collections.abc import Sequence
from pathlib import Path

__all__ = ["Watched"]

RESTS_SECONDS = 1.0
"""A file that changed more lately than this may not be finished."""
_State = tuple[int, int] | None


class Watched:
    """Some files as they were when they were last taken."""

    def __init__(self, files: Sequence[Path]) -> None:
        self._files = list(files)
        self._taken = self._now()
        self._seen, self._since = self._taken, time.monotonic()

    def _now(self) -> dict[Path, _State]:
        return {path: _state(path) for path in self._files}

    def changed(self) -> bool:
        """Whether one of them changed and all have come to rest; they are taken then. A file that is gone is waited
        for."""
        now = self._now()
        if now != self._seen:
            self._seen, self._since = now, time.monotonic()
        there = [state for state in now.values() if state is not None]
        if now == self._taken or len(there) < len(now):
            return False
        # What others write into a file's times may lie in the future: then it rests when it does by our own clock.
        old = all(time.time_ns() - changed >= RESTS_SECONDS * 1e9 for _, changed in there)
        if not old and time.monotonic() - self._since < RESTS_SECONDS:
            return False
        self._taken = now
        return True


def _state(path: Path) -> _State:
    try:
        told = path.stat()
    except OSError:
        return None
    return told.st_size, told.st_mtime_ns
