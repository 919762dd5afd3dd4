"""Height, in metres and within the ground's own range."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.nodes.ground_nodes import ends_of, height_of
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import (
    Array,
    Here,
    Local,
    Need,
    Numbers,
    OnWindow,
    by_sample,
)
from zigzag_meadow.core.readings.asked import Asked, on_ground
from zigzag_meadow.core.readings.declare import Reading

__all__ = ["ALTITUDE_IN_RANGE", "HEIGHT", "lifted"]


def _lifted(here: Here, numbers: Numbers, heights: Array) -> Array:
    metres: Array = (heights.astype(np.float64) + numbers["by"]).astype(np.float32)
    return metres


LIFTED = by_sample("lifted", _lifted, quick=False)


def lifted(asked: Asked, heights: Node) -> Node:
    """Heights are held above a base: high ground would lose digits. Here they become metres above zero again."""
    return heights if asked.base == 0 else Node(LIFTED, {"by": asked.base}, (heights,))


def _needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    return [OnWindow(height_of(node.inputs[0]), grid, window), ends_of(node.inputs[0])]


def _in_range(here: Here, numbers: Numbers, heights: Array, ends: Array) -> Array:
    low, high = ends
    share: Array = np.clip((heights - np.float32(low)) / np.float32(max(high - low, 1e-6)), 0, 1)
    return share


IN_RANGE = Local(name="altitude", needs=_needs, make=_in_range)

HEIGHT = Reading(
    name="height",
    title="Height",
    family="relief",
    unit="m",
    decimals=1,
    sentence="Metres above the same zero as the water level.",
    good_for="Snow lines, shore margins, anything that starts or stops at a height.",
    build=lambda asked: lifted(asked, height_of(asked.solid)),
    ramp="height",
    ramp_all=True,
    above=True,
    more="higher",
    less="lower",
    probed=True,
    pointing=0.0,
    moves="place",
)
ALTITUDE_IN_RANGE = Reading(
    name="altitude",
    title="Altitude in range",
    family="relief",
    low=0.0,
    high=1.0,
    sentence="Height from 0 at the lowest place of this ground to 1 at the highest.",
    good_for="Recipes that should fit any ground, whatever its heights.",
    build=on_ground(IN_RANGE),
    ramp="height",
    above=True,
    more="higher",
    less="lower",
)
