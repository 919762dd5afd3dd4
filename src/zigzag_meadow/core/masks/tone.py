"""Tone: what a mask's strengths become, each by itself or by a curve measured on the whole ground."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.errors import BadNumber

__all__ = [
    "curve_table",
    "cut",
    "cut_edges",
    "equalising_table",
    "in_band",
    "looked_up",
    "ramp",
    "shares_of",
    "stretch_ends",
]

F32 = NDArray[np.float32]
F64 = NDArray[np.float64]
TABLE = 1025
"""Entries of a tone curve, even from 0 to 1; between them it is straight."""


def ramp(mask: F32, low: float, high: float) -> F32:
    """0 up to ``low``, 1 from ``high``, straight between; float32. With ``low`` ≥ ``high``: in from ``low`` on."""
    if high - low < 1e-6:
        return (mask >= np.float32(low)).astype(np.float32)
    t = (mask - np.float32(low)) * np.float32(1 / (high - low))
    out: F32 = np.clip(t, 0, 1, out=t)
    return out


def curve_table(points: Sequence[tuple[float, float]]) -> F32:
    """A curve through ``points`` ((in, out), 0–1, in rising) as :data:`TABLE` float32 values.

    Monotone where the points are, level before the first and after the last: Fritsch & Carlson 1980,
    doi:10.1137/0717021. Raises :class:`BadNumber` when two points have the same input.
    """
    x, y = (np.array([p[i] for p in points], np.float64) for i in (0, 1))
    step = np.diff(x)
    if not (step > 1e-6).all():
        at = float(x[1:][step <= 1e-6][0])
        raise BadNumber(f"The points of a curve must go from left to right; two are at {at:g}.", field="points")
    rise = np.diff(y) / step
    slope = np.concatenate([rise[:1], (rise[:-1] + rise[1:]) / 2, rise[-1:]])
    slope[1:-1][rise[:-1] * rise[1:] <= 0] = 0
    for k, d in enumerate(rise):
        if d == 0:
            slope[k] = slope[k + 1] = 0
            continue
        a, b = slope[k] / d, slope[k + 1] / d
        size = np.hypot(a, b)
        if size > 3:
            slope[k], slope[k + 1] = 3 * a / size * d, 3 * b / size * d
    t = np.linspace(0, 1, TABLE)
    i = np.clip(np.searchsorted(x, t, "right") - 1, 0, len(rise) - 1)
    u = np.clip((t - x[i]) / step[i], 0, 1)
    u2, u3 = u * u, u * u * u
    value = (
        (2 * u3 - 3 * u2 + 1) * y[i]
        + (u3 - 2 * u2 + u) * step[i] * slope[i]
        + (3 * u2 - 2 * u3) * y[i + 1]
        + (u3 - u2) * step[i] * slope[i + 1]
    )
    out: F32 = np.clip(value, 0, 1).astype(np.float32)
    return out


@njit(nogil=True, cache=True, error_model="numpy")
def _looked_up(mask: F32, table: F32) -> F32:
    out: F32 = np.empty(mask.shape, np.float32)
    last = table.size - 1
    for r in range(mask.shape[0]):
        for c in range(mask.shape[1]):
            t = min(max(np.float32(0), mask[r, c]), np.float32(1)) * np.float32(last)
            i = min(int(t), last - 1)
            out[r, c] = table[i] + (t - np.float32(i)) * (table[i + 1] - table[i])
    return out


def looked_up(mask: F32, table: F32) -> F32:
    """``mask`` (float32 0–1) through a tone curve (float32, even from 0 to 1); float32 of the same shape."""
    result: F32 = _looked_up(readable(mask), readable(table))
    return result


def _histogram(mask: F32, bins: int) -> F64:
    return np.histogram(mask, bins, (0.0, 1.0))[0] / mask.size


def stretch_ends(mask: F32, clip: float) -> tuple[float, float]:
    """The strengths below and above which a share ``clip`` of the samples lies; (0, 1) for an even mask."""
    if clip <= 0:
        low, high = float(mask.min()), float(mask.max())
    else:
        low, high = (float(v) for v in np.quantile(mask, (clip, 1 - clip)))
    return (low, high) if high - low > 1e-6 else (0.0, 1.0)


def equalising_table(mask: F32) -> F32:
    """The curve that makes all strengths of ``mask`` about equally frequent, from 0 to 1.

    Histogram equalisation (Gonzalez & Woods, Digital Image Processing, 3.3); samples that are exactly 0 stay 0, or
    an empty ground would turn grey.
    """
    counts = _histogram(mask[mask > 0], TABLE - 1) if (mask > 0).any() else np.zeros(TABLE - 1)
    total = np.concatenate([[0.0], np.cumsum(counts)])
    span = total[-1] - total[0]
    table: F32 = (total / span if span > 0 else np.linspace(0, 1, TABLE)).astype(np.float32)
    return table


def cut_edges(mask: F32, count: int, how: str, own: Sequence[float]) -> F32:
    """The inner edges of ``count`` bands, float32 rising.

    *even*: the same span each; *quantiles*: as many samples each, of those above 0 (the rest lies in the first);
    *own*: as given. Raises :class:`BadNumber` when own edges do not rise or their number is not ``count`` − 1.
    """
    if how == "own":
        if len(own) != count - 1 or any(b <= a for a, b in pairwise(own)):
            raise BadNumber(
                f"{count} bands need {count - 1} inner edges, each above the last; got {len(own)}.", field="edges"
            )
        return np.array(own, np.float32)
    parts = np.arange(1, count) / count
    if how == "quantiles" and (mask > 0).any():
        edges: F32 = np.quantile(mask[mask > 0], parts).astype(np.float32)
        return edges
    return parts.astype(np.float32)


def _band_of(mask: F32, edges: F32) -> NDArray[np.int64]:
    # Indices as masks travel through float32 and back: the edge itself belongs to the band above it.
    return np.searchsorted(edges, mask.ravel(), "right").reshape(mask.shape)


def cut(mask: F32, edges: F32) -> F32:
    """The band of every sample, evenly from 0 (first) to 1 (last); float32."""
    bands: F32 = (_band_of(mask, edges) / np.float32(max(edges.size, 1))).astype(np.float32)
    return bands


def in_band(mask: F32, edges: F32, band: int) -> F32:
    """1 where a sample lies in ``band`` (from 0), else 0; float32."""
    held: F32 = (_band_of(mask, edges) == band).astype(np.float32)
    return held


def shares_of(mask: F32, edges: F32) -> list[float]:
    """The share of all samples that each band holds."""
    counts = np.bincount(_band_of(mask, edges).ravel(), minlength=edges.size + 1)
    return [float(n) / mask.size for n in counts]
