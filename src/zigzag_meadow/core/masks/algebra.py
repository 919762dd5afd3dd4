"""The arithmetic of recipes: bands, levels and the ways two masks are put together."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.masks.powers import bend_row
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["Combine", "band", "blend", "combine", "levels", "turn_over", "wrapped_band"]

F32 = NDArray[np.float32]
Combine = Literal["take", "leave_out", "keep_within", "add", "strongest", "weakest", "multiply", "difference"]
_KINDS: dict[str, int] = {
    "take": 0,
    "leave_out": 1,
    "keep_within": 2,
    "multiply": 2,
    "add": 3,
    "strongest": 4,
    "weakest": 5,
    "difference": 6,
}


@njit(nogil=True, cache=True, error_model="numpy")
def _edge(v: F32, edge: np.float32, fade: np.float32, way: np.float32, out: F32) -> None:
    """One edge of a band: ``way`` is 1 for the lower edge and −1 for the upper; the fade lies outside."""
    zero, one = np.float32(0), np.float32(1)
    if fade > 0:
        per = one / fade
        for c in range(out.size):
            out[c] = min(max((v[c] - edge) * way * per + one, zero), one)
    else:
        for c in range(out.size):
            out[c] = one if (v[c] - edge) * way >= zero else zero


@njit(nogil=True, cache=True, error_model="numpy")
def _band_rows(
    v: F32,
    low: np.float32,
    high: np.float32,
    fade_low: np.float32,
    fade_high: np.float32,
    smooth: bool,
    out: F32,
    first: int,
    end: int,
) -> None:
    spare = np.empty(v.shape[1], np.float32)
    zero, one, two, three = np.float32(0), np.float32(1), np.float32(2), np.float32(3)
    for r in range(first, end):
        row, o = v[r], out[r]
        if fade_low > 0 and fade_high > 0:
            up, down = one / fade_low, one / fade_high
            for c in range(o.size):
                rise, fall = (row[c] - low) * up + one, (high - row[c]) * down + one
                o[c] = max(min(min(rise, fall), one), zero)
        else:
            _edge(row, low, fade_low, one, o)
            _edge(row, high, fade_high, -one, spare)
            for c in range(o.size):
                o[c] = min(o[c], spare[c])
        if smooth:
            for c in range(o.size):
                o[c] = o[c] * o[c] * (three - two * o[c])


def band(
    values: F32,
    low: float,
    high: float,
    fade_low: float,
    fade_high: float,
    *,
    smooth: bool = False,
    log: bool = False,
    stripes: Stripes | None = None,
    cancel: Cancel | None = None,
    out: F32 | None = None,
) -> F32:
    """1 where ``low`` ≤ value ≤ ``high``, fading to 0 outside over ``fade_low`` and ``fade_high``.

    ``values``: float32 in the reading's unit; edges and fades likewise. With ``log`` the fades are factors in
    powers of two: a fade of 1 reaches from low/2 to low and from high to 2·high. Returns float32 0–1 of the same
    shape. Raises :class:`BadNumber` when the edges cross or a fade is negative.
    """
    if not low <= high:
        raise BadNumber(f"A band's lower edge must not be above its upper edge, got {low:g} to {high:g}.")
    if not (fade_low >= 0 and fade_high >= 0):
        raise BadNumber(f"A fade must be 0 or more, got {min(fade_low, fade_high):g}.")
    if log:
        if low <= 0:
            raise BadNumber(f"A band on a logarithmic reading must start above 0, got {low:g}.")
        values, low, high = np.log2(values), float(np.log2(low)), float(np.log2(high))
    values = readable(values)
    result = np.empty(values.shape, np.float32) if out is None else out
    a, b, fa, fb = (np.float32(n) for n in (low, high, fade_low, fade_high))
    (stripes or Stripes(1)).run(
        values.shape[0],
        values.size // values.shape[0],
        lambda i, j: _band_rows(values, a, b, fa, fb, smooth, result, i, j),
        cancel,
    )
    return result


@njit(nogil=True, cache=True, error_model="numpy")
def _combine(before: F32, line: F32, kind: int, strength: np.float32) -> F32:
    out: F32 = np.empty(before.shape, np.float32)
    one = np.float32(1)
    for r in range(out.shape[0]):
        a, b, o = before[r], line[r], out[r]
        if kind == 0:
            for c in range(o.size):
                o[c] = a[c] + strength * (b[c] - a[c])
        elif kind == 1:
            for c in range(o.size):
                o[c] = a[c] * (one - strength * b[c])
        elif kind == 2:
            for c in range(o.size):
                o[c] = a[c] * (one - strength * (one - b[c]))
        elif kind == 3:
            for c in range(o.size):
                o[c] = a[c] + strength * min(b[c], one - a[c])
        elif kind == 4:
            for c in range(o.size):
                o[c] = a[c] + strength * (max(a[c], b[c]) - a[c])
        elif kind == 5:
            for c in range(o.size):
                o[c] = a[c] + strength * (min(a[c], b[c]) - a[c])
        else:
            for c in range(o.size):
                o[c] = a[c] + strength * (abs(a[c] - b[c]) - a[c])
    return out


@njit(nogil=True, cache=True, error_model="numpy")
def _blend(before: F32, line: F32, by: F32, strength: np.float32) -> F32:
    out: F32 = np.empty(before.shape, np.float32)
    for r in range(out.shape[0]):
        a, b, f, o = before[r], line[r], by[r], out[r]
        for c in range(o.size):
            o[c] = a[c] + strength * f[c] * (b[c] - a[c])
    return out


def wrapped_band(
    values: F32, low: float, high: float, fade_low: float, fade_high: float, smooth: bool, turn: float = 360.0
) -> F32:
    """A band of a reading whose end meets its beginning (degrees): from ``low`` clockwise to ``high``.

    1 between the edges, fades outside, 0 where there is no direction (NaN). float32 of the same shape. A band as
    wide as the ``turn`` holds everything that has a direction.
    """
    span = high - low if high - low >= turn else (high - low) % turn
    past = (values - np.float32(low)) % np.float32(turn)
    rise = 1 - (np.float32(turn) - past) / np.float32(max(fade_low, 1e-9))
    fall = 1 - (past - np.float32(span)) / np.float32(max(fade_high, 1e-9))
    out = np.where(past <= span, np.float32(1), np.clip(np.maximum(rise, fall), 0, 1)).astype(np.float32)
    out[np.isnan(values)] = 0
    return out * out * (3 - 2 * out) if smooth else out


def combine(before: F32, line: F32, verb: Combine, strength: float = 1.0) -> F32:
    """Put a line's mask together with what came before (both float32 0–1, same shape).

    *take*: b. *add*: min(a+b, 1). *leave_out*: a·(1−b). *keep_within* and *multiply*: a·b. *strongest*: max.
    *weakest*: min. *difference*: |a−b|. ``strength`` s mixes: (1−s)·a + s·result.
    """
    result: F32 = _combine(readable(before), readable(line), _KINDS[verb], np.float32(strength))
    return result


def blend(before: F32, line: F32, by: F32, strength: float = 1.0) -> F32:
    """a·(1−f) + b·f with f = ``strength`` · ``by``; all float32 0–1 of one shape."""
    result: F32 = _blend(readable(before), readable(line), readable(by), np.float32(strength))
    return result


def turn_over(mask: F32) -> F32:
    """1 − mask (float32)."""
    return np.float32(1) - mask


@njit(nogil=True, cache=True, error_model="numpy")
def _level_rows(
    mask: F32,
    low: np.float32,
    per: np.float32,
    power: np.float32,
    out_low: np.float32,
    span: np.float32,
    out: F32,
    first: int,
    end: int,
) -> None:
    zero, one = np.float32(0), np.float32(1)
    for r in range(first, end):
        m, o = mask[r], out[r]
        for c in range(o.size):
            o[c] = min(max((m[c] - low) * per, zero), one)
        if power != one:
            bend_row(o, power)
        for c in range(o.size):
            o[c] = o[c] * span + out_low


def levels(
    mask: F32,
    in_low: float,
    in_high: float,
    middle: float,
    out_low: float,
    out_high: float,
    stripes: Stripes | None = None,
    cancel: Cancel | None = None,
) -> F32:
    """Stretch ``in_low``…``in_high`` to ``out_low``…``out_high`` (all 0–1) with a bend of exponent 1/``middle``.

    Values outside the input range are clamped. Raises :class:`BadNumber` when the input range is empty or middle
    is not above 0.
    """
    if not in_low < in_high:
        raise BadNumber(f"The darkest input must be below the brightest, got {in_low:g} to {in_high:g}.")
    if not middle > 0:
        raise BadNumber(f"The middle must be above 0, got {middle:g}.")
    per, span = np.float32(1 / (in_high - in_low)), np.float32(out_high - out_low)
    out = np.empty(mask.shape, np.float32)
    numbers = (np.float32(in_low), per, np.float32(1 / middle), np.float32(out_low), span)
    source = readable(mask)
    (stripes or Stripes(1)).run(
        mask.shape[0], mask.shape[1], lambda i, j: _level_rows(source, *numbers, out, i, j), cancel
    )
    return out
