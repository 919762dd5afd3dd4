"""How a reading is used: a band of it, or all of it through a mapping."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.parts import Fade, Number, Part, ReadingId

__all__ = ["Band", "ReadingUse", "stretched"]


class Band(Part):
    """Ground where a reading lies between two edges, fading outside; on log readings fades are doublings.

    ``reading`` is the id of a reading. Where a reading wraps (aspect), ``low`` may lie above ``high``: the band then
    runs through the end to the beginning.
    """

    kind: Literal["band"] = "band"
    reading: ReadingId
    low: Number
    high: Number
    fade_low: Fade = 0.0
    fade_high: Fade = 0.0
    smooth: bool = False


class ReadingUse(Part):
    """A reading through a mapping: 0 at ``black``, 1 at ``white``; log as the reading says."""

    kind: Literal["reading"] = "reading"
    reading: ReadingId
    black: Number
    white: Number


def stretched(values: NDArray[np.float32], black: float, white: float, *, log: bool) -> NDArray[np.float32]:
    """A reading as 0–1 (float32): 0 where it is at ``black``, 1 at ``white``, clamped beyond.

    With ``log`` the stretch is even on the logarithm. ``white`` may be below ``black`` to turn it over.
    """
    if black == white:
        raise BadNumber(f"Black and white must stand for different values, got {black:g} for both.")
    if log:
        values, black, white = np.log2(values), float(np.log2(black)), float(np.log2(white))
    t = (values - np.float32(black)) * np.float32(1 / (white - black))
    return np.clip(t, 0, 1, out=t)
