"""Hill shade, 1 to 255."""

from __future__ import annotations

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import (
    Here,
    Numbers,
)
from zigzag_meadow.core.readings.asked import Asked
from zigzag_meadow.core.readings.declare import Reading
from zigzag_meadow.core.readings.derivative import derivative
from zigzag_meadow.core.readings.differences import Offsets
from zigzag_meadow.core.readings.numbers import ALTITUDE, AZIMUTH
from zigzag_meadow.core.readings.slope import across
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["SHADE", "shade_node", "shade_padded"]

F32 = NDArray[np.float32]


@njit(nogil=True, cache=True, error_model="numpy")
def _shade(z: F32, ky: int, kx: int, a: np.float32, b: np.float32, sun: F32, out: F32, first: int, end: int) -> None:
    v, d, h = np.empty(z.shape[1], np.float32), np.empty(z.shape[1], np.float32), np.empty(z.shape[1], np.float32)
    ve, dm, de, he = v[2 * kx :], d[kx:], d[2 * kx :], h[2 * kx :]
    east, north, up = sun[0], sun[1], sun[2]
    one, two, four, dark, span = np.float32(1), np.float32(2), np.float32(4), np.float32(0), np.float32(254)
    for r in range(first, end):
        across(z[r], z[r + ky], z[r + 2 * ky], v, d, h)
        for c in range(out.shape[1]):
            x = ((ve[c] - v[c]) + four * (he[c] - h[c])) * a
            y = (d[c] + two * dm[c] + de[c]) * b
            light = (up - x * east - y * north) / np.sqrt(one + x * x + y * y)
            out[r, c] = one + span * max(light, dark)


def shade_padded(
    padded: F32,
    off: Offsets,
    stripes: Stripes,
    *,
    azimuth: float = 315.0,
    altitude: float = 45.0,
    cancel: Cancel | None = None,
) -> F32:
    """Light on the ground, 1 + 254·cos of the angle to the sun (1 where it faces away); no cast shadows.

    ``padded``: float32 metres with a margin of whole ``off.ky``, ``off.kx`` samples (fractions of the width are
    left out: shade is for the eye). ``azimuth`` and ``altitude`` of the sun in degrees, azimuth clockwise from
    north. Returns float32. Reference: Horn 1981, doi:10.1109/PROC.1981.11918.
    """
    padded = readable(padded)
    out = np.empty((padded.shape[0] - 2 * off.ky, padded.shape[1] - 2 * off.kx), np.float32)
    az, al = math.radians(azimuth), math.radians(altitude)
    sun = np.array([math.sin(az) * math.cos(al), math.cos(az) * math.cos(al), math.sin(al)], np.float32)
    wy = off.wy if off.fy == 0 else off.wy * off.ky / (off.ky + off.fy)
    wx = off.wx if off.fx == 0 else off.wx * off.kx / (off.kx + off.fx)
    a, b = np.float32(1 / (8 * wx)), np.float32(1 / (8 * wy))
    stripes.run(out.shape[0], out.shape[1], lambda i, j: _shade(padded, off.ky, off.kx, a, b, sun, out, i, j), cancel)
    return out


def _shade_reading(here: Here, numbers: Numbers, padded: F32, off: Offsets) -> F32:
    # Fractions of the width are left out: shade is for the eye.
    cut_y, cut_x = (m - k for m, k in zip(off.margin, (off.ky, off.kx), strict=True))
    inner = padded[cut_y : padded.shape[0] - cut_y, cut_x : padded.shape[1] - cut_x]
    sun = {name: numbers[name] for name in ("azimuth", "altitude")}
    return shade_padded(inner, off, here.stripes, **sun, cancel=here.cancel)


SHADE_OPERATION = derivative("shade", _shade_reading)


def shade_node(asked: Asked) -> Node:
    """Light on the ground from the sun that is asked for."""
    return Node(SHADE_OPERATION, {"width": asked.spacing, **asked.some("azimuth", "altitude")}, (asked.solid,))


SHADE = Reading(
    name="shade",
    title="Shade",
    family="light",
    decimals=0,
    low=1.0,
    high=255.0,
    sentence="Light from one side without cast shadows.",
    good_for="Judging shape.",
    build=shade_node,
    params=(AZIMUTH, ALTITUDE),
    ramp="grey",
    light=True,
)
