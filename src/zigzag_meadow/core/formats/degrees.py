"""Degrees as metres on the ground."""

from __future__ import annotations

import math

__all__ = ["metres_a_degree"]


def metres_a_degree(latitude: float) -> tuple[float, float]:
    """(north–south, east–west) metres that a degree spans at a latitude, on the GRS 80 ellipsoid.

    Reference: Snyder 1987, Map projections: a working manual, USGS Professional Paper 1395, equations 4-19 and 4-20.
    """
    a, e2 = 6378137.0, 0.00669438002290
    s = math.sin(math.radians(latitude))
    w = math.sqrt(1 - e2 * s * s)
    return math.pi / 180 * a * (1 - e2) / w**3, math.pi / 180 * a / w * math.cos(math.radians(latitude))
