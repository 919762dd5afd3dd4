"""sRGB and linear light, OKLab, and colours as they are written.

Tables are read between their entries: within 4e-6 of the formulas, without a power a sample.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.errors import BadNumber

__all__ = [
    "LUMA", "code", "coded", "from_lab", "hex_of", "lab_of", "linear", "linear_of", "luma", "rgb_of_lab", "to_lab",
    "to_whole", "uncode",
]  # fmt: skip

F32 = NDArray[np.float32]
LUMA = (0.2126, 0.7152, 0.0722)
"""Rec. 709 weights of linear red, green and blue."""
_MANY = 16384


def _exact_code(x: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.where(x <= 0.0031308, 12.92 * x, 1.055 * np.maximum(x, 0.0) ** (1 / 2.4) - 0.055)


def _exact_linear(x: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.where(x <= 0.04045, x / 12.92, ((np.maximum(x, 0.0) + 0.055) / 1.055) ** 2.4)


_STEPS = np.arange(_MANY + 2) / _MANY
_CODED = _exact_code(_STEPS).astype(np.float32)
_LINEAR = _exact_linear(_STEPS).astype(np.float32)


@njit(nogil=True, cache=True, inline="always")
def code(x: np.float32) -> np.float32:
    """Linear light 0–1 as sRGB-coded 0–1, clamped."""
    x = min(max(x, np.float32(0)), np.float32(1))
    if x <= np.float32(0.0031308):
        return np.float32(12.92) * x
    t = x * np.float32(_MANY)
    i = int(t)
    made: np.float32 = _CODED[i] + (t - np.float32(i)) * (_CODED[i + 1] - _CODED[i])
    return made


@njit(nogil=True, cache=True, inline="always")
def uncode(x: np.float32) -> np.float32:
    """sRGB-coded 0–1 as linear light 0–1, clamped."""
    x = min(max(x, np.float32(0)), np.float32(1))
    t = x * np.float32(_MANY)
    i = int(t)
    made: np.float32 = _LINEAR[i] + (t - np.float32(i)) * (_LINEAR[i + 1] - _LINEAR[i])
    return made


@njit(nogil=True, cache=True)
def _each(values: F32, out: F32, coding: bool) -> None:
    for i in range(values.size):
        out[i] = code(values[i]) if coding else uncode(values[i])


def _through(values: NDArray[Any], coding: bool) -> F32:
    flat = readable(values.astype(np.float32, copy=False)).ravel()
    out = np.empty(flat.size, np.float32)
    _each(flat, out, coding)
    return out.reshape(values.shape)


def coded(values: NDArray[Any]) -> F32:
    """Linear light (0–1, any shape) as sRGB-coded values 0–1; float32. IEC 61966-2-1:1999."""
    return _through(values, True)


def linear(values: NDArray[Any]) -> F32:
    """sRGB-coded values (0–1, any shape) as linear light 0–1; float32. IEC 61966-2-1:1999."""
    return _through(values, False)


def linear_of(colour: str) -> tuple[float, float, float]:
    """``#rrggbb`` as linear light, exactly."""
    parts = np.array([int(colour[k : k + 2], 16) for k in (1, 3, 5)]) / 255
    r, g, b = _exact_linear(parts)
    return float(r), float(g), float(b)


def hex_of(rgb: tuple[float, float, float] | NDArray[Any]) -> str:
    """Linear light as ``#rrggbb``."""
    whole = np.floor(_exact_code(np.clip(np.asarray(rgb, np.float64), 0, 1)) * 255 + 0.5).astype(int)
    return "#" + "".join(f"{v:02x}" for v in whole)


def luma(rgb: NDArray[Any]) -> F32:
    """Luminance of linear colours (…, 3); float32 (…)."""
    made: F32 = (rgb @ np.array(LUMA, np.float32)).astype(np.float32, copy=False)
    return made


# OKLab: Ottosson 2020, A perceptual color space for image processing.
_TO_LMS = np.array(
    [[0.4122214708, 0.5363325363, 0.0514459929], [0.2119034982, 0.6806995451, 0.1073969566],
     [0.0883024619, 0.2817188376, 0.6299787005]], np.float32
)  # fmt: skip
_TO_LAB = np.array(
    [[0.2104542553, 0.7936177850, -0.0040720468], [1.9779984951, -2.4285922050, 0.4505937099],
     [0.0259040371, 0.7827717662, -0.8086757660]], np.float32
)  # fmt: skip
_FROM_LAB = np.linalg.inv(_TO_LAB.astype(np.float64)).astype(np.float32)
_FROM_LMS = np.linalg.inv(_TO_LMS.astype(np.float64)).astype(np.float32)


_ROOTS = np.cbrt(0.125 + np.arange(8194) * (0.875 / 8192)).astype(np.float32)


@njit(nogil=True, cache=True, inline="always")
def _root(x: np.float32) -> np.float32:
    """Cube root of 0–1, within 1e-7: brought to ⅛–1, where a table is read between its entries."""
    if x < np.float32(1e-9):
        return np.float32(0)
    times = np.float32(1)
    while x < np.float32(0.125):
        x *= np.float32(8)
        times *= np.float32(0.5)
    t = (min(x, np.float32(1)) - np.float32(0.125)) * np.float32(8192 / 0.875)
    i = int(t)
    made: np.float32 = times * (_ROOTS[i] + (t - np.float32(i)) * (_ROOTS[i + 1] - _ROOTS[i]))
    return made


@njit(nogil=True, cache=True, inline="always")
def to_lab(r: np.float32, g: np.float32, b: np.float32) -> tuple[np.float32, np.float32, np.float32]:
    """One linear colour in OKLab."""
    x = _root(_TO_LMS[0, 0] * r + _TO_LMS[0, 1] * g + _TO_LMS[0, 2] * b)
    y = _root(_TO_LMS[1, 0] * r + _TO_LMS[1, 1] * g + _TO_LMS[1, 2] * b)
    z = _root(_TO_LMS[2, 0] * r + _TO_LMS[2, 1] * g + _TO_LMS[2, 2] * b)
    return (
        _TO_LAB[0, 0] * x + _TO_LAB[0, 1] * y + _TO_LAB[0, 2] * z,
        _TO_LAB[1, 0] * x + _TO_LAB[1, 1] * y + _TO_LAB[1, 2] * z,
        _TO_LAB[2, 0] * x + _TO_LAB[2, 1] * y + _TO_LAB[2, 2] * z,
    )


@njit(nogil=True, cache=True, inline="always")
def _held(v: np.float32) -> np.float32:
    return min(max(v, np.float32(0)), np.float32(1))


@njit(nogil=True, cache=True, inline="always")
def from_lab(light: np.float32, first: np.float32, second: np.float32) -> tuple[np.float32, np.float32, np.float32]:
    """One OKLab colour in linear light, clamped to 0–1."""
    x = _FROM_LAB[0, 0] * light + _FROM_LAB[0, 1] * first + _FROM_LAB[0, 2] * second
    y = _FROM_LAB[1, 0] * light + _FROM_LAB[1, 1] * first + _FROM_LAB[1, 2] * second
    z = _FROM_LAB[2, 0] * light + _FROM_LAB[2, 1] * first + _FROM_LAB[2, 2] * second
    x, y, z = x * x * x, y * y * y, z * z * z
    return (
        _held(_FROM_LMS[0, 0] * x + _FROM_LMS[0, 1] * y + _FROM_LMS[0, 2] * z),
        _held(_FROM_LMS[1, 0] * x + _FROM_LMS[1, 1] * y + _FROM_LMS[1, 2] * z),
        _held(_FROM_LMS[2, 0] * x + _FROM_LMS[2, 1] * y + _FROM_LMS[2, 2] * z),
    )


@njit(nogil=True, cache=True)
def _labs(rgb: F32, out: F32) -> None:
    for i in range(rgb.shape[0]):
        out[i, 0], out[i, 1], out[i, 2] = to_lab(rgb[i, 0], rgb[i, 1], rgb[i, 2])


@njit(nogil=True, cache=True)
def _rgbs(lab: F32, out: F32) -> None:
    for i in range(lab.shape[0]):
        out[i, 0], out[i, 1], out[i, 2] = from_lab(lab[i, 0], lab[i, 1], lab[i, 2])


def lab_of(rgb: F32) -> F32:
    """Linear colours (…, 3) in OKLab: lightness 0–1 and two opponent axes; float32 of the same shape."""
    flat = readable(rgb.astype(np.float32, copy=False)).reshape(-1, 3)
    out = np.empty_like(flat)
    _labs(flat, out)
    return out.reshape(rgb.shape)


def rgb_of_lab(lab: F32) -> F32:
    """OKLab (…, 3) as linear colours, clamped to 0–1; float32 of the same shape."""
    flat = readable(lab.astype(np.float32, copy=False)).reshape(-1, 3)
    out = np.empty_like(flat)
    _rgbs(flat, out)
    return out.reshape(lab.shape)


@njit(nogil=True, cache=True)
def _whole(
    values: F32, full: np.float32, row0: int, col0: int, spread: bool, as_coded: bool, out: NDArray[Any]
) -> None:
    rows, cols, parts = values.shape
    half = np.float32(0.5)
    for r in range(rows):
        for c in range(cols):
            add = half
            if spread:
                # Interleaved gradient noise, Jimenez 2014: even over any few neighbours, and the same every time.
                t = 0.06711056 * (c + col0) + 0.00583715 * (r + row0)
                t = 52.9829189 * (t - np.floor(t))
                add = np.float32(t - np.floor(t))
            for k in range(parts):
                v = values[r, c, k]
                v = code(v) if as_coded else min(max(v, np.float32(0)), np.float32(1))
                out[r, c, k] = int(min(v * full + add, full))


def to_whole(
    values: F32, bits: int = 8, *, as_coded: bool = True, dither: bool = False, first: tuple[int, int] = (0, 0)
) -> NDArray[Any]:
    """Colours (rows, columns, parts), 0–1, as uint8 or uint16 of the same shape: floor(x·full + 0.5).

    ``as_coded``: linear light becomes sRGB; else values are data and stay as they are. ``dither``: the half is spread
    by a fixed pattern that depends on where a sample lies, ``first`` being the (row, column) of the block's first one.
    Raises :class:`BadNumber` for other depths.
    """
    if bits not in (8, 16):
        raise BadNumber(f"Colours are written with 8 or 16 bits, got {bits}.", field="bits")
    out = np.empty(values.shape, np.uint8 if bits == 8 else np.uint16)
    _whole(readable(values), np.float32(2**bits - 1), *first, dither, as_coded, out)
    return out
