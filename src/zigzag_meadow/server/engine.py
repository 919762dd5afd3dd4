"""The numeric engine of this process: one pool of threads, one cache."""

from __future__ import annotations

import os
import threading
from functools import lru_cache
from pathlib import Path

from django.conf import settings

from zigzag_meadow.core.crew import Crew
from zigzag_meadow.core.evaluate.cache import DiskStore, TileCache
from zigzag_meadow.core.evaluate.engine import Engine
from zigzag_meadow.core.evaluate.watch import Watch
from zigzag_meadow.core.formats.file_reader import FileReader, at_once
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.server.assets import asset_path
from zigzag_meadow.server.helped_reader import HelpedReader
from zigzag_meadow.server.rooms import outside

__all__ = ["LatestOnly", "engine", "file_reader", "latest", "watch"]

WORKER_CACHE = 384 * 2**20
_small = False


def use_worker_cache() -> None:
    """Called first thing in the worker: deliveries stream, so a small cache serves them."""
    global _small
    _small = True


@lru_cache(maxsize=1)
def file_reader() -> HelpedReader:
    """Where this process has files from elsewhere read; made at first use, after any fork."""
    return HelpedReader()


@lru_cache(maxsize=1)
def watch() -> Watch:
    """Where this process writes down what it works out; made before any work, after any fork."""
    place = Path(settings.MEADOW_DATA) / ("worked_on_by_worker" if _small else "worked_on")
    return Watch(place, os.environ.get("ZIGZAG_RUN", ""), Path(os.environ["NUMBA_CACHE_DIR"]).name)


@lru_cache(maxsize=1)
def engine() -> Engine:
    """Made at first use, after any fork."""
    cache = TileCache(WORKER_CACHE) if _small else TileCache()
    stripes = Stripes()
    crew = Crew(stripes.threads - 1)
    # The worker serves nobody else while it reads.
    reads: FileReader = at_once if _small else file_reader()
    return Engine(
        stripes,
        cache,
        asset_path,
        DiskStore(settings.MEADOW_DATA / "maps"),
        crew=crew,
        reads=reads,
        watch=watch() if os.environ.get("ZIGZAG_RUN") else None,
        aside=outside,
    )


class LatestOnly:
    """Per tab and slot, only the request with the highest sequence number goes on."""

    def __init__(self) -> None:
        self._latest: dict[tuple[str, str], int] = {}
        self._lock = threading.Lock()

    def enter(self, tab: str, slot: str, sequence: int) -> None:
        with self._lock:
            if len(self._latest) > 4096:
                self._latest.clear()
            self._latest[tab, slot] = max(sequence, self._latest.get((tab, slot), 0))

    def is_old(self, tab: str, slot: str, sequence: int) -> bool:
        with self._lock:
            return self._latest.get((tab, slot), 0) > sequence


latest = LatestOnly()
