"""Helpers that take some of the tiles of a map while the caller makes the others."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from itertools import count

__all__ = ["Crew"]


class Crew:
    """``helpers`` threads shared by all callers. Nobody waits for a helper to become free: the caller works too, and
    does alone what no helper takes. So callers may hold locks, and work may call for the crew again."""

    def __init__(self, helpers: int) -> None:
        self.helpers = helpers
        self._pool = ThreadPoolExecutor(helpers, "crew") if helpers > 0 else None

    def each(self, many: int, work: Callable[[int], None]) -> None:
        """Call ``work(i)`` once for every i below ``many``; the first error ends it and is raised."""
        numbers = count()
        failed = False

        def go_on() -> None:
            nonlocal failed
            while not failed:
                number = next(numbers)
                if number >= many:
                    return
                try:
                    work(number)
                except BaseException:
                    failed = True
                    raise

        helping = [self._pool.submit(go_on) for _ in range(min(self.helpers, many - 1))] if self._pool else []
        try:
            go_on()
        finally:
            # A helper that never began has nothing left to do; one that did is waited for.
            begun = [future for future in helping if not future.cancel()]
            errors = [error for future in begun if (error := future.exception()) is not None]
        if errors:
            raise errors[0]

    def close(self) -> None:
        if self._pool is not None:
            self._pool.shutdown()
