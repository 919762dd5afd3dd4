"""Readings of flow: how much ground drains through each sample, where to, and where water stands."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.grid import Grid, whole_ground_grid
from zigzag_meadow.core.nodes.ground_nodes import gaps_on, heights_on
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import (
    AllOf,
    Array,
    Here,
    Local,
    Need,
    Numbers,
    WholeGround,
    run_cost,
)
from zigzag_meadow.core.nodes.windows import sampled
from zigzag_meadow.core.readings.asked import of_run
from zigzag_meadow.core.readings.declare import Reading
from zigzag_meadow.core.readings.planes import kept_out
from zigzag_meadow.core.terrain.filling import fill_depressions
from zigzag_meadow.core.terrain.flow import EAST_NORTH, accumulate, directions

__all__ = ["DRAIN", "FLOW", "FLOW_EAST", "FLOW_NORTH", "STANDING_WATER"]

F32 = NDArray[np.float32]
Mask = NDArray[np.bool_]


def _needs(node: Node, grid: Grid) -> Sequence[Need]:
    return [heights_on(node.inputs[0], grid), gaps_on(node.inputs[0], grid)]


def _drained(here: Here, numbers: Numbers, heights: F32, gaps: Mask | None) -> dict[str, Array]:
    grid = here.grid
    filled = fill_depressions(heights, gaps)
    here.tell(0.5)
    code = directions(filled, grid, here.stripes, gaps)
    here.tell(0.8)
    area = (accumulate(code) * (grid.dy * grid.dx)).astype(np.float32)
    return kept_out(gaps, grid, {"area": area, "standing": filled - heights}) | {"code": code}


DRAIN = WholeGround(
    name="drain",
    version=2,
    planes=("area", "standing", "code"),
    needs=_needs,
    make=_drained,
    cost=run_cost("Following the water", 56),
    roughly=True,
)
"""Where water goes: ``area`` (m²) and ``standing`` water (m), float32, and D8 ``code``, int8."""

_VECTORS = np.array([*EAST_NORTH, (0, 0)], np.float32)
_UNIT = _VECTORS / np.maximum(np.hypot(_VECTORS[:, :1], _VECTORS[:, 1:]), 1)


def _direction(here: Here, numbers: Numbers, code: Array) -> Array:
    near = sampled(code, whole_ground_grid(here.ground), here, "nearest").astype(np.int64)
    values: Array = _UNIT[np.where(near < 0, 8, near), 0 if numbers["part"] == "east" else 1]
    return values


DIRECTION = Local(name="direction", needs=lambda node, grid, window: [AllOf(node.inputs[0], "code")], make=_direction)

FLOW = Reading(
    name="flow",
    title="Flow",
    family="water",
    unit="m²",
    scale="log",
    decimals=0,
    whole_ground=True,
    sentence="How much ground drains through each place along one path, every hollow filled to its brim first. Thin "
    "channels are as wide as one sample of the ground, whatever size is delivered.",
    good_for="Stream beds, wet runs, worn lines.",
    build=of_run(DRAIN, "area", "log"),
    at_other_sizes="home",
    ramp="flow",
    pointing=0.03,
)


def _towards(part: str, sentence: str, good_for: str) -> Reading:
    return Reading(
        name=f"flow_{part}",
        title=f"Flow direction {part}",
        family="water",
        low=-1.0,
        high=1.0,
        whole_ground=True,
        sentence=sentence,
        good_for=good_for,
        signed=True,
        at_other_sizes="home",
        ramp="balance",
        build=lambda asked: Node(DIRECTION, {"part": part}, (Node(DRAIN, {}, (asked.solid,)),)),
    )


FLOW_EAST = _towards(
    "east",
    "How far east water runs here: 1 east, −1 west.",
    "The first channel of a flow map, for water that moves.",
)
FLOW_NORTH = _towards("north", "How far north water runs here: 1 north, −1 south.", "The second channel of a flow map.")
STANDING_WATER = Reading(
    name="standing_water",
    title="Standing water",
    family="water",
    unit="m",
    low=0.0,
    whole_ground=True,
    sentence="How deep water would stand in hollows that have no way out.",
    good_for="Bog pools, lochans, reed margins.",
    build=of_run(DRAIN, "standing", "linear"),
    at_other_sizes="home",
    ramp="depth",
    moves="rise",
)
