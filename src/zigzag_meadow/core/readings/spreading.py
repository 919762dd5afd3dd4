"""Spreading flow: water shared among all lower neighbours, and how wet that leaves a place."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.nodes.ground_nodes import gaps_on, heights_on
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import (
    AllOf,
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
from zigzag_meadow.core.readings.flow import DRAIN
from zigzag_meadow.core.readings.planes import kept_out, plane
from zigzag_meadow.core.readings.slope import SLOPE_OPERATION
from zigzag_meadow.core.terrain.flow import GAP, STEP_COLS, STEP_ROWS

__all__ = ["SPREADING_FLOW", "WETNESS", "spreading", "wetness"]

F32 = NDArray[np.float32]
I8 = NDArray[np.int8]
# Exponent that keeps hillslopes broad and valleys narrow: Freeman 1991.
_EXPONENT = 1.1


@njit(nogil=True, cache=True, error_model="numpy")
def _spread(z: F32, code: I8, per: NDArray[np.float64], out: NDArray[np.float64]) -> None:
    rows, cols = z.shape
    waits = np.zeros((rows, cols), np.int8)
    for r in range(rows):
        for c in range(cols):
            if code[r, c] == GAP:
                continue
            lower = False
            for k in range(8):
                i, j = r + STEP_ROWS[k], c + STEP_COLS[k]
                if 0 <= i < rows and 0 <= j < cols and z[i, j] < z[r, c] and code[i, j] != GAP:
                    waits[i, j] += 1
                    lower = True
            if not lower and code[r, c] >= 0:
                waits[r + STEP_ROWS[code[r, c]], c + STEP_COLS[code[r, c]]] += 1
    queue = np.empty(rows * cols, np.int32)
    tail = 0
    for r in range(rows):
        for c in range(cols):
            if waits[r, c] == 0 and code[r, c] != GAP:
                queue[tail] = r * cols + c
                tail += 1
    share = np.zeros(8, np.float64)
    head = 0
    while head < tail:
        r, c = queue[head] // cols, queue[head] % cols
        head += 1
        out[r, c] += 1.0
        total = 0.0
        for k in range(8):
            share[k] = 0.0
            i, j = r + STEP_ROWS[k], c + STEP_COLS[k]
            if 0 <= i < rows and 0 <= j < cols and z[i, j] < z[r, c] and code[i, j] != GAP:
                # The contour length that water passes over is half as long at corners: Quinn et al. 1991.
                fall = (float(z[r, c]) - float(z[i, j])) * per[k]
                share[k] = (fall**_EXPONENT) * (0.354 if k % 2 else 0.5)
                total += share[k]
        if total == 0.0:
            if code[r, c] < 0:
                continue
            share[code[r, c]] = total = 1.0
        for k in range(8):
            if share[k] > 0.0:
                i, j = r + STEP_ROWS[k], c + STEP_COLS[k]
                out[i, j] += out[r, c] * (share[k] / total)
                waits[i, j] -= 1
                if waits[i, j] == 0:
                    queue[tail] = i * cols + j
                    tail += 1


def spreading(filled: F32, code: I8, grid: Grid) -> F32:
    """How much ground drains through each sample in m² (float32) when water spreads to every lower neighbour.

    ``filled``: float32 metres without depressions; ``code``: its D8 directions, followed where nothing is lower.
    Summed over what leaves the map it is the whole ground. References: Freeman 1991,
    doi:10.1016/0098-3004(91)90048-I; Quinn et al. 1991, doi:10.1002/hyp.3360050106.
    """
    out = np.zeros(grid.shape, np.float64)
    _spread(readable(filled), readable(code), 1 / np.hypot(STEP_ROWS * grid.dy, STEP_COLS * grid.dx), out)
    return (out * (grid.dy * grid.dx)).astype(np.float32)


def wetness(area: F32, degrees: F32, width: float) -> F32:
    """Topographic wetness ln(a / tan β): how much water comes against how readily it goes on (no unit).

    ``area``: m² drained through each sample; ``degrees``: slope; ``width``: metres of contour a sample stands for.
    Slopes below 0.1° count as 0.1°. float32 of the same shape. Reference: Beven & Kirkby 1979,
    doi:10.1080/02626667909491834.
    """
    steep = np.tan(np.radians(np.maximum(degrees, np.float32(0.1))))
    result: F32 = np.log(np.maximum(area / np.float32(width), np.float32(1e-6)) / steep)
    return result


def _needs(node: Node, grid: Grid) -> Sequence[Need]:
    drain = node.inputs[0]
    planes = [AllOf(drain, name) for name in ("standing", "code")]
    return [heights_on(drain.inputs[0], grid), gaps_on(drain.inputs[0], grid), *planes]


def _spread_out(
    here: Here, numbers: Numbers, heights: F32, gaps: NDArray[np.bool_] | None, standing: F32, code: I8
) -> dict[str, Array]:
    return kept_out(gaps, here.grid, {"area": spreading(heights + standing, code, here.grid)})


SPREAD = WholeGround(
    name="spread",
    version=2,
    planes=("area",),
    needs=_needs,
    make=_spread_out,
    cost=run_cost("Spreading the water", 40),
)


def _area(asked: Asked) -> Node:
    return plane(Node(SPREAD, {}, (Node(DRAIN, {}, (asked.solid,)),)), "area", "log")


def _wet(here: Here, numbers: Numbers, area: F32, degrees: F32) -> F32:
    return wetness(area, degrees, float(np.sqrt(here.ground.dy * here.ground.dx)))


WET = by_sample("wetness", _wet, quick=False)


def _wetness(asked: Asked) -> Node:
    return Node(WET, {}, (_area(asked), Node(SLOPE_OPERATION, {"width": asked.spacing}, (asked.solid,))))


SPREADING_FLOW = Reading(
    name="spreading_flow",
    title="Spreading flow",
    family="water",
    unit="m²",
    scale="log",
    decimals=0,
    whole_ground=True,
    sentence="How much ground drains through each place when water spreads to every lower neighbour.",
    good_for="Broad wet slopes and fans, softer than single paths.",
    build=_area,
    at_other_sizes="home",
    ramp="flow",
)
WETNESS = Reading(
    name="wetness",
    title="Wetness",
    family="water",
    decimals=1,
    whole_ground=True,
    sentence="How much water comes to a place against how readily it runs on.",
    good_for="Bogs, rushes, dark soil on gentle ground below long slopes.",
    build=_wetness,
    at_other_sizes="home",
    ramp="wet",
    pointing=0.06,
)
