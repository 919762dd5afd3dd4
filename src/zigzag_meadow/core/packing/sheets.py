"""Channels as whole numbers, and sheets put together from them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.grid import Grid, Window, reference_grid
from zigzag_meadow.core.layers.sharing import uncover
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import (
    AllOf,
    Array,
    Here,
    Local,
    Need,
    Numbers,
    OnWindow,
    WholeGround,
    by_sample,
)
from zigzag_meadow.core.readings.uses import stretched
from zigzag_meadow.core.rounding import quantise_mask

__all__ = [
    "arrow_part",
    "blend_step",
    "channel_ends",
    "rest_node",
    "rest_of_sheet",
    "sheet_node",
    "signed_about_middle",
    "spread_out",
    "turned_node",
    "unit_between",
    "whole_node",
]

Whole = NDArray[Any]
_CLIPPED = 0.01


def rest_of_sheet(others: list[Whole]) -> tuple[Whole, int]:
    """(full scale minus the other channels of a sheet, at how many samples those exceed full scale).

    ``others``: uint8 or uint16 arrays of one shape; where they exceed full scale the rest is 0. Raises
    :class:`BadNumber` when there are none.
    """
    if not others:
        raise BadNumber("The rest of a sheet needs at least one other channel in that sheet.")
    full = int(np.iinfo(others[0].dtype).max)
    total = np.zeros(others[0].shape, np.uint32)
    for other in others:
        total += other
    over = int((total > full).sum())
    return (full - np.minimum(total, full)).astype(others[0].dtype), over


def _between(here: Here, numbers: Numbers, values: Array) -> Array:
    return stretched(values, numbers["black"], numbers["white"], log=numbers["log"], nothing=0)


def _ends(here: Here, numbers: Numbers, values: Array) -> Array:
    """What all but a hundredth of the ground lies between, on the logarithm where there is one."""
    there = values[np.isfinite(values)]
    if there.size == 0:
        return np.array([0.0, 1.0])
    low, high = np.quantile(there, (_CLIPPED / 2, 1 - _CLIPPED / 2))
    return np.array([low, high if high > low else low + 1.0], np.float64)


def _ends_needs(node: Node, grid: Grid) -> Sequence[Need]:
    return [OnWindow(node.inputs[0], grid, grid.whole)]


ENDS = WholeGround(name="channel_ends", grid=lambda node: reference_grid(node.grid), needs=_ends_needs, make=_ends)


def channel_ends(reading: Node) -> Node:
    """What all but a hundredth of the ground lies between: float64 (2,), in the reading's unit."""
    return Node(ENDS, {}, (reading,))


def _spread_needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    return [OnWindow(node.inputs[0], grid, window, passing=True), AllOf(channel_ends(node.inputs[0]))]


def _spread(here: Here, numbers: Numbers, values: Array, ends: Array) -> Array:
    return stretched(values, float(ends[0]), float(ends[1]), log=numbers["log"], nothing=0)


def _signed(here: Here, numbers: Numbers, values: Array) -> Array:
    return stretched(values, -numbers["white"], numbers["white"], log=False, nothing=0.5)


def _arrow(here: Here, numbers: Numbers, values: Array) -> Array:
    angle = np.radians(values)
    part = np.sin(angle) if numbers["part"] == "east" else np.cos(angle)
    unit: Array = np.nan_to_num(part * np.float32(0.5) + np.float32(0.5), nan=0.5).astype(np.float32, copy=False)
    return unit


def _turned(here: Here, numbers: Numbers, values: Array) -> Array:
    turned: Array = np.iinfo(values.dtype).max - values
    return turned


BETWEEN = by_sample("unit_between", _between)
SPREAD = Local(name="spread_out", needs=_spread_needs, make=_spread)
SIGNED = by_sample("signed_about_middle", _signed)
ARROW = by_sample("arrow_part", _arrow)
WHOLE = by_sample("whole", lambda here, numbers, unit: quantise_mask(unit, numbers["bits"]), quick=False)
TURNED = by_sample("turned", _turned, quick=False)
REST = by_sample("rest", lambda here, numbers, *others: rest_of_sheet(list(others))[0], version=2, quick=False)
SHEET = by_sample("sheet", lambda here, numbers, *channels: np.stack(channels, axis=-1), quick=False)
STEP = by_sample("blend_step", lambda here, numbers, stack: uncover(stack)[numbers["place"]], quick=False)


def unit_between(reading: Node, black: float, white: float, log: bool) -> Node:
    """A reading as 0–1 between what black and white stand for; where there is none, 0."""
    return Node(BETWEEN, {"black": black, "white": white, "log": log}, (reading,))


def spread_out(reading: Node, log: bool) -> Node:
    """A reading as 0–1 between what all but a hundredth of the ground lies, measured on the reference grid."""
    return Node(SPREAD, {"log": log}, (reading,))


def signed_about_middle(reading: Node, white: float) -> Node:
    """A reading as 0–1 with 0 in the middle, ``white`` at 1 and its opposite at 0; where there is none, the middle."""
    return Node(SIGNED, {"white": white}, (reading,))


def arrow_part(direction: Node, part: str) -> Node:
    """Of a direction in degrees clockwise from north, how far an arrow of length 1 reaches *east* or *north*, signed
    about the middle; where there is no direction, the middle."""
    return Node(ARROW, {"part": part}, (direction,))


def blend_step(weights: Node, place: int) -> Node:
    """How far one ground is laid over those below it so that the chain comes out at these weights.

    a_i = w_i / Σ_{j≤i} w_j, and 0 where nothing is: the inverse of cover (Porter & Duff 1984, *over*).
    """
    return Node(STEP, {"place": place}, (weights,))


def whole_node(unit: Node, bits: int = 8) -> Node:
    """A map 0–1 as uint8 or uint16."""
    return Node(WHOLE, {"bits": bits}, (unit,))


def turned_node(whole: Node) -> Node:
    """Full scale minus a map of whole numbers."""
    return Node(TURNED, {}, (whole,))


def rest_node(others: Sequence[Node]) -> Node:
    """Full scale minus the other channels of a sheet."""
    return Node(REST, {}, tuple(others))


def sheet_node(channels: Sequence[Node]) -> Node:
    """Channels side by side: uint8 or uint16 (rows, columns, channels)."""
    return Node(SHEET, {}, tuple(channels))
