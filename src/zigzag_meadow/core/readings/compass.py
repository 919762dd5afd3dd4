"""The compass direction of a gradient, along a row."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

__all__ = ["aspect_row"]

F32 = NDArray[np.float32]
_DEGREES = np.float32(180 / np.pi)
_TAN_22 = np.float32(0.4142135623730950)
_HALF_RIGHT = np.float32(np.pi / 4)
# As for slope: Moshier 1989, chapter 4.
_P3, _P5, _P7, _P9 = (np.float32(v) for v in (-3.33329491539e-1, 1.99777106478e-1, -1.38776856032e-1, 8.05374449538e-2))
_RIGHT_DEGREES, _HALF_TURN, _TURN = np.float32(90), np.float32(180), np.float32(360)
_ZERO, _ONE, _NOTHING = (np.float32(v) for v in (0, 1, np.nan))


@njit(nogil=True, cache=True, error_model="numpy")
def aspect_row(east_up: F32, north_up: F32, out: F32) -> None:
    """Direction of fall in degrees clockwise from north of gradients (rise east, rise north); NaN where there is
    none."""
    for c in range(out.size):
        # Down is against the gradient.
        rise_east, rise_north = east_up[c], north_up[c]
        p, q = abs(rise_east), abs(rise_north)
        big = max(p, q)
        small = min(p, q)
        # From 22.5° on measured from 45°, in one division.
        over = small > _TAN_22 * big
        t = (small - big if over else small) / (small + big if over else big)
        u = t * t
        y = (((_P9 * u + _P7) * u + _P5) * u + _P3) * u * t + t
        angle = (y + (_HALF_RIGHT if over else _ZERO)) * _DEGREES
        angle = angle if p < q else _RIGHT_DEGREES - angle
        angle = angle if rise_north <= _ZERO else _HALF_TURN - angle
        angle = angle if rise_east <= _ZERO else _TURN - angle
        angle = _ZERO if angle >= _TURN else angle
        out[c] = angle if big > _ZERO else _NOTHING
