"""Windows with margins, and maps that are held on another grid than they are asked for."""

from __future__ import annotations

import math

from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, OnWindow
from zigzag_meadow.core.resample import How, Resampling

__all__ = ["cut", "from_home", "home_mean", "margin_of", "sampled", "widened"]


def cut(values: Array, outer: Window, inner: Window) -> Array:
    """The part ``inner`` of values on the window ``outer``."""
    rows = slice(inner.row0 - outer.row0, inner.row1 - outer.row0)
    return values[rows, inner.col0 - outer.col0 : inner.col1 - outer.col0]


def margin_of(grid: Grid, metres: float) -> tuple[int, int]:
    """Samples (y, x) that hold everything within so many metres, and one more."""
    return math.ceil(metres / grid.dy) + 1, math.ceil(metres / grid.dx) + 1


def widened(grid: Grid, window: Window, margin: tuple[int, int], step: int = 1) -> Window:
    """The window with a margin (samples y, x) inside the grid, beginning at a multiple of ``step``."""
    wide = window.grown(*margin).clipped(*grid.shape)
    return Window(wide.row0 // step * step, wide.row1, wide.col0 // step * step, wide.col1)


def sampled(whole: Array, src: Grid, here: Here, how: How) -> Array:
    """The window of a map that is held whole on the grid ``src``; float32."""
    plan = Resampling(src, here.grid, here.window, how)
    need = plan.needs
    return plan.apply(whole[need.row0 : need.row1, need.col0 : need.col1]).copy()


def from_home(node: Node, grid: Grid, window: Window) -> OnWindow:
    """What :func:`home_mean` needs: the node itself on the part of its home grid that the window stands for."""
    return OnWindow(node, node.grid, Resampling(node.grid, grid, window, "linear").needs)


def home_mean(here: Here, on_home: Array) -> Array:
    """What a grid is too coarse to measure itself: measured on the home grid, and the mean of it taken; float32."""
    return Resampling(here.ground, here.grid, here.window, "linear").apply(on_home)
