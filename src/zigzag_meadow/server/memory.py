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
_SELDOM_SECONDS = 30.0
"""The allocator stands still while it gives back: it does where the process has grown by so much since, else seldom."""
_last = 0.0


def in_use() -> None:
    """Somebody is waiting for this process: to give memory back would hold them up."""
    global _last
    _last = time.monotonic()


def _held() -> int:
    """Bytes of this process in memory."""
    return int(Path("/proc/self/statm").read_text().split()[1]) * resource.getpagesize()


def give_back_when_idle() -> None:
    """Begin to give memory back every half minute, sooner where there is much, whenever nobody has asked for anything
    just before."""
    trim = getattr(ctypes.CDLL(None), "malloc_trim", None)
    if trim is None:
        return

    def go_on() -> None:
        left, given = _held(), time.monotonic()
        while True:
            time.sleep(_EVERY_SECONDS)
            now = time.monotonic()
            much = _held() > left + _GROWN_BYTES or now - given > _SELDOM_SECONDS
            if much and now - _last > _IDLE_SECONDS:
                trim(0)
                left, given = _held(), now

    threading.Thread(target=go_on, name="memory", daemon=True).start()
