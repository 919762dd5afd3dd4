"""GeoJSON: a collection of points."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import orjson
from numpy.typing import NDArray

from zigzag_meadow.core.formats.declare import Form, Format, Opened
from zigzag_meadow.core.formats.writing.points import PointWriter
from zigzag_meadow.core.stripes import Stripes

__all__ = ["GEOJSON"]


class _Writer(PointWriter):
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


def _open(path: Path, told: Any, stripes: Stripes) -> Opened:
    return _Writer(path, told)


GEOJSON = Format(
    "geojson",
    "GeoJSON",
    (".geojson",),
    "application/geo+json",
    forms=(Form("geojson", "GeoJSON", "geojson", "points", "f32", (), "untagged", _open),),
)
