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
_ZERO, _ONE, _TWO, _FOUR, _NOTHING = (np.float32(v) for v in (0, 1, 2, 4, np.nan))


@njit(nogil=True, cache=True, error_model="numpy")
def aspect_row(v: F32, d: F32, h: F32, k: int, a: np.float32, b: np.float32, out: F32) -> None:
    """Direction of fall in degrees clockwise from north from Horn's sums; NaN where there is none."""
    ve, de, dm, he = v[2 * k :], d[2 * k :], d[k:], h[2 * k :]
    for c in range(out.size):
        # Down is against the gradient.
        east = ((v[c] - ve[c]) + _FOUR * (h[c] - he[c])) * a
        north = -(d[c] + _TWO * dm[c] + de[c]) * b
        p, q = abs(east), abs(north)
        big = max(p, q)
        t = min(p, q) / big
        over = t > _TAN_22
        t = (t - _ONE) / (t + _ONE) if over else t
        u = t * t
        y = (((_P9 * u + _P7) * u + _P5) * u + _P3) * u * t + t
        angle = (y + (_HALF_RIGHT if over else _ZERO)) * _DEGREES
        angle = angle if p < q else _RIGHT_DEGREES - angle
        angle = angle if north >= _ZERO else _HALF_TURN - angle
        angle = angle if east >= _ZERO else _TURN - angle
        angle = _ZERO if angle >= _TURN else angle
        out[c] = angle if big > _ZERO else _NOTHING
