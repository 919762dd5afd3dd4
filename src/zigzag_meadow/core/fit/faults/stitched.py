"""Put together from tiles that do not belong beside one another: each a little higher or lower, or off its place, or
with seams between them."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.case import Case, Pair, left_over
from zigzag_meadow.core.fit.faults.base import AGAIN, Explained, Fault

__all__ = ["Stitched"]

F64 = NDArray[np.float64]
MANY = (1, 2, 3, 4, 8)
LEAST = 16
"""Samples a side of a tile."""
FAR = 3
"""Samples by which a tile is off its place."""
SEAM = 2
"""Samples on either side of a border that a seam reaches."""
EXACT = 0.9
"""Of all samples, as many must be as they should once their tile is put right."""
APART = 2.0
"""Tolerances by which tiles must differ from one another in level."""


class Stitched(Fault):
    kind = "stitched"
    title = "Badly put together"
    cost = 3.5
    enough = 0.95
    last = True

    def explain(self, case: Case) -> Explained | None:
        pair = case.whole
        if not case.in_full or not pair.by_sample:
            return None
        left = _left_by_way(pair)
        best: Explained | None = None
        for down, across in sorted(itertools.product(MANY, MANY), key=lambda many: many[0] * many[1])[1:]:
            tiles = list(_tiles(pair, down, across))
            if min(min(tile.meant.shape[:2]) for tile in tiles) < LEAST:
                continue
            for share, what in (_in_seams(pair, down, across), _levels(pair, tiles), _places(pair, left, down, across)):
                # More tiles explain more of anything: they must explain much more.
                if share > (best.share + 0.02 if best is not None else 0.0):
                    says = f"{case.file} was put together badly of {across} × {down} tiles: {what}."
                    best = Explained(share, says, AGAIN, (("down", float(down)), ("across", float(across))))
        return best


def _edges(size: int, many: int) -> list[int]:
    return [round(k * size / many) for k in range(many + 1)]


def _windows(pair: Pair, down: int, across: int) -> Iterator[tuple[slice, slice]]:
    rows, cols = pair.meant.shape[:2]
    for a, b in itertools.pairwise(_edges(rows, down)):
        for c, d in itertools.pairwise(_edges(cols, across)):
            yield slice(a, b), slice(c, d)


def _tiles(pair: Pair, down: int, across: int) -> Iterator[Pair]:
    for at in _windows(pair, down, across):
        yield Pair(pair.seen[at], pair.meant[at], pair.per, pair.tolerance)


def _in_seams(pair: Pair, down: int, across: int) -> tuple[float, str]:
    """Everything that differs lies along the borders between tiles, on every one of them."""
    rows, cols = pair.meant.shape[:2]
    off = pair.off > 0
    near = np.zeros((rows, cols), bool)
    for axis, (size, many) in enumerate(((rows, down), (cols, across))):
        for at in _edges(size, many)[1:-1]:
            band = slice(max(at - SEAM, 0), at + SEAM)
            here = (band, slice(None)) if axis == 0 else (slice(None), band)
            near[here] = True
            if off[here].any(axis=axis).mean() < 0.3:
                return 0.0, ""
    outside = Pair(pair.seen[~near][None], pair.meant[~near][None], pair.per, pair.tolerance).before
    return 1 - outside / pair.before, "there are seams along their borders"


def _levels(pair: Pair, tiles: list[Pair]) -> tuple[float, str]:
    """Every tile higher or lower by an amount of its own, the same at all of its samples: something like it, which
    differs within them, is something else."""
    left, exact, levels = 0.0, 0, []
    low, high = min(pair.meant.min(), pair.seen.min()), max(pair.meant.max(), pair.seen.max())
    for tile in tiles:
        by = _lifted(tile, low, high)
        made = np.clip(tile.meant + by, low, high)
        left += left_over(tile.seen, made, pair.tolerance)
        exact += int(np.count_nonzero((np.abs(tile.seen - made) <= pair.tolerance + 1e-9).all(axis=2)))
        levels.append(by)
    apart = float(np.ptp(np.array(levels), axis=0).max())
    if apart <= APART * max(pair.tolerance, 1e-6) or exact < EXACT * pair.meant.shape[0] * pair.meant.shape[1]:
        return 0.0, ""
    return 1 - left / pair.before, f"their levels differ by up to {apart:.1%} of the range"


def _lifted(tile: Pair, low: float, high: float) -> F64:
    """By how much every channel is higher, of samples that did not reach an end of the range."""
    inside = (tile.seen > low) & (tile.seen < high)
    off = tile.seen - tile.meant
    parts = [off[:, :, c][inside[:, :, c]] for c in range(off.shape[2])]
    return np.array([float(np.median(part)) if part.size else 0.0 for part in parts])


_WAYS = tuple(itertools.product(range(-FAR, FAR + 1), repeat=2))


def _left_by_way(pair: Pair) -> NDArray[np.float32]:
    """(ways, rows, columns): what would be left of every sample, were it read off its place by each of the ways."""
    rows, cols = pair.meant.shape[:2]
    wide = np.pad(pair.meant, ((FAR, FAR), (FAR, FAR), (0, 0)), mode="edge")
    out = np.empty((len(_WAYS), rows, cols), np.float32)
    for k, (y, x) in enumerate(_WAYS):
        off = np.abs(pair.seen - wide[FAR + y : FAR + y + rows, FAR + x : FAR + x + cols])
        out[k] = np.square(np.maximum(off - pair.tolerance, 0)).sum(axis=2)
    return out


def _places(pair: Pair, left: NDArray[np.float32], down: int, across: int) -> tuple[float, str]:
    """Every tile off its place by whole samples of its own; along its borders it may have come from elsewhere."""
    before, total, exact, of, found = 0.0, 0.0, 0, 0, set()
    plain = left[_WAYS.index((0, 0))]
    for south, east in _windows(pair, down, across):
        at = slice(south.start + FAR, south.stop - FAR), slice(east.start + FAR, east.stop - FAR)
        sums = left[(slice(None), *at)].sum(axis=(1, 2))
        k = int(sums.argmin())
        before += float(plain[at].sum())
        total += float(sums[k])
        exact += int(np.count_nonzero(left[(k, *at)] == 0))
        of += left[(k, *at)].size
        found.add(_WAYS[k])
    if len(found) < 2 or before <= 0 or exact < EXACT * of:
        return 0.0, ""
    far = max(max(abs(y), abs(x)) for y, x in found)
    return 1 - total / before, f"some lie up to {far} {'sample' if far == 1 else 'samples'} off their place"
