"""``manage worker``: take jobs from the table, one at a time."""

from __future__ import annotations

import time
from typing import Any

from django.core.management.base import BaseCommand
from django.db import OperationalError, close_old_connections

from zigzag_meadow.core.warm import warm_up
from zigzag_meadow.server.engine import use_worker_cache
from zigzag_meadow.server.jobs import claim_next
from zigzag_meadow.server.work import run_claim

IDLE_SECONDS = 0.2


class Command(BaseCommand):
    help = "Run queued deliveries and fit checks until stopped."

    def handle(self, *args: Any, **options: Any) -> None:
        use_worker_cache()
        warm_up()
        while True:
            try:
                claim = claim_next()
            except OperationalError:
                claim = None
            if claim is not None:
                run_claim(claim)
            else:
                close_old_connections()
                time.sleep(IDLE_SECONDS)
