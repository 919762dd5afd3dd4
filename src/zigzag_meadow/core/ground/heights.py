"""From stored samples to metres."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadNumber

__all__ = ["in_metres"]


def in_metres(samples: NDArray[Any], low: float | None, high: float | None) -> NDArray[np.float32]:
    """Heights in metres, float32 of the samples' shape; samples without a height (NaN) stay without.

    With ``low`` and ``high`` the file's lowest and highest samples stand for those heights; with neither, samples
    are metres already. Raises :class:`BadNumber` when only one is given or the range is empty.
    """
    if low is None and high is None:
        return samples.astype(np.float32)
    if low is None or high is None or not high > low:
        raise BadNumber(f"Type a low and a high with high above low, got {low} and {high}.", field="high")
    least, most = float(np.nanmin(samples)), float(np.nanmax(samples))
    if most == least:
        raise BadNumber(f"Every sample is {least:g}: such a file has no range to stretch.")
    step = (high - low) / (most - least)
    out = samples.astype(np.float64)
    out -= least
    out *= step
    out += low
    return out.astype(np.float32)
