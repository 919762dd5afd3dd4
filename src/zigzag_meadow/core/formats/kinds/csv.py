"""CSV: a table of points."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.formats.declare import Form, Format, Opened
from zigzag_meadow.core.formats.writing.points import FIELDS, PointWriter
from zigzag_meadow.core.stripes import Stripes

__all__ = ["CSV"]


class _Writer(PointWriter):
    """A line of names, then a line a point."""

    def head(self) -> bytes:
        return (",".join(FIELDS) + "\n").encode("ascii")

    def coded(self, points: NDArray[np.float64]) -> bytes:
        out = io.StringIO()
        np.savetxt(out, points, "%.3f", ",")
        return out.getvalue().encode("ascii")


def _open(path: Path, told: Any, stripes: Stripes) -> Opened:
    return _Writer(path, told)


CSV = Format(
    "csv",
    "CSV",
    (".csv",),
    "text/csv",
    forms=(Form("csv", "CSV", "csv", "points", "f32", (), "untagged", _open),),
)
