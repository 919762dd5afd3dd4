"""Memory that was freed goes back to the system: the allocator would keep it for a next time that may never come."""

from __future__ import annotations

import ctypes
import threading
import time

__all__ = ["FEW_ARENAS", "give_back_when_idle", "in_use"]

FEW_ARENAS = {"MALLOC_ARENA_MAX": "2"}
"""Every thread would keep a store of its own; here threads hold arrays for a moment and leave gaps behind."""
_EVERY_SECONDS = 5.0
_IDLE_SECONDS = 1.0
_last = 0.0


def in_use() -> None:
    """Somebody is waiting for this process: to give memory back would hold them up."""
    global _last
    _last = time.monotonic()


def give_back_when_idle() -> None:
    """Begin to give memory back every few seconds, whenever nobody has asked for anything just before."""
    trim = getattr(ctypes.CDLL(None), "malloc_trim", None)
    if trim is None:
        return

    def go_on() -> None:
        while True:
            time.sleep(_EVERY_SECONDS)
            if time.monotonic() - _last > _IDLE_SECONDS:
                trim(0)

    threading.Thread(target=go_on, name="memory", daemon=True).start()
