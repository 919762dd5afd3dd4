"""Scattered points as they come, some at a time: CSV, GeoJSON, PLY."""

from __future__ import annotations

import io
from dataclasses import dataclass
from pathlib import Path
from types import TracebackType
from typing import Self

import numpy as np
import orjson
from numpy.typing import NDArray

__all__ = ["CsvWriter", "GeoJsonWriter", "PlyWriter", "PointList", "PointWriter"]

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


class CsvWriter(PointWriter):
    """A line of names, then a line a point."""

    def head(self) -> bytes:
        return (",".join(FIELDS) + "\n").encode("ascii")

    def coded(self, points: NDArray[np.float64]) -> bytes:
        out = io.StringIO()
        np.savetxt(out, points, "%.3f", ",")
        return out.getvalue().encode("ascii")


class PlyWriter(PointWriter):
    """Binary, little-endian, floats."""

    def head(self) -> bytes:
        fields = ("x", "y", "z", "size", "turn")
        head = ["ply", "format binary_little_endian 1.0", f"element vertex {self.told.count}"]
        return "\n".join([*head, *(f"property float {field}" for field in fields), "end_header", ""]).encode("ascii")

    def coded(self, points: NDArray[np.float64]) -> bytes:
        return points.astype("<f4").tobytes()


class GeoJsonWriter(PointWriter):
    """A collection of points with size and turn as properties."""

    def head(self) -> bytes:
        return b'{"type":"FeatureCollection","name":' + orjson.dumps(self.told.name) + b',"features":['

    def coded(self, points: NDArray[np.float64]) -> bytes:
        made = []
        for x, y, z, size, turn in points.tolist():
            geometry = {"type": "Point", "coordinates": [round(x, 3), round(y, 3), round(z, 3)]}
            properties = {"size": round(size, 3), "turn": round(turn, 1)}
            made.append(orjson.dumps({"type": "Feature", "geometry": geometry, "properties": properties}))
        return (b"," if self.done and made else b"") + b",".join(made)

    def tail(self) -> bytes:
        return b"]}"
