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

__all__ = ["NOISE", "NOISE_KINDS", "NOISE_OPERATION", "NoiseKind", "noise", "noise_at", "unit_hash"]

F32 = NDArray[np.float32]
NoiseKind = Literal["gradient", "ridged", "cellular", "banded"]
NOISE_KINDS: tuple[NoiseKind, ...] = ("gradient", "ridged", "cellular", "banded")
_TABLE = np.array(
    [[math.cos(2 * math.pi * (k + 0.5) / 32), math.sin(2 * math.pi * (k + 0.5) / 32)] for k in range(32)], np.float32
)
_DOUBLE, _GAIN = np.float32(2.0), np.float32(0.5)
_ONE, _TWO, _ZERO, _HALF = np.float32(1), np.float32(2), np.float32(0), np.float32(0.5)
_ROOT2 = np.float32(math.sqrt(2))


@njit(nogil=True, cache=True, inline="always")
def _hash(x: np.int32, y: np.int32, seed: np.uint32) -> np.uint32:
    """A well-mixed 32-bit number for a lattice point (finaliser: Mueller's hash)."""
    h = np.uint32(x) * np.uint32(0x9E3779B1) ^ np.uint32(y) * np.uint32(0x85EBCA77) ^ seed * np.uint32(0xC2B2AE3D)
    h = np.uint32((h >> np.uint32(16)) ^ h) * np.uint32(0x45D9F3B)
    h = np.uint32((h >> np.uint32(16)) ^ h) * np.uint32(0x45D9F3B)
    return np.uint32((h >> np.uint32(16)) ^ h)


@njit(nogil=True, cache=True)
def unit_hash(x: int, y: int, seed: int) -> float:
    """A number from 0 to 1 that belongs to a lattice point and a seed."""
    return float(_hash(np.int32(x), np.int32(y), np.uint32(seed))) / 4294967296.0


@njit(nogil=True, cache=True, inline="always")
def _slant(h: np.uint32, x: np.float32, y: np.float32) -> np.float32:
    k = h & np.uint32(31)
    return np.float32(_TABLE[k, 0] * x + _TABLE[k, 1] * y)


@njit(nogil=True, cache=True)
def _gradient(x: np.float32, y: np.float32, seed: np.uint32) -> np.float32:
    """Gradient noise, about −1 to 1: Perlin 2002, doi:10.1145/566570.566636."""
    fx, fy = np.floor(x), np.floor(y)
    i, j = np.int32(fx), np.int32(fy)
    u, v = x - fx, y - fy
    s = u * u * u * (u * (u * np.float32(6) - np.float32(15)) + np.float32(10))
    t = v * v * v * (v * (v * np.float32(6) - np.float32(15)) + np.float32(10))
    a = _slant(_hash(i, j, seed), u, v)
    b = _slant(_hash(i + np.int32(1), j, seed), u - _ONE, v)
    c = _slant(_hash(i, j + np.int32(1), seed), u, v - _ONE)
    d = _slant(_hash(i + np.int32(1), j + np.int32(1), seed), u - _ONE, v - _ONE)
    top, low = a + s * (b - a), c + s * (d - c)
    return np.float32((top + t * (low - top)) * _ROOT2)


@njit(nogil=True, cache=True)
def _cellular(x: np.float32, y: np.float32, seed: np.uint32) -> np.float32:
    """Distance to the nearest of one point a cell, 0 to about 1: Worley 1996, doi:10.1145/237170.237267."""
    i, j = np.int32(np.floor(x)), np.int32(np.floor(y))
    best = np.float32(9)
    for dj in range(-1, 2):
        for di in range(-1, 2):
            a, b = i + np.int32(di), j + np.int32(dj)
            h = _hash(a, b, seed)
            px = np.float32(a) + np.float32(h & np.uint32(0xFFFF)) / np.float32(65536) - x
            py = np.float32(b) + np.float32(h >> np.uint32(16)) / np.float32(65536) - y
            best = min(best, px * px + py * py)
    return min(np.sqrt(best), _ONE)


@njit(nogil=True, cache=True)
def noise_at(
    kind: int, x: np.float32, y: np.float32, octaves: np.float32, full: np.float32, seed: np.uint32
) -> np.float32:
    """One value, 0–1, at a place in units of the largest size.

    Octaves may end in a part; ``full`` is what the weights of all that were wished for add up to, so that octaves
    left out fade to their mean.
    """
    total, weight = _ZERO, _ONE
    first = _gradient(x, y, seed) if kind == 3 else _ZERO
    left = octaves
    k = np.uint32(1 if kind == 3 else 0)
    px, py = (x * _DOUBLE, y * _DOUBLE) if kind == 3 else (x, y)
    while left > _ZERO:
        part = min(left, _ONE) * weight
        if kind == 0 or kind == 3:
            value = _gradient(px, py, seed + k)
        elif kind == 1:
            ridge = _ONE - abs(_gradient(px, py, seed + k))
            value = ridge * ridge * _TWO - _ONE
        else:
            value = _cellular(px, py, seed + k) * _TWO - _ONE
        total += part * value
        weight *= _GAIN
        px, py = px * _DOUBLE + np.float32(17.17), py * _DOUBLE - np.float32(9.71)
        k += np.uint32(1)
        left -= _ONE
    rough = total / full
    if kind == 3:
        # Bands across the first axis, bent by the finer octaves.
        return _HALF + _HALF * np.float32(
            np.sin(np.float32(2 * math.pi) * (y + first * _HALF + rough * np.float32(0.3)))
        )
    spread = np.float32(1.25) if kind == 0 else _ONE
    return min(max(_HALF + _HALF * rough * spread, _ZERO), _ONE)


@njit(nogil=True, cache=True)
def _noise_rows(
    kind: int, octaves: np.float32, full: np.float32, seed: np.uint32, place: NDArray[np.float64], along: F32,
    taps: int, out: F32, first: int, end: int,
) -> None:  # fmt: skip
    """``place``: x0, y0, dx, dy in sizes, then cosine, sine and stretch of the long axis. ``along``: unit vectors
    (2, rows, columns) to smear along, or empty."""
    x0, y0, dx, dy, cos, sin, stretch = place
    smear = along.shape[1] > 0
    for r in range(first, end):
        y = y0 + r * dy
        for c in range(out.shape[1]):
            x = x0 + c * dx
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
    turn = math.radians(direction - 90)
    y, x = grid.first
    place = np.array(
        [
            (x + window.col0 * grid.dx) / size, (y + window.row0 * grid.dy) / size, grid.dx / size, grid.dy / size,
            math.cos(turn), math.sin(turn), stretch,
        ]
    )  # fmt: skip
    vectors = readable(np.zeros((2, 0, 0), np.float32) if along is None else along)
    result = np.empty(window.shape, np.float32) if out is None else out
    whole, part = int(octaves), octaves - int(octaves)
    full = 2 - 2.0 ** (1 - whole) + part * 0.5**whole
    numbers = (NOISE_KINDS.index(kind), np.float32(shown), np.float32(full), np.uint32(seed), readable(place))
    pool = stripes or Stripes(1)
    pool.run(*window.shape, lambda i, j: _noise_rows(*numbers, vectors, TAPS, result, i, j), cancel)
    return result


def _needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    # With two inputs the first is the way down, to be smeared along.
    return [OnWindow(node.inputs[0], grid, window) if len(node.inputs) > 1 else None]


def _made(here: Here, numbers: Numbers, fall: Array | None) -> F32:
    along = None
    if fall is not None:
        angle = np.radians(np.nan_to_num(fall))
        along = np.stack([np.sin(angle), -np.cos(angle)])
    return noise(here.grid, here.window, **numbers, along=along, stripes=here.stripes, cancel=here.cancel)


NOISE_OPERATION = Local(name="noise", needs=_needs, make=_made)


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
    name="noise", title="Noise", family="breakup", low=0.0, high=1.0,
    sentence="Chance with a size in metres: the same at any map size.", good_for="Breaking up edges and even ground.",
    build=_noise, at_other_sizes="fine", ramp="grey", steers=True,
    params=(
        Param(name="kind", title="Kind", kind="choice", default="gradient", choices=(
            ("gradient", "soft"), ("ridged", "ridged"), ("cellular", "cellular"), ("banded", "banded"))),
        Param(name="size", title="Size", unit="m", default=0.05, high=20000, step=5, decimals=1, of="extent"),
        Param(name="octaves", title="Octaves", default=5.0, low=1, high=10),
        Param(name="stretch", title="Stretched", unit="×", default=1.0, low=1, high=20, step=0.5, decimals=1),
        Param(name="way", title="Stretched", kind="choice", default="direction", choices=(
            ("direction", "along a direction"), ("slope", "down the slope"))),
        Param(name="direction", title="Direction", unit="°", default=0.0, low=0, high=360, step=5),
        SEED,
    ),
)  # fmt: skip
