"""Strata: beds of rock by height, tilted and bent, each with a tone of its own."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.nodes.ground_nodes import height_of
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import (
    Here,
    Local,
    Need,
    Numbers,
    OnWindow,
)
from zigzag_meadow.core.readings.asked import Asked
from zigzag_meadow.core.readings.declare import Param, Reading
from zigzag_meadow.core.readings.numbers import SEED
from zigzag_meadow.core.stripes import Cancel, Stripes
from zigzag_meadow.core.terrain.lattice import noise_at, unit_hash

__all__ = ["STRATA", "strata"]

F32 = NDArray[np.float32]
_OCTAVES, _FULL = np.float32(3), np.float32(1.75)


@njit(nogil=True, cache=True)
def _strata_rows(
    z: F32,
    place: NDArray[np.float64],
    thickness: float,
    tilt: NDArray[np.float64],
    bend: float,
    size: float,
    seed: int,
    out: F32,
    first: int,
    end: int,
) -> None:
    for r in range(first, end):
        y = place[1] + r * place[3]
        for c in range(out.shape[1]):
            x = place[0] + c * place[2]
            wave = noise_at(0, np.float32(x / size), np.float32(y / size), _OCTAVES, _FULL, np.uint32(seed))
            warp = (wave - 0.5) * 2
            at = (z[r, c] + x * tilt[0] + y * tilt[1] + bend * warp) / thickness
            bed = math.floor(at)
            inside = at - bed
            # Beds meet over a tenth of their thickness.
            here, above = unit_hash(bed, 0, seed), unit_hash(bed + 1, 0, seed)
            blend = min(max((inside - 0.9) * 10, 0.0), 1.0)
            out[r, c] = here + (above - here) * blend


def strata(
    heights: F32,
    grid: Grid,
    window: Window,
    *,
    thickness: float,
    dip: float,
    direction: float,
    bend: float,
    seed: int,
    stripes: Stripes | None = None,
    cancel: Cancel | None = None,
) -> F32:
    """The tone of the bed that each sample lies in, 0–1, float32.

    ``heights``: float32 metres on ``window`` of ``grid``. ``thickness`` of a bed and ``bend`` (how far beds wave up
    and down) in metres; ``dip``: degrees that beds fall towards ``direction`` (clockwise from north).
    """
    y, x = grid.first
    place = np.array([x + window.col0 * grid.dx, y + window.row0 * grid.dy, grid.dx, grid.dy])
    fall = math.tan(math.radians(dip))
    tilt = np.array([math.sin(math.radians(direction)) * fall, -math.cos(math.radians(direction)) * fall])
    heights, place, tilt = readable(heights), readable(place), readable(tilt)
    out = np.empty(window.shape, np.float32)
    size = max(thickness * 12, 2 * max(grid.dy, grid.dx))
    pool = stripes or Stripes(1)
    pool.run(
        *window.shape, lambda i, j: _strata_rows(heights, place, thickness, tilt, bend, size, seed, out, i, j), cancel
    )
    return out


def _needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    return [OnWindow(height_of(node.inputs[0]), grid, window)]


def _made(here: Here, numbers: Numbers, heights: F32) -> F32:
    own = {name: value for name, value in numbers.items() if name != "base"}
    lifted = heights + np.float32(numbers["base"])
    return strata(lifted, here.grid, here.window, **own, stripes=here.stripes, cancel=here.cancel)


BEDS = Local(name="strata", needs=_needs, make=_made)


def _strata(asked: Asked) -> Node:
    numbers = {**asked.some("thickness", "dip", "direction", "bend"), "seed": int(asked.number("seed"))}
    return Node(BEDS, {**numbers, "base": asked.base}, (asked.solid,))


STRATA = Reading(
    name="strata",
    title="Strata",
    family="breakup",
    low=0.0,
    high=1.0,
    sentence="Beds of rock by height, tilted and bent, each with a tone of its own.",
    good_for="Layered cliffs; hardness for an erosion run.",
    build=_strata,
    ramp="grey",
    steers=True,
    params=(
        Param(name="thickness", title="Thickness", unit="m", default=12.0, low=0.1, high=2000, decimals=1),
        Param(name="dip", title="Dip", unit="°", default=3.0, low=0, high=60),
        Param(name="direction", title="Falling towards", unit="°", default=90.0, low=0, high=360, step=5),
        Param(name="bend", title="Bend", unit="m", default=8.0, low=0, high=2000, decimals=1),
        SEED,
    ),
)
