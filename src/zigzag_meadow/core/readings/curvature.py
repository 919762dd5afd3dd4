"""Curvature at a width, in 1/m; convex ground is positive."""

from __future__ import annotations

from typing import Literal

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
from zigzag_meadow.core.readings.neighbours import NE, NW, SE, SW, C, E, N, S, W, gather, over_neighbours
from zigzag_meadow.core.readings.numbers import WIDER
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["CURVATURES", "CURVATURE_READINGS", "CurvatureKind", "curvature_padded"]

F32 = NDArray[np.float32]
CurvatureKind = Literal["profile", "plan", "tangential", "mean"]
CURVATURES: tuple[CurvatureKind, ...] = ("profile", "plan", "tangential", "mean")
# Below this squared gradient (about 0.006°) the ground has no direction of fall.
_LEVEL = np.float32(1e-8)


@njit(nogil=True, cache=True, error_model="numpy")
def _curve_row(
    nw: F32, n: F32, ne: F32, w: F32, m: F32, e: F32, sw: F32, s: F32, se: F32, numbers: F32, o: F32
) -> None:
    kind = int(numbers[0])
    ax, ay, axx, ayy, axy, most = numbers[1], numbers[2], numbers[3], numbers[4], numbers[5], numbers[6]
    one, two, half = np.float32(1), np.float32(2), np.float32(0.5)
    for c in range(o.size):
        # Relative to the middle first: heights are large, their differences small.
        d1, d2, d3 = nw[c] - m[c], n[c] - m[c], ne[c] - m[c]
        d4, d6 = w[c] - m[c], e[c] - m[c]
        d7, d8, d9 = sw[c] - m[c], s[c] - m[c], se[c] - m[c]
        p = ((d3 + two * d6 + d9) - (d1 + two * d4 + d7)) * ax
        q = ((d1 + two * d2 + d3) - (d7 + two * d8 + d9)) * ay
        corners, bent = (d1 + d3) + (d7 + d9), two * ((d4 + d6) - (d2 + d8))
        r, t = (corners + bent) * axx, (corners - bent) * ayy
        x = (d3 - d1 - d9 + d7) * axy
        pp, qq, g = p * p, q * q, p * p + q * q
        up = one + g
        root = np.sqrt(up)
        level = -half * (r + t)
        if kind == 0:
            along = pp * r + two * p * q * x + qq * t
            # One division for both cases.
            steep = g > _LEVEL
            o[c] = -(along if steep else half * (r + t)) / (g * (up * root) if steep else one)
        elif kind == 1:
            across = qq * r - two * p * q * x + pp * t
            o[c] = min(max(-across / (g * np.sqrt(g)), -most), most) if g > _LEVEL else level
        elif kind == 2:
            across = qq * r - two * p * q * x + pp * t
            o[c] = -across / (g * root) if g > _LEVEL else level
        else:
            o[c] = -((one + qq) * r - two * p * q * x + (one + pp) * t) / (two * up * root)


@njit(nogil=True, cache=True, error_model="numpy")
def _curvature_rows(
    z: F32, ky: int, kx: int, fy: np.float32, fx: np.float32, numbers: F32, out: F32, first: int, end: int
) -> None:
    cols = out.shape[1]
    near = np.empty((9, cols), np.float32)
    spare = np.empty(z.shape[1], np.float32)
    for k in range(first, end):
        if fy == 0 and fx == 0:
            a, b, d = z[k], z[k + ky], z[k + 2 * ky]
            _curve_row(a, a[kx:], a[2 * kx :], b, b[kx:], b[2 * kx :], d, d[kx:], d[2 * kx :], numbers, out[k])
        else:
            gather(z, k, ky, kx, fy, fx, spare, near)
            _curve_row(
                near[NW], near[N], near[NE], near[W], near[C], near[E], near[SW], near[S], near[SE], numbers, out[k]
            )


def curvature_padded(
    padded: F32,
    off: Offsets,
    kind: CurvatureKind,
    stripes: Stripes,
    cancel: Cancel | None = None,
    out: F32 | None = None,
) -> F32:
    """Curvature of ``kind`` in 1/m, positive where the ground bulges.

    *profile*: along the fall line; *tangential*: across it; *plan*: of the contour line, at most 1/width; *mean*:
    of the surface. Level ground has no fall line: there all but *mean* give −(r + t)/2.
    ``padded``: float32 metres, row 0 north, with ``off.wide_margin`` on every side. Returns float32 without the margin.
    References: Evans 1980, Zeitschrift für Geomorphologie Suppl. 36; Mitášová & Hofierka 1993,
    doi:10.1007/BF00893172.
    """
    wy, wx = off.wy, off.wx
    numbers = (
        float(CURVATURES.index(kind)),
        1 / (8 * wx),
        1 / (8 * wy),
        1 / (4 * wx * wx),
        1 / (4 * wy * wy),
        1 / (4 * wx * wy),
        1 / min(wx, wy),
    )
    return over_neighbours(padded, off, numbers, _curvature_rows, stripes, cancel, out)


def _curvature(here: Here, numbers: Numbers, padded: F32, off: Offsets) -> F32:
    return curvature_padded(padded, off, numbers["kind"], here.stripes, here.cancel)


CURVATURE = derivative("curvature", _curvature, version=3, wide=True)


def _reading(kind: str, title: str, sentence: str, good_for: str, pointing: float | None = None) -> Reading:
    return Reading(
        name=f"{kind}_curvature",
        title=title,
        family="relief",
        unit="1/m",
        decimals=5,
        sentence=sentence,
        good_for=good_for,
        build=over_width(CURVATURE, kind=kind),
        params=(WIDER,),
        signed=True,
        ramp="bend",
        pointing=pointing,
    )


CURVATURE_READINGS = (
    _reading(
        kind="profile",
        title="Profile curvature",
        pointing=0.08,
        sentence="How the fall line bends: above 0 where it steepens downhill, below 0 at the foot of slopes.",
        good_for="Worn edges and crests; the foot of slopes, where things come to rest.",
    ),
    _reading(
        kind="plan",
        title="Plan curvature",
        pointing=0.08,
        sentence="How contour lines bend: above 0 on noses, below 0 in gullies.",
        good_for="Telling noses from gullies, however steep they are.",
    ),
    _reading(
        kind="tangential",
        title="Tangential curvature",
        sentence="How the ground bends across the fall line: above 0 on noses, below 0 in gullies.",
        good_for="Gullies that gather water and grass; calmer than plan curvature on gentle ground.",
    ),
    _reading(
        kind="mean",
        title="Mean curvature",
        pointing=0.06,
        sentence="How the surface bulges in all directions together.",
        good_for="Edge wear, dirt in creases, a first mask for ridges and hollows.",
    ),
)
