"""How a coat lies on what is below it: blend modes, strength and mask.

*normal*, *multiply*, *lighten* and *darken* work in linear light; *screen*, *overlay*, *soft light* and *colour* on
sRGB-coded values, as painters know them. Formulas: W3C, Compositing and Blending Level 1, sections 9 and 10.
"""

from __future__ import annotations

from typing import Any, Literal

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.srgb import code, uncode

__all__ = ["MODES", "Mode", "blended"]

F32 = NDArray[np.float32]
Mode = Literal["normal", "multiply", "screen", "overlay", "soft_light", "lighten", "darken", "colour"]
MODES: tuple[tuple[Mode, str], ...] = (
    ("normal", "as it is"),
    ("multiply", "multiplied"),
    ("screen", "as screen"),
    ("overlay", "as overlay"),
    ("soft_light", "as soft light"),
    ("lighten", "where lighter"),
    ("darken", "where darker"),
    ("colour", "as colour"),
)
_NUMBERS = {mode: at for at, (mode, _) in enumerate(MODES)}
_NORMAL, _MULTIPLY, _SCREEN, _OVERLAY, _SOFT, _LIGHTEN, _DARKEN, _COLOUR = range(8)


@njit(nogil=True, cache=True, inline="always")
def _simple(mode: int, b: np.float32, t: np.float32) -> np.float32:
    """Modes that mix each part by itself in linear light."""
    if mode == _MULTIPLY:
        return b * t
    if mode == _LIGHTEN:
        return max(b, t)
    if mode == _DARKEN:
        return min(b, t)
    return t


@njit(nogil=True, cache=True, inline="always")
def _as_coded(mode: int, b: np.float32, t: np.float32) -> np.float32:
    """Modes that mix each part by itself on coded values."""
    one, two, half = np.float32(1), np.float32(2), np.float32(0.5)
    if mode == _SCREEN:
        return b + t - b * t
    if mode == _OVERLAY:
        return two * b * t if b <= half else one - two * (one - b) * (one - t)
    if t <= half:
        return b - (one - two * t) * b * (one - b)
    d = ((np.float32(16) * b - np.float32(12)) * b + np.float32(4)) * b if b <= np.float32(0.25) else np.sqrt(b)
    return b + (two * t - one) * (d - b)


@njit(nogil=True, cache=True)
def _with_light_of(r: Any, g: Any, b: Any, light: Any, out: NDArray[np.float32]) -> None:
    """Set lightness, then bring back into 0–1 about it (SetLum and ClipColor)."""
    add = light - (0.3 * r + 0.59 * g + 0.11 * b)
    r, g, b = r + add, g + add, b + add
    low, high = min(r, g, b), max(r, g, b)
    if low < 0:
        k = light / (light - low)
        r, g, b = light + (r - light) * k, light + (g - light) * k, light + (b - light) * k
    if high > 1:
        k = (1 - light) / (high - light)
        r, g, b = light + (r - light) * k, light + (g - light) * k, light + (b - light) * k
    out[0], out[1], out[2] = np.float32(r), np.float32(g), np.float32(b)


@njit(nogil=True, cache=True, error_model="numpy")
def _blend(
    below: F32, top: F32, plain: bool, mask: F32, whole: bool, mode: int, strength: np.float32, out: F32
) -> None:
    """Modes in linear light. A row at a time, mode by mode: loops without a choice inside are quicker. ``plain``:
    ``top`` is one colour for all; ``whole``: ``mask`` is one strength for all."""
    rows, cols, _ = below.shape
    parts = top.shape[2]
    for r in range(rows):
        for c in range(cols):
            a = strength * (mask[0, 0] if whole else mask[r, c])
            i, j = (0, 0) if plain else (r, c)
            if parts == 4:
                a *= top[i, j, 3]
            for k in range(3):
                b = below[r, c, k]
                out[r, c, k] = b + a * (_simple(mode, b, top[i, j, k]) - b)


@njit(nogil=True, cache=True, error_model="numpy")
def _blend_coded(
    below: F32, top: F32, plain: bool, mask: F32, whole: bool, mode: int, strength: np.float32, out: F32
) -> None:
    """Modes on coded values, a row at a time, part by part; see :func:`_blend`."""
    rows, cols, _ = below.shape
    parts = top.shape[2]
    under, over = np.empty((3, cols), np.float32), np.empty((3, cols), np.float32)
    much, made = np.empty(cols, np.float32), np.empty(3, np.float32)
    for r in range(rows):
        for c in range(cols):
            much[c] = strength * (mask[0, 0] if whole else mask[r, c])
        if parts == 4:
            for c in range(cols):
                much[c] *= top[0, 0, 3] if plain else top[r, c, 3]
        for k in range(3):
            for c in range(cols):
                under[k, c] = code(below[r, c, k])
            if plain and r == 0:
                over[k, :] = code(top[0, 0, k])
            elif not plain:
                for c in range(cols):
                    over[k, c] = code(top[r, c, k])
        if mode == _COLOUR:
            for c in range(cols):
                light = 0.3 * under[0, c] + 0.59 * under[1, c] + 0.11 * under[2, c]
                _with_light_of(over[0, c], over[1, c], over[2, c], light, made)
                for k in range(3):
                    under[k, c] += much[c] * (made[k] - under[k, c])
        else:
            for k in range(3):
                for c in range(cols):
                    e = under[k, c]
                    under[k, c] = e + much[c] * (_as_coded(mode, e, over[k, c]) - e)
        for k in range(3):
            for c in range(cols):
                out[r, c, k] = uncode(under[k, c])
        for c in range(cols):
            if much[c] == np.float32(0):
                out[r, c, 0], out[r, c, 1], out[r, c, 2] = below[r, c, 0], below[r, c, 1], below[r, c, 2]


def blended(
    below: F32, top: F32 | tuple[float, float, float], mode: Mode, strength: float = 1.0, mask: F32 | None = None
) -> F32:
    """``top`` laid on ``below``: float32 (rows, columns, 3) linear light 0–1.

    ``top``: the same shape, also with a fourth part, how much of it is there; or three numbers, one colour for all.
    ``mask``: float32 (rows, columns) 0–1, everywhere when left out. Raises :class:`BadNumber` for a mode that is none,
    and for arrays that do not cover what is below.
    """
    if mode not in _NUMBERS:
        raise BadNumber(f"A coat is laid {', '.join(_NUMBERS)}; got {mode!r}.", field="mode")
    plain, whole = isinstance(top, tuple), mask is None
    over = np.array(top, np.float32).reshape(1, 1, 3) if isinstance(top, tuple) else top
    where = np.ones((1, 1), np.float32) if mask is None else mask
    covers = (plain or over.shape[:2] == below.shape[:2]) and (whole or where.shape == below.shape[:2])
    if not covers:
        raise BadNumber(
            f"A coat must be as large as what it lies on, {below.shape[:2]}, got {over.shape[:2]} within {where.shape}."
        )
    out = np.empty_like(below)
    number = _NUMBERS[mode]
    kernel = _blend if number in (_NORMAL, _MULTIPLY, _LIGHTEN, _DARKEN) else _blend_coded
    kernel(readable(below), readable(over), plain, readable(where), whole, number, np.float32(strength), out)
    return out
