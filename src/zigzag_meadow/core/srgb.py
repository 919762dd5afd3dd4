"""sRGB and linear light, OKLab, and colours as they are written.

Tables are read between their entries: within 4e-6 of the formulas, without a power a sample. What indexes a table is
clamped with the bound first, ``max(0, x)``: a comparison with NaN is false, so that NaN becomes the bound.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.errors import BadNumber

__all__ = [
    "LUMA",
    "code",
    "coded",
    "hex_of",
    "lab_of",
    "lab_row",
    "linear",
    "linear_of",
    "luma",
    "rgb_of_lab",
    "rgb_row",
    "to_whole",
    "uncode",
]

F32 = NDArray[np.float32]
LUMA = (0.2126, 0.7152, 0.0722)
"""Rec. 709 weights of linear red, green and blue."""
_MANY = 4096


def _exact_code(x: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.where(x <= 0.0031308, 12.92 * x, 1.055 * np.maximum(x, 0.0) ** (1 / 2.4) - 0.055)


def _exact_linear(x: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.where(x <= 0.04045, x / 12.92, ((np.maximum(x, 0.0) + 0.055) / 1.055) ** 2.4)


_STEPS = np.arange(_MANY + 2) / _MANY
# Read at the fourth root: what is steep near black is smooth there, and a table that is small stays near at hand.
_CODED = _exact_code(_STEPS**4).astype(np.float32)
_LINEAR = _exact_linear(_STEPS).astype(np.float32)


@njit(nogil=True, cache=True, inline="always")
def code(x: np.float32) -> np.float32:
    """Linear light 0–1 as sRGB-coded 0–1, clamped."""
    t = np.sqrt(np.sqrt(min(max(np.float32(0), x), np.float32(1)))) * np.float32(_MANY)
    i = np.int32(t)
    made: np.float32 = _CODED[i] + (t - np.float32(i)) * (_CODED[i + 1] - _CODED[i])
    return made


@njit(nogil=True, cache=True, inline="always")
def uncode(x: np.float32) -> np.float32:
    """sRGB-coded 0–1 as linear light 0–1, clamped."""
    t = min(max(np.float32(0), x), np.float32(1)) * np.float32(_MANY)
    i = np.int32(t)
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
    [
        [0.4122214708, 0.5363325363, 0.0514459929],
        [0.2119034982, 0.6806995451, 0.1073969566],
        [0.0883024619, 0.2817188376, 0.6299787005],
    ]
)
_TO_LAB = np.array(
    [
        [0.2104542553, 0.7936177850, -0.0040720468],
        [1.9779984951, -2.4285922050, 0.4505937099],
        [0.0259040371, 0.7827717662, -0.8086757660],
    ]
)
# Matrices as numbers that a kernel knows by heart: to cone responses, on to OKLab, and both back.
_L = tuple(np.float32(v) for v in _TO_LMS.ravel())
_A = tuple(np.float32(v) for v in _TO_LAB.ravel())
_FA = tuple(np.float32(v) for v in np.linalg.inv(_TO_LAB).ravel())
_FL = tuple(np.float32(v) for v in np.linalg.inv(_TO_LMS).ravel())
_ROOTS = (_STEPS ** (4 / 3)).astype(np.float32)


@njit(nogil=True, cache=True, inline="always")
def _root(x: np.float32) -> np.float32:
    """Cube root of 0–1, within 1e-6, read at the fourth root as well."""
    t = np.sqrt(np.sqrt(min(max(np.float32(0), x), np.float32(1)))) * np.float32(_MANY)
    i = np.int32(t)
    made: np.float32 = _ROOTS[i] + (t - np.float32(i)) * (_ROOTS[i + 1] - _ROOTS[i])
    return made


@njit(nogil=True, cache=True)
def lab_row(row: F32, lab: F32) -> None:
    """A row of linear colours (columns, 3) in OKLab: ``lab`` (3, columns), part by part, which is quicker worked on."""
    many = row.shape[0]
    x, y, z = lab[0], lab[1], lab[2]
    for c in range(many):
        r, g, b = row[c, 0], row[c, 1], row[c, 2]
        x[c] = _L[0] * r + _L[1] * g + _L[2] * b
        y[c] = _L[3] * r + _L[4] * g + _L[5] * b
        z[c] = _L[6] * r + _L[7] * g + _L[8] * b
    for c in range(many):
        x[c] = _root(x[c])
    for c in range(many):
        y[c] = _root(y[c])
    for c in range(many):
        z[c] = _root(z[c])
    for c in range(many):
        r, g, b = x[c], y[c], z[c]
        x[c] = _A[0] * r + _A[1] * g + _A[2] * b
        y[c] = _A[3] * r + _A[4] * g + _A[5] * b
        z[c] = _A[6] * r + _A[7] * g + _A[8] * b


@njit(nogil=True, cache=True)
def rgb_row(lab: F32, row: F32) -> None:
    """A row of OKLab (3, columns) in linear light (columns, 3), clamped to 0–1."""
    low, high = np.float32(0), np.float32(1)
    for c in range(row.shape[0]):
        light, first, second = lab[0, c], lab[1, c], lab[2, c]
        x = _FA[0] * light + _FA[1] * first + _FA[2] * second
        y = _FA[3] * light + _FA[4] * first + _FA[5] * second
        z = _FA[6] * light + _FA[7] * first + _FA[8] * second
        x, y, z = x * x * x, y * y * y, z * z * z
        row[c, 0] = min(max(_FL[0] * x + _FL[1] * y + _FL[2] * z, low), high)
        row[c, 1] = min(max(_FL[3] * x + _FL[4] * y + _FL[5] * z, low), high)
        row[c, 2] = min(max(_FL[6] * x + _FL[7] * y + _FL[8] * z, low), high)


@njit(nogil=True, cache=True)
def _labs(rgb: F32, out: F32) -> None:
    lab = np.empty((3, rgb.shape[1]), np.float32)
    for r in range(rgb.shape[0]):
        lab_row(rgb[r], lab)
        for k in range(3):
            for c in range(rgb.shape[1]):
                out[r, c, k] = lab[k, c]


@njit(nogil=True, cache=True)
def _rgbs(lab: F32, out: F32) -> None:
    parts = np.empty((3, lab.shape[1]), np.float32)
    for r in range(lab.shape[0]):
        for k in range(3):
            for c in range(lab.shape[1]):
                parts[k, c] = lab[r, c, k]
        rgb_row(parts, out[r])


def _by_rows(values: F32) -> F32:
    """(…, 3) as (rows, columns, 3)."""
    made = readable(values.astype(np.float32, copy=False))
    return made if made.ndim == 3 else made.reshape(1, -1, 3)


def lab_of(rgb: F32) -> F32:
    """Linear colours (…, 3) in OKLab: lightness 0–1 and two opponent axes; float32 of the same shape."""
    flat = _by_rows(rgb)
    out = np.empty(flat.shape, np.float32)
    _labs(flat, out)
    return out.reshape(rgb.shape)


def rgb_of_lab(lab: F32) -> F32:
    """OKLab (…, 3) as linear colours, clamped to 0–1; float32 of the same shape."""
    flat = _by_rows(lab)
    out = np.empty(flat.shape, np.float32)
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
                v = code(v) if as_coded else min(max(np.float32(0), v), np.float32(1))
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
