"""The worst places of a map: one of every connected area."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.grid import Grid

__all__ = ["WorstPlace", "worst_places"]

MOST_PLACES = 12


@dataclass(frozen=True, slots=True)
class WorstPlace:
    """A place where something is worst in its surroundings: metres, by how much, and the share of the ground that is
    above the least together with it."""

    east: float
    south: float
    by: float
    share: float


def worst_places(gap: NDArray[np.float32], grid: Grid, least: float) -> tuple[WorstPlace, ...]:
    """The worst sample of every connected area where the gap (float32, shape of ``grid``) is above ``least``, the worst
    first, at most :data:`MOST_PLACES`."""
    from scipy import ndimage  # only here: it is slow to load, and few ask for it

    labels, count = ndimage.label(gap > least, np.ones((3, 3), np.int8))
    if count == 0:
        return ()
    index = np.arange(1, count + 1)
    peaks = ndimage.maximum_position(gap, labels, index)
    sizes = np.bincount(labels.ravel(), minlength=count + 1)[1:] / gap.size
    found = [
        WorstPlace(*grid.place_of(int(row), int(col)), float(gap[row, col]), float(size))
        for (row, col), size in zip(peaks, sizes, strict=True)
    ]
    return tuple(sorted(found, key=lambda place: (-place.by, -place.share))[:MOST_PLACES])
