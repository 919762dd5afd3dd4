"""Where one map lies on another of the same kind: shifts to parts of a sample, and crops stretched to size.

Sources: Kuglin and Hines 1975, The phase correlation image alignment method (shifts); Lucas and Kanade 1981, An
iterative image registration technique (parts of a sample); Lewis 1995, Fast normalized cross-correlation (crops).
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

__all__ = [
    "Fitting",
    "best_fitting",
    "fitted_to",
    "in_bands",
    "moved",
    "resized",
    "sampled",
    "shift_between",
    "softened",
]

F64 = NDArray[np.float64]
COARSE = 64
FINE = 192
_BAND = 16


def _taps(at: NDArray[Any], size: int, how: str) -> tuple[NDArray[np.int64], F64]:
    """Where to read along an axis and with which weights: (n, taps) each; clamped at the borders."""
    first = np.floor(at).astype(np.int64)
    t = at - first
    if how == "linear":
        weights, offsets = np.stack([1 - t, t], axis=1), np.array([0, 1])
    elif how == "lanczos":
        # Duchon 1979, Lanczos filtering in one and two dimensions: three lobes, as most programs take them.
        offsets = np.arange(-2, 4)
        off = t[:, None] - offsets
        weights = np.sinc(off) * np.sinc(off / 3)
        weights /= weights.sum(axis=1, keepdims=True)
    else:
        # Keys 1981, Cubic convolution interpolation for digital image processing: −½ is Catmull–Rom, many take −¾.
        a = -0.75 if how == "sharp" else -0.5
        weights = np.stack(
            [
                ((a * t - 2 * a) * t + a) * t,
                ((a + 2) * t - (a + 3)) * t * t + 1,
                ((-(a + 2) * t + 2 * a + 3) * t - a) * t,
                (-a * t + a) * t * t,
            ],
            axis=1,
        )
        offsets = np.array([-1, 0, 1, 2])
    return np.clip(first[:, None] + offsets, 0, size - 1), weights


@njit(nogil=True, cache=True)
def _gathered(planes: F64, rows: NDArray[np.int64], down: F64, cols: NDArray[np.int64], across: F64) -> F64:
    """Weighted sums over the taps of every row, then of every column."""
    width, channels = planes.shape[1], planes.shape[2]
    out = np.zeros((rows.shape[0], cols.shape[0], channels))
    line = np.empty((width, channels))
    for i in range(rows.shape[0]):
        line[:] = 0.0
        for t in range(rows.shape[1]):
            row, weight = planes[rows[i, t]], down[i, t]
            for j in range(width):
                for c in range(channels):
                    line[j, c] += weight * row[j, c]
        for j in range(cols.shape[0]):
            for t in range(cols.shape[1]):
                at, weight = cols[j, t], across[j, t]
                for c in range(channels):
                    out[i, j, c] += weight * line[at, c]
    return out


def sampled(planes: NDArray[Any], rows: NDArray[Any], cols: NDArray[Any], how: str = "linear") -> F64:
    """Values at every crossing of some rows and columns (in samples, from 0): (rows, columns, channels)."""
    south, down = _taps(rows, planes.shape[0], how)
    east, across = _taps(cols, planes.shape[1], how)
    if not south.size or not east.size:
        return np.zeros((rows.size, cols.size, planes.shape[2]))
    # Only what is read is made into floats.
    top, left = int(south.min()), int(east.min())
    read = planes[top : south.max() + 1, left : east.max() + 1]
    return _gathered(np.ascontiguousarray(read, np.float64), south - top, down, east - left, across)


def moved(planes: F64, south: float, east: float, how: str = "linear") -> F64:
    """A map moved by samples: what was at (r, c) is at (r + south, c + east)."""
    rows, cols = planes.shape[:2]
    return sampled(planes, np.arange(rows) - south, np.arange(cols) - east, how)


def _averaging(many: int, to: int) -> F64:
    """(to, many): true means of ``to`` equal cells over ``many`` samples."""
    edges = np.arange(to + 1) * (many / to)
    low, high = np.maximum(edges[:-1, None], np.arange(many)), np.minimum(edges[1:, None], np.arange(1, many + 1))
    made: F64 = np.maximum(high - low, 0) / (many / to)
    return made


def resized(planes: F64, rows: int, cols: int) -> F64:
    """True means over ``rows`` × ``cols`` equal cells."""
    if planes.shape[:2] == (rows, cols):
        return planes
    down = np.tensordot(_averaging(planes.shape[0], rows), planes, (1, 0))
    out: F64 = np.tensordot(down, _averaging(planes.shape[1], cols), (1, 1)).transpose(0, 2, 1)
    return out


def in_bands(part: Callable[[int, int], NDArray[Any]], many: int, rows: int, cols: int) -> F64:
    """True means over ``rows`` × ``cols`` equal cells of a map with ``many`` rows that is never held as floats whole:
    ``part(first, end)`` gives some of its rows."""
    made = []
    for first in range(0, rows, _BAND):
        edges = np.arange(first, min(first + _BAND, rows) + 1) * (many / rows)
        start, end = int(np.floor(edges[0])), min(int(np.ceil(edges[-1])), many)
        n = np.arange(start, end)
        weights = np.maximum(np.minimum(edges[1:, None], n + 1) - np.maximum(edges[:-1, None], n), 0)
        band = np.tensordot(weights / weights.sum(axis=1, keepdims=True), part(start, end).astype(np.float64), (1, 0))
        made.append(resized(band, len(band), cols))
    return np.concatenate(made)


def _blurring(many: int, width: float) -> F64:
    """(many, many): weights of a Gaussian about every sample; what lies outside counts as the border does."""
    reach = max(1, int(np.ceil(3.5 * width)))
    steps = np.arange(-reach, reach + 1)
    weights = np.exp(-0.5 * (steps / width) ** 2)
    rows = np.arange(many)[:, None]
    made = np.zeros((many, many))
    np.add.at(made, (rows, np.clip(rows + steps, 0, many - 1)), weights / weights.sum())
    return made


def softened(planes: F64, width: float) -> F64:
    """Blurred by a Gaussian with a standard deviation of ``width`` samples; borders repeat.

    ``planes``: (rows, cols, channels) of a few hundred samples a side, for which products of matrices are fastest.
    """
    down = np.tensordot(_blurring(planes.shape[0], width), planes, (1, 0))
    out: F64 = np.tensordot(down, _blurring(planes.shape[1], width), (1, 1)).transpose(0, 2, 1)
    return out


def _standard(planes: F64) -> F64:
    """Every channel about 0 with a spread of 1; those that do not vary are 0."""
    about = planes - planes.mean(axis=(0, 1))
    spread = about.std(axis=(0, 1))
    return np.where(spread > 1e-6, about / np.maximum(spread, 1e-12), 0)


def shift_between(seen: F64, meant: F64, farthest: float) -> tuple[float, float] | None:
    """(south, east) in samples by which ``seen`` lies off ``meant``, both (rows, columns, channels).

    ``farthest``: of each side, how far is looked. None where nothing varies.
    """
    rows, cols = meant.shape[:2]
    if rows < 8 or cols < 8:
        return None
    window = np.outer(np.hanning(rows + 2)[1:-1], np.hanning(cols + 2)[1:-1])[:, :, None]
    a, b = _standard(seen) * window, _standard(meant) * window
    if not a.any() or not b.any():
        return None
    cross = np.fft.rfft2(a, axes=(0, 1)) * np.conj(np.fft.rfft2(b, axes=(0, 1)))
    power = np.abs(cross)
    cross = (cross / (power + 1e-3 * power.mean())).sum(axis=2)
    peaks = np.fft.irfft2(cross, s=(rows, cols))
    down, across = max(2, int(rows * farthest)), max(2, int(cols * farthest))
    dy, dx = np.fft.fftfreq(rows, 1 / rows)[:, None], np.fft.fftfreq(cols, 1 / cols)[None, :]
    peaks = np.where((np.abs(dy) <= down) & (np.abs(dx) <= across), peaks, -np.inf)
    tries = [(0.0, 0.0)]
    for flat in np.argpartition(peaks.ravel(), -4)[-4:]:
        r, c = divmod(int(flat), cols)
        tries.append((float(dy[r, 0]), float(dx[0, c])))
    refined = [_refined(seen, meant, *start) for start in tries]
    return min(refined, key=lambda found: found[2])[:2]


def _inner(south: float, east: float, shape: tuple[int, ...]) -> tuple[slice, slice]:
    down, across = int(np.ceil(abs(south))) + 2, int(np.ceil(abs(east))) + 2
    return slice(down, max(shape[0] - down, down + 1)), slice(across, max(shape[1] - across, across + 1))


def _refined(seen: F64, meant: F64, south: float, east: float) -> tuple[float, float, float]:
    """(south, east, mean squared rest) after some steps towards less difference."""
    best = (south, east, np.inf)
    for _ in range(8):
        inner = _inner(south, east, meant.shape)
        made = moved(meant, south, east, "cubic")
        rest = (seen - made)[inner]
        off = float((rest * rest).mean())
        if off < best[2]:
            best = (south, east, off)
        down, across = (np.asarray(g) for g in np.gradient(made, axis=(0, 1)))
        u: F64 = -down[inner].ravel()
        v: F64 = -across[inner].ravel()
        m: F64 = np.array([[u @ u, u @ v], [u @ v, v @ v]])
        if np.linalg.det(m) < 1e-18 * max(m[0, 0] * m[1, 1], 1e-300) or m.trace() < 1e-12:
            break
        step = np.clip(np.linalg.solve(m, [u @ rest.ravel(), v @ rest.ravel()]), -1.5, 1.5)
        south, east = south + float(step[0]), east + float(step[1])
        if np.abs(step).max() < 1e-3 or abs(south) > meant.shape[0] / 2 or abs(east) > meant.shape[1] / 2:
            break
    return best


@dataclass(frozen=True, slots=True)
class Fitting:
    """Which part of a map another one shows, as shares of its height and width from the north-west corner on."""

    top: float
    left: float
    down: float
    across: float
    alike: float = 0.0

    @property
    def corners(self) -> tuple[float, float, float, float]:
        """North, west, south and east ends, as shares of the other's height and width."""
        return self.top, self.left, self.top + self.down, self.left + self.across

    @property
    def is_plain(self) -> bool:
        """Whether it is the whole map, to a few thousandths."""
        return max(abs(self.top), abs(self.left), abs(self.down - 1), abs(self.across - 1)) < 2e-3


_SCALES = (1.0, 0.96, 0.92, 0.88, 0.84, 0.8, 0.75, 0.7, 0.65, 0.6, 0.55, 0.5, 0.45, 0.4, 0.35, 0.3)


def best_fitting(seen: F64, meant: F64) -> Fitting | None:
    """Which part of ``meant`` fills ``seen`` (or how much more than ``meant`` it shows), same channels in both.

    None where nothing is alike.
    """
    a, b = (_standard(resized(p, min(COARSE, p.shape[0]), min(COARSE, p.shape[1]))) for p in (seen, meant))
    parts = _placings(a, b) + [_turned_round(found) for found in _placings(b, a)]
    coarse = [_fitting_refined(seen, meant, start, COARSE) for start in sorted(parts, key=_unlike)[:6]]
    fine = [_fitting_refined(seen, meant, start, FINE) for start in sorted(coarse, key=_unlike)[:2]]
    return min(fine, key=_unlike, default=None)


def _unlike(found: Fitting) -> float:
    return -found.alike


def _turned_round(found: Fitting) -> Fitting:
    """What ``meant`` is to ``seen``, from what ``seen`` is to ``meant``."""
    down, across = 1 / found.down, 1 / found.across
    return Fitting(-found.top * down, -found.left * across, down, across, found.alike)


def _placings(part: F64, whole: F64) -> list[Fitting]:
    """The best place of ``part`` in ``whole`` for every way to shrink it, those most alike first."""
    rows, cols = whole.shape[:2]
    wide = np.fft.rfft2(whole, axes=(0, 1))
    squares = _summed((whole * whole).sum(axis=2))
    sums = [_summed(whole[:, :, c]) for c in range(whole.shape[2])]
    found = []
    for down in _SCALES:
        for across in _SCALES:
            if abs(np.log(down / across)) > 0.8:
                continue
            h, w = round(rows * down), round(cols * across)
            if min(h, w) < 12:
                continue
            found.append(_placed(resized(part, h, w), (rows, cols), wide, squares, sums))
    return sorted(found, key=lambda item: -item.alike)[:6]


def _summed(plane: F64) -> F64:
    """Sums of all samples north-west of every corner."""
    return np.pad(plane.cumsum(axis=0).cumsum(axis=1), ((1, 0), (1, 0)))


def _over(sums: F64, h: int, w: int) -> F64:
    """Sums over every window of ``h`` × ``w`` samples (Crow 1984)."""
    return sums[h:, w:] - sums[:-h, w:] - sums[h:, :-w] + sums[:-h, :-w]


def _placed(small: F64, shape: tuple[int, int], wide: NDArray[np.complex128], squares: F64, sums: list[F64]) -> Fitting:
    """Normalised correlation of a small map at every place of a large one; its best place."""
    h, w = small.shape[:2]
    about = small - small.mean(axis=(0, 1))
    # Places where it does not lie whole are left out, so that nothing has to be kept from coming in again.
    product = np.fft.irfft2((wide * np.conj(np.fft.rfft2(about, s=shape, axes=(0, 1)))).sum(axis=2), s=shape)
    energy = _over(squares, h, w)
    for plane in sums:
        energy = energy - _over(plane, h, w) ** 2 / (h * w)
    valid = (shape[0] - h + 1, shape[1] - w + 1)
    scale = np.sqrt(np.maximum(energy, 1e-9) * float((about * about).sum()))
    alike = product[: valid[0], : valid[1]] / np.maximum(scale, 1e-9)
    r, c = divmod(int(alike.argmax()), valid[1])
    return Fitting(r / shape[0], c / shape[1], h / shape[0], w / shape[1], float(alike[r, c]))


def _places(found: Fitting, rows: int, cols: int, shape: tuple[int, ...]) -> tuple[F64, F64]:
    """Where samples of a map of ``rows`` × ``cols`` lie on one of ``shape``, in its samples."""
    y = (found.top + (np.arange(rows) + 0.5) / rows * found.down) * shape[0] - 0.5
    x = (found.left + (np.arange(cols) + 0.5) / cols * found.across) * shape[1] - 0.5
    return y, x


def fitted_to(meant: F64, found: Fitting, how: str = "linear") -> tuple[F64, NDArray[np.bool_]]:
    """``meant`` as it looks through a fitting, on a grid of its own size, and where that says anything."""
    rows, cols = meant.shape[:2]
    y, x = _places(found, rows, cols, meant.shape)
    inside = np.outer((y > -0.5) & (y < rows - 0.5), (x > -0.5) & (x < cols - 0.5))
    smaller = meant
    if found.down > 1.3 or found.across > 1.3:
        # Shown smaller, each sample stands for several.
        h, w = max(2, round(rows / max(found.down, 1))), max(2, round(cols / max(found.across, 1)))
        smaller = resized(meant, h, w)
        y, x = _places(found, rows, cols, smaller.shape)
    return sampled(smaller, y, x, how), inside


def _fitting_refined(seen: F64, meant: F64, found: Fitting, side: int) -> Fitting:
    """A fitting after some steps towards less difference, on maps of at most ``side`` samples."""

    def small(planes: F64) -> F64:
        return resized(planes, min(side, planes.shape[0]), min(side, planes.shape[1]))

    a, b = _standard(small(seen)), small(meant)
    best, now = replace(found, alike=-1.0), found
    for _ in range(12):
        made, inside = fitted_to(b, now)
        if made.shape != a.shape or np.count_nonzero(inside) < 64:
            break
        u, v = a[inside], made[inside]
        u, v = u - u.mean(axis=0), v - v.mean(axis=0)
        alike = float((u * v).sum() / np.sqrt(max((u * u).sum() * (v * v).sum(), 1e-12)))
        # A sliver that happens to be alike proves less than a large part.
        alike *= min(1.0, 2 * float(inside.mean()) ** 0.25)
        if alike > best.alike:
            best = replace(now, alike=alike)
        gain = (u * v).sum(axis=0) / np.maximum((v * v).sum(axis=0), 1e-12)
        down, across = np.gradient(made, axis=(0, 1))
        rows, cols = a.shape[:2]
        ys, xs = (np.arange(rows) + 0.5) / rows, (np.arange(cols) + 0.5) / cols
        gy, gx = down * gain * rows / now.down, across * gain * cols / now.across
        terms = [gy, gx, gy * ys[:, None, None], gx * xs[None, :, None]]
        jac = np.stack([t[inside].ravel() for t in terms], axis=1)
        rest = (u - gain * v).ravel()
        m = jac.T @ jac
        step = np.linalg.lstsq(m + 1e-6 * np.diag(np.diag(m)), jac.T @ rest, rcond=None)[0]
        step = np.clip(step, -0.05, 0.05)
        now = Fitting(now.top + step[0], now.left + step[1], now.down + step[2], now.across + step[3])
        if not (0.1 < now.down < 10 and 0.1 < now.across < 10) or np.abs(step).max() < 1e-5:
            break
    return best
