"""Work that is handed on and done in its order, while whoever hands it on goes on."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from types import TracebackType

__all__ = ["Behind"]

_AHEAD = 4
"""So many pieces may wait or be under way: each holds its samples in memory."""


class Behind:
    """One thread beside the caller. What fails there is raised at the next piece or at the end; nothing that comes
    after it is begun. On leaving, all that was handed on is done or given up."""

    def __init__(self) -> None:
        self._pool = ThreadPoolExecutor(1, "behind")
        self._under_way: deque[Future[None]] = deque()
        self._failed = False

    def hand(self, work: Callable[[], None]) -> None:
        """Have ``work`` done after all that was handed on before."""
        while len(self._under_way) >= _AHEAD or (self._under_way and self._under_way[0].done()):
            self._under_way.popleft().result()
        self._under_way.append(self._pool.submit(self._done, work))

    def _done(self, work: Callable[[], None]) -> None:
        if self._failed:
            return
        try:
            work()
        except BaseException:
            self._failed = True
            raise

    def __enter__(self) -> Behind:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        given_up = kind is not None
        try:
            while self._under_way and not given_up:
                self._under_way.popleft().result()
        finally:
            self._pool.shutdown(wait=True, cancel_futures=True)
