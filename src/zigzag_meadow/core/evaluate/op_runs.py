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
from zigzag_meadow.core.readings.distance import FAR, distance_to, nearest
from zigzag_meadow.core.readings.erosion import erode
from zigzag_meadow.core.readings.flow import EAST_NORTH, accumulate, directions
from zigzag_meadow.core.readings.slumping import slump
from zigzag_meadow.core.readings.spreading import spreading
from zigzag_meadow.core.readings.sun import sunlit
from zigzag_meadow.core.stripes import Cancel

if TYPE_CHECKING:
    from zigzag_meadow.core.evaluate.engine import Evaluation

__all__ = ["RUNS", "RUN_BYTES", "RUN_OPERATIONS"]

Array = NDArray[Any]
F32 = NDArray[np.float32]
Mask = NDArray[np.bool_]
Tell = Callable[[float], None]
Work = Callable[[], dict[str, Array]]
Run = Callable[["Evaluation", Node, Grid, Tell, Cancel], Work]


def _drain(ev: Evaluation, node: Node, grid: Grid, tell: Tell, cancel: Cancel) -> Work:
    heights, gaps = ev.heights(node.inputs[0], grid), ev.gaps(node.inputs[0], grid)

    def work() -> dict[str, Array]:
        filled = fill_depressions(heights, gaps)
        tell(0.5)
        code = directions(filled, grid, ev.engine.stripes, gaps)
        tell(0.8)
        area = (accumulate(code) * (grid.dy * grid.dx)).astype(np.float32)
        return _kept_out(gaps, grid, {"area": area, "standing": filled - heights}) | {"code": code}

    return work


def _spread(ev: Evaluation, node: Node, grid: Grid, tell: Tell, cancel: Cancel) -> Work:
    drain = node.inputs[0]
    heights, gaps = ev.heights(drain.inputs[0], grid), ev.gaps(drain.inputs[0], grid)
    standing, code = (ev.plane(drain, name)[0] for name in ("standing", "code"))
    return lambda: _kept_out(gaps, grid, {"area": spreading(heights + standing, code, grid)})


def _water(ev: Evaluation, node: Node, grid: Grid, tell: Tell, cancel: Cancel) -> Work:
    drain, solid = node.inputs
    heights, gaps = ev.heights(solid, grid), ev.gaps(solid, grid)
    area, standing, code = (ev.plane(drain, name)[0] for name in ("area", "standing", "code"))

    def work() -> dict[str, Array]:
        wet = water_samples(area, heights, heights + standing, node.params["threshold"], node.params["level"])
        if gaps is not None:
            wet &= ~gaps
        tell(0.3)
        over = height_above(heights, code, wet)
        tell(0.6)
        distance = distance_to(wet, grid, ev.engine.stripes, cancel)
        # Without any water, nothing is nearer than the ground is wide.
        longest = np.float32(np.hypot(grid.width, grid.length))
        return _kept_out(gaps, grid, {"over": over, "distance": np.where(distance >= FAR, longest, distance)})

    return work


def _channels(ev: Evaluation, node: Node, grid: Grid, tell: Tell, cancel: Cancel) -> Work:
    drain = node.inputs[0]
    area, _ = ev.plane(drain, "area")
    gaps = ev.gaps(drain.inputs[0], grid)
    p = node.params

    def work() -> dict[str, Array]:
        # What lies in a gap was carried there for sampling only: no channel runs in it.
        runs = area if gaps is None else np.where(gaps, np.float32(0), area)
        depth, width = channel_shape(runs, grid, p["threshold"], p["width"], p["depth"], ev.engine.stripes, cancel)
        return {"depth": depth, "width": width}

    return work


def _lit(ev: Evaluation, node: Node, grid: Grid, tell: Tell, cancel: Cancel) -> Work:
    heights, gaps = ev.heights(node.inputs[0], grid), ev.gaps(node.inputs[0], grid)

    def work() -> dict[str, Array]:
        # A gap casts no shadow.
        stands = heights if gaps is None else np.where(gaps, heights.min() - np.float32(1), heights)
        lit = sunlit(stands, grid, node.params["azimuth"], node.params["altitude"])
        return _kept_out(gaps, grid, {"lit": lit})

    return work


def _erosion(ev: Evaluation, node: Node, grid: Grid, tell: Tell, cancel: Cancel) -> Work:
    heights, gaps = ev.heights(node.inputs[0], grid), ev.gaps(node.inputs[0], grid)
    hardness = ev.window(node.inputs[1], grid, grid.whole) if len(node.inputs) > 1 else None

    def work() -> dict[str, Array]:
        run = erode(heights, grid, **node.params, hardness=hardness, gaps=gaps, tell=tell, cancel=cancel)
        # Rain that never passed a sample still fell on it: a log scale starts above 0.
        water = np.maximum(run.water, np.float32(grid.dy * grid.dx * 0.1), out=run.water)
        made = {"ground": run.ground, "scour": run.scour, "deposition": run.deposition, "load": run.load}
        balance = np.array([[run.error, run.left]], np.float32)
        return _kept_out(gaps, grid, {**made, "water": water}) | {"balance": balance}

    return work


def _slump(ev: Evaluation, node: Node, grid: Grid, tell: Tell, cancel: Cancel) -> Work:
    heights, gaps = ev.heights(node.inputs[0], grid), ev.gaps(node.inputs[0], grid)

    def work() -> dict[str, Array]:
        angle, pool = node.params["angle"], ev.engine.stripes
        after = slump(heights, grid, angle, gaps=gaps, stripes=pool, tell=tell, cancel=cancel)
        return _kept_out(gaps, grid, {"talus": np.maximum(after - heights, 0)})

    return work


def _trickle(ev: Evaluation, node: Node, grid: Grid, tell: Tell, cancel: Cancel) -> Work:
    mask = ev.window(node.inputs[0], grid, grid.whole)
    code, _ = ev.plane(node.inputs[1], "code")
    return lambda: {"carried": trickled(mask, code, grid.dy, grid.dx, node.params["by"])}


def _kept_out(gaps: Mask | None, grid: Grid, planes: dict[str, Array]) -> dict[str, Array]:
    """Maps with, in gaps, what the nearest sample beside them holds: sampled in between, gaps leak nothing."""
    if gaps is None or not gaps.any():
        return planes
    _, at = nearest(~gaps, grid)
    source = at[gaps]
    made = {}
    for name, plane in planes.items():
        filled = np.ascontiguousarray(plane, np.float32)
        filled[gaps] = filled.ravel()[source]
        made[name] = filled
    return made


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
"""Per run: the maps it makes, what to say while it runs, and how: inputs are gathered first, then the work is done."""

RUN_BYTES = {
    "drain": 56, "spread": 40, "water": 48, "channels": 48, "lit": 16, "erosion": 76, "trickle": 20, "slump": 48,
}  # fmt: skip
"""Bytes a sample that the work of a run needs beyond its inputs, its results included."""


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
