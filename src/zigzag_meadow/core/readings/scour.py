"""What an erosion run leaves, as readings: scour, deposition, load, water, and the ground after it."""

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
    OnWindow,
    WholeGround,
    run_cost,
)
from zigzag_meadow.core.readings.asked import Asked
from zigzag_meadow.core.readings.declare import Param, Reading
from zigzag_meadow.core.readings.height import lifted
from zigzag_meadow.core.readings.numbers import SEED
from zigzag_meadow.core.readings.planes import kept_out, plane
from zigzag_meadow.core.terrain.erosion import erode

__all__ = ["CARRIED_LOAD", "DEPOSITION", "ERODED_HEIGHT", "RAIN_FLOW", "SCOUR", "rained"]

F32 = NDArray[np.float32]
Mask = NDArray[np.bool_]


def rained(water: F32, grid: Grid) -> F32:
    """Water of a run (float32, m², changed in place): what never passed a sample still fell on it, and a log scale
    starts above 0."""
    return np.maximum(water, np.float32(grid.dy * grid.dx * 0.1), out=water)


def _needs(node: Node, grid: Grid) -> Sequence[Need]:
    solid, *hard = node.inputs
    return [heights_on(solid, grid), gaps_on(solid, grid), *(OnWindow(n, grid, grid.whole) for n in hard)]


def _eroded(
    here: Here, numbers: Numbers, heights: F32, gaps: Mask | None, hardness: F32 | None = None
) -> dict[str, Array]:
    grid = here.grid
    run = erode(heights, grid, **numbers, hardness=hardness, gaps=gaps, tell=here.tell, cancel=here.cancel)
    water = rained(run.water, grid)
    made = {"ground": run.ground, "scour": run.scour, "deposition": run.deposition, "load": run.load, "water": water}
    return kept_out(gaps, grid, made) | {"balance": np.array([[run.error, run.left]], np.float32)}


EROSION = WholeGround(
    name="erosion",
    version=3,
    planes=("ground", "scour", "deposition", "load", "water", "balance"),
    needs=_needs,
    make=_eroded,
    cost=run_cost("Erosion run", 44),
)


def _of(asked: Asked, name: str, how: str) -> Node:
    numbers = {**asked.some("rain", "strength"), "seed": int(asked.number("seed"))}
    hardness = str(asked.numbers["hardness"])
    inputs = (asked.solid, asked.named(hardness)) if hardness else (asked.solid,)
    return plane(Node(EROSION, numbers, inputs), name, how)


_RUN = (
    Param(name="rain", title="Rain", unit="drops a sample", default=0.2, low=0.01, high=4, step=0.05, decimals=2),
    Param(name="strength", title="Strength", default=0.5, low=0.02, high=2, step=0.05, decimals=2),
    Param(name="hardness", title="Hardness", kind="map", default=""),
    SEED,
)
SCOUR = Reading(
    name="scour",
    title="Scour",
    family="erosion",
    unit="m",
    low=0.0,
    whole_ground=True,
    sentence="Metres of earth that rain takes away in an erosion run.",
    good_for="Bare earth, gully walls, fresh rock.",
    build=lambda asked: _of(asked, "scour", "linear"),
    params=_RUN,
    at_other_sizes="home",
    ramp="scour",
    moves="rise",
    pointing=0.04,
)
DEPOSITION = Reading(
    name="deposition",
    title="Deposition",
    family="erosion",
    unit="m",
    low=0.0,
    whole_ground=True,
    sentence="Metres of earth that an erosion run lays down.",
    good_for="Gravel fans, silt, soil that grows things.",
    build=lambda asked: _of(asked, "deposition", "linear"),
    params=_RUN,
    numbers_of="scour",
    at_other_sizes="home",
    ramp="laid",
    moves="rise",
    pointing=0.04,
)
CARRIED_LOAD = Reading(
    name="carried_load",
    title="Carried load",
    family="erosion",
    unit="m",
    decimals=1,
    low=0.0,
    whole_ground=True,
    sentence="How much earth runs through a place in an erosion run.",
    good_for="Muddy runs, debris paths.",
    build=lambda asked: _of(asked, "load", "linear"),
    params=_RUN,
    numbers_of="scour",
    at_other_sizes="home",
    ramp="laid",
)
RAIN_FLOW = Reading(
    name="rain_flow",
    title="Rain flow",
    family="erosion",
    unit="m²",
    scale="log",
    decimals=0,
    whole_ground=True,
    sentence="How much rain runs through each place in an erosion run.",
    good_for="Fine wet lines on slopes, finer than flow.",
    build=lambda asked: _of(asked, "water", "log"),
    params=_RUN,
    numbers_of="scour",
    at_other_sizes="home",
    ramp="flow",
    pointing=0.05,
)
ERODED_HEIGHT = Reading(
    name="eroded_height",
    title="Eroded height",
    family="erosion",
    unit="m",
    decimals=1,
    whole_ground=True,
    sentence="The ground as the erosion run leaves it; the project's own heights stay as they are.",
    good_for="Looking before you add an Erode step to the ground.",
    build=lambda asked: lifted(asked, _of(asked, "ground", "linear")),
    params=_RUN,
    numbers_of="scour",
    at_other_sizes="home",
    ramp="height",
    moves="place",
)
