"""Processes of the application end when the one that started them does, and only one application holds a folder."""

from __future__ import annotations

import ctypes
import fcntl
import json
import os
import signal
from collections.abc import Callable
from pathlib import Path
from typing import IO, Any

__all__ = ["READY", "Held", "hold", "wait_until_ready", "with_parent"]

_PR_SET_PDEATHSIG = 1
READY = "ZIGZAG_READY"
"""Names the end of a pipe through which a process is told that what it needs has been prepared."""


def wait_until_ready() -> None:
    """Wait until whoever started this process says that all is ready; at once where nobody is to say so.

    Raises :class:`SystemExit` when it ended without saying so. Asked again, it has been told already.
    """
    pipe = os.environ.pop(READY, None)
    if pipe is None:
        return
    told = os.read(int(pipe), 1)
    os.close(int(pipe))
    if not told:
        raise SystemExit(1)


def with_parent() -> Callable[[], None]:
    """What a child runs between fork and exec: the kernel then sends it SIGTERM when this process dies, however that
    happens (Linux; the setting outlives exec)."""
    parent = os.getpid()

    def tie() -> None:
        ctypes.CDLL(None, use_errno=True).prctl(_PR_SET_PDEATHSIG, signal.SIGTERM, 0, 0, 0)
        if os.getppid() != parent:
            # It died before the kernel was told.
            os._exit(1)

    return tie


class Held(Exception):
    """Another application holds the data folder; ``holder`` is what it wrote about itself."""

    def __init__(self, holder: dict[str, Any]) -> None:
        super().__init__("held")
        self.holder = holder


def hold(folder: Path, about: dict[str, Any]) -> IO[str]:
    """Hold a data folder for as long as the returned file is open and this process lives. Raises :class:`Held`.

    The kernel lets go of the lock when the process ends, however it ends: nothing is left behind that stops the next
    start.
    """
    file = open(folder / "serve.lock", "a+", encoding="utf-8")  # noqa: SIM115 (open for as long as it is held)
    try:
        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        file.seek(0)
        try:
            holder = json.loads(file.read())
        except ValueError:
            holder = {}
        file.close()
        raise Held(holder if isinstance(holder, dict) else {}) from None
    file.truncate(0)
    file.write(json.dumps(about))
    file.flush()
    return file
