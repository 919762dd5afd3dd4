"""Sharing: how layers split every sample, so that their weights always add up to one.

One interface (:class:`Sharing`), three ways. Whoever mixes layers asks :data:`SHARINGS` and knows none of them.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.errors import BadNumber

__all__ = ["SHARINGS", "Sharing", "by_strength", "cover", "relief_led", "uncover"]

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


@njit(nogil=True, cache=True, error_model="numpy")
def _by_strength(masks: F32, out: F32) -> None:
    n, rows, cols = masks.shape
    total = np.empty(cols, np.float64)
    for r in range(rows):
        total[:] = 0.0
        for i in range(n):
            a = masks[i, r]
            for c in range(cols):
                total[c] += a[c]
        base = out[0, r]
        for c in range(cols):
            base[c] = np.float32(max(1.0 - total[c], 0.0))
            total[c] = 1.0 / max(total[c], 1.0)
        for i in range(n):
            a, o = masks[i, r], out[i + 1, r]
            for c in range(cols):
                o[c] = np.float32(a[c] * total[c])


@njit(nogil=True, cache=True, error_model="numpy")
def _relief_led(weights: F32, reliefs: F32, depth: float, out: F32) -> None:
    n, rows, cols = weights.shape
    for r in range(rows):
        for c in range(cols):
            tallest = 0.0
            for i in range(n):
                if weights[i, r, c] > 0.0:
                    tallest = max(tallest, float(reliefs[i, r, c]))
            if tallest <= 0.0:
                for i in range(n):
                    out[i, r, c] = weights[i, r, c]
                continue
            top = -1.0
            for i in range(n):
                if weights[i, r, c] > 0.0:
                    top = max(top, reliefs[i, r, c] / tallest + weights[i, r, c])
            floor = top - depth / tallest
            total = 0.0
            for i in range(n):
                w = float(weights[i, r, c])
                total += max(reliefs[i, r, c] / tallest + w - floor, 0.0) * w
            for i in range(n):
                w = float(weights[i, r, c])
                out[i, r, c] = np.float32(max(reliefs[i, r, c] / tallest + w - floor, 0.0) * w / total)


def _stack(masks: F32) -> F32:
    if masks.ndim != 3:
        raise BadNumber(f"Masks must be a stack of layers × rows × columns, got {masks.ndim} axes.")
    return readable(masks.astype(np.float32, copy=False))


def _room(masks: F32) -> F32:
    return np.empty((masks.shape[0] + 1, *masks.shape[1:]), np.float32)


def cover(masks: F32) -> F32:
    """Weights of the base and the layers above it, upper ones hiding lower ones.

    ``masks``: float32 0–1 of shape (layers, rows, columns), bottom first. Returns float32 of shape
    (layers + 1, rows, columns), base first: c_i = a_i · Π_{j>i}(1 − a_j) with a₀ = 1. Sums are 1 within 1e-6.
    The *over* operator, Porter & Duff 1984, doi:10.1145/800031.808606.
    """
    out = _room(_stack(masks))
    _cover(_stack(masks), out)
    return out


def by_strength(masks: F32) -> F32:
    """Weights in proportion to strength, whatever the order: where strengths add up to less than 1 the base takes what
    is left, where to more they are divided by their sum. Shapes as for :func:`cover`."""
    out = _room(_stack(masks))
    _by_strength(_stack(masks), out)
    return out


def relief_led(masks: F32, reliefs: F32, depth: float) -> F32:
    """*Cover*, then led by relief: what stands out keeps its place, what lies low is filled.

    ``masks`` as for :func:`cover`; ``reliefs``: float32 metres (layers + 1, rows, columns), base first; ``depth``:
    metres above 0 over which two layers meet. With h and d divided by the largest relief of the layers that are at the
    place: s = h + w, b = max(s − (max s − d), 0) · w, normalised. Raises :class:`BadNumber` for a depth that is not
    above 0 or for reliefs of another shape. Height blending as in Mishkinis 2013, *Advanced terrain texture splatting*.
    """
    if not depth > 0:
        raise BadNumber(f"The depth over which layers meet must be above 0 m, got {depth:g}.", field="depth")
    weights = cover(masks)
    if reliefs.shape != weights.shape:
        raise BadNumber(f"Reliefs must be {weights.shape} like the weights, got {reliefs.shape}.")
    out = np.empty_like(weights)
    _relief_led(weights, readable(reliefs.astype(np.float32, copy=False)), float(depth), out)
    return out


def uncover(weights: F32) -> F32:
    """The masks that *cover* sharing would turn into ``weights`` (base first): a_i = w_i / Σ_{j≤i} w_j, 0/0 = 0.

    ``weights``: float32 (layers + 1, …). Returns float32 of the same shape; the first is 1 wherever the base or
    anything above it counts.
    """
    below = np.cumsum(weights, axis=0, dtype=np.float64)
    out = np.divide(weights, below, out=np.zeros(weights.shape), where=below > 0)
    return out.astype(np.float32)


@dataclass(frozen=True, slots=True)
class Sharing:
    """One way of sharing. ``share(strengths, reliefs, depth)``: strengths float32 (layers, rows, columns) bottom first
    to weights (layers + 1, …) base first; ``reliefs`` in metres, base first, come only where ``by_relief`` says so.
    ``in_order``: whether upper layers hide lower ones."""

    title: str
    sentence: str
    share: Callable[[F32, F32 | None, float], F32]
    by_relief: bool = False
    in_order: bool = True


def _led(strengths: F32, reliefs: F32 | None, depth: float) -> F32:
    if reliefs is None:
        raise BadNumber("Sharing led by relief needs the relief of every layer.")
    return relief_led(strengths, reliefs, depth)


SHARINGS: Mapping[str, Sharing] = {
    "cover": Sharing(
        "by cover",
        "Upper layers hide lower ones; the base takes what is left.",
        lambda s, r, d: cover(s),
    ),
    "by_strength": Sharing(
        "by strength",
        "Layers share in proportion to their strength, whatever their order.",
        lambda s, r, d: by_strength(s),
        in_order=False,
    ),
    "relief_led": Sharing(
        "led by relief",
        "As by cover, and where two meet the one whose texture stands out there wins.",
        _led,
        by_relief=True,
    ),
}
