"""Whole-ground runs: made once on the home grid (long side at most 4097), kept, and sampled."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.evaluate.nodes import Node
from zigzag_meadow.core.evaluate.op_local import sampled
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.masks.breakup import trickled
from zigzag_meadow.core.readings.channels import channel_shape, height_above, water_samples
from zigzag_meadow.core.readings.depressions import fill_depressions
from zigzag_meadow.core.readings.distance import FAR, distance_to
from zigzag_meadow.core.readings.erosion import erode
from zigzag_meadow.core.readings.flow import EAST_NORTH, accumulate, directions
from zigzag_meadow.core.readings.slumping import slump
from zigzag_meadow.core.readings.spreading import spreading
from zigzag_meadow.core.readings.sun import sunlit
from zigzag_meadow.core.stripes import Cancel

if TYPE_CHECKING:
    from zigzag_meadow.core.evaluate.engine import Evaluation

__all__ = ["RUNS", "RUN_OPERATIONS"]

Array = NDArray[Any]
F32 = NDArray[np.float32]
Tell = Callable[[float], None]
Run = Callable[["Evaluation", Node, Grid, Tell, Cancel], dict[str, Array]]


def _drain(ev: Evaluation, node: Node, grid: Grid, tell: Tell, cancel: Cancel) -> dict[str, Array]:
    heights = ev.heights(node.inputs[0], grid)
    filled = fill_depressions(heights)
    tell(0.5)
    code = directions(filled, grid, ev.engine.stripes)
    tell(0.8)
    area = (accumulate(code) * (grid.dy * grid.dx)).astype(np.float32)
    return {"area": area, "standing": filled - heights, "code": code}


def _spread(ev: Evaluation, node: Node, grid: Grid, tell: Tell, cancel: Cancel) -> dict[str, Array]:
    drain = node.inputs[0]
    heights = ev.heights(drain.inputs[0], grid)
    standing, code = (ev.plane(drain, name)[0] for name in ("standing", "code"))
    return {"area": spreading(heights + standing, code, grid)}


def _water(ev: Evaluation, node: Node, grid: Grid, tell: Tell, cancel: Cancel) -> dict[str, Array]:
    drain, solid = node.inputs
    heights = ev.heights(solid, grid)
    area, standing, code = (ev.plane(drain, name)[0] for name in ("area", "standing", "code"))
    wet = water_samples(area, heights, heights + standing, node.params["threshold"], node.params["level"])
    tell(0.3)
    over = height_above(heights, code, wet)
    tell(0.6)
    distance = distance_to(wet, grid, ev.engine.stripes, cancel)
    # Without any water, nothing is nearer than the ground is wide.
    longest = np.float32(np.hypot(grid.width, grid.length))
    return {"over": over, "distance": np.where(distance >= FAR, longest, distance)}


def _channels(ev: Evaluation, node: Node, grid: Grid, tell: Tell, cancel: Cancel) -> dict[str, Array]:
    area, _ = ev.plane(node.inputs[0], "area")
    p = node.params
    depth, width = channel_shape(area, grid, p["threshold"], p["width"], p["depth"], ev.engine.stripes, cancel)
    return {"depth": depth, "width": width}


def _lit(ev: Evaluation, node: Node, grid: Grid, tell: Tell, cancel: Cancel) -> dict[str, Array]:
    heights = ev.heights(node.inputs[0], grid)
    return {"lit": sunlit(heights, grid, node.params["azimuth"], node.params["altitude"])}


def _erosion(ev: Evaluation, node: Node, grid: Grid, tell: Tell, cancel: Cancel) -> dict[str, Array]:
    heights = ev.heights(node.inputs[0], grid)
    hardness = ev.window(node.inputs[1], grid, grid.whole) if len(node.inputs) > 1 else None
    run = erode(heights, grid, **node.params, hardness=hardness, tell=tell, cancel=cancel)
    # Rain that never passed a sample still fell on it: a log scale starts above 0.
    water = np.maximum(run.water, np.float32(grid.dy * grid.dx * 0.1))
    return {
        "ground": run.ground, "scour": run.scour, "deposition": run.deposition, "load": run.load, "water": water,
        "balance": np.array([[run.error, run.left]], np.float32),
    }  # fmt: skip


def _slump(ev: Evaluation, node: Node, grid: Grid, tell: Tell, cancel: Cancel) -> dict[str, Array]:
    heights = ev.heights(node.inputs[0], grid)
    after = slump(heights, grid, node.params["angle"], stripes=ev.engine.stripes, tell=tell, cancel=cancel)
    return {"talus": np.maximum(after - heights, 0)}


def _trickle(ev: Evaluation, node: Node, grid: Grid, tell: Tell, cancel: Cancel) -> dict[str, Array]:
    mask = ev.window(node.inputs[0], grid, grid.whole)
    code, _ = ev.plane(node.inputs[1], "code")
    return {"carried": trickled(mask, code, grid.dy, grid.dx, node.params["by"])}


RUNS: dict[str, tuple[tuple[str, ...], str, Run]] = {
    "drain": (("area", "standing", "code"), "Following the water", _drain),
    "spread": (("area",), "Spreading the water", _spread),
    "water": (("over", "distance"), "Measuring to the water", _water),
    "channels": (("depth", "width"), "Shaping channels", _channels),
    "lit": (("lit",), "Casting shadows", _lit),
    "erosion": (("ground", "scour", "deposition", "load", "water", "balance"), "Erosion run", _erosion),
    "trickle": (("carried",), "Trickling along the flow", _trickle),
    "slump": (("talus",), "Slumping steep ground", _slump),
}
"""Per run: the maps it makes, what to say while it runs, and how."""


def _plane(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    whole, src = ev.plane(node.inputs[0], node.params["plane"])
    return sampled(whole, src, grid, window, node.params["how"])


_VECTORS = np.array([*EAST_NORTH, (0, 0)], np.float32)
_UNIT = _VECTORS / np.maximum(np.hypot(_VECTORS[:, :1], _VECTORS[:, 1:]), 1)


def _direction(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    code, src = ev.plane(node.inputs[0], "code")
    nearest = sampled(code, src, grid, window, "nearest").astype(np.int64)
    values: Array = _UNIT[np.where(nearest < 0, 8, nearest), 0 if node.params["part"] == "east" else 1]
    return values


RUN_OPERATIONS: dict[str, Callable[[Evaluation, Node, Grid, Window], Array]] = {
    "plane": _plane,
    "direction": _direction,
}
