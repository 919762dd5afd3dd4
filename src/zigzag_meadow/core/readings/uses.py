"""How a reading is used: a band of it, or all of it through a mapping."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.parts import Fade, Number, Part, ReadingId

__all__ = ["Band", "ReadingUse", "stretched"]

F32 = NDArray[np.float32]


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


@njit(nogil=True, cache=True, error_model="numpy")
def _stretch(values: F32, black: np.float32, per: np.float32, nothing: np.float32) -> F32:
    out: F32 = np.empty(values.shape, np.float32)
    zero, one = np.float32(0), np.float32(1)
    for r in range(out.shape[0]):
        v, o = values[r], out[r]
        for c in range(o.size):
            t = (v[c] - black) * per
            o[c] = min(max(t, zero), one) if t == t else nothing
    return out


def stretched(
    values: NDArray[np.float32], black: float, white: float, *, log: bool, nothing: float = float("nan")
) -> NDArray[np.float32]:
    """A reading (rows, columns) as 0–1 (float32): 0 where it is at ``black``, 1 at ``white``, clamped beyond, and
    ``nothing`` where it has no value.

    With ``log`` the stretch is even on the logarithm. ``white`` may be below ``black`` to turn it over.
    """
    if black == white:
        raise BadNumber(f"Black and white must stand for different values, got {black:g} for both.")
    if log:
        values, black, white = np.log2(values), float(np.log2(black)), float(np.log2(white))
    made: F32 = _stretch(readable(values), np.float32(black), np.float32(1 / (white - black)), np.float32(nothing))
    return made
