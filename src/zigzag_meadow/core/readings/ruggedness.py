"""Ruggedness: how much a place differs in height from what lies around it, in metres."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.nodes.operation import (
    Here,
    Numbers,
)
from zigzag_meadow.core.readings.asked import over_width
from zigzag_meadow.core.readings.declare import Reading
from zigzag_meadow.core.readings.derivative import derivative
from zigzag_meadow.core.readings.differences import Offsets
from zigzag_meadow.core.readings.neighbours import C, gather, over_neighbours
from zigzag_meadow.core.readings.numbers import WIDER
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["RUGGEDNESS", "ruggedness_padded"]

F32 = NDArray[np.float32]


@njit(nogil=True, cache=True, error_model="numpy")
def _ruggedness_rows(
    z: F32, ky: int, kx: int, fy: np.float32, fx: np.float32, numbers: F32, out: F32, first: int, end: int
) -> None:
    cols = out.shape[1]
    share = numbers[0]
    near = np.empty((9, cols), np.float32)
    spare = np.empty(z.shape[1], np.float32)
    for r in range(first, end):
        gather(z, r, ky, kx, fy, fx, spare, near)
        o, m = out[r], near[C]
        o[:] = 0
        for k in range(9):
            row = near[k]
            for c in range(cols):
                d = row[c] - m[c]
                o[c] += d * d
        for c in range(cols):
            o[c] = np.sqrt(o[c] * share)


def ruggedness_padded(
    padded: F32, off: Offsets, stripes: Stripes, cancel: Cancel | None = None, out: F32 | None = None
) -> F32:
    """Root mean square height difference to the eight neighbours at ±width, in metres, 0 or more.

    ``padded``: float32 metres with ``off.wide_margin`` on every side. Returns float32 without the margin.
    After Riley, DeGloria & Elliot 1999, Intermountain Journal of Sciences 5 (there: the root of the sum).
    """
    return over_neighbours(padded, off, (1 / 8,), _ruggedness_rows, stripes, cancel, out)


def _ruggedness(here: Here, numbers: Numbers, padded: F32, off: Offsets) -> F32:
    return ruggedness_padded(padded, off, here.stripes, here.cancel)


RUGGEDNESS = Reading(
    name="ruggedness",
    title="Ruggedness",
    family="relief",
    unit="m",
    low=0.0,
    sentence="How much a place differs in height from what lies around it.",
    good_for="Broken rock against smooth ground of the same slope.",
    build=over_width(derivative("ruggedness", _ruggedness, version=2, wide=True)),
    params=(WIDER,),
    ramp="strength",
    pointing=0.1,
    moves="rise",
)
