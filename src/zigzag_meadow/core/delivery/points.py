"""Scattered points as files: CSV, GeoJSON, PLY."""

from __future__ import annotations

import io

import numpy as np
import orjson
from numpy.typing import NDArray

__all__ = ["points_as"]

F64 = NDArray[np.float64]


def points_as(kind: str, points: F64, length: float, name: str) -> bytes:
    """Points as a file of kind *csv*, *geojson* or *ply*; the same points give the same bytes.

    ``points``: float64 (n, 5): metres east and south of the north-west corner, height and size in metres, degrees
    clockwise from north. Files count metres east and north of the south-west corner; ``length`` is the ground's
    extent from north to south.
    """
    table = points.copy()
    table[:, 1] = length - table[:, 1]
    if kind == "csv":
        out = io.StringIO()
        np.savetxt(out, table, "%.3f", ",", header="east,north,height,size,turn", comments="")
        return out.getvalue().encode("ascii")
    if kind == "ply":
        fields = ("x", "y", "z", "size", "turn")
        head = ["ply", "format binary_little_endian 1.0", f"element vertex {len(table)}"]
        head += [f"property float {field}" for field in fields] + ["end_header", ""]
        return "\n".join(head).encode("ascii") + table.astype("<f4").tobytes()
    features = [
        {
            "type": "Feature",
            "geometry": {"type": "Point", "coordinates": [round(x, 3), round(y, 3), round(z, 3)]},
            "properties": {"size": round(size, 3), "turn": round(turn, 1)},
        }
        for x, y, z, size, turn in table.tolist()
    ]
    return orjson.dumps({"type": "FeatureCollection", "name": name, "features": features})
