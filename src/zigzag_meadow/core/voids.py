"""Samples without a height, filled from what surrounds them."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.resample import resample

__all__ = ["fill_voids", "moved"]

F32 = NDArray[np.float32]
_ROUNDS = 24


def _halved(z: F32) -> F32:
    """Means of the samples that are there in blocks of 2 × 2; NaN where none is."""
    rows, cols = (n + n % 2 for n in z.shape)
    padded = np.full((rows, cols), np.nan, np.float32)
    padded[: z.shape[0], : z.shape[1]] = z
    blocks = padded.reshape(rows // 2, 2, cols // 2, 2)
    there = np.isfinite(blocks)
    count = there.sum(axis=(1, 3))
    total = np.where(there, blocks, 0).sum(axis=(1, 3), dtype=np.float64)
    return np.where(count > 0, total / np.maximum(count, 1), np.nan).astype(np.float32)


@njit(nogil=True, cache=True, error_model="numpy")
def _relax(z: F32, at: NDArray[np.int64], rounds: int) -> None:
    """Each filled sample becomes the mean of its four neighbours, again and again, in alternating order."""
    rows, cols = z.shape
    for step in range(rounds):
        for n in range(at.size):
            i = at[n] if step % 2 == 0 else at[at.size - 1 - n]
            r, c = i // cols, i % cols
            total, count = np.float32(0), np.float32(0)
            if r > 0:
                total, count = total + z[r - 1, c], count + np.float32(1)
            if r < rows - 1:
                total, count = total + z[r + 1, c], count + np.float32(1)
            if c > 0:
                total, count = total + z[r, c - 1], count + np.float32(1)
            if c < cols - 1:
                total, count = total + z[r, c + 1], count + np.float32(1)
            z[r, c] = total / count


def _filled(z: F32) -> F32:
    void = np.isnan(z)
    if not void.any():
        return z
    coarse = _filled(_halved(z)) if min(z.shape) > 1 else np.full_like(z, np.nanmean(z))
    out = z.copy()
    row, col = np.nonzero(void)
    if min(z.shape) > 1:
        # Bilinear from the coarser level, whose samples lie in the middle of each block.
        y, x = (np.clip((v - 0.5) / 2, 0, n - 1) for v, n in zip((row, col), coarse.shape, strict=True))
        r0, c0 = (np.minimum(np.floor(v).astype(int), max(n - 2, 0)) for v, n in zip((y, x), coarse.shape, strict=True))
        r1, c1 = (np.minimum(v + 1, n - 1) for v, n in zip((r0, c0), coarse.shape, strict=True))
        fy, fx = y - r0, x - c0
        top = coarse[r0, c0] * (1 - fx) + coarse[r0, c1] * fx
        low = coarse[r1, c0] * (1 - fx) + coarse[r1, c1] * fx
        out[row, col] = top * (1 - fy) + low * fy
    else:
        out[void] = coarse[void]
    _relax(out, row * z.shape[1] + col, _ROUNDS)
    return out


def fill_voids(heights: F32) -> F32:
    """``heights`` (float32 metres, NaN where missing) with every missing sample filled smoothly; the rest untouched.

    Coarse to fine, each level relaxed towards the membrane that the surroundings span (the solution of Laplace's
    equation): Bertalmío et al. 2000 call it inpainting by diffusion; the pyramid is Gortler et al. 1996, push-pull.
    """
    return _filled(np.ascontiguousarray(heights, np.float32))


def moved(heights: F32, src: Grid, dst: Grid) -> F32:
    """Heights (float32 metres, NaN where there is none) on another grid of the same extent; gaps stay gaps and do not
    leak."""
    void = np.isnan(heights)
    if not void.any():
        return resample(heights, src, dst)
    out = resample(fill_voids(heights), src, dst)
    out[resample(void.astype(np.float32), src, dst, "nearest") > 0.5] = np.nan
    return out
