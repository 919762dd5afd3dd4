"""Aspect: which way the ground falls."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.nodes.operation import Here, Numbers
from zigzag_meadow.core.nodes.windows import home_mean
from zigzag_meadow.core.readings.asked import over_width
from zigzag_meadow.core.readings.declare import Reading
from zigzag_meadow.core.readings.derivative import derivative
from zigzag_meadow.core.readings.differences import Offsets
from zigzag_meadow.core.readings.numbers import WIDER
from zigzag_meadow.core.readings.slope import aspect_padded

__all__ = ["ASPECT", "ASPECT_OPERATION"]

F32 = NDArray[np.float32]


def _aspect(here: Here, numbers: Numbers, padded: F32, off: Offsets) -> F32:
    return aspect_padded(padded, off, here.stripes, here.cancel)


def _mean(here: Here, on_home: F32) -> F32:
    """The mean direction of what each sample stands for: directions wrap, their mean must too."""
    angle = np.radians(on_home)
    level = np.isnan(angle)
    parts = (np.where(level, 0, part(angle)).astype(np.float32) for part in (np.sin, np.cos))
    east, north = (home_mean(here, part) for part in parts)
    mean = np.degrees(np.arctan2(east, north)) % 360
    return np.where(np.hypot(east, north) > 1e-6, mean, np.nan).astype(np.float32)


ASPECT_OPERATION = derivative("aspect", _aspect, version=3, mean=_mean)
ASPECT = Reading(
    name="aspect",
    title="Aspect",
    family="relief",
    unit="°",
    decimals=0,
    low=0.0,
    high=360.0,
    sentence="Which way the ground falls, clockwise from north. Level ground has none.",
    good_for="Moss on northern faces, snow that stays out of the sun, bleached southern slopes.",
    build=over_width(ASPECT_OPERATION),
    params=(WIDER,),
    wraps=True,
    ramp="compass",
    pointing=0.04,
)
