"""Relative height: how far a place stands above what lies around it, at any radius."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.nodes.ground_nodes import gaps_near, gaps_on, height_of
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
)
from zigzag_meadow.core.nodes.windows import cut, from_home, home_mean, sampled
from zigzag_meadow.core.readings.declare import Reading
from zigzag_meadow.core.readings.disc import DIRECT_SAMPLES, WIDE_SAMPLES, disc_margin, mean_padded, relative_padded
from zigzag_meadow.core.readings.numbers import radius
from zigzag_meadow.core.resample import resample

__all__ = ["RELATIVE_HEIGHT"]

F32 = NDArray[np.float32]
Mask = NDArray[np.bool_]


def _coarse(home: Grid, radius: float) -> Grid:
    """The mean within a wide radius changes slowly: a coarser grid holds it, the same whatever grid is asked for."""
    more = 1 if home.registration == "vertex" else 0
    rows, cols = (max(round(span * WIDE_SAMPLES / radius), 8) + more for span in (home.length, home.width))
    return home.resized(rows, cols)


def _wide(radius: float, grid: Grid, home: Grid) -> Grid | None:
    """The coarser grid, where the radius is wide on ``grid``."""
    if radius <= DIRECT_SAMPLES * min(grid.dy, grid.dx):
        return None
    coarse = _coarse(home, radius)
    return coarse if coarse.dy > grid.dy and coarse.dx > grid.dx else None


def _around_needs(node: Node, grid: Grid) -> Sequence[Need]:
    stage = node.inputs[0]
    gaps = gaps_on(stage, node.grid)
    return [OnWindow(height_of(stage), grid, grid.whole), gaps, None if gaps is None else AllOf(stage)]


def _around(here: Here, numbers: Numbers, heights: F32, gaps: Mask | None, fine: F32 | None) -> F32:
    """The mean height within a radius on a whole coarse grid: each of its samples weighs as much ground as it stands
    for, in gaps none, and of vertices half on the border."""
    home, coarse, radius = here.ground, here.grid, numbers["radius"]
    weight = np.ones(coarse.shape, np.float32)
    if gaps is not None and fine is not None:
        valid = (~gaps).astype(np.float32)
        weight = np.clip(resample(valid, home, coarse, "linear"), 0, 1)
        raised = resample(fine * valid, home, coarse, "linear")
        heights = np.where(weight > 1e-3, raised / np.maximum(weight, np.float32(1e-3)), heights)
    vertices = coarse.registration == "vertex"
    for axis, each in ((0, home.dy / coarse.dy), (1, home.dx / coarse.dx)) if vertices else ():
        rim = np.moveaxis(weight, axis, 0)
        rim[[0, -1]] *= np.float32(0.5 + 0.5 * each)
    pads = [(m, m) for m in disc_margin(coarse, radius)]
    return mean_padded(np.pad(heights, pads), np.pad(weight, pads), coarse, radius, here.stripes, here.cancel)


AROUND = WholeGround(
    name="mean_height", grid=lambda node: _coarse(node.grid, node.params["radius"]), needs=_around_needs, make=_around
)


def _from_home_alone(radius: float, grid: Grid, home: Grid) -> bool:
    return radius < max(grid.dy, grid.dx) * (1 - 1e-6) and grid != home


def _needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    stage, radius = node.inputs[0], node.params["radius"]
    coarse = _wide(radius, grid, node.grid)
    if coarse is not None:
        return [OnWindow(height_of(stage), grid, window), AllOf(Node(AROUND, {"radius": radius}, (stage,)))]
    if _from_home_alone(radius, grid, node.grid):
        return [from_home(node, grid, window)]
    inside = window.grown(*disc_margin(grid, max(radius, grid.dy, grid.dx))).clipped(*grid.shape)
    return [OnWindow(height_of(stage), grid, inside), gaps_near(stage, grid, inside)]


def _relative(here: Here, numbers: Numbers, heights: F32, more: Array | None = None) -> Array:
    radius, grid = numbers["radius"], here.grid
    coarse = _wide(radius, grid, here.ground)
    if coarse is not None:
        return heights - sampled(np.asarray(more), coarse, here, "height")
    if _from_home_alone(radius, grid, here.ground):
        return home_mean(here, heights)
    radius = max(radius, grid.dy, grid.dx)
    wanted = here.window.grown(*disc_margin(grid, radius))
    inside = wanted.clipped(*grid.shape)
    padded = np.zeros(wanted.shape, np.float32)
    cut(padded, wanted, inside)[:] = heights
    there = None
    if inside != wanted or (more is not None and more.any()):
        # 1 where there is ground, 0 in gaps and beyond the border.
        there = np.zeros(wanted.shape, np.float32)
        cut(there, wanted, inside)[:] = 1 if more is None else ~more
    return relative_padded(padded, grid, radius, here.stripes, here.cancel, there)


RELATIVE = Local(name="relative_height", version=2, needs=_needs, make=_relative)

RELATIVE_HEIGHT = Reading(
    name="relative_height",
    title="Relative height",
    family="relief",
    unit="m",
    decimals=1,
    sentence="Metres above the mean of what lies within a radius: valley floors below 0, ridges above.",
    good_for="Ridges, valley floors and benches at the size you choose.",
    build=lambda asked: Node(RELATIVE, {"radius": asked.radius}, (asked.solid,)),
    params=(radius(0.04),),
    signed=True,
    ramp="balance",
    pointing=0.02,
    moves="rise",
)
