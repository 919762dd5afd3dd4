"""Cast shadows: which places the sun reaches."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.nodes.ground_nodes import gaps_on, heights_on
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import (
    Array,
    Here,
    Need,
    Numbers,
    WholeGround,
    by_sample,
    run_cost,
)
from zigzag_meadow.core.readings.asked import Asked
from zigzag_meadow.core.readings.declare import Reading
from zigzag_meadow.core.readings.numbers import ALTITUDE, AZIMUTH
from zigzag_meadow.core.readings.planes import kept_out, plane
from zigzag_meadow.core.readings.shade import shade_node

__all__ = ["SUN", "sunlit"]

F32 = NDArray[np.float32]


@njit(nogil=True, cache=True, error_model="numpy")
def _sweep(z: F32, back: bool, shift: np.float32, drop: np.float32, out: F32) -> None:
    """Carry the edge of the shadow from row to row away from the sun; ``shift`` columns a row towards it."""
    rows, cols = z.shape
    edge, fresh = np.empty(cols, np.float32), np.empty(cols, np.float32)
    whole = int(np.floor(shift))
    f = shift - np.float32(whole)
    one, zero, nothing = np.float32(1), np.float32(0), np.float32(-1e30)
    for i in range(rows):
        r = rows - 1 - i if back else i
        for c in range(cols):
            h = z[r, c]
            if i == 0:
                fresh[c] = h
                out[r, c] = one
                continue
            a, b = c + whole, c + whole + 1
            p = edge[a] if 0 <= a < cols else nothing
            q = edge[b] if 0 <= b < cols else nothing
            shadow = (p + f * (q - p) if f > 0 else p) - drop
            # A shadow's edge is as soft as one sample is wide.
            out[r, c] = min(max(one - (shadow - h) / drop, zero), one)
            fresh[c] = max(h, shadow)
        edge, fresh = fresh, edge


def sunlit(heights: F32, grid: Grid, azimuth: float, altitude: float) -> F32:
    """How much of the sun's disc reaches each sample past the ground in front of it, 0–1.

    ``heights``: float32 metres, shape of ``grid``, row 0 north. ``azimuth``: degrees clockwise from north;
    ``altitude``: degrees above the horizon, above 0. Nothing stands beyond the border. Returns float32.
    The shadow's upper edge is swept across the grid once, interpolated along rows (or columns, whichever the sun
    crosses faster): Dozier, Bruno & Downey 1981, doi:10.1016/0098-3004(81)90026-2, in sweep form.
    """
    east, north = math.sin(math.radians(azimuth)), math.cos(math.radians(azimuth))
    rise = math.tan(math.radians(min(max(altitude, 0.5), 89.9)))
    if abs(north) / grid.dy >= abs(east) / grid.dx:
        out = np.empty(grid.shape, np.float32)
        shift = (east / grid.dx) / (abs(north) / grid.dy)
        _sweep(readable(heights), north < 0, np.float32(shift), np.float32(rise * grid.dy / abs(north)), out)
        return out
    turned = np.empty((grid.cols, grid.rows), np.float32)
    # Rows of the turned array run west to east, its columns north to south.
    shift = (-north / grid.dy) / (abs(east) / grid.dx)
    _sweep(readable(heights.T), east > 0, np.float32(shift), np.float32(rise * grid.dx / abs(east)), turned)
    return np.ascontiguousarray(turned.T)


def _needs(node: Node, grid: Grid) -> Sequence[Need]:
    return [heights_on(node.inputs[0], grid), gaps_on(node.inputs[0], grid)]


def _lit(here: Here, numbers: Numbers, heights: F32, gaps: NDArray[np.bool_] | None) -> dict[str, Array]:
    # A gap casts no shadow.
    stands = heights if gaps is None else np.where(gaps, heights.min() - np.float32(1), heights)
    return kept_out(gaps, here.grid, {"lit": sunlit(stands, here.grid, numbers["azimuth"], numbers["altitude"])})


LIT = WholeGround(name="lit", version=2, planes=("lit",), needs=_needs, make=_lit, cost=run_cost("Casting shadows", 16))


def _light(here: Here, numbers: Numbers, shade: F32, lit: F32) -> F32:
    light: F32 = (shade - 1) / np.float32(254) * np.clip(lit, 0, 1)
    return light


LIGHT = by_sample("sun", _light, quick=False)


def _sun(asked: Asked) -> Node:
    run = Node(LIT, asked.some("azimuth", "altitude"), (asked.solid,))
    return Node(LIGHT, {}, (shade_node(asked), plane(run, "lit", "linear")))


SUN = Reading(
    name="sun",
    title="Sun",
    family="light",
    low=0.0,
    high=1.0,
    whole_ground=True,
    sentence="How squarely the sun falls on the ground; 0 where other ground stands in its way.",
    good_for="Bleached faces, snow and moss in the shade of ridges.",
    build=_sun,
    params=(AZIMUTH, ALTITUDE),
    at_other_sizes="home",
    ramp="light",
)
