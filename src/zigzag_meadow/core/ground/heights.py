"""From stored samples to metres."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadNumber

__all__ = ["coded_metres", "in_metres"]

_ROWS = 256


def coded_metres(samples: NDArray[Any], step: float, at_zero: float, base: float = 0.0) -> NDArray[np.float32]:
    """Heights in metres above ``base``: ``at_zero`` + stored · ``step``, each sample by itself; float32 of the samples'
    shape. Samples without a height (NaN) stay without."""
    return _scaled(samples, 0.0, step, at_zero - base)


def in_metres(samples: NDArray[Any], low: float | None, high: float | None, base: float = 0.0) -> NDArray[np.float32]:
    """Heights in metres above ``base``, float32 of the samples' shape; samples without a height (NaN) stay without.

    With ``low`` and ``high`` the file's lowest and highest samples stand for those heights; with neither, samples
    are metres already. Raises :class:`BadNumber` when only one is given or the range is empty.
    """
    if low is None and high is None:
        return _scaled(samples, 0.0, 1.0, -base)
    if low is None or high is None or not high > low:
        raise BadNumber(f"Type a low and a high with high above low, got {low} and {high}.", field="high")
    least, most = float(np.nanmin(samples)), float(np.nanmax(samples))
    if most == least:
        raise BadNumber(f"Every sample is {least:g}: such a file has no range to stretch.")
    return _scaled(samples, least, (high - low) / (most - least), low - base)


def _scaled(samples: NDArray[Any], least: float, step: float, low: float) -> NDArray[np.float32]:
    """(samples − least) · step + low in doubles, rounded once; some rows at a time."""
    out = np.empty(samples.shape, np.float32)
    for at in range(0, len(samples), _ROWS):
        part = samples[at : at + _ROWS].astype(np.float64)
        part -= least
        part *= step
        part += low
        out[at : at + _ROWS] = part
    return out
