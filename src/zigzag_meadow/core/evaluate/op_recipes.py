"""Operations of recipes: tone, areas, breakup, drawing, touch up."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.blur import blur, mirrored, pyramid_step
from zigzag_meadow.core.evaluate.finals import final_gap
from zigzag_meadow.core.evaluate.nodes import Node
from zigzag_meadow.core.evaluate.op_local import sampled
from zigzag_meadow.core.grid import Grid, Window, reference_grid, whole_ground_grid
from zigzag_meadow.core.masks import algebra, areas, breakup, tone
from zigzag_meadow.core.masks.shapes import shape_mask
from zigzag_meadow.core.masks.strokes import Stroke, read_strokes, stroke_cover, touched
from zigzag_meadow.core.packing.sheets import stretched

if TYPE_CHECKING:
    from zigzag_meadow.core.evaluate.engine import Evaluation

__all__ = ["RECIPE_OPERATIONS", "cut_edges_of"]

Array = NDArray[Any]
F32 = NDArray[np.float32]
Operation = Callable[["Evaluation", Node, Grid, Window], Array]
_FAR_SAMPLES = 192
"""Distances reaching farther than this many samples are measured once on the whole grid instead of tile by tile."""


def _before(ev: Evaluation, node: Node, grid: Grid, window: Window) -> F32:
    return ev.part(node.inputs[0], grid, window)


def _grown(
    ev: Evaluation, node: Node, grid: Grid, window: Window, margin: tuple[int, int], step: int = 1
) -> tuple[F32, Window]:
    """What came before, on the window with a margin inside the grid, beginning at a multiple of ``step``."""
    wide = window.grown(*margin).clipped(*grid.shape)
    wide = Window(wide.row0 // step * step, wide.row1, wide.col0 // step * step, wide.col1)
    return ev.window(node, grid, wide), wide


def _part(values: Array, wide: Window, window: Window) -> Array:
    return values[window.row0 - wide.row0 : window.row1 - wide.row0, window.col0 - wide.col0 : window.col1 - wide.col0]


def _margin(grid: Grid, metres: float) -> tuple[int, int]:
    return math.ceil(metres / grid.dy) + 1, math.ceil(metres / grid.dx) + 1


def _on_reference(ev: Evaluation, node: Node) -> F32:
    """A node on the fixed grid on which statistics are measured."""
    grid = reference_grid(node.grid)
    return ev.window(node, grid, grid.whole)


# Tone ----------------------------------------------------------------------------------------------------------


def _gain(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    out = _before(ev, node, grid, window) * np.float32(node.params["gain"])
    out += np.float32(node.params["offset"])
    return np.clip(out, 0, 1, out=out)


def _ramp(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    return tone.ramp(_before(ev, node, grid, window), node.params["low"], node.params["high"])


def _bend(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    return tone.looked_up(_before(ev, node, grid, window), tone.curve_table(node.params["points"]))


def _stretch(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    source, clip = node.inputs[0], node.params["clip"]
    ends = ev.held(
        node,
        reference_grid(node.grid),
        "ends",
        lambda: np.array(tone.stretch_ends(_on_reference(ev, source), clip), np.float64),
    )
    return tone.ramp(_before(ev, node, grid, window), float(ends[0]), float(ends[1]))


def _equalise(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    table = ev.held(
        node, reference_grid(node.grid), "curve", lambda: tone.equalising_table(_on_reference(ev, node.inputs[0]))
    )
    mask = _before(ev, node, grid, window)
    return algebra.combine(mask, tone.looked_up(mask, table), "take", node.params["amount"])


def cut_edges_of(ev: Evaluation, node: Node) -> F32:
    """The inner edges of the bands that a cutting node makes; measured once on the reference grid."""
    p = node.params
    if p["how"] != "quantiles":
        return tone.cut_edges(np.zeros((1, 1), np.float32), p["count"], p["how"], p["edges"])
    before = node.inputs[0]
    return ev.held(
        before, reference_grid(node.grid), f"edges_{p['count']}",
        lambda: tone.cut_edges(_on_reference(ev, before), p["count"], p["how"], ()),
    )  # fmt: skip


def _cut(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    return tone.cut(_before(ev, node, grid, window), cut_edges_of(ev, node))


def _in_band(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    return tone.in_band(_before(ev, node, grid, window), cut_edges_of(ev, node), node.params["band"])


def _stretched(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    p = node.params
    values = stretched(_before(ev, node, grid, window), p["black"], p["white"], log=p["log"])
    return np.nan_to_num(values, copy=False)


# Areas ---------------------------------------------------------------------------------------------------------


def _blurred(ev: Evaluation, node: Node, grid: Grid, window: Window, sigma: float) -> tuple[F32, F32]:
    """(what came before, the same blurred) on the window.

    Wide blurs work on halved maps: windows begin where the whole map would be halved, so that tiles agree.
    """
    step = pyramid_step(min(sigma / grid.dy, sigma / grid.dx))
    margin = tuple(math.ceil(4.2 * sigma / d) + 4 * step for d in (grid.dy, grid.dx))
    wide = window.grown(*margin)
    wide = Window(wide.row0 // step * step, wide.row1, wide.col0 // step * step, wide.col1)
    inside = wide.clipped(*grid.shape)
    mask = mirrored(ev.window(node, grid, inside), inside, wide, grid.registration)
    soft = blur(mask, grid, sigma, ev.engine.stripes, ev.cancel)
    return _part(mask, wide, window), np.clip(_part(soft, wide, window), 0, 1)


def _blur(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    return _blurred(ev, node.inputs[0], grid, window, node.params["sigma"])[1]


def _sharpen(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    mask, soft = _blurred(ev, node.inputs[0], grid, window, node.params["sigma"])
    out = mask + (mask - soft) * np.float32(node.params["amount"])
    return np.clip(out, 0, 1, out=out)


def _rim(ev: Evaluation, node: Node, grid: Grid, window: Window, inside: bool) -> F32:
    """Metres to the rim of what came before, right as far as the line reaches."""
    source = node.inputs[0]
    margin = _margin(grid, node.params["by"] + node.params["fade"])
    if max(margin) <= _FAR_SAMPLES:
        mask, wide = _grown(ev, source, grid, window, margin)
        return _part(areas.rim_distance(mask, grid, inside, ev.engine.stripes, ev.cancel), wide, window)
    own = whole_ground_grid(grid)

    def make() -> F32:
        mask = ev.window(source, own, own.whole)
        return areas.rim_distance(mask, own, inside, ev.engine.stripes, ev.cancel)

    whole = ev.held(source, own, f"rim_{inside}", make)
    return sampled(whole, own, grid, window, "linear")


def _widen(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    return areas.widened(
        _before(ev, node, grid, window), _rim(ev, node, grid, window, False), node.params["by"], node.params["fade"]
    )


def _narrow(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    return areas.narrowed(
        _before(ev, node, grid, window), _rim(ev, node, grid, window, True), node.params["by"], node.params["fade"]
    )


def _gate(ev: Evaluation, node: Node, grid: Grid, window: Window, make: Callable[[F32, Grid], F32]) -> F32:
    """Connected areas are found once on the ground's own grid; finer and coarser maps are gated by them."""
    own = whole_ground_grid(node.grid)
    whole = ev.held(node, own, "gate", lambda: make(ev.window(node.inputs[0], own, own.whole), own))
    return sampled(whole, own, grid, window, "linear")


def _remove_specks(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    gate = _gate(
        ev, node, grid, window, lambda m, g: areas.keeping(m, g, node.params["area"], ev.engine.stripes, ev.cancel)
    )
    return _before(ev, node, grid, window) * gate


def _fill_holes(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    gate = _gate(ev, node, grid, window, lambda m, g: areas.filling(m, g, node.params["area"]))
    return np.maximum(_before(ev, node, grid, window), gate)


# Breakup -------------------------------------------------------------------------------------------------------


def _fray(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    reach = node.params["reach"]
    mask, wide = _grown(ev, node.inputs[0], grid, window, _margin(grid, reach))
    south, east = (ev.window(n, grid, window) for n in node.inputs[1:3])
    # Noise rarely comes near its ends: twice the reach between them makes the reach the usual one.
    per = (2 * reach / grid.dy, 2 * reach / grid.dx)
    offset = (window.row0 - wide.row0, window.col0 - wide.col0)
    return breakup.displaced(mask, south, east, 0.5, per, offset, ev.engine.stripes, ev.cancel)


def _downhill(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    """The way down on the ground smoothed over the width: (south, east) as two planes."""
    height = Node("height", {}, (node.inputs[0],))
    width = node.params["width"]
    step = pyramid_step(min(width / grid.dy, width / grid.dx))
    margin = tuple(math.ceil(4.2 * width / d) + 4 * step for d in (grid.dy, grid.dx))
    heights, wide = _grown(ev, height, grid, window, (margin[0], margin[1]), step)
    smooth = blur(heights, grid, width, ev.engine.stripes, ev.cancel)
    return np.stack([_part(way, wide, window) for way in breakup.downhill(smooth, grid.dy, grid.dx)])


def _drift_way(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    """Where a sliding mask comes from: it hangs on the ground alone, so it is kept while the mask changes."""
    by = node.params["by"]
    wide = window.grown(*_margin(grid, abs(by))).clipped(*grid.shape)
    south, east = ev.window(node.inputs[0], grid, wide)
    if len(node.inputs) > 1:
        metres = ev.window(node.inputs[1], grid, window) * np.float32(by)
    else:
        metres = np.full(window.shape, by, np.float32)
    offset = (window.row0 - wide.row0, window.col0 - wide.col0)
    return breakup.drift_way(
        (south, east), metres, (1 / grid.dy, 1 / grid.dx), offset, ev.engine.stripes, ev.cancel
    )  # fmt: skip


def _drift(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    mask, wide = _grown(ev, node.inputs[0], grid, window, _margin(grid, node.params["reach"]))
    south, east = ev.window(node.inputs[1], grid, window)
    per = (1 / grid.dy, 1 / grid.dx)
    offset = (window.row0 - wide.row0, window.col0 - wide.col0)
    return breakup.displaced(mask, south, east, 0.0, per, offset, ev.engine.stripes, ev.cancel)


# By hand -------------------------------------------------------------------------------------------------------


def _feature(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    p = node.params
    points = np.array(p["points"], np.float64)
    return shape_mask(points, grid, window, width=p["width"], fade=p["fade"], closed=p["closed"], smooth=p["smooth"])


def _groups(strokes: tuple[Stroke, ...]) -> list[tuple[Stroke, ...]]:
    """Runs of strokes that need no look at what lies around, and every softening stroke by itself."""
    groups: list[tuple[Stroke, ...]] = []
    for stroke in strokes:
        if stroke.mode != "soften" and groups and groups[-1][0].mode != "soften":
            groups[-1] = (*groups[-1], stroke)
        else:
            groups.append((stroke,))
    return groups


def _touch_up(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    groups = _groups(read_strokes(ev.engine.asset_path(node.params["asset"])))
    count = len(groups) if node.params["groups"] is None else node.params["groups"]
    if count == 0:
        return _before(ev, node, grid, window)
    before = Node("touch_up", {**node.params, "groups": count - 1}, node.inputs)
    group = groups[count - 1]
    if group[0].mode == "soften":
        cover = stroke_cover(group[0], grid, window)
        if not cover.any():
            return ev.window(before, grid, window)
        mask, soft = _blurred(ev, before, grid, window, group[0].size / 8)
        return touched(mask, group[0], cover, soft)
    mask = ev.window(before, grid, window)
    for stroke in group:
        cover = stroke_cover(stroke, grid, window)
        mask = touched(mask, stroke, cover) if cover.any() else mask
    return mask.copy()


def _final_gap(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    final = ev.project.final
    gap = final_gap(ev, node.inputs[0], final)
    return sampled(gap, reference_grid(node.grid), grid, window, "linear")


RECIPE_OPERATIONS: dict[str, Operation] = {
    "gain": _gain,
    "ramp": _ramp,
    "bend": _bend,
    "stretch_tone": _stretch,
    "equalise": _equalise,
    "cut": _cut,
    "in_band": _in_band,
    "stretched": _stretched,
    "blur": _blur,
    "sharpen": _sharpen,
    "widen": _widen,
    "narrow": _narrow,
    "remove_specks": _remove_specks,
    "fill_holes": _fill_holes,
    "fray": _fray,
    "downhill": _downhill,
    "drift_way": _drift_way,
    "drift": _drift,
    "feature": _feature,
    "touch_up": _touch_up,
    "final_gap": _final_gap,
}
