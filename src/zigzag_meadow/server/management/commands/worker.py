"""``manage worker``: take jobs from the table, one at a time."""

from __future__ import annotations

import logging
import os
import signal
import threading
import time
from typing import Any

from django.core.management.base import BaseCommand
from django.db import close_old_connections

from zigzag_meadow.server.destinations import take_up
from zigzag_meadow.server.engine import use_worker_cache
from zigzag_meadow.server.jobs import Claims
from zigzag_meadow.server.thinning import thin_all
from zigzag_meadow.server.work import run_claim

log = logging.getLogger(__name__)
IDLE_SECONDS = 0.2
TROUBLED_SECONDS = 1.0
THIN_SECONDS = 6 * 3600.0


class Command(BaseCommand):
    help = "Run queued deliveries and fit checks until stopped."
    # They would load every page and endpoint, none of which is needed here.
    requires_system_checks = ()

    def handle(self, *args: Any, **options: Any) -> None:
        leaving = threading.Event()
        signal.signal(signal.SIGTERM, lambda number, frame: leaving.set())
        use_worker_cache()
        self._take_up()
        claims = Claims(os.environ.get("ZIGZAG_RUN", ""), leaving.is_set)
        thinned = time.monotonic()
        while not leaving.is_set():
            waits = self._turn(claims)
            # As at every start, for an application that runs for weeks; only while there is nothing else to do.
            if waits and time.monotonic() - thinned > THIN_SECONDS:
                self._thin()
                thinned = time.monotonic()
            leaving.wait(waits)

    def _thin(self) -> None:
        try:
            thin_all()
        except Exception:
            log.exception("old states are thinned another time")
            close_old_connections()

    def _take_up(self) -> None:
        """What somebody was at when it was cut off; none of it must keep the worker from its work."""
        try:
            take_up()
        except Exception:
            log.exception("what was cut off is left for the next start")
            close_old_connections()

    def _turn(self, claims: Claims) -> float:
        """Do one job, if there is one; returns how many seconds to wait before the next look."""
        try:
            claim = claims.next()
            if claim is None:
                close_old_connections()
                return IDLE_SECONDS
            run_claim(claim)
        except Exception:
            # Whatever it was (a full disk, a locked store): the next look finds what is still to do.
            log.exception("the worker goes on after an error")
            close_old_connections()
            return TROUBLED_SECONDS
        return 0.0
