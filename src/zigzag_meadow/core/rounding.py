"""The one place where masks, weights, densities and light are rounded to whole numbers."""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["quantise_light", "quantise_mask", "quantise_weights"]

F32 = NDArray[np.float32]


@njit(nogil=True, cache=True, error_model="numpy")
def _shares(w: F32, full: np.float32, out: NDArray[Any], first: int, end: int) -> None:
    """Largest remainder, ties to the lower index. Ranks come from comparisons, which vectorise; sorting would
    not."""
    n, cols = w.shape[0], w.shape[2]
    zero = np.float32(0)
    whole = np.empty((n, cols), np.int32)
    rest = np.empty((n, cols), np.float32)
    short = np.empty(cols, np.int32)
    rank = np.empty(cols, np.int32)
    for r in range(first, end):
        short[:] = np.int32(full)
        for i in range(n):
            v, q, f = w[i, r], whole[i], rest[i]
            for c in range(cols):
                s = min(max(zero, v[c] * full), full)
                t = np.int32(s)
                q[c] = t
                f[c] = s - np.float32(t)
            for c in range(cols):
                short[c] -= q[c]
        for i in range(n):
            rank[:] = 0
            mine = rest[i]
            for j in range(n):
                theirs = rest[j]
                if j < i:
                    for c in range(cols):
                        rank[c] += np.int32(theirs[c] >= mine[c])
                elif j > i:
                    for c in range(cols):
                        rank[c] += np.int32(theirs[c] > mine[c])
            q, o = whole[i], out[i, r]
            for c in range(cols):
                o[c] = q[c] + np.int32(rank[c] < short[c])


@njit(nogil=True, cache=True, error_model="numpy")
def _whole(mask: F32, full: np.float32, out: NDArray[Any]) -> None:
    zero, one, half = np.float32(0), np.float32(1), np.float32(0.5)
    for r in range(mask.shape[0]):
        row, o = mask[r], out[r]
        for c in range(o.size):
            o[c] = np.int32(min(max(zero, row[c]), one) * full + half)


def quantise_weights(
    weights: F32,
    bits: int = 8,
    *,
    stripes: Stripes | None = None,
    cancel: Cancel | None = None,
    out: NDArray[Any] | None = None,
) -> NDArray[Any]:
    """Weights (float32 of shape (n, rows, columns), summing to 1 within 1e-6) as uint8 or uint16 summing to 255
    or 65535 at every sample.

    Largest remainder (Hamilton's method), ties to the lower index. Raises :class:`BadNumber` for other depths.
    """
    if bits not in (8, 16):
        raise BadNumber(f"Weights are written with 8 or 16 bits, got {bits}.", field="bits")
    weights = readable(weights.astype(np.float32, copy=False))
    full = np.float32(2**bits - 1)
    result = np.empty(weights.shape, np.uint8 if bits == 8 else np.uint16) if out is None else out
    (stripes or Stripes(1)).run(
        weights.shape[1], weights.shape[0] * weights.shape[2], lambda i, j: _shares(weights, full, result, i, j), cancel
    )
    return result


def quantise_mask(mask: F32, bits: int = 8) -> NDArray[Any]:
    """A mask or density (float32, any shape of two axes, clamped to 0–1) as uint8 or uint16: floor(x·full + 0.5)."""
    out = np.empty(mask.shape, np.uint8 if bits == 8 else np.uint16)
    _whole(readable(mask), np.float32(2**bits - 1), out)
    return out


def quantise_light(light: F32) -> NDArray[np.uint8]:
    """Light (float32, 0–255, NaN where there is none) as uint8, none as 0."""
    bytes_of: NDArray[np.uint8] = np.clip(np.nan_to_num(light) + np.float32(0.5), 0, 255).astype(np.uint8)
    return bytes_of
