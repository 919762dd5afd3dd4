"""What a height's traits explain of a map at every shift at once.

Means and products of each by itself come from running sums (Lewis 1995, Fast normalized cross-correlation, for several
planes on both sides).
"""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

__all__ = ["Sliding"]

F32 = NDArray[np.float32]
F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
MANY = 160
"""Shifts of which every other one along each axis is enough."""


# Sums may be taken in any order, the same one every time: only so they are vectorised. No map is made here.
@njit(nogil=True, cache=True, fastmath={"reassoc", "nsz", "contract"})
def _products(traits: F32, parts: F32, south: I64, east: I64) -> F32:
    """Mean products (shifts, traits, parts) of (planes, rows, columns) over where both lie."""
    many, rows, cols = traits.shape
    ways, h, w = parts.shape
    out = np.zeros((south.shape[0], many, ways), np.float32)
    for n in range(south.shape[0]):
        dy, dx = south[n], east[n]
        top, end, left, right = max(dy, 0), min(dy + h, rows), max(dx, 0), min(dx + w, cols)
        for r in range(top, end):
            for t in range(many):
                a = traits[t, r, left:right]
                for k in range(ways):
                    b = parts[k, r - dy, left - dx : right - dx]
                    total = np.float32(0)
                    for c in range(len(a)):
                        total += a[c] * b[c]
                    out[n, t, k] += total
        out[n] /= (end - top) * (right - left)
    return out


class _Sums:
    """Sums of planes, (rows, columns, planes), and of their products over any rectangle."""

    def __init__(self, planes: F64) -> None:
        rows, cols, n = planes.shape
        self._pairs = np.triu_indices(n)
        self._sums = np.zeros((rows + 1, cols + 1, n + len(self._pairs[0])))
        self._sums[1:, 1:, :n] = planes
        self._sums[1:, 1:, n:] = planes[:, :, self._pairs[0]] * planes[:, :, self._pairs[1]]
        self._sums = self._sums.cumsum(0).cumsum(1)
        self._planes = n

    def within(self, rows: tuple[I64, I64], cols: tuple[I64, I64]) -> tuple[F64, F64]:
        """Means (rectangles, planes) and mean products about them (rectangles, planes, planes)."""
        (top, end), (left, right), s = rows, cols, self._sums
        many = ((end - top) * (right - left))[:, None]
        means = (s[end, right] - s[top, right] - s[end, left] + s[top, left]) / many
        n, (p, q) = self._planes, self._pairs
        products = np.empty((len(top), n, n))
        products[:, p, q] = means[:, n:] - means[:, p] * means[:, q]
        products[:, q, p] = products[:, p, q]
        return means[:, :n], products


def _planes(values: F64) -> F32:
    return np.ascontiguousarray(values.transpose(2, 0, 1), np.float32)


class Sliding:
    """Traits of a height, (rows, columns, traits), that maps are slid over."""

    def __init__(self, traits: F64) -> None:
        self.traits = traits
        self._planes = _planes(traits)
        self._sums = _Sums(traits)

    def gains(self, parts: F64, loose: tuple[int, int]) -> tuple[I64, I64, I64, F64]:
        """Shifts of a map, (rows, columns, parts), at the same scale: (samples south, samples east, samples that lie on
        each other, minus the logarithm of Wilks' lambda) of each. One of the two lies within the other, or sticks out
        by up to ``loose`` samples."""
        (rows, cols), (h, w) = self.traits.shape[:2], parts.shape[:2]
        ways = [
            np.arange(min(0, a - b) - c, max(0, a - b) + c + 1)
            for a, b, c in ((rows, h, loose[0]), (cols, w, loose[1]))
        ]
        if len(ways[0]) * len(ways[1]) > MANY:
            ways = [way[len(way) % 2 == 0 :: 2] if len(way) > 2 else way for way in ways]
        south, east = (m.ravel() for m in np.meshgrid(*ways, indexing="ij"))
        on = [(np.maximum(by, 0), np.minimum(by + n, of)) for by, n, of in ((south, h, rows), (east, w, cols))]
        own = [(np.maximum(-by, 0), np.minimum(of - by, n)) for by, n, of in ((south, h, rows), (east, w, cols))]
        many = (on[0][1] - on[0][0]) * (on[1][1] - on[1][0])
        from_x, xx = self._sums.within(on[0], on[1])
        from_y, yy = _Sums(parts).within(own[0], own[1])
        xy = _products(self._planes, _planes(parts), south, east) - from_x[:, :, None] * from_y[:, None, :]
        return south, east, many, _wilks(xx, yy, xy)


def _wilks(xx: F64, yy: F64, xy: F64) -> F64:
    """Minus the logarithm of Wilks' lambda of many sets of mean products: (n, x, x), (n, y, y), (n, x, y)."""
    for products, least in ((xx, 1e-2), (yy, 1e-4)):
        k = np.arange(products.shape[1])
        products[:, k, k] += least * products[:, k, k].mean(axis=1, keepdims=True) + 1e-9
    made = xy.transpose(0, 2, 1) @ np.linalg.solve(xx, xy)
    out: F64 = np.linalg.slogdet(yy)[1] - np.linalg.slogdet(yy - 0.999 * made)[1]
    return out
