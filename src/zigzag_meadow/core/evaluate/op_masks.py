"""Operations on masks, weights and sheets, sample by sample."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.evaluate.nodes import Node
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.layers.quantise import quantise_mask, quantise_weights
from zigzag_meadow.core.layers.sharing import cover
from zigzag_meadow.core.masks import algebra
from zigzag_meadow.core.packing.sheets import rest_of_sheet, stretched

if TYPE_CHECKING:
    from zigzag_meadow.core.evaluate.engine import Evaluation

__all__ = ["MASK_OPERATIONS", "POINTWISE", "STACKS"]

Array = NDArray[Any]
Operation = Callable[["Evaluation", Node, Grid, Window], Array]
# Results with one plane a layer, planes first; everything else has rows and columns first.
POINTWISE = {"constant", "band", "combine", "blend", "turn_over", "levels", "gain", "ramp", "stretched"}
"""Operations that are made sample by sample and quickly."""
STACKS = {"cover", "shares", "downhill", "drift_way"}


def _constant(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    return np.full(window.shape, node.params["value"], np.float32)


def _band(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    values = ev.window(node.inputs[0], grid, window)
    p = {name: value for name, value in node.params.items() if name != "wraps"}
    if node.params["wraps"]:
        p.pop("log")
        return algebra.wrapped_band(values, **p)
    made = algebra.band(values, **p, stripes=ev.engine.stripes, cancel=ev.cancel)
    # Where there is no reading there is no mask.
    if np.isnan(values.sum(dtype=np.float32)):
        made[np.isnan(values)] = 0
    return made


def _combine(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    before, line = (ev.part(n, grid, window) for n in node.inputs)
    return algebra.combine(before, line, node.params["verb"], node.params["strength"])


def _blend(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    before, line, by = (ev.part(n, grid, window) for n in node.inputs)
    return algebra.blend(before, line, by, node.params["strength"])


def _cover(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    if node.params["layers"] == 0:
        return np.ones((1, *window.shape), np.float32)
    return cover(np.stack([ev.window(n, grid, window) for n in node.inputs]))


def _count(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    total = np.zeros(window.shape, np.uint8)
    for mask in node.inputs:
        total += ev.window(mask, grid, window) > np.float32(0.5)
    return total


def _sheet(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    return np.stack([ev.window(n, grid, window) for n in node.inputs], axis=-1)


def _one(apply: Callable[[Array, dict[str, Any]], Array]) -> Operation:
    """An operation on the same window of its one input."""

    def operation(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
        return apply(ev.part(node.inputs[0], grid, window), node.params)

    return operation


def _shares(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    weights = ev.window(node.inputs[0], grid, window)
    return quantise_weights(weights, node.params["bits"], stripes=ev.engine.stripes, cancel=ev.cancel)


def _rest(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    return rest_of_sheet([ev.window(n, grid, window) for n in node.inputs])[0]


def _reading_bytes(values: Array, p: dict[str, Any]) -> Array:
    return quantise_mask(np.nan_to_num(stretched(values, p["black"], p["white"], log=p["log"])))


MASK_OPERATIONS: dict[str, Operation] = {
    "constant": _constant,
    "band": _band,
    "combine": _combine,
    "blend": _blend,
    "turn_over": _one(lambda a, p: algebra.turn_over(a)),
    "levels": _one(lambda a, p: algebra.levels(a, **p)),
    "count": _count,
    "cover": _cover,
    "pick": _one(lambda a, p: a[p["place"]].copy()),
    "shares": _shares,
    "pick_share": _one(lambda a, p: a[p["place"]].copy()),
    "mask_bytes": _one(lambda a, p: quantise_mask(a)),
    "reading_bytes": _one(_reading_bytes),
    "rest": _rest,
    "sheet": _sheet,
}
