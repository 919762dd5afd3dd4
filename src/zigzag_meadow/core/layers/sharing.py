"""Sharing: how layers split every sample, so that their weights always add up to one."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.errors import BadNumber

__all__ = ["cover", "uncover"]

F32 = NDArray[np.float32]


@njit(nogil=True, cache=True, error_model="numpy")
def _cover(masks: F32, out: F32) -> None:
    n, rows, cols = masks.shape
    left = np.empty(cols, np.float32)
    one = np.float32(1)
    for r in range(rows):
        left[:] = one
        for i in range(n - 1, -1, -1):
            a, o = masks[i, r], out[i + 1, r]
            for c in range(cols):
                o[c] = a[c] * left[c]
            for c in range(cols):
                left[c] = left[c] * (one - a[c])
        out[0, r] = left


def cover(masks: F32) -> F32:
    """Weights of the base and the layers above it, upper ones hiding lower ones.

    ``masks``: float32 0–1 of shape (layers, rows, columns), bottom first. Returns float32 of shape
    (layers + 1, rows, columns), base first: c_i = a_i · Π_{j>i}(1 − a_j) with a₀ = 1. Sums are 1 within 1e-6.
    The *over* operator, Porter & Duff 1984, doi:10.1145/800031.808606.
    """
    if masks.ndim != 3:
        raise BadNumber(f"Masks must be a stack of layers × rows × columns, got {masks.ndim} axes.")
    out = np.empty((masks.shape[0] + 1, *masks.shape[1:]), np.float32)
    _cover(readable(masks.astype(np.float32, copy=False)), out)
    return out


def uncover(weights: F32) -> F32:
    """The masks that *cover* sharing would turn into ``weights`` (base first): a_i = w_i / Σ_{j≤i} w_j, 0/0 = 0.

    ``weights``: float32 (layers + 1, …). Returns float32 of the same shape; the first is 1 wherever the base or
    anything above it counts.
    """
    below = np.cumsum(weights, axis=0, dtype=np.float64)
    out = np.divide(weights, below, out=np.zeros(weights.shape), where=below > 0)
    return out.astype(np.float32)
