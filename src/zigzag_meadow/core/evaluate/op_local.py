"""Local operations: each can be made for any window, with a margin of its inputs."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.evaluate.nodes import Node
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.ground.findings import find
from zigzag_meadow.core.readings.curvature import curvature_padded
from zigzag_meadow.core.readings.differences import Offsets, extended, offsets
from zigzag_meadow.core.readings.disc import DIRECT_SAMPLES, WIDE_SAMPLES, disc_margin, mean_padded, relative_padded
from zigzag_meadow.core.readings.horizon import horizon_margin, horizon_padded
from zigzag_meadow.core.readings.noise import noise
from zigzag_meadow.core.readings.picture import picture, read_channel
from zigzag_meadow.core.readings.ruggedness import ruggedness_padded
from zigzag_meadow.core.readings.shade import shade_padded
from zigzag_meadow.core.readings.slope import aspect_padded, slope_padded
from zigzag_meadow.core.readings.spreading import wetness
from zigzag_meadow.core.readings.strata import strata
from zigzag_meadow.core.resample import How, Resampling, resample

if TYPE_CHECKING:
    from zigzag_meadow.core.evaluate.engine import Evaluation

__all__ = ["LOCAL_OPERATIONS", "sampled"]

Array = NDArray[Any]
F32 = NDArray[np.float32]
Mask = NDArray[np.bool_]
Operation = Callable[["Evaluation", Node, Grid, Window], Array]


def sampled(whole: Array, src: Grid, grid: Grid, window: Window, how: How) -> F32:
    """A window of a map that is held whole on another grid."""
    plan = Resampling(src, grid, window, how)
    need = plan.needs
    return plan.apply(whole[need.row0 : need.row1, need.col0 : need.col1]).copy()


def _cut(values: Array, part: Window, window: Window) -> Array:
    return values[window.row0 - part.row0 : window.row1 - part.row0, window.col0 - part.col0 : window.col1 - part.col0]


def _heights(ev: Evaluation, node: Node, grid: Grid, window: Window) -> F32:
    """Solid heights of the node's ground on a window inside ``grid``."""
    return ev.window(Node("height", {}, (node.inputs[-1],)), grid, window)


def _height(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    return sampled(ev.ground(node.inputs[0]), node.grid, grid, window, "height")


def _padded(ev: Evaluation, node: Node, grid: Grid, window: Window, margin: tuple[int, int]) -> F32:
    """Heights of a window with a margin, extrapolated beyond the border."""
    wanted = window.grown(*margin)
    # Mirroring needs as many samples inside as it adds outside.
    inside = window.grown(2 * margin[0], 2 * margin[1]).clipped(grid.rows, grid.cols)
    heights = _heights(ev, node, grid, inside)
    full = Window(
        min(inside.row0, wanted.row0), max(inside.row1, wanted.row1),
        min(inside.col0, wanted.col0), max(inside.col1, wanted.col1),
    )  # fmt: skip
    return np.ascontiguousarray(_cut(extended(heights, inside, full), full, wanted))


def _open(ev: Evaluation, node: Node, grid: Grid, window: Window, margin: tuple[int, int]) -> F32:
    """Heights of a window with a margin; −∞ beyond the border and in gaps, where nothing stands."""
    wanted = window.grown(*margin)
    inside = wanted.clipped(grid.rows, grid.cols)
    out = np.full(wanted.shape, -np.inf, np.float32)
    gaps = _gaps(ev, node, grid, inside)
    heights = _heights(ev, node, grid, inside)
    _cut(out, wanted, inside)[:] = heights if gaps is None else np.where(gaps, np.float32(-np.inf), heights)
    return out


def _gaps(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Mask | None:
    """Where a window has no height; None where the ground has no gaps."""
    gaps = ev.gaps(node.inputs[-1], node.grid)
    if gaps is None:
        return None
    return sampled(gaps.astype(np.float32), node.grid, grid, window, "nearest") > 0.5


def _from_home(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    """What a grid is too coarse to measure itself: measured on the home grid, and the mean of it taken."""
    plan = Resampling(node.grid, grid, window, "linear")
    return plan.apply(ev.window(node, node.grid, plan.needs))


_Kernel = Callable[["Evaluation", Node, F32, Offsets], F32]


def _derivative(kernel: _Kernel, wide: bool = False) -> Operation:
    """A reading that differences at ±width. ``wide``: its neighbours between samples are taken by a cubic."""

    def operation(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
        wy, wx = node.params["width"]
        if (grid.dy > wy * (1 + 1e-6) or grid.dx > wx * (1 + 1e-6)) and grid != node.grid:
            return _mean_aspect(ev, node, grid, window) if node.op == "aspect" else _from_home(ev, node, grid, window)
        off = offsets(grid, (wy, wx))
        margin = off.wide_margin if wide else off.margin
        return kernel(ev, node, _padded(ev, node, grid, window, margin), off)

    return operation


def _mean_aspect(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    """The mean direction of what each sample stands for: directions wrap, their mean must too."""
    plan = Resampling(node.grid, grid, window, "linear")
    angle = np.radians(ev.window(node, node.grid, plan.needs))
    level = np.isnan(angle)
    east, north = (plan.apply(np.where(level, 0, part(angle)).astype(np.float32)) for part in (np.sin, np.cos))
    mean = np.degrees(np.arctan2(east, north)) % 360
    return np.where(np.hypot(east, north) > 1e-6, mean, np.nan).astype(np.float32)


def _shade(ev: Evaluation, node: Node, padded: F32, off: Offsets) -> F32:
    # Fractions of the width are left out: shade is for the eye.
    cut_y, cut_x = (m - k for m, k in zip(off.margin, (off.ky, off.kx), strict=True))
    inner = padded[cut_y : padded.shape[0] - cut_y, cut_x : padded.shape[1] - cut_x]
    return shade_padded(
        inner, off, ev.engine.stripes, azimuth=node.params["azimuth"], altitude=node.params["altitude"],
        cancel=ev.cancel,
    )  # fmt: skip


def _stretch(ev: Evaluation, node: Node, padded: F32, off: Offsets) -> F32:
    degrees = slope_padded(padded, off, ev.engine.stripes, ev.cancel)
    upright = np.maximum(np.cos(np.radians(degrees)), np.float32(0.01))
    return (1 / upright).astype(np.float32, copy=False)


def _altitude(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    whole = ev.ground(node.inputs[0])
    low, high = ev.held(
        node.inputs[0], node.grid, "ends", lambda: np.array([np.nanmin(whole), np.nanmax(whole)], np.float64)
    )
    z = _heights(ev, node, grid, window)
    part: Array = np.clip((z - np.float32(low)) / np.float32(max(high - low, 1e-6)), 0, 1)
    return part


def _horizon(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    radius = node.params["radius"]
    if max(grid.dy, grid.dx) > max(node.grid.dy, node.grid.dx) * (1 + 1e-6):
        # The nearest samples make the horizon: a coarser ground has lower ones.
        return _from_home(ev, node, grid, window)
    radius = max(radius, grid.dy, grid.dx)
    padded = _open(ev, node, grid, window, horizon_margin(grid, radius))
    return horizon_padded(padded, grid, radius, node.params["kind"], ev.engine.stripes, cancel=ev.cancel)


def _there(ev: Evaluation, node: Node, grid: Grid, wanted: Window) -> F32 | None:
    """1 where a window has ground, 0 in gaps and beyond the border; None where there is ground everywhere."""
    inside = wanted.clipped(grid.rows, grid.cols)
    gaps = _gaps(ev, node, grid, inside)
    if inside == wanted and (gaps is None or not gaps.any()):
        return None
    out = np.zeros(wanted.shape, np.float32)
    _cut(out, wanted, inside)[:] = 1 if gaps is None else ~gaps
    return out


def _relative(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    radius = node.params["radius"]
    spacing = max(grid.dy, grid.dx)
    if radius > DIRECT_SAMPLES * min(grid.dy, grid.dx):
        # The mean within a wide radius changes slowly: a coarser grid holds it, the same whatever grid is asked for.
        home = node.grid
        rows, cols = (max(round(span * WIDE_SAMPLES / radius), 8) + 1 for span in (home.length, home.width))
        coarse = home.resized(rows, cols)
        if coarse.dy > grid.dy and coarse.dx > grid.dx:
            plan = Resampling(coarse, grid, window, "height")
            around = ev.held(node, coarse, "around", lambda: _around(ev, node, coarse, radius))
            need = plan.needs
            return _heights(ev, node, grid, window) - plan.apply(around[need.row0 : need.row1, need.col0 : need.col1])
    if radius < spacing * (1 - 1e-6) and grid != node.grid:
        return _from_home(ev, node, grid, window)
    radius = max(radius, spacing)
    wanted = window.grown(*disc_margin(grid, radius))
    inside = wanted.clipped(grid.rows, grid.cols)
    padded = np.zeros(wanted.shape, np.float32)
    _cut(padded, wanted, inside)[:] = _heights(ev, node, grid, inside)
    return relative_padded(padded, grid, radius, ev.engine.stripes, ev.cancel, _there(ev, node, grid, wanted))


def _around(ev: Evaluation, node: Node, coarse: Grid, radius: float) -> F32:
    """The mean height within a radius on a whole coarse grid: each of its samples weighs as much ground as it stands
    for, on the border half and in gaps none."""
    home = node.grid
    weight = np.ones(coarse.shape, np.float32)
    gaps = ev.gaps(node.inputs[-1], home)
    heights = ev.heights(node.inputs[-1], coarse)
    if gaps is not None:
        valid = (~gaps).astype(np.float32)
        weight = np.clip(resample(valid, home, coarse, "linear"), 0, 1)
        lifted = resample(ev.ground(node.inputs[-1]) * valid, home, coarse, "linear")
        heights = np.where(weight > 1e-3, lifted / np.maximum(weight, np.float32(1e-3)), heights)
    for axis, each in ((0, home.dy / coarse.dy), (1, home.dx / coarse.dx)):
        rim = np.moveaxis(weight, axis, 0)
        rim[[0, -1]] *= np.float32(0.5 + 0.5 * each)
    margin = disc_margin(coarse, radius)
    pads = [(m, m) for m in margin]
    padded, weighed = np.pad(heights, pads), np.pad(weight, pads)
    return mean_padded(padded, weighed, coarse, radius, ev.engine.stripes, ev.cancel)


def _mix(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    weights = node.params["weights"]
    total = sum(weights) or 1.0
    out = np.zeros(window.shape, np.float32)
    for weight, part in zip(weights, node.inputs, strict=True):
        out += ev.window(part, grid, window) * np.float32(weight / total)
    return out


def _sun(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    shade, lit = (ev.window(n, grid, window) for n in node.inputs)
    light: Array = (shade - 1) / np.float32(254) * np.clip(lit, 0, 1)
    return light


def _wetness(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    area, degrees = (ev.window(n, grid, window) for n in node.inputs)
    return wetness(area, degrees, float(np.sqrt(node.grid.dy * node.grid.dx)))


def _noise(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    p = node.params
    along = None
    if len(node.inputs) > 1:
        angle = np.radians(np.nan_to_num(ev.window(node.inputs[0], grid, window)))
        along = np.stack([np.sin(angle), -np.cos(angle)])
    return noise(
        grid, window, kind=p["kind"], size=p["size"], octaves=p["octaves"], seed=p["seed"], stretch=p["stretch"],
        direction=p["direction"], along=along, stripes=ev.engine.stripes, cancel=ev.cancel,
    )  # fmt: skip


def _strata(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    numbers = {name: value for name, value in node.params.items() if name != "base"}
    heights = _heights(ev, node, grid, window) + np.float32(node.params["base"])
    return strata(heights, grid, window, **numbers, stripes=ev.engine.stripes, cancel=ev.cancel)


def _picture(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    file = node.inputs[1]
    asset, channel = file.params["asset"], file.params["channel"]
    if not asset:
        return np.zeros(window.shape, np.float32)

    def read() -> Array:
        pixels: Array = ev.engine.desk(read_channel, ev.engine.asset_path(asset), channel, cancel=ev.cancel)
        return pixels

    return picture(ev.held(file, file.grid, "whole", read), node.grid, grid, window, **node.params)


def _lifted(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    heights: Array = (ev.window(node.inputs[0], grid, window).astype(np.float64) + node.params["by"]).astype(np.float32)
    return heights


def _void(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    """No height, no reading: NaN where the nearest sample of the ground is missing."""
    values, ground = node.inputs
    gaps = ev.held(ground, ground.grid, "gaps", lambda: np.isnan(ev.ground(ground)).astype(np.float32))
    missing = sampled(gaps, ground.grid, grid, window, "nearest") > 0.5
    return np.where(missing, np.float32(np.nan), ev.window(values, grid, window))


def _finding(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    ground = node.inputs[0]

    def make() -> Array:
        found = find(node.params["code"], ev.ground(ground), ground.grid, ev.engine.stripes)
        if found is None or found.where is None:
            return np.zeros(ground.grid.shape, np.float32)
        return found.where.astype(np.float32)

    return sampled(ev.held(node, ground.grid, "whole", make), ground.grid, grid, window, "linear")


LOCAL_OPERATIONS: dict[str, Operation] = {
    "height": _height,
    "altitude": _altitude,
    "slope": _derivative(lambda ev, node, padded, off: slope_padded(padded, off, ev.engine.stripes, ev.cancel)),
    "aspect": _derivative(lambda ev, node, padded, off: aspect_padded(padded, off, ev.engine.stripes, ev.cancel)),
    "curvature": _derivative(
        lambda ev, node, padded, off: curvature_padded(padded, off, node.params["kind"], ev.engine.stripes, ev.cancel),
        wide=True,
    ),
    "ruggedness": _derivative(
        lambda ev, node, padded, off: ruggedness_padded(padded, off, ev.engine.stripes, ev.cancel),
        wide=True,
    ),
    "stretch": _derivative(_stretch),
    "shade": _derivative(_shade),
    "relative_height": _relative,
    "horizon": _horizon,
    "mix": _mix,
    "sun": _sun,
    "wetness": _wetness,
    "noise": _noise,
    "strata": _strata,
    "picture": _picture,
    "lifted": _lifted,
    "void": _void,
    "finding": _finding,
}
