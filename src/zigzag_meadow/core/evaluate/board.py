"""Long computations under way in this process: what, how far, and a way to stop them."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field

from zigzag_meadow.core.stripes import Cancel

__all__ = ["Task", "WorkBoard"]


@dataclass
class Task:
    """One computation: ``share`` done (0–1), ``need``: bytes of memory it may use, and whether somebody asked it to
    stop."""

    key: str
    owner: str
    title: str
    started: float
    need: int = 0
    share: float = 0.0
    stopped: bool = field(default=False)

    def tell(self, share: float) -> None:
        self.share = min(max(share, 0.0), 1.0)


class WorkBoard:
    """Tasks by key; safe for concurrent callers. ``clock`` gives seconds."""

    def __init__(self, clock: Callable[[], float] = time.monotonic) -> None:
        self._tasks: dict[str, Task] = {}
        self._lock = threading.Lock()
        self._clock = clock

    @contextmanager
    def task(
        self, key: str, owner: str, title: str, cancel: Cancel | None, need: int = 0
    ) -> Iterator[tuple[Task, Cancel]]:
        """(the task, whether to stop): stop when the caller's ``cancel`` says so or somebody stopped the task."""
        task = Task(key, owner, title, self._clock(), need)
        with self._lock:
            self._tasks[key] = task
        try:
            yield task, lambda: task.stopped or (cancel is not None and cancel())
        finally:
            with self._lock:
                self._tasks.pop(key, None)

    def of(self, owner: str) -> list[tuple[Task, float]]:
        """Tasks of one owner with the seconds they have run, oldest first."""
        now = self._clock()
        with self._lock:
            return [(task, now - task.started) for task in self._tasks.values() if task.owner == owner]

    def stop(self, owner: str, key: str) -> bool:
        """Ask a task to stop; returns whether there is such a task."""
        with self._lock:
            task = self._tasks.get(key)
        if task is None or task.owner != owner:
            return False
        task.stopped = True
        return True
