"""Gaussian blur of any radius in about constant time a sample."""

from __future__ import annotations

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.grid import Grid, Registration, Window
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["blur", "mirrored", "pyramid_step"]

F32 = NDArray[np.float32]
_WIDEST = 3.0
"""Standard deviations (in samples) above this are blurred at half the size."""


def _weights(sigma: float) -> F32:
    reach = max(math.ceil(3.2 * sigma), 1)
    x = np.arange(-reach, reach + 1)
    w = np.exp(-0.5 * (x / max(sigma, 1e-6)) ** 2)
    weights: F32 = (w / w.sum()).astype(np.float32)
    return weights


@njit(nogil=True, cache=True, error_model="numpy")
def _blur_rows(z: F32, down: F32, along: F32, out: F32, first: int, end: int) -> None:
    """Both passes for a stripe of rows; beyond the border the outermost samples are mirrored through (odd)."""
    rows, cols = z.shape
    ry, rx = down.size // 2, along.size // 2
    two = np.float32(2)
    line = np.empty(cols + 2 * rx, np.float32)
    inner = line[rx : rx + cols]
    for r in range(first, end):
        inner[:] = 0
        for k in range(down.size):
            w, i = down[k], r + k - ry
            if 0 <= i < rows:
                row = z[i]
                for c in range(cols):
                    inner[c] += w * row[c]
            else:
                edge = z[0] if i < 0 else z[rows - 1]
                far = z[min(-i, rows - 1)] if i < 0 else z[max(2 * (rows - 1) - i, 0)]
                for c in range(cols):
                    inner[c] += w * (two * edge[c] - far[c])
        for t in range(1, rx + 1):
            line[rx - t] = two * line[rx] - line[rx + min(t, cols - 1)]
            line[rx + cols - 1 + t] = two * line[rx + cols - 1] - line[rx + cols - 1 - min(t, cols - 1)]
        o = out[r]
        o[:] = 0
        for k in range(along.size):
            w, part = along[k], line[k:]
            for c in range(cols):
                o[c] += w * part[c]


@njit(nogil=True, cache=True, error_model="numpy")
def _halve_rows(z: F32, out: F32, first: int, end: int) -> None:
    """Every other sample of every other row, each the [1 4 6 4 1]/16 mean of its neighbours on both axes.

    Shorter filters let the finest detail through as false broad detail. Rows and columns are odd in number.
    """
    rows, cols = z.shape
    part, four, six = np.float32(1 / 16), np.float32(4), np.float32(6)
    line = np.empty(cols, np.float32)
    for r in range(first, end):
        i = 2 * r
        m = z[i]
        if 0 < i < rows - 1:
            a, b, d, e = z[i - 2], z[i - 1], z[i + 1], z[i + 2]
            for c in range(cols):
                line[c] = ((a[c] + e[c]) + four * (b[c] + d[c]) + six * m[c]) * part
        else:
            # At the border the odd mirror image cancels out: the sample itself.
            for c in range(cols):
                line[c] = m[c]
        o = out[r]
        o[0], o[o.size - 1] = line[0], line[cols - 1]
        for c in range(1, o.size - 1):
            j = 2 * c
            around = (line[j - 2] + line[j + 2]) + four * (line[j - 1] + line[j + 1])
            o[c] = (around + six * line[j]) * part


@njit(nogil=True, cache=True, error_model="numpy")
def _between(a: F32, b: F32, c: F32, d: F32, out: F32) -> None:
    nine, one = np.float32(9 / 16), np.float32(1 / 16)
    for i in range(out.size):
        out[i] = (b[i] + c[i]) * nine - (a[i] + d[i]) * one


@njit(nogil=True, cache=True, error_model="numpy")
def _double_rows(z: F32, out: F32, first: int, end: int) -> None:
    """Twice as many samples: those that are there, and between them the cubic through four."""
    rows, cols = z.shape
    two = np.float32(2)
    line = np.empty(cols + 2, np.float32)
    inner = line[1 : 1 + cols]
    half = np.empty(cols - 1, np.float32)
    before, after = np.empty(cols, np.float32), np.empty(cols, np.float32)
    for r in range(first, end):
        i = r // 2
        if r % 2 == 0 or i + 1 >= rows:
            row = z[min(i, rows - 1)]
            for c in range(cols):
                inner[c] = row[c]
        else:
            for c in range(cols):
                before[c] = z[i - 1, c] if i > 0 else two * z[i, c] - z[i + 1, c]
                after[c] = z[i + 2, c] if i + 2 < rows else two * z[i + 1, c] - z[i, c]
            _between(before, z[i], z[i + 1], after, inner)
        line[0] = two * line[1] - line[2]
        line[cols + 1] = two * line[cols] - line[cols - 1]
        _between(line, line[1:], line[2:], line[3:], half)
        o = out[r]
        for c in range(cols):
            if 2 * c < o.size:
                o[2 * c] = inner[c]
        for c in range(cols - 1):
            if 2 * c + 1 < o.size:
                o[2 * c + 1] = half[c]


def _odd(values: F32) -> F32:
    """One row or column more where their number is even, so that both borders stay samples when halved."""
    more = [(0, 1 - n % 2) for n in values.shape]
    return np.pad(values, more, mode="reflect", reflect_type="odd") if any(b for _, b in more) else values


def _wide(values: F32, sy: float, sx: float, pool: Stripes, cancel: Cancel | None) -> F32:
    """Halve, blur with what is left of the variance, double."""
    src = readable(_odd(values))
    rows, cols = (src.shape[0] + 1) // 2, (src.shape[1] + 1) // 2
    small = np.empty((rows, cols), np.float32)
    pool.run(rows, cols, lambda i, j: _halve_rows(src, small, i, j), cancel)
    # [1 4 6 4 1]/16 has a variance of one sample.
    left = [math.sqrt(max(s * s - 1.0, 0.0)) / 2 for s in (sy, sx)]
    smooth = readable(_blurred(small, left[0], left[1], pool, cancel))
    out = np.empty(values.shape, np.float32)
    pool.run(values.shape[0], values.size // values.shape[0], lambda i, j: _double_rows(smooth, out, i, j), cancel)
    return out


def _blurred(values: F32, sy: float, sx: float, pool: Stripes, cancel: Cancel | None) -> F32:
    if min(sy, sx) > _WIDEST and min(values.shape) >= 8:
        return _wide(values, sy, sx, pool, cancel)
    src, down, along = readable(values), readable(_weights(sy)), readable(_weights(sx))
    out = np.empty(values.shape, np.float32)
    pool.run(
        values.shape[0], values.size // values.shape[0], lambda i, j: _blur_rows(src, down, along, out, i, j), cancel
    )
    return out


def pyramid_step(samples: float) -> int:
    """How many samples of a map are one of the smallest halved map that a blur of so many ``samples`` works on.

    Windows that begin at multiples of it are halved like the whole map.
    """
    step = 1
    while samples > _WIDEST:
        samples, step = math.sqrt(max(samples * samples - 1.0, 0.0)) / 2, step * 2
    return step


def mirrored(values: F32, inside: Window, wanted: Window, registration: Registration) -> F32:
    """A mask on the window ``inside`` grown to ``wanted`` by mirroring about the border of its grid.

    *area*: the border lies between samples (c b a | a b c); *vertex*: on the outermost ones (c b | a | b c). So the
    mean over the ground is kept by whatever is symmetric. float32 in and out.
    """
    before = (inside.row0 - wanted.row0, wanted.row1 - inside.row1)
    across = (inside.col0 - wanted.col0, wanted.col1 - inside.col1)
    if not any(before + across):
        return values
    return np.pad(values, (before, across), mode="symmetric" if registration == "area" else "reflect")


def blur(values: F32, grid: Grid, sigma: float, stripes: Stripes | None = None, cancel: Cancel | None = None) -> F32:
    """``values`` (float32, shape of ``grid``) blurred with a Gaussian whose standard deviation is ``sigma`` metres.

    For heights: planes stay planes up to the border. Masks are grown by :func:`mirrored` first and cut afterwards.
    Above three samples the map is halved as often as need be, blurred with
    what is left of the variance, and doubled again by a cubic: Burt & Adelson 1983, doi:10.1109/TCOM.1983.1095851.
    Returns float32.
    """
    sy, sx = sigma / grid.dy, sigma / grid.dx
    if max(sy, sx) < 0.05:
        return values.copy()
    return _blurred(values, sy, sx, stripes or Stripes(1), cancel)
