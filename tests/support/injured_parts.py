"""Faults of parts of a file: one channel, levels, tiles, lines; and two faults one upon the other."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PIL import Image
from scipy import ndimage

Rng = np.random.Generator
Harm = Callable[[np.ndarray, Rng], np.ndarray | None]


def full_of(a: np.ndarray) -> float:
    return float(np.iinfo(a.dtype).max) if a.dtype.kind == "u" else max(float(np.abs(a).max()), 1e-9)


def stored(values: np.ndarray, like: np.ndarray) -> np.ndarray:
    if like.dtype.kind == "f":
        return values.astype(like.dtype)
    return np.clip(np.floor(values + 0.5), 0, full_of(like)).astype(like.dtype)


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


def _in_tiles(a: np.ndarray, rng: Rng, harm: Callable[[np.ndarray, int, int], np.ndarray]) -> np.ndarray:
    """``harm(a, row, column)`` of all, of which every tile takes its part."""
    down, across = (int(n) for n in rng.choice([2, 3, 4], 2))
    out = a.copy()
    rows, cols = (np.round(np.linspace(0, n, k + 1)).astype(int) for n, k in zip(a.shape, (down, across), strict=False))
    for i in range(down):
        for j in range(across):
            at = slice(rows[i], rows[i + 1]), slice(cols[j], cols[j + 1])
            out[at] = harm(a, i, j)[at]
    return out


def uneven(a: np.ndarray, rng: Rng) -> np.ndarray:
    """Tiles that are each a little higher or lower."""
    levels = rng.uniform(-0.05, 0.05, (4, 4)) * full_of(a)

    def lifted(b: np.ndarray, i: int, j: int) -> np.ndarray:
        made = b.astype(np.float64) + levels[i, j]
        return made.astype(b.dtype) if b.dtype.kind == "f" else np.clip(np.round(made), 0, full_of(b)).astype(b.dtype)

    return _in_tiles(a, rng, lifted)


def loose(a: np.ndarray, rng: Rng) -> np.ndarray:
    """Tiles that are each off their place."""
    off = rng.integers(-2, 3, (4, 4, 2))
    off[0, 0], off[0, 1], off[1, 0] = (1, 0), (0, -1), (-1, 1)
    return _in_tiles(a, rng, lambda b, i, j: np.roll(b, tuple(off[i, j]), (0, 1)))


def seamed(a: np.ndarray, rng: Rng) -> np.ndarray:
    """Tiles with their borders blended away into a dark line."""
    out = a.copy()
    many = int(rng.choice([2, 3, 4]))
    for axis in (0, 1):
        view = out.swapaxes(0, axis)
        for at in np.round(np.linspace(0, view.shape[0], many + 1)).astype(int)[1:-1]:
            view[at - 1 : at + 1] = (view[at - 1 : at + 1] * 0.5).astype(a.dtype)
    return out


def bent(a: np.ndarray, rng: Rng) -> np.ndarray:
    """Pulled about by a few samples, here one way, there another."""
    rows, cols = a.shape[:2]
    y, x = np.mgrid[0:rows, 0:cols].astype(np.float64)
    waves = [np.sin(2 * np.pi * (y / rows * k + x / cols * j) + rng.uniform(0, 6)) for k, j in ((1, 0.5), (0.7, 1))]
    at = np.stack([y + rng.uniform(1.5, 4) * waves[0], x + rng.uniform(1.5, 4) * waves[1]])
    moved = [
        ndimage.map_coordinates(a[:, :, c].astype(np.float64), at, order=1, mode="nearest") for c in range(a.shape[2])
    ]
    made = np.dstack(moved)
    return made.astype(a.dtype) if a.dtype.kind == "f" else np.floor(made + 0.5).astype(a.dtype)


def half_cropped(a: np.ndarray, rng: Rng) -> np.ndarray:
    """Half a sample or a whole one cut off all around and stretched again, by any of the common filters."""
    rows, cols = a.shape[:2]
    ends = float(rng.choice([0.5, 1.0]))
    how = (Image.Resampling.BILINEAR, Image.Resampling.BICUBIC, Image.Resampling.LANCZOS)[int(rng.integers(3))]
    part = (ends, ends, cols - ends, rows - ends)
    planes = [Image.fromarray(a[:, :, c].astype(np.float32)).resize((cols, rows), how, part) for c in range(a.shape[2])]
    made = np.dstack([np.asarray(plane) for plane in planes])
    return made.astype(a.dtype) if a.dtype.kind == "f" else np.clip(np.round(made), 0, full_of(a)).astype(a.dtype)


def skipped(a: np.ndarray, rng: Rng) -> np.ndarray:
    """A row or column left out or doubled; the end is made up by what lies there."""
    axis = int(rng.integers(2))
    n = a.shape[axis]
    at = int(rng.integers(n // 5, 4 * n // 5))
    rows = np.arange(n)
    rows = np.where(rows >= at, rows + 1, rows) if rng.random() < 0.5 else np.where(rows > at, rows - 1, rows)
    return np.take(a, np.clip(rows, 0, n - 1), axis)


def lined(a: np.ndarray, rng: Rng) -> np.ndarray:
    out = a.copy().swapaxes(0, int(rng.integers(2)))
    at = int(rng.integers(out.shape[0] // 5, 4 * out.shape[0] // 5))
    out[at] = stored(full_of(a) - out[at].astype(np.float64) if rng.random() < 0.5 else out[at] * 0.0, a)
    return (
        np.ascontiguousarray(out)
        if out.shape == a.shape and out.strides == a.strides
        else (np.ascontiguousarray(out.swapaxes(0, 1)) if out.shape[:2] == a.shape[1::-1] else out)
    )


def wrapped(a: np.ndarray, rng: Rng) -> np.ndarray:
    """The opposite border in the place of one, as a map that repeats and is read between samples shows it."""
    out = a.copy()
    if rng.random() < 0.5:
        out[0] = stored((a[0].astype(np.float64) + a[-1]) / 2, a)
    else:
        out[:, -1] = stored((a[:, 0].astype(np.float64) + a[:, -1]) / 2, a)
    return out


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
