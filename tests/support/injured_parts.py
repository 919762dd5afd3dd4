"""Faults of parts of a file: one channel, levels, tiles, lines; and two faults one upon the other."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from scipy import ndimage

Rng = np.random.Generator
Harm = Callable[[np.ndarray, Rng], np.ndarray | None]


def full_of(a: np.ndarray) -> float:
    return float(np.iinfo(a.dtype).max) if a.dtype.kind == "u" else max(float(np.abs(a).max()), 1e-9)


def _varied(a: np.ndarray) -> list[int]:
    return [c for c in range(a.shape[2]) if np.ptp(a[:, :, c]) > 0.05 * full_of(a)]


def in_one_channel(harm: Callable[[np.ndarray, Rng], np.ndarray | None]) -> Harm:
    """A harm of places, done to one channel of several."""

    def one(a: np.ndarray, rng: Rng) -> np.ndarray | None:
        varied = _varied(a)
        if a.shape[2] < 2 or not varied:
            return None
        c = int(rng.choice(varied))
        made = harm(a[:, :, c : c + 1], rng)
        if made is None or made.shape[:2] != a.shape[:2]:
            return None
        out = a.copy()
        out[:, :, c] = made[:, :, 0]
        return out

    return one


def rotated(a: np.ndarray, rng: Rng) -> np.ndarray | None:
    return np.roll(a, int(rng.choice([1, -1])), 2) if len(_varied(a)) >= 3 else None


def moved_by_one(a: np.ndarray, rng: Rng) -> np.ndarray:
    return np.roll(a, int(rng.choice([-1, 1])), int(rng.integers(2)))


def in_levels(v: np.ndarray, full: float, rng: Rng) -> np.ndarray:
    """Cut to few bits, the ends staying where they were."""
    last = 2.0 ** int(rng.choice([3, 4, 5])) - 1
    return np.floor(v / full * last + 0.5) / last * full


def quadrants(a: np.ndarray, rng: Rng) -> np.ndarray:
    """Parts of equal size put together in another order, by swapping two or more."""
    many = int(rng.choice([2, 4]))
    rows, cols = (n // many for n in a.shape[:2])
    out = a.copy()
    i, j = (int(k) for k in rng.choice(many * many, 2, replace=False))
    for to, of in ((i, j), (j, i)):
        (y, x), (v, u) = divmod(to, many), divmod(of, many)
        out[y * rows : (y + 1) * rows, x * cols : (x + 1) * cols] = a[
            v * rows : (v + 1) * rows, u * cols : (u + 1) * cols
        ]
    return out


def striped(a: np.ndarray, rng: Rng) -> np.ndarray:
    out = a.copy() if rng.random() < 0.5 else a.copy().swapaxes(0, 1)
    out[1::2] = 0
    return np.ascontiguousarray(out if out.flags.c_contiguous else out.swapaxes(0, 1))


def median(a: np.ndarray, rng: Rng) -> np.ndarray:
    side = int(rng.choice([3, 5, 7]))
    return np.dstack([ndimage.median_filter(a[:, :, c], side, mode="nearest") for c in range(a.shape[2])])


def renumbered(a: np.ndarray, rng: Rng) -> np.ndarray | None:
    there = np.unique(a)
    if there.size < 2:
        return None
    i, j = rng.choice(there, 2, replace=False)
    return np.where(a == i, j, np.where(a == j, i, a))


def both(first: Harm, second: Harm) -> Harm:
    def harm(a: np.ndarray, rng: Rng) -> np.ndarray | None:
        made = second(a, rng)
        return None if made is None else first(made, rng)

    return harm


def upright(a: np.ndarray, rng: Rng) -> np.ndarray:
    return a[::-1] if rng.random() < 0.5 else a[:, ::-1]
