"""Scattered points as they come, some at a time."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from types import TracebackType
from typing import Self

import numpy as np
from numpy.typing import NDArray

__all__ = ["FIELDS", "PointList", "PointWriter"]

FIELDS = ("east", "north", "height", "size", "turn")


@dataclass(frozen=True, slots=True)
class PointList:
    """How many points will come, and what they are."""

    count: int
    name: str


class PointWriter:
    """Takes points as float64 (n, 5): metres in the target's axes, size in metres, degrees clockwise from north."""

    def __init__(self, path: Path, told: PointList) -> None:
        self.told, self.done = told, 0
        self._file = path.open("wb")
        self._file.write(self.head())

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        if kind is None:
            self._file.write(self.tail())
        self._file.close()

    def write(self, points: NDArray[np.float64]) -> None:
        self._file.write(self.coded(points))
        self.done += len(points)

    def head(self) -> bytes:
        raise NotImplementedError

    def coded(self, points: NDArray[np.float64]) -> bytes:
        raise NotImplementedError

    def tail(self) -> bytes:
        return b""
