"""The one registration-aware resampler: every move of a map from grid to grid goes through here.

Downward: an exact box (mean over the source cells it covers) around the source coordinate, narrowed
symmetrically where it would cross the border, so that border samples stay on the border. Upward: Catmull–Rom on
four taps (Catmull & Rom 1974; Keys 1981, doi:10.1109/TASSP.1981.1163711), taps beyond the border extrapolated
linearly. Axes are treated separately, so one may shrink while the other grows.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["How", "Resampling", "resample", "source_coordinate"]

F32 = NDArray[np.float32]
F64 = NDArray[np.float64]
How = Literal["height", "mask", "linear", "log", "nearest"]
"""*height*: clamped to its 4×4 neighbourhood. *mask*: clamped to 0–1. *linear*: two taps. *log*: two taps on
the logarithm. *nearest*: for bands, directions and indices."""

_SNAP = 1e-7


def source_coordinate(src_count: int, dst_count: int, index: int, registration: str) -> float:
    """Source index of destination sample ``index`` when both grids cover the same extent.

    Vertex: i·(Ns−1)/(Nd−1). Area: (i+0.5)·Ns/Nd − 0.5.
    """
    if registration == "vertex":
        return index * (src_count - 1) / (dst_count - 1)
    return (index + 0.5) * src_count / dst_count - 0.5


@dataclass(frozen=True, slots=True)
class _Taps:
    """Per destination index: first source index and weights; ``box`` when the axis shrinks."""

    start: NDArray[np.int64]
    weight: F32
    box: bool

    def shifted(self, by: int) -> _Taps:
        return _Taps(self.start - by, self.weight, self.box)

    @property
    def reach(self) -> tuple[int, int]:
        return int(self.start.min()), int(self.start.max()) + self.weight.shape[1]


def _coordinates(count: int, first: float, step: float, index: NDArray[np.int64], to: tuple[float, float]) -> F64:
    position = to[0] + index * to[1]
    s = (position - first) / step
    whole = np.round(s)
    snapped: F64 = np.where(np.abs(s - whole) < _SNAP * max(count, 1), whole, s)
    return snapped


def _box_taps(s: F64, ratio: float, count: int, low: float, high: float) -> _Taps:
    half = np.minimum(ratio / 2, np.minimum(s - low, high - s))
    half = np.maximum(half, 0.0)
    start = np.floor(s - half + 0.5).astype(np.int64).clip(0, count - 1)
    taps = int(np.ceil(ratio)) + 1
    cell = start[:, None] + np.arange(taps)[None, :]
    left = np.maximum(cell - 0.5, (s - half)[:, None])
    right = np.minimum(cell + 0.5, (s + half)[:, None])
    weight = np.where(cell < count, np.maximum(right - left, 0.0), 0.0)
    total = weight.sum(axis=1)
    point = total < 1e-9
    weight[point] = 0.0
    weight[point, 0] = 1.0
    start[point] = np.round(s[point]).astype(np.int64).clip(0, count - 1)
    weight /= weight.sum(axis=1)[:, None]
    return _packed(start, _centred(weight, start, s), count, box=True)


def _centred(weight: F64, start: NDArray[np.int64], s: F64) -> F64:
    """Tilt the weights so that their centre is exactly ``s``.

    A box cuts whole cells, so at ratios that are not whole its centre wanders by up to a twentieth of a cell and
    a plane would come out rippled. Whole ratios are left as they are.
    """
    cell = start[:, None] + np.arange(weight.shape[1])[None, :]
    centre = (weight * cell).sum(axis=1)
    spread = (weight * (cell - centre[:, None]) ** 2).sum(axis=1)
    off = np.where(np.abs(s - centre) > 1e-9, s - centre, 0.0)
    tilt = np.divide(off, spread, out=np.zeros_like(off), where=spread > 1e-6)
    tilted: F64 = weight * (1 + tilt[:, None] * (cell - centre[:, None]))
    return tilted


def _interpolating_taps(s: F64, count: int, cubic: bool) -> _Taps:
    base = np.floor(s).astype(np.int64).clip(0, max(count - 2, 0))
    t = s - base
    if cubic:
        # Catmull–Rom basis on taps −1, 0, 1, 2. Beyond the outermost samples (area grids) go on linearly.
        c = t.clip(0.0, 1.0)
        w = np.stack(
            [
                -0.5 * c + c**2 - 0.5 * c**3,
                1 - 2.5 * c**2 + 1.5 * c**3,
                0.5 * c + 2 * c**2 - 1.5 * c**3,
                -0.5 * c**2 + 0.5 * c**3,
            ],
            axis=1,
        )
        over = t - c
        w[:, 1] -= over
        w[:, 2] += over
        first = -1
    else:
        w = np.stack([1 - t, t], axis=1)
        first = 0
    dense = np.zeros((len(s), w.shape[1] + 2))
    start = (base + first).clip(0, None)
    width = w.shape[1]
    for k in range(width):
        tap = base + first + k
        below, above = tap < 0, tap > count - 1
        rows = np.arange(len(s))
        inside = np.minimum(np.maximum(tap, 0), count - 1)
        plain = ~(below | above)
        np.add.at(dense, (rows[plain], (inside - start)[plain]), w[plain, k])
        # z[−1] = 2·z[0] − z[1], and likewise at the far end.
        dense[below, 0] += 2 * w[below, k]
        dense[below, 1] -= w[below, k]
        np.add.at(dense, (rows[above], (count - 1 - start)[above]), 2 * w[above, k])
        np.add.at(dense, (rows[above], (count - 2 - start)[above]), -w[above, k])
    used = dense[:, :width] if not dense[:, width:].any() else dense
    return _packed(start, used, count, box=False)


def _packed(start: NDArray[np.int64], weight: F64, count: int, box: bool) -> _Taps:
    """Slide every row of taps so that all of them lie inside the source."""
    taps = min(weight.shape[1], count)
    over = np.maximum(start + weight.shape[1] - count, 0).clip(None, start)
    if over.any() or taps < weight.shape[1]:
        moved = np.zeros((len(start), max(taps, 1)))
        for k in range(weight.shape[1]):
            into = k + over
            keep = into < moved.shape[1]
            np.add.at(moved, (np.nonzero(keep)[0], into[keep]), weight[keep, k])
        start, weight = start - over, moved
    return _Taps(start, np.ascontiguousarray(weight, dtype=np.float32), box)


@lru_cache(maxsize=512)
def _axis(src: Grid, dst: Grid, axis: int, start: int, end: int, how: How) -> _Taps:
    """Taps of the samples from ``start`` to ``end`` of an axis; all tiles of a row or a column ask for the same."""
    index = np.arange(start, end)
    count, dst_count = src.shape[axis], dst.shape[axis]
    step = (src.dy, src.dx)[axis]
    to = (dst.first[axis], (dst.dy, dst.dx)[axis])
    s = _coordinates(max(count, dst_count), src.first[axis], step, index, to)
    ratio = to[1] / step
    border = 0.0 if src.registration == "vertex" else 0.5
    if how == "nearest":
        near = np.floor(s + 0.5).astype(np.int64).clip(0, count - 1)
        return _Taps(near, np.ones((len(s), 1), np.float32), True)
    if ratio > 1 + 1e-9:
        return _box_taps(s, ratio, count, -border, count - 1 + border)
    return _interpolating_taps(s, count, cubic=how in ("height", "mask"))


@njit(nogil=True, cache=True)
def _weigh_rows(src: F32, start: NDArray[np.int64], weight: F32, out: F32) -> None:
    for r in range(out.shape[0]):
        for c in range(out.shape[1]):
            out[r, c] = 0.0
        for k in range(weight.shape[1]):
            w = weight[r, k]
            if w != 0.0:
                row = start[r] + k
                for c in range(out.shape[1]):
                    out[r, c] += w * src[row, c]


@njit(nogil=True, cache=True)
def _weigh_cols(src: F32, start: NDArray[np.int64], weight: F32, out: F32) -> None:
    taps = weight.shape[1]
    for r in range(out.shape[0]):
        for c in range(out.shape[1]):
            total = np.float32(0.0)
            for k in range(taps):
                w = weight[c, k]
                if w != 0.0:
                    total += w * src[r, start[c] + k]
            out[r, c] = total


@njit(nogil=True, cache=True)
def _across(src: F32, c0: NDArray[np.int64], wc: F32, line: F32) -> None:
    """One row brought to other columns: the sum of its taps, and the least and most of them; ``line`` (3, columns)."""
    for c in range(line.shape[1]):
        total = np.float32(0.0)
        low = np.float32(np.inf)
        high = np.float32(-np.inf)
        for b in range(wc.shape[1]):
            v = src[c0[c] + b]
            total += wc[c, b] * v
            low = min(low, v)
            high = max(high, v)
        line[0, c], line[1, c], line[2, c] = total, low, high


@njit(nogil=True, cache=True)
def _clamped_rows(
    src: F32, r0: NDArray[np.int64], wr: F32, c0: NDArray[np.int64], wc: F32, out: F32, first: int, end: int
) -> None:
    """Rows ``first`` to ``end``. Neighbouring rows share what they are made of: it is kept while they do."""
    taps, cols = wr.shape[1], out.shape[1]
    kept = np.empty((taps, 3, cols), np.float32)
    of = np.full(taps, -1, np.int64)
    low, high = np.empty(cols, np.float32), np.empty(cols, np.float32)
    for r in range(first, end):
        o = out[r]
        o[:] = np.float32(0.0)
        low[:] = np.float32(np.inf)
        high[:] = np.float32(-np.inf)
        for a in range(taps):
            row = r0[r] + a
            line = kept[row % taps]
            if of[row % taps] != row:
                of[row % taps] = row
                _across(src[row], c0, wc, line)
            w = wr[r, a]
            for c in range(cols):
                o[c] += w * line[0, c]
                low[c] = min(low[c], line[1, c])
                high[c] = max(high[c], line[2, c])
        for c in range(cols):
            o[c] = min(max(o[c], low[c]), high[c])


class Resampling:
    """A planned move of one window of ``dst`` from ``src``: ask what it needs, then apply.

    ``needs`` is the window of the source to hand to :meth:`apply`. Raises :class:`BadNumber` when the window is
    not inside ``dst``.
    """

    def __init__(self, src: Grid, dst: Grid, window: Window, how: How) -> None:
        if window != window.clipped(dst.rows, dst.cols) or window.rows < 1 or window.cols < 1:
            raise BadNumber(f"The window {window} must lie inside the grid of {dst.rows} × {dst.cols} samples.")
        self.how = how
        self.shape = window.shape
        self.same = src == dst
        self.rows = _axis(src, dst, 0, window.row0, window.row1, how)
        self.cols = _axis(src, dst, 1, window.col0, window.col1, how)
        (a, b), (c, d) = self.rows.reach, self.cols.reach
        self.needs = window if self.same else Window(a, b, c, d)

    def apply(self, values: F32, stripes: Stripes | None = None, cancel: Cancel | None = None) -> F32:
        """Resample ``values`` (float32, the shape of ``needs``) to float32 of the window's shape."""
        if self.same:
            return np.ascontiguousarray(values, dtype=np.float32)
        rows = self.rows.shifted(self.needs.row0)
        cols = self.cols.shifted(self.needs.col0)
        src: F32 = readable(values.astype(np.float32, copy=False))
        if self.how == "nearest":
            return np.ascontiguousarray(src[np.ix_(rows.start, cols.start)])
        if self.how == "log":
            src = readable(np.log2(src))
        if self.how == "height" and not (rows.box and cols.box):
            out = self._clamp(src, rows, cols, stripes or Stripes(1), cancel)
        else:
            between = np.empty((self.shape[0], src.shape[1]), np.float32)
            _weigh_rows(src, rows.start, rows.weight, between)
            out = np.empty(self.shape, np.float32)
            _weigh_cols(readable(between), cols.start, cols.weight, out)
        if self.how == "mask":
            np.clip(out, 0.0, 1.0, out=out)
        elif self.how == "log":
            np.exp2(out, out=out)
        return out

    def _clamp(self, src: F32, rows: _Taps, cols: _Taps, stripes: Stripes, cancel: Cancel | None) -> F32:
        """Shrink the axes that shrink first, then interpolate the others inside their own neighbourhood."""
        if rows.box:
            between = np.empty((self.shape[0], src.shape[1]), np.float32)
            _weigh_rows(src, rows.start, rows.weight, between)
            src, rows = readable(between), _identity(self.shape[0])
        if cols.box:
            between = np.empty((src.shape[0], self.shape[1]), np.float32)
            _weigh_cols(src, cols.start, cols.weight, between)
            src, cols = readable(between), _identity(self.shape[1])
        out = np.empty(self.shape, np.float32)
        taps = (src, rows.start, rows.weight, cols.start, cols.weight)
        stripes.run(*self.shape, lambda i, j: _clamped_rows(*taps, out, i, j), cancel)
        return out


def _identity(count: int) -> _Taps:
    return _Taps(np.arange(count), np.ones((count, 1), np.float32), True)


def resample(
    values: F32, src: Grid, dst: Grid, how: How = "height", stripes: Stripes | None = None, cancel: Cancel | None = None
) -> F32:
    """Resample a whole float32 map of ``src.shape`` onto ``dst`` (float32 of ``dst.shape``).

    Raises :class:`BadNumber` when the array does not have the grid's shape.
    """
    if values.shape != src.shape:
        raise BadNumber(f"The map must be {src.rows} × {src.cols} like its grid, got {values.shape}.")
    plan = Resampling(src, dst, dst.whole, how)
    need = plan.needs
    return plan.apply(values[need.row0 : need.row1, need.col0 : need.col1], stripes, cancel)
