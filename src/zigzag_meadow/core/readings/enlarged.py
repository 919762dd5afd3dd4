"""A picture enlarged sharply: cubic convolution on six taps a side.

Keys 1981, Cubic convolution interpolation for digital image processing, doi:10.1109/TASSP.1981.1163711, equation 25:
what is cubic comes out as it is, and what varies quickly is kept better than by a straight line between two samples.
"""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["enlarged"]

F32 = NDArray[np.float32]
F64 = NDArray[np.float64]


@njit(nogil=True, cache=True)
def _six(t: float, out: F64) -> None:
    """Weights of the samples at −2, −1, 0, 1, 2 and 3 for a place ``t`` (0–1) after 0."""
    for k in range(6):
        s = abs(t + 2.0 - k)
        if s < 1.0:
            out[k] = (4.0 / 3.0 * s - 7.0 / 3.0) * s * s + 1.0
        elif s < 2.0:
            out[k] = ((-7.0 / 12.0 * s + 3.0) * s - 59.0 / 12.0) * s + 2.5
        else:
            out[k] = ((s / 12.0 - 2.0 / 3.0) * s + 1.75) * s - 1.5


@njit(nogil=True, cache=True)
def _enlarge(pixels: F32, inside: NDArray[np.bool_], down: F64, across: F64, out: F32) -> None:
    rows, cols, parts = pixels.shape
    wy, wx = np.empty(6), np.empty(6)
    for r in range(out.shape[0]):
        for c in range(out.shape[1]):
            if not inside[r, c]:
                continue
            i, j = int(down[r, c]), int(across[r, c])
            _six(down[r, c] - i, wy)
            _six(across[r, c] - j, wx)
            for p in range(parts):
                low, high, total = pixels[i, j, p], pixels[i, j, p], 0.0
                for k in range(6):
                    # The outermost samples go on beyond the border.
                    y = min(max(i + k - 2, 0), rows - 1)
                    line = 0.0
                    for m in range(6):
                        value = pixels[y, min(max(j + m - 2, 0), cols - 1), p]
                        line += wx[m] * value
                        if 0 < k < 5 and 0 < m < 5:
                            low, high = min(low, value), max(high, value)
                    total += wy[k] * line
                # Nothing beyond the four by four around it: no rims beside what is dark or bright.
                out[r, c, p] = min(max(total, low), high)


def enlarged(
    pixels: F32,
    inside: NDArray[np.bool_],
    down: F64,
    across: F64,
    stripes: Stripes,
    cancel: Cancel | None = None,
) -> F32:
    """A picture (float32 (rows, columns, parts)) at places between its samples: float32 of the shape of ``down`` with
    its parts, held to the sixteen samples around; 0 where it does not lie.

    ``inside``: whether it lies there; ``down``, ``across``: row and column there, within its outermost samples. Raises
    :class:`Cancelled`.
    """
    out = np.zeros((*down.shape, pixels.shape[2]), np.float32)
    seen = readable(pixels)

    def work(first: int, end: int) -> None:
        _enlarge(seen, inside[first:end], down[first:end], across[first:end], out[first:end])

    stripes.run(out.shape[0], out.shape[1], work, cancel)
    return out
