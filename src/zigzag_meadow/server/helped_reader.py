"""The server's end of the file helper: one kept process, replaced when it dies or takes too long."""

from __future__ import annotations

import logging
import mmap
import multiprocessing
import os
import pickle
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from multiprocessing import reduction
from multiprocessing.connection import Connection
from typing import Any

from zigzag_meadow.core.errors import BadFile, Cancelled, TooLarge
from zigzag_meadow.core.formats.limits import MOST_MEMORY

__all__ = ["HelpedReader"]

log = logging.getLogger(__name__)
MOST_SECONDS = 60
START_SECONDS = 60
_LOOK_SECONDS = 0.05


class HelpedReader:
    """Has files read by a helper, one at a time; see :class:`zigzag_meadow.core.formats.file_reader.FileReader`.

    Whatever a decoder does, the process that asks goes on: it waits for a helper that works, and drops one that died,
    overran ``seconds`` or is no longer waited for.
    """

    def __init__(self, seconds: int = MOST_SECONDS, memory: int = MOST_MEMORY) -> None:
        self.seconds, self.memory = seconds, memory
        self._turn = threading.Lock()
        self._process: subprocess.Popen[bytes] | None = None
        self._connection: Connection | None = None

    def start(self) -> None:
        """Have a helper ready before the first file comes."""
        with self._turn:
            self._helper()

    def close(self) -> None:
        with self._turn:
            self._drop()

    def __call__(self, work: Callable[..., Any], *arguments: Any, cancel: Callable[[], bool] | None = None) -> Any:
        while not self._turn.acquire(timeout=_LOOK_SECONDS):
            if cancel is not None and cancel():
                raise Cancelled()
        try:
            connection = self._helper()
            try:
                connection.send((work, arguments))
                kind, value = self._awaited(connection, cancel, _name(arguments))
                result = self._unpacked(connection, *value) if kind == "done" else None
            except (EOFError, ConnectionError) as error:
                self._drop()
                raise BadFile(
                    f"{_name(arguments)} could not be read: it is damaged, or reading it needs more than "
                    f"{self.memory / 2**30:g} GiB of memory. Save it again, with fewer samples or fewer bits."
                ) from error
            except BaseException:
                self._drop()
                raise
        finally:
            self._turn.release()
        if kind == "refused":
            raise value
        if kind == "broken":
            raise RuntimeError(f"the file helper failed:\n{value}")
        return result

    def _helper(self) -> Connection:
        if self._process is not None and self._process.poll() is None and self._connection is not None:
            return self._connection
        self._drop()
        ours, theirs = multiprocessing.Pipe()
        module = "zigzag_meadow.server.file_helper"
        self._process = subprocess.Popen(
            [sys.executable, "-m", module, str(theirs.fileno()), str(self.seconds), str(self.memory)],
            pass_fds=(theirs.fileno(),),
            stdin=subprocess.DEVNULL,
        )
        theirs.close()
        self._connection = ours
        if not ours.poll(START_SECONDS) or ours.recv() != ("ready", None):
            self._drop()
            raise RuntimeError("the file helper did not start")
        return ours

    def _awaited(self, connection: Connection, cancel: Callable[[], bool] | None, name: str) -> tuple[str, Any]:
        end = time.monotonic() + self.seconds
        while not connection.poll(_LOOK_SECONDS):
            if cancel is not None and cancel():
                raise Cancelled()
            if time.monotonic() > end:
                raise TooLarge(f"{name} took longer than {self.seconds} s to read and was given up. Save it smaller.")
        kind, value = connection.recv()
        return str(kind), value

    @staticmethod
    def _unpacked(connection: Connection, plain: bytes, sizes: list[int]) -> Any:
        if not sizes:
            return pickle.loads(plain)
        handle = reduction.recv_handle(connection)
        whole = memoryview(mmap.mmap(handle, sum(sizes), access=mmap.ACCESS_COPY))
        os.close(handle)
        parts, at = [], 0
        for size in sizes:
            parts.append(whole[at : at + size])
            at += size
        return pickle.loads(plain, buffers=parts)

    def _drop(self) -> None:
        if self._connection is not None:
            self._connection.close()
        if self._process is not None:
            self._process.kill()
            self._process.wait()
            log.info("the file helper ended with %s", self._process.returncode)
        self._process = self._connection = None


def _name(arguments: tuple[Any, ...]) -> str:
    return next((item for item in arguments if isinstance(item, str)), "The file")
