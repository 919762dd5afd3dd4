"""Drift: slides down or up the slope."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np

from zigzag_meadow.core.blur import blur, pyramid_step
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.masks import breakup
from zigzag_meadow.core.masks.lines.base import LENGTH, BaseLine, Maps
from zigzag_meadow.core.masks.sources import Source
from zigzag_meadow.core.nodes.ground_nodes import height_of
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Local, Need, Numbers, OnWindow
from zigzag_meadow.core.nodes.windows import cut, margin_of, widened
from zigzag_meadow.core.parts import Edited, Told

__all__ = ["Drift"]


def _smoothed_window(numbers: Numbers, grid: Grid, window: Window) -> Window:
    width = numbers["width"]
    step = pyramid_step(min(width / grid.dy, width / grid.dx))
    margin = (math.ceil(4.2 * width / grid.dy) + 4 * step, math.ceil(4.2 * width / grid.dx) + 4 * step)
    return widened(grid, window, margin, step)


def _downhill_needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    return [OnWindow(height_of(node.inputs[0]), grid, _smoothed_window(node.params, grid, window))]


def _downhill(here: Here, numbers: Numbers, heights: Array) -> Array:
    """The way down on the ground smoothed over the width: (south, east) as two planes."""
    wide, grid = _smoothed_window(numbers, here.grid, here.window), here.grid
    smooth = blur(heights, grid, numbers["width"], here.stripes, here.cancel)
    ways = breakup.downhill(smooth, grid.dy, grid.dx, here.stripes, here.cancel)
    return np.stack([cut(way, wide, here.window) for way in ways])


DOWNHILL = Local(name="downhill", version=2, needs=_downhill_needs, make=_downhill, stacked=True)


def _reached(metres: float, grid: Grid, window: Window) -> Window:
    return widened(grid, window, margin_of(grid, metres))


def _offset(wide: Window, window: Window) -> tuple[int, int]:
    return window.row0 - wide.row0, window.col0 - wide.col0


def _way_needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    way, *steered = node.inputs
    wide = _reached(abs(node.params["by"]), grid, window)
    return [OnWindow(way, grid, wide), *(OnWindow(n, grid, window) for n in steered)]


def _way(here: Here, numbers: Numbers, way: Array, steered: Array | None = None) -> Array:
    """Where a sliding mask comes from: it hangs on the ground alone, so it is kept while the mask changes."""
    by, grid, window = numbers["by"], here.grid, here.window
    metres = np.full(window.shape, by, np.float32) if steered is None else steered * np.float32(by)
    offset = _offset(_reached(abs(by), grid, window), window)
    per = (1 / grid.dy, 1 / grid.dx)
    return breakup.drift_way((way[0], way[1]), metres, per, offset, here.stripes, here.cancel)


DRIFT_WAY = Local(name="drift_way", needs=_way_needs, make=_way, stacked=True)


def _drift_needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    mask, way = node.inputs
    return [OnWindow(mask, grid, _reached(node.params["reach"], grid, window)), OnWindow(way, grid, window)]


def _drifted(here: Here, numbers: Numbers, mask: Array, way: Array) -> Array:
    grid, window = here.grid, here.window
    offset = _offset(_reached(numbers["reach"], grid, window), window)
    per = (1 / grid.dy, 1 / grid.dx)
    return breakup.displaced(mask, way[0], way[1], 0.0, per, offset, here.stripes, here.cancel)


DRIFT = Local(name="drift", needs=_drift_needs, make=_drifted)


class Drift(BaseLine):
    title, family, hint = "Drift", "breakup", "slides down or up the slope"
    sentence = "**Drift** it {way} for {by}, as strongly as {steered}"
    verb: Literal["drift"] = "drift"
    way: Annotated[Literal["down", "up"], Told("Way", choices=(("down", "downhill"), ("up", "uphill")))] = "down"
    by: Annotated[LENGTH, Told("Distance", "m", decimals=1, of="spacing", first=6)] = 25.0
    steered: Annotated[Source | None, Edited("source", "What steers it", none="everywhere alike")] = None

    def node(self, before: Node, maps: Maps) -> Node:
        stage = maps.stage()
        down = Node(DOWNHILL, {"width": max(self.by / 4, stage.home.dy, stage.home.dx)}, (stage.solid,))
        steered = (maps.source(self.steered),) if self.steered is not None else ()
        by = self.by if self.way == "down" else -self.by
        return Node(DRIFT, {"reach": self.by}, (before, Node(DRIFT_WAY, {"by": by}, (down, *steered))))
