"""PLY: points in binary."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.formats.declare import Form, Format, Head, Opened
from zigzag_meadow.core.formats.writing.points import PointWriter
from zigzag_meadow.core.stripes import Stripes

__all__ = ["PLY"]


def _begins(head: Head) -> bool:
    return head.data.startswith((b"ply\n", b"ply\r"))


class _Writer(PointWriter):
    """Binary, little-endian, floats."""

    def head(self) -> bytes:
        fields = ("x", "y", "z", "size", "turn")
        head = ["ply", "format binary_little_endian 1.0", f"element vertex {self.told.count}"]
        return "\n".join([*head, *(f"property float {field}" for field in fields), "end_header", ""]).encode("ascii")

    def coded(self, points: NDArray[np.float64]) -> bytes:
        return points.astype("<f4").tobytes()


def _open(path: Path, told: Any, stripes: Stripes) -> Opened:
    return _Writer(path, told)


PLY = Format(
    "ply",
    "PLY",
    (".ply",),
    "application/octet-stream",
    begins=_begins,
    forms=(Form("ply", "PLY", "ply", "points", "f32", (), "untagged", _open),),
)
