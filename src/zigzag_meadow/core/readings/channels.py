"""Channels: where enough ground drains together, how wide and deep they are, and how high ground stands above."""

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
    AllOf,
    Array,
    Here,
    Need,
    Numbers,
    WholeGround,
    run_cost,
)
from zigzag_meadow.core.readings.asked import Asked
from zigzag_meadow.core.readings.declare import Param, Reading
from zigzag_meadow.core.readings.flow import DRAIN
from zigzag_meadow.core.readings.numbers import THRESHOLD
from zigzag_meadow.core.readings.planes import kept_out, plane
from zigzag_meadow.core.stripes import Cancel, Stripes
from zigzag_meadow.core.terrain.distance import FAR, distance_to, nearest
from zigzag_meadow.core.terrain.flow import STEP_COLS, STEP_ROWS

__all__ = [
    "CHANNEL_DEPTH",
    "CHANNEL_WIDTH",
    "DISTANCE_TO_WATER",
    "HEIGHT_OVER_WATER",
    "channel_shape",
    "grown",
    "height_above",
    "water_samples",
]

F32 = NDArray[np.float32]
I8 = NDArray[np.int8]
I64 = NDArray[np.int64]
Mask = NDArray[np.bool_]
# How width and depth of channels grow with what feeds them: Leopold & Maddock 1953.
_WIDTH_EXPONENT, _DEPTH_EXPONENT = 0.5, 0.4


def water_samples(area: F32, heights: F32, filled: F32, threshold: float, level: float | None) -> Mask:
    """Samples where water runs or stands: ``area`` (m²) over the threshold, hollows filled deeper than 0.1 m, and
    ground at or below the water ``level`` in metres, if there is one. bool of the same shape."""
    wet: Mask = (area >= threshold) | (filled - heights > 0.1)
    return wet if level is None else wet | (heights <= level)


@njit(nogil=True, cache=True)
def _height_above(z: F32, code: I8, wet: Mask, out: F32) -> None:
    rows, cols = z.shape
    base = np.full((rows, cols), np.nan, np.float32)
    path = np.empty(rows * cols, np.int64)
    for r0 in range(rows):
        for c0 in range(cols):
            r, c, length = r0, c0, 0
            while np.isnan(base[r, c]) and not wet[r, c] and code[r, c] >= 0:
                path[length] = r * cols + c
                length += 1
                k = code[r, c]
                r, c = r + STEP_ROWS[k], c + STEP_COLS[k]
            if np.isnan(base[r, c]):
                base[r, c] = z[r, c]
            for i in range(length):
                base[path[i] // cols, path[i] % cols] = base[r, c]
    for r in range(rows):
        for c in range(cols):
            out[r, c] = max(z[r, c] - base[r, c], np.float32(0))


def height_above(heights: F32, code: I8, wet: Mask) -> F32:
    """Metres above the water that each sample drains to; where none is met, above the border sample it leaves by.

    ``heights``: float32 metres; ``code``: D8 directions; ``wet``: where water is. float32, 0 or more. Reference:
    Nobre et al. 2011, doi:10.1016/j.jhydrol.2011.03.051.
    """
    out = np.empty(heights.shape, np.float32)
    _height_above(readable(heights), readable(code), readable(wet), out)
    return out


def grown(area: F32, width: float, depth: float) -> tuple[F32, F32]:
    """(width, depth) in metres of channels through which ``area`` m² drain (float32, any shape): ``width`` and
    ``depth`` at a square kilometre. References: Leopold & Maddock 1953, USGS Professional Paper 252."""
    feeds = np.maximum(area, np.float32(1)) / np.float32(1e6)
    wide = np.float32(width) * feeds ** np.float32(_WIDTH_EXPONENT)
    deep = np.float32(depth) * feeds ** np.float32(_DEPTH_EXPONENT)
    return wide.astype(np.float32, copy=False), deep.astype(np.float32, copy=False)


def channel_shape(
    area: F32,
    grid: Grid,
    threshold: float,
    width: float,
    depth: float,
    stripes: Stripes | None = None,
    cancel: Cancel | None = None,
) -> tuple[F32, F32]:
    """(depth, width) of channels in metres, float32; both 0 away from them.

    A channel runs where ``area`` (m²) is at least ``threshold``. It is ``width`` and ``depth`` metres where a
    square kilometre drains through it, and grows as the root of what drains through, its depth a little slower.
    Its bed is a parabola across.
    """
    metres, at = nearest(area >= threshold, grid, stripes, cancel)
    bed, wide_at = np.empty(area.shape, np.float32), np.empty(area.shape, np.float32)
    least = np.float32(math.sqrt(grid.dy * grid.dx) / 2)

    def some(first: int, end: int) -> None:
        near = at[first:end]
        wide, deep = grown(area.ravel()[np.maximum(near, 0)], width, depth)
        # No channel is narrower than the samples that carry it.
        across = metres[first:end] / np.maximum(wide / 2, least)
        inside = (near >= 0) & (across < 1)
        bed[first:end] = np.where(inside, deep * (1 - across * across), np.float32(0))
        wide_at[first:end] = np.where(inside, wide, np.float32(0))

    # Some rows at a time: what lies between takes no room.
    rows, cols = area.shape
    (stripes or Stripes(1)).run(rows, cols, some, cancel)
    return bed, wide_at


def _channel_needs(node: Node, grid: Grid) -> Sequence[Need]:
    drain = node.inputs[0]
    return [AllOf(drain, "area"), gaps_on(drain.inputs[0], grid)]


def _channels(here: Here, numbers: Numbers, area: F32, gaps: Mask | None) -> dict[str, Array]:
    # What lies in a gap was carried there for sampling only: no channel runs in it.
    runs = area if gaps is None else np.where(gaps, np.float32(0), area)
    shape = {name: numbers[name] for name in ("threshold", "width", "depth")}
    deep, wide = channel_shape(runs, here.grid, **shape, stripes=here.stripes, cancel=here.cancel)
    return {"depth": deep, "width": wide}


CHANNELS = WholeGround(
    name="channels",
    version=2,
    planes=("depth", "width"),
    needs=_channel_needs,
    make=_channels,
    cost=run_cost("Shaping channels", 28),
)


def _water_needs(node: Node, grid: Grid) -> Sequence[Need]:
    drain, solid = node.inputs
    planes = [AllOf(drain, name) for name in ("area", "standing", "code")]
    return [heights_on(solid, grid), gaps_on(solid, grid), *planes]


def _to_water(
    here: Here, numbers: Numbers, heights: F32, gaps: Mask | None, area: F32, standing: F32, code: I8
) -> dict[str, Array]:
    grid = here.grid
    wet = water_samples(area, heights, heights + standing, numbers["threshold"], numbers["level"])
    if gaps is not None:
        wet &= ~gaps
    here.tell(0.3)
    over = height_above(heights, code, wet)
    here.tell(0.6)
    distance = distance_to(wet, grid, here.stripes, here.cancel)
    # Without any water, nothing is nearer than the ground is wide.
    longest = np.float32(np.hypot(grid.width, grid.length))
    return kept_out(gaps, grid, {"over": over, "distance": np.where(distance >= FAR, longest, distance)})


WATER = WholeGround(
    name="water",
    version=2,
    planes=("over", "distance"),
    needs=_water_needs,
    make=_to_water,
    cost=run_cost("Measuring to the water", 32),
)


def _channel(asked: Asked, name: str) -> Node:
    drain = Node(DRAIN, {}, (asked.solid,))
    return plane(Node(CHANNELS, asked.some("threshold", "width", "depth"), (drain,)), name, "linear")


def _water(asked: Asked, name: str) -> Node:
    level = None if asked.water is None else asked.water - asked.base
    numbers = {"threshold": asked.number("threshold"), "level": level}
    return plane(Node(WATER, numbers, (Node(DRAIN, {}, (asked.solid,)), asked.solid)), name, "linear")


_SHAPE = (
    THRESHOLD,
    Param(name="width", title="Width", unit="m", default=6.0, low=0.1, high=200, step=0.5, decimals=1),
    Param(name="depth", title="Depth", unit="m", default=1.2, low=0.01, high=50, step=0.1, decimals=2),
)
CHANNEL_DEPTH = Reading(
    name="channel_depth",
    title="Channel depth",
    family="water",
    unit="m",
    low=0.0,
    whole_ground=True,
    sentence="The depth of channels that begin where enough ground drains together; width and depth are those of a "
    "channel that drains one square kilometre.",
    good_for="Stream beds with soft banks, darker where they are deeper.",
    build=lambda asked: _channel(asked, "depth"),
    params=_SHAPE,
    at_other_sizes="home",
    ramp="depth",
    pointing=0.04,
)
CHANNEL_WIDTH = Reading(
    name="channel_width",
    title="Channel width",
    family="water",
    unit="m",
    decimals=1,
    low=0.0,
    whole_ground=True,
    sentence="How wide the channel is that a place lies in.",
    good_for="Telling rivers from runnels.",
    build=lambda asked: _channel(asked, "width"),
    params=_SHAPE,
    numbers_of="channel_depth",
    at_other_sizes="home",
    ramp="depth",
)
HEIGHT_OVER_WATER = Reading(
    name="height_over_water",
    title="Height over water",
    family="water",
    unit="m",
    decimals=1,
    low=0.0,
    whole_ground=True,
    sentence="Metres above the channel, pool or water level that a place drains to.",
    good_for="Flood margins, damp meadows, reeds.",
    build=lambda asked: _water(asked, "over"),
    params=(THRESHOLD,),
    at_other_sizes="home",
    ramp="height",
    pointing=0.02,
    moves="rise",
)
DISTANCE_TO_WATER = Reading(
    name="distance_to_water",
    title="Distance to water",
    family="water",
    unit="m",
    decimals=0,
    low=0.0,
    whole_ground=True,
    sentence="Metres to the nearest channel, pool or water below the water level.",
    good_for="Bank plants, wet sand, paths that keep away from water.",
    build=lambda asked: _water(asked, "distance"),
    params=(THRESHOLD,),
    at_other_sizes="home",
    ramp="distance",
    pointing=0.03,
    more="farther",
    less="nearer",
)
