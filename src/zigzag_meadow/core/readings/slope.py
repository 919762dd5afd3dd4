"""Slope and aspect in degrees: how steep the ground is and which way it falls."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.nodes.operation import (
    Here,
    Numbers,
)
from zigzag_meadow.core.readings.asked import over_width
from zigzag_meadow.core.readings.compass import aspect_row
from zigzag_meadow.core.readings.declare import Reading
from zigzag_meadow.core.readings.derivative import derivative
from zigzag_meadow.core.readings.differences import Offsets, extended, offsets
from zigzag_meadow.core.readings.numbers import WIDTH
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["SLOPE", "SLOPE_OPERATION", "TEXTURE_STRETCH", "across", "aspect_padded", "slope", "slope_padded"]

F32 = NDArray[np.float32]
_DEGREES = np.float32(180 / np.pi)
_ONE = np.float32(1)
_TWO = np.float32(2)
_FOUR = np.float32(4)
_NONE = np.float32(0)
# arctan in three ranges with one division, error below 1e-7: Moshier 1989, Methods and Programs for
# Mathematical Functions, chapter 4 (single precision).
_TAN_22, _TAN_67 = np.float32(0.4142135623730950), np.float32(2.414213562373095)
_HALF_RIGHT, _RIGHT = np.float32(np.pi / 4), np.float32(np.pi / 2)
_P3, _P5, _P7, _P9 = (np.float32(v) for v in (-3.33329491539e-1, 1.99777106478e-1, -1.38776856032e-1, 8.05374449538e-2))


@njit(nogil=True, cache=True, error_model="numpy")
def across(n: F32, m: F32, s: F32, v: F32, d: F32, h: F32) -> None:
    """Horn's sums over three rows, each with as many columns more per side as ``v`` is longer than the rows.

    ``h`` = m, ``v`` = (n − m) + (s − m) and ``d`` = n − s: heights are large and their differences small, so rows are
    differenced before anything is added. Horn's n + 2m + s is v + 4h. Where the rows are as long as ``v`` they carry
    their margin; otherwise it is extrapolated linearly.
    """
    grow = (v.size - n.size) // 2
    vi, di, hi = v[grow:], d[grow:], h[grow:]
    for c in range(n.size):
        vi[c] = (n[c] - m[c]) + (s[c] - m[c])
    for c in range(n.size):
        di[c] = n[c] - s[c]
        hi[c] = m[c]
    last = grow + n.size - 1
    for t in range(1, grow + 1):
        v[grow - t] = _TWO * v[grow] - v[grow + t]
        d[grow - t] = _TWO * d[grow] - d[grow + t]
        h[grow - t] = _TWO * h[grow] - h[grow + t]
        v[last + t] = _TWO * v[last] - v[last - t]
        d[last + t] = _TWO * d[last] - d[last - t]
        h[last + t] = _TWO * h[last] - h[last - t]


@njit(nogil=True, cache=True, error_model="numpy")
def _gradient_row(n: F32, m: F32, s: F32, k: int, a: np.float32, b: np.float32, gx: F32, gy: F32) -> None:
    """Horn's rise east and north over three rows that carry ``k`` columns more per side than the gradients.

    Slices instead of computed indices: only then does the compiler use vector instructions.
    """
    ne, me, se, nm, sm = n[2 * k :], m[2 * k :], s[2 * k :], n[k:], s[k:]
    for c in range(gx.size):
        # Heights are large and their differences small: they are differenced before anything is added.
        gx[c] = ((ne[c] - n[c]) + _TWO * (me[c] - m[c]) + (se[c] - s[c])) * a
        gy[c] = ((n[c] - s[c]) + _TWO * (nm[c] - sm[c]) + (ne[c] - se[c])) * b


@njit(nogil=True, cache=True, error_model="numpy")
def _gradient_of_sums(v: F32, d: F32, h: F32, k: int, a: np.float32, b: np.float32, gx: F32, gy: F32) -> None:
    """The same of what :func:`across` made."""
    ve, de, dm, he = v[2 * k :], d[2 * k :], d[k:], h[2 * k :]
    for c in range(gx.size):
        gx[c] = ((ve[c] - v[c]) + _FOUR * (he[c] - h[c])) * a
        gy[c] = (d[c] + _TWO * dm[c] + de[c]) * b


@njit(nogil=True, cache=True, error_model="numpy")
def _degrees_row(gx: F32, gy: F32, out: F32) -> None:
    for c in range(out.size):
        x, y = gx[c], gy[c]
        g = np.sqrt(x * x + y * y)
        steep, mid = g > _TAN_67, g > _TAN_22
        top = -_ONE if steep else (g - _ONE if mid else g)
        under = g if steep else (g + _ONE if mid else _ONE)
        base = _RIGHT if steep else (_HALF_RIGHT if mid else _NONE)
        t = top / under
        q = t * t
        p = ((_P9 * q + _P7) * q + _P5) * q + _P3
        out[c] = (base + (p * q * t + t)) * _DEGREES


@njit(nogil=True, cache=True, error_model="numpy")
def beyond(z: F32, r: int, spare: F32) -> F32:
    """Row ``r`` of ``z``, mirrored through the outermost row where it lies outside."""
    last = z.shape[0] - 1
    if 0 <= r <= last:
        row: F32 = z[r]
        return row
    edge = 0 if r < 0 else last
    for c in range(spare.size):
        spare[c] = _TWO * z[edge, c] - z[2 * edge - r, c]
    return spare


@njit(nogil=True, cache=True, error_model="numpy")
def _ends_of(row: F32, k: int, out: F32) -> None:
    """``k`` columns beyond both ends of a row, extrapolated linearly, and 2 ``k`` inside them; (2, 3 k)."""
    last = row.size - 1
    for t in range(2 * k):
        out[0, k + t], out[1, t] = row[t], row[last - 2 * k + 1 + t]
    for t in range(1, k + 1):
        out[0, k - t], out[1, 2 * k - 1 + t] = _TWO * row[0] - row[t], _TWO * row[last] - row[last - t]


@njit(nogil=True, cache=True, error_model="numpy")
def _slope_rows(
    z: F32,
    my: int,
    mx: int,
    ky: int,
    kx: int,
    a: np.float32,
    b: np.float32,
    aspect: bool,
    out: F32,
    first: int,
    end: int,
) -> None:
    """``my`` and ``mx``: the margin that ``z`` already carries, all or none; what it lacks is extrapolated."""
    cols = out.shape[1]
    gx, gy = np.empty(cols, np.float32), np.empty(cols, np.float32)
    ends = np.empty((3, 2, 3 * kx), np.float32)
    inside = kx - mx
    spare = np.empty((2, z.shape[1]), np.float32)
    for r in range(first, end):
        n, m, s = beyond(z, r + my - ky, spare[0]), z[r + my], beyond(z, r + my + ky, spare[1])
        _gradient_row(n, m, s, kx, a, b, gx[inside : cols - inside], gy[inside : cols - inside])
        if inside > 0:
            _ends_of(n, kx, ends[0])
            _ends_of(m, kx, ends[1])
            _ends_of(s, kx, ends[2])
            _gradient_row(ends[0, 0], ends[1, 0], ends[2, 0], kx, a, b, gx[:kx], gy[:kx])
            _gradient_row(ends[0, 1], ends[1, 1], ends[2, 1], kx, a, b, gx[cols - kx :], gy[cols - kx :])
        if aspect:
            aspect_row(gx, gy, out[r])
        else:
            _degrees_row(gx, gy, out[r])


@njit(nogil=True, cache=True, error_model="numpy")
def _mix(p: F32, q: F32, f: np.float32, out: F32) -> None:
    for c in range(out.size):
        out[c] = p[c] + f * (q[c] - p[c])


@njit(nogil=True, cache=True, error_model="numpy")
def _slope_between(
    z: F32,
    ky: int,
    kx: int,
    fy: np.float32,
    fx: np.float32,
    a: np.float32,
    b: np.float32,
    aspect: bool,
    out: F32,
    first: int,
    end: int,
) -> None:
    """As above where ±width falls between samples: neighbours are interpolated linearly."""
    cols = out.shape[1]
    jy, jx = (1 if fy > 0 else 0), (1 if fx > 0 else 0)
    my, mx = ky + jy, kx + jx
    gx, gy = np.empty(cols, np.float32), np.empty(cols, np.float32)
    n, s = np.empty(z.shape[1], np.float32), np.empty(z.shape[1], np.float32)
    v, d, h = np.empty(z.shape[1], np.float32), np.empty(z.shape[1], np.float32), np.empty(z.shape[1], np.float32)
    # West, middle and east columns side by side, so that one row kernel serves both cases.
    vv, dd, hh = np.empty(3 * cols, np.float32), np.empty(3 * cols, np.float32), np.empty(3 * cols, np.float32)
    for r in range(first, end):
        _mix(z[r + my - ky], z[r + my - ky - jy], fy, n)
        _mix(z[r + my + ky], z[r + my + ky + jy], fy, s)
        across(n, z[r + my], s, v, d, h)
        for whole, wide in ((v, vv), (d, dd), (h, hh)):
            _mix(whole[jx : jx + cols], whole[:cols], fx, wide[:cols])
            wide[cols : 2 * cols] = whole[mx : mx + cols]
            _mix(
                whole[mx + kx : mx + kx + cols],
                whole[mx + kx + jx : mx + kx + jx + cols],
                fx,
                wide[2 * cols :],
            )
        _gradient_of_sums(vv, dd, hh, cols, a, b, gx, gy)
        if aspect:
            aspect_row(gx, gy, out[r])
        else:
            _degrees_row(gx, gy, out[r])


def _fall_padded(
    padded: F32, off: Offsets, aspect: bool, stripes: Stripes, cancel: Cancel | None, out: F32 | None
) -> F32:
    my, mx = off.margin
    padded = readable(padded)
    shape = (padded.shape[0] - 2 * my, padded.shape[1] - 2 * mx)
    result = np.empty(shape, np.float32) if out is None else out
    a, b = np.float32(1 / (8 * off.wx)), np.float32(1 / (8 * off.wy))
    if off.fy == 0 and off.fx == 0:
        stripes.run(
            *shape, lambda i, j: _slope_rows(padded, my, mx, off.ky, off.kx, a, b, aspect, result, i, j), cancel
        )
    else:
        fy, fx = np.float32(off.fy), np.float32(off.fx)
        stripes.run(
            *shape, lambda i, j: _slope_between(padded, off.ky, off.kx, fy, fx, a, b, aspect, result, i, j), cancel
        )
    return result


def slope_padded(
    padded: F32, off: Offsets, stripes: Stripes, cancel: Cancel | None = None, out: F32 | None = None
) -> F32:
    """Slope in degrees of heights (float32, metres) that already carry ``off.margin`` on every side.

    Returns float32 of the shape without the margin.
    """
    return _fall_padded(padded, off, False, stripes, cancel, out)


def aspect_padded(
    padded: F32, off: Offsets, stripes: Stripes, cancel: Cancel | None = None, out: F32 | None = None
) -> F32:
    """Direction of steepest fall in degrees clockwise from north, 0 ≤ aspect < 360; NaN where the ground is level.

    ``padded``: float32 metres, row 0 north, with ``off.margin`` on every side. Returns float32 without the margin.
    Gradient: Horn 1981, doi:10.1109/PROC.1981.11918.
    """
    return _fall_padded(padded, off, True, stripes, cancel, out)


def slope(
    heights: F32,
    grid: Grid,
    *,
    width: float | None = None,
    stripes: Stripes | None = None,
    cancel: Cancel | None = None,
    out: F32 | None = None,
) -> F32:
    """Slope in degrees, 0 to 90.

    ``heights``: float32 metres, shape of ``grid``, row 0 north. ``width``: differencing distance in metres
    (default: the spacing, per axis). Borders extrapolate linearly. Returns float32 of the same shape (``out``,
    where the width is a whole number of samples and one is given).

    Raises :class:`BadNumber` when shapes differ or the width is below the spacing.
    Reference: Horn 1981, Hill shading and the reflectance map, doi:10.1109/PROC.1981.11918.
    """
    if heights.shape != grid.shape:
        raise BadNumber(f"Heights must be {grid.rows} × {grid.cols} like their grid, got {heights.shape}.")
    off = offsets(grid, width if width is not None else (grid.dy, grid.dx))
    pool = stripes or Stripes(1)
    heights = readable(heights)
    if off.fy == 0 and off.fx == 0 and off.ky < grid.rows and 2 * off.kx <= grid.cols:
        result = np.empty(grid.shape, np.float32) if out is None else out
        a, b = np.float32(1 / (8 * off.wx)), np.float32(1 / (8 * off.wy))
        pool.run(
            *grid.shape, lambda i, j: _slope_rows(heights, 0, 0, off.ky, off.kx, a, b, False, result, i, j), cancel
        )
        return result
    padded = extended(heights, grid.whole, grid.whole.grown(*off.margin))
    return slope_padded(padded, off, pool, cancel)


def _slope(here: Here, numbers: Numbers, padded: F32, off: Offsets) -> F32:
    return slope_padded(padded, off, here.stripes, here.cancel)


def _stretch(here: Here, numbers: Numbers, padded: F32, off: Offsets) -> F32:
    upright = np.maximum(np.cos(np.radians(slope_padded(padded, off, here.stripes, here.cancel))), np.float32(0.01))
    return (1 / upright).astype(np.float32, copy=False)


SLOPE_OPERATION = derivative("slope", _slope, version=3)
SLOPE = Reading(
    name="slope",
    title="Slope",
    family="relief",
    unit="°",
    decimals=1,
    low=0.0,
    high=90.0,
    sentence="How steep the ground is, from flat to upright.",
    good_for="Rock shows where nothing can settle; grass and peat stay where it is gentle.",
    build=over_width(SLOPE_OPERATION),
    params=(WIDTH,),
    ramp="steep",
    ramp_high=(10, 60),
    ramp_all=True,
    open_end=True,
    more="steeper",
    less="gentler",
    first=True,
    probed=True,
    pointing=0.0,
)
TEXTURE_STRETCH = Reading(
    name="texture_stretch",
    title="Texture stretch",
    family="relief",
    unit="×",
    low=1.0,
    sentence="How far a texture laid on from above is pulled apart: 1 on the flat, 2 at 60°.",
    good_for="Finding faces that need another mapping, or softening, before textures smear.",
    build=over_width(derivative("stretch", _stretch, version=2)),
    params=(WIDTH,),
    ramp="alarm",
    ramp_high=(3, 3),
    beyond=2.0,
    beyond_says="Textures are pulled to more than twice their length on {share} of the ground.",
)
