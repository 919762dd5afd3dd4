"""One pool of numeric threads: ``nogil`` kernels run over row stripes, with cancel checked between stripes.

The pool is made by whoever owns the process (server, worker, command line) and passed in; kernels have no
parallel regions of their own, so concurrent callers share two threads instead of fighting over them.
"""

from __future__ import annotations

import os
from collections.abc import Callable
from concurrent.futures import FIRST_EXCEPTION, ThreadPoolExecutor, wait

from zigzag_meadow.core.errors import Cancelled

__all__ = ["Cancel", "Stripes"]

Cancel = Callable[[], bool]
STRIPE_ROWS = 128
WORTH_SHARING = 2**19


class Stripes:
    """Runs row kernels on a fixed set of threads.

    ``threads`` defaults to the number of processors. A pool with one thread runs in the caller.
    """

    def __init__(self, threads: int | None = None) -> None:
        self.threads = threads or os.cpu_count() or 1
        self._pool = ThreadPoolExecutor(self.threads, "stripe") if self.threads > 1 else None

    def run(self, rows: int, cols: int, kernel: Callable[[int, int], None], cancel: Cancel | None = None) -> None:
        """Call ``kernel(first_row, end_row)`` for stripes that cover ``rows`` rows of ``cols`` samples once.

        Raises :class:`Cancelled` when ``cancel()`` turns true between stripes. Single tiles stay in the caller:
        handing them over costs more than they do.
        """
        starts = range(0, rows, STRIPE_ROWS)
        at_least = 2 if rows * cols >= WORTH_SHARING else len(starts) + 1
        self.each(len(starts), lambda i: kernel(starts[i], min(starts[i] + STRIPE_ROWS, rows)), cancel, at_least)

    def each(self, count: int, work: Callable[[int], None], cancel: Cancel | None = None, at_least: int = 2) -> None:
        """Call ``work(i)`` for every i below ``count``, on the pool when there are ``at_least`` that many.

        Raises :class:`Cancelled` when ``cancel()`` turns true between pieces.
        """

        def one(index: int) -> None:
            if cancel is not None and cancel():
                raise Cancelled()
            work(index)

        if self._pool is None or count < at_least:
            for index in range(count):
                one(index)
            return
        futures = [self._pool.submit(one, index) for index in range(count)]
        done, pending = wait(futures, return_when=FIRST_EXCEPTION)
        for future in pending:
            future.cancel()
        wait(pending)
        for future in done:
            future.result()

    def close(self) -> None:
        if self._pool is not None:
            self._pool.shutdown()
