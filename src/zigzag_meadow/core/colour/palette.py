"""Colours taken from a picture: along a line, or the few that it is mostly made of."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.srgb import hex_of, lab_of, rgb_of_lab

__all__ = ["line_stops", "main_stops"]

F32 = NDArray[np.float32]
Stops = list[tuple[float, str]]
_ROUNDS = 24


def _checked(count: int) -> None:
    if not 2 <= count <= 24:
        raise BadNumber(f"A ramp has 2 to 24 colours, got {count}.", field="count")


def line_stops(colours: F32, count: int) -> Stops:
    """``count`` stops from linear colours (n, 3) met along a line, each the mean of its part of it."""
    _checked(count)
    edges = np.linspace(0, len(colours), count + 1)
    means = [colours[int(a) : max(int(b), int(a) + 1)].mean(axis=0) for a, b in pairwise(edges)]
    return [(at / (count - 1), hex_of(mean)) for at, mean in enumerate(means)]


def _far_apart(lab: F32, count: int) -> NDArray[np.float64]:
    chosen = [int(lab[:, 0].argmin())]
    gap = ((lab - lab[chosen[0]]) ** 2).sum(axis=1)
    while len(chosen) < count and gap.max() > 0:
        chosen.append(int(gap.argmax()))
        gap = np.minimum(gap, ((lab - lab[chosen[-1]]) ** 2).sum(axis=1))
    return lab[chosen].astype(np.float64)


def main_stops(colours: F32, count: int) -> Stops:
    """The ``count`` main colours among linear colours (n, 3), dark to light, spaced by how much lighter each is.

    K-means in OKLab, begun from the darkest and, one after the other, whatever is farthest from those there are
    (Gonzalez 1985, doi:10.1016/0304-3975(85)90224-5; Lloyd 1982, doi:10.1109/TIT.1982.1056489): the same picture gives
    the same colours. Fewer where there are not so many.
    """
    _checked(count)
    lab = lab_of(colours)
    centres = _far_apart(lab, count)
    for _ in range(_ROUNDS):
        near = ((lab[:, None, :] - centres[None]) ** 2).sum(axis=2).argmin(axis=1)
        sizes = np.bincount(near, minlength=len(centres))
        sums = np.stack([np.bincount(near, lab[:, k], len(centres)) for k in range(3)], axis=1)
        centres = sums[sizes > 0] / sizes[sizes > 0, None]
    centres = centres[np.argsort(centres[:, 0], kind="stable")]
    codes = [hex_of(rgb) for rgb in rgb_of_lab(centres.astype(np.float32))]
    low, high = centres[0, 0], centres[-1, 0]
    if len(codes) < 2 or high - low < 1e-6:
        return [(0.0, codes[0]), (1.0, codes[-1])]
    return [(round(float((c[0] - low) / (high - low)), 4), code) for c, code in zip(centres, codes, strict=True)]
