"""Powers of numbers between 0 and 1, a row at a time: the library's own are made one by one, which is what bending a
mask would mostly wait for."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

__all__ = ["bend_row"]

F32 = NDArray[np.float32]
_ROOT_HALF, _BIAS = np.int32(0x3F3504F3), np.int32(127)
_ONE, _LOWEST = np.float32(1), np.float32(-120)
_LEAST, _LIFT = np.float32(2.0**-126), np.int32(24)
"""Below the least normal number the exponent is not in its bits: what is smaller is raised by 2^24 first."""
_RAISED = np.float32(2.0**24)
# log2(m) = 2/ln 2 · (t + t³/3 + t⁵/5 + …) with t = (m − 1)/(m + 1).
_L1, _L3, _L5, _L7, _L9 = (np.float32(2 / np.log(2) / k) for k in (1, 3, 5, 7, 9))
# 2^f = Σ (f·ln 2)^k / k!
_E1, _E2, _E3, _E4, _E5, _E6 = (
    np.float32(np.log(2) ** k / f) for k, f in ((1, 1), (2, 2), (3, 6), (4, 24), (5, 120), (6, 720))
)


@njit(nogil=True, cache=True, error_model="numpy")
def bend_row(x: F32, power: np.float32) -> None:
    """Raise every value (0–1) to ``power`` (above 0), in place; 0 and 1 stay what they are.

    Right to 4e-7. By the series of the logarithm and of the exponential (Abramowitz & Stegun, 4.1.27 and 4.2.1), with
    the binary exponent taken apart and put together.
    """
    for c in range(x.size):
        v = x[c]
        small = v < _LEAST
        bits = np.float32(max(v * _RAISED if small else v, _LEAST)).view(np.int32)
        # The mantissa from √½ to √2, so that the series is short.
        e = (bits - _ROOT_HALF) >> np.int32(23)
        m = np.int32(bits - (e << np.int32(23))).view(np.float32)
        t = (m - _ONE) / (m + _ONE)
        s = t * t
        log = np.float32(e - _LIFT if small else e) + t * (_L1 + s * (_L3 + s * (_L5 + s * (_L7 + s * _L9))))
        y = max(log * power, _LOWEST)
        whole = np.floor(y + np.float32(0.5))
        f = y - whole
        series = _ONE + f * (_E1 + f * (_E2 + f * (_E3 + f * (_E4 + f * (_E5 + f * _E6)))))
        scale = np.int32((np.int32(whole) + _BIAS) << np.int32(23)).view(np.float32)
        made = min(series * scale, _ONE)
        x[c] = made if np.float32(0) < v < _ONE else v
