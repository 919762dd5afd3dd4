"""Talus: debris that lies below faces once everything too steep has slid down."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.nodes.ground_nodes import gaps_on, heights_on
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import (
    Array,
    Here,
    Need,
    Numbers,
    WholeGround,
    run_cost,
)
from zigzag_meadow.core.readings.declare import Param, Reading
from zigzag_meadow.core.readings.planes import kept_out, plane
from zigzag_meadow.core.terrain.slumping import slump

__all__ = ["TALUS"]

F32 = NDArray[np.float32]


def _needs(node: Node, grid: Grid) -> Sequence[Need]:
    return [heights_on(node.inputs[0], grid), gaps_on(node.inputs[0], grid)]


def _slumped(here: Here, numbers: Numbers, heights: F32, gaps: NDArray[np.bool_] | None) -> dict[str, Array]:
    after = slump(
        heights, here.grid, numbers["angle"], gaps=gaps, stripes=here.stripes, tell=here.tell, cancel=here.cancel
    )
    return kept_out(gaps, here.grid, {"talus": np.maximum(after - heights, 0)})


SLUMP = WholeGround(
    name="slump",
    version=2,
    planes=("talus",),
    needs=_needs,
    make=_slumped,
    cost=run_cost("Slumping steep ground", 48),
)

TALUS = Reading(
    name="talus",
    title="Talus",
    family="erosion",
    unit="m",
    low=0.0,
    whole_ground=True,
    sentence="Metres of debris that lie below faces once everything steeper than an angle has slid down.",
    good_for="Scree and rubble where it would really lie.",
    build=lambda asked: plane(Node(SLUMP, asked.some("angle"), (asked.solid,)), "talus", "linear"),
    params=(Param(name="angle", title="Angle", unit="°", default=33.0, low=5, high=80),),
    at_other_sizes="home",
    ramp="laid",
    moves="rise",
)
