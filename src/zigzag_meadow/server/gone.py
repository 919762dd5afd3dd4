"""Whether whoever asked is still there: a page that was closed or asked for something newer drops its connection."""

from __future__ import annotations

import select
import socket
import time
from collections.abc import Callable

from django.http import HttpRequest

__all__ = ["gone"]

_LOOK_SECONDS = 0.03


def gone(request: HttpRequest) -> Callable[[], bool]:
    """A function that says whether the other end of a request has closed; it looks a few times a second at most."""
    wire: socket.socket | None = request.META.get("gunicorn.socket")
    closed, last = False, 0.0

    def look() -> bool:
        nonlocal closed, last
        now = time.monotonic()
        if wire is None or closed or now - last < _LOOK_SECONDS:
            return closed
        last = now
        try:
            ready, _, _ = select.select([wire], [], [], 0)
            closed = bool(ready) and wire.recv(1, socket.MSG_PEEK | socket.MSG_DONTWAIT) == b""
        except BlockingIOError:
            closed = False
        except (OSError, ValueError):
            closed = True
        return closed

    return look
