"""Noise with a size in metres: the same at any map size, from a seed."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import (
    Array,
    Here,
    Local,
    Need,
    Numbers,
    OnWindow,
)
from zigzag_meadow.core.readings.asked import Asked
from zigzag_meadow.core.readings.aspect import ASPECT_OPERATION
from zigzag_meadow.core.readings.declare import Param, Reading
from zigzag_meadow.core.readings.numbers import SEED
from zigzag_meadow.core.stripes import Cancel, Stripes
from zigzag_meadow.core.terrain.lattice import along_rows, noise_at

__all__ = ["NOISE", "NOISE_KINDS", "NOISE_OPERATION", "NoiseKind", "noise"]

F32 = NDArray[np.float32]
NoiseKind = Literal["gradient", "ridged", "cellular", "banded"]
NOISE_KINDS: tuple[NoiseKind, ...] = ("gradient", "ridged", "cellular", "banded")
_ZERO, _HALF, _ONE = np.float32(0), np.float32(0.5), np.float32(1)
_LEVEL = 1e-12
"""Sines and cosines of directions below this run along an axis."""


@njit(nogil=True, cache=True)
def _noise_rows(
    kind: int,
    octaves: np.float32,
    full: np.float32,
    seed: np.uint32,
    place: NDArray[np.float64],
    along: F32,
    taps: int,
    out: F32,
    first: int,
    end: int,
) -> None:
    """``place``: x0, y0, dx, dy in sizes, first column and row, then cosine, sine and stretch of the long axis.
    ``along``: unit vectors (2, rows, columns) to smear along, or empty."""
    x0, y0, dx, dy, col0, row0, cos, sin, stretch = place
    smear = along.shape[1] > 0
    for r in range(first, end):
        y = y0 + (row0 + r) * dy
        for c in range(out.shape[1]):
            x = x0 + (col0 + c) * dx
            if not smear:
                u, v = (x * cos + y * sin) / stretch, y * cos - x * sin
                out[r, c] = noise_at(kind, np.float32(u), np.float32(v), octaves, full, seed)
                continue
            total = _ZERO
            for k in range(taps):
                t = (k / (taps - 1) - 0.5) * stretch
                u, v = x + t * along[0, r, c], y + t * along[1, r, c]
                total += noise_at(kind, np.float32(u), np.float32(v), octaves, full, seed)
            # Smearing takes contrast away; give back what independent parts would have lost.
            mean = total / np.float32(taps)
            out[r, c] = min(max(_HALF + (mean - _HALF) * np.float32(1.6), _ZERO), _ONE)


TAPS = 9


def noise(
    grid: Grid,
    window: Window,
    *,
    kind: NoiseKind,
    size: float,
    octaves: float,
    seed: int,
    stretch: float = 1.0,
    direction: float = 0.0,
    along: F32 | None = None,
    stripes: Stripes | None = None,
    cancel: Cancel | None = None,
    out: F32 | None = None,
) -> F32:
    """Noise from 0 to 1 on a window of ``grid``, float32.

    ``size``: metres of the largest feature; each of the ``octaves`` halves it. Octaves finer than four samples are
    faded out, so that a coarse grid shows the mean of a fine one. ``stretch`` lengthens features that many times
    along ``direction`` (degrees clockwise from north), or along ``along``: float32 (2, rows, columns) unit vectors
    (east, south) a sample. The same seed gives the same noise on every grid over the same place.
    """
    finest = size / max(grid.dy, grid.dx)
    shown = min(octaves, max(math.log2(finest / 4) + 2, 0.0)) if finest > 0 else 0.0
    whole, part = int(octaves), octaves - int(octaves)
    full = 2 - 2.0 ** (1 - whole) + part * 0.5**whole
    numbers = (NOISE_KINDS.index(kind), np.float32(shown), np.float32(full), np.uint32(seed))
    result = np.empty(window.shape, np.float32) if out is None else out
    turn = math.radians(direction - 90)
    cos, sin = math.cos(turn), math.sin(turn)
    pool = stripes or Stripes(1)
    # Cells smaller than a sample would be many more than samples.
    if along is None and min(abs(cos), abs(sin)) < _LEVEL and finest >= 1:
        lines, places, swapped = _axes(grid, window, size, (round(cos), round(sin)), stretch)
        pool.run(*window.shape, lambda i, j: along_rows(*numbers, lines, places, swapped, result, i, j), cancel)
        return result
    y, x = grid.first
    place = np.array([x / size, y / size, grid.dx / size, grid.dy / size, window.col0, window.row0, cos, sin, stretch])
    vectors = readable(np.zeros((2, 0, 0), np.float32) if along is None else along)
    pool.run(*window.shape, lambda i, j: _noise_rows(*numbers, readable(place), vectors, TAPS, result, i, j), cancel)
    return result


def _axes(
    grid: Grid, window: Window, size: float, turned: tuple[int, int], stretch: float
) -> tuple[NDArray[np.float64], NDArray[np.float64], bool]:
    """(places across the rows, along them, whether rows run along the second axis) of noise that is turned by quarters:
    ``turned`` is cosine and sine. Counted from the border of the ground, so that every window has the same."""
    cos, sin = turned
    y, x = grid.first
    east = (x + np.arange(window.col0, window.col1) * grid.dx) / size
    south = (y + np.arange(window.row0, window.row1) * grid.dy) / size
    if sin == 0:
        return readable(south * cos), readable(east * cos / stretch), False
    return readable(south * sin / stretch), readable(-east * sin), True


def _needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    # With two inputs the first is the way down, to be smeared along.
    return [OnWindow(node.inputs[0], grid, window) if len(node.inputs) > 1 else None]


def _made(here: Here, numbers: Numbers, fall: Array | None) -> F32:
    along = None
    if fall is not None:
        angle = np.radians(np.nan_to_num(fall))
        along = np.stack([np.sin(angle), -np.cos(angle)])
    return noise(here.grid, here.window, **numbers, along=along, stripes=here.stripes, cancel=here.cancel)


NOISE_OPERATION = Local(name="noise", version=2, needs=_needs, make=_made)


def _noise(asked: Asked) -> Node:
    numbers: dict[str, object] = {
        **asked.some("size", "octaves", "stretch", "direction"),
        "kind": asked.numbers["kind"],
    }
    numbers["seed"] = int(asked.number("seed"))
    if asked.numbers["way"] != "slope" or asked.number("stretch") <= 1:
        return Node(NOISE_OPERATION, numbers, (asked.solid,))
    smear = max(asked.number("size") / 4, *asked.spacing)
    fall = Node(ASPECT_OPERATION, {"width": [smear, smear]}, (asked.solid,))
    return Node(NOISE_OPERATION, numbers, (fall, asked.solid))


NOISE = Reading(
    name="noise",
    title="Noise",
    family="breakup",
    low=0.0,
    high=1.0,
    sentence="Chance with a size in metres: the same at any map size.",
    good_for="Breaking up edges and even ground.",
    build=_noise,
    at_other_sizes="fine",
    ramp="grey",
    steers=True,
    params=(
        Param(
            name="kind",
            title="Kind",
            kind="choice",
            default="gradient",
            choices=(("gradient", "soft"), ("ridged", "ridged"), ("cellular", "cellular"), ("banded", "banded")),
        ),
        Param(name="size", title="Size", unit="m", default=0.05, high=20000, step=5, decimals=1, of="extent"),
        Param(name="octaves", title="Octaves", default=5.0, low=1, high=10),
        Param(name="stretch", title="Stretched", unit="×", default=1.0, low=1, high=20, step=0.5, decimals=1),
        Param(
            name="way",
            title="Stretched",
            kind="choice",
            default="direction",
            choices=(("direction", "along a direction"), ("slope", "down the slope")),
        ),
        Param(name="direction", title="Direction", unit="°", default=0.0, low=0, high=360, step=5),
        SEED,
    ),
)
