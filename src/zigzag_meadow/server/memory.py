"""Memory that was freed goes back to the system: the allocator would keep it for a next time that may never come."""

from __future__ import annotations

import ctypes
import resource
import threading
import time
from pathlib import Path

__all__ = ["FEW_ARENAS", "give_back_when_idle", "in_use"]

FEW_ARENAS = {"MALLOC_ARENA_MAX": "2"}
"""Every thread would keep a store of its own; here threads hold arrays for a moment and leave gaps behind."""
_EVERY_SECONDS = 5.0
_IDLE_SECONDS = 1.0
_GROWN_BYTES = 64 * 2**20
"""What a process must have grown by since memory was given back: the allocator stands still while it does so."""
_last = 0.0


def in_use() -> None:
    """Somebody is waiting for this process: to give memory back would hold them up."""
    global _last
    _last = time.monotonic()


def _held() -> int:
    """Bytes of this process in memory."""
    return int(Path("/proc/self/statm").read_text().split()[1]) * resource.getpagesize()


def give_back_when_idle() -> None:
    """Begin to give memory back every few seconds, whenever there is much and nobody has asked for anything just
    before."""
    trim = getattr(ctypes.CDLL(None), "malloc_trim", None)
    if trim is None:
        return

    def go_on() -> None:
        left = _held()
        while True:
            time.sleep(_EVERY_SECONDS)
            if time.monotonic() - _last > _IDLE_SECONDS and _held() > left + _GROWN_BYTES:
                trim(0)
                left = _held()

    threading.Thread(target=go_on, name="memory", daemon=True).start()
