"""Hands rows that are pushed to a library that pulls them."""

from __future__ import annotations

import queue
import threading
from abc import abstractmethod
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.formats.writing.raster import Raster, RowWriter

__all__ = ["FedWriter"]

_HELD = 2


class _GaveUp(Exception):
    pass


class FedWriter(RowWriter):
    """The library works in a thread of its own, at most a few blocks behind; what it raises is raised here."""

    def __init__(self, path: Path, raster: Raster) -> None:
        super().__init__(path, raster)
        self._blocks: queue.Queue[NDArray[Any] | None] = queue.Queue(_HELD)
        self._given_up = False
        self._trouble: BaseException | None = None
        self._thread = threading.Thread(target=self._work, daemon=True, name=f"writes {path.name}")
        self._thread.start()

    @abstractmethod
    def pull(self, blocks: Iterator[NDArray[Any]]) -> None:
        """Write the whole file of what ``blocks`` gives."""

    def _work(self) -> None:
        try:
            self.pull(self._given())
        except _GaveUp:
            pass
        except BaseException as error:
            self._trouble = error
            # Whoever pushes must not wait for somebody who does not take any more.
            while self._blocks.get() is not None:
                pass

    def _given(self) -> Iterator[NDArray[Any]]:
        while (block := self._blocks.get()) is not None:
            yield block
        if self._given_up:
            raise _GaveUp

    def _raise(self) -> None:
        if self._trouble is not None:
            raise self._trouble

    def add(self, block: NDArray[Any]) -> None:
        self._raise()
        self._blocks.put(block)

    def finish(self) -> None:
        self._blocks.put(None)
        self._thread.join()
        self._raise()

    def give_up(self) -> None:
        if self._thread.is_alive():
            self._given_up = True
            self._blocks.put(None)
            self._thread.join()


def regrouped(blocks: Iterator[NDArray[Any]], rows: int) -> Iterator[NDArray[Any]]:
    """The same rows in groups of ``rows`` each, the last perhaps smaller."""
    held: list[NDArray[Any]] = []
    count = 0
    for block in blocks:
        held.append(block)
        count += len(block)
        while count >= rows:
            joined = np.concatenate(held) if len(held) > 1 else held[0]
            yield joined[:rows]
            held, count = [joined[rows:]], count - rows
    if count:
        yield np.concatenate(held)
