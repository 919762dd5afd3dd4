"""Numbers that several readings take."""

from __future__ import annotations

from zigzag_meadow.core.readings.declare import Param

__all__ = ["ALTITUDE", "AZIMUTH", "SEED", "THRESHOLD", "WIDER", "WIDTH", "radius"]

WIDTH = Param(name="width", title="Width", unit="m", default=1.0, high=2000, decimals=2, of="spacing")
WIDER = Param(name="width", title="Width", unit="m", default=3.0, high=2000, decimals=2, of="spacing")
AZIMUTH = Param(name="azimuth", title="Sun from", unit="°", default=315.0, low=0, high=360, step=5)
ALTITUDE = Param(name="altitude", title="Sun height", unit="°", default=45.0, low=1, high=90)
THRESHOLD = Param(name="threshold", title="Begins at", unit="m²", default=0.002, low=1, high=1e9, step=100, of="area")
SEED = Param(name="seed", title="Seed", default=1.0, low=0, high=99999)


def radius(part: float) -> Param:
    """A radius that is first so large a part of the ground's longer side."""
    return Param(name="radius", title="Radius", unit="m", default=part, high=5000, step=5, decimals=1, of="extent")
