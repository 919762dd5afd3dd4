"""Readings that difference at ±width, as operations on the ground."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.nodes.ground_nodes import height_of
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Local, Need, Numbers, OnWindow
from zigzag_meadow.core.nodes.windows import cut, from_home, home_mean
from zigzag_meadow.core.readings.differences import Offsets, extended, offsets

__all__ = ["derivative"]

F32 = NDArray[np.float32]
Kernel = Callable[[Here, Numbers, F32, Offsets], F32]


def _too_coarse(numbers: Numbers, grid: Grid, home: Grid) -> bool:
    """Whether a grid cannot tell neighbours at ±width apart: it takes the mean of what the home grid measures."""
    wy, wx = numbers["width"]
    return (grid.dy > wy * (1 + 1e-6) or grid.dx > wx * (1 + 1e-6)) and grid != home


def _around(grid: Grid, window: Window, margin: tuple[int, int]) -> Window:
    """Mirroring through the border needs as many samples inside as it adds outside."""
    return window.grown(2 * margin[0], 2 * margin[1]).clipped(*grid.shape)


def derivative(
    name: str,
    kernel: Kernel,
    *,
    version: int = 1,
    wide: bool = False,
    mean: Callable[[Here, F32], F32] = home_mean,
) -> Local:
    """``kernel`` gets heights with the margin of its offsets (``wide``: of those whose neighbours between samples are
    taken by a cubic). ``mean``: of what is measured on the home grid, for grids that are too coarse to measure."""

    def margin_of(off: Offsets) -> tuple[int, int]:
        return off.wide_margin if wide else off.margin

    def needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
        if _too_coarse(node.params, grid, node.grid):
            return [from_home(node, grid, window)]
        margin = margin_of(offsets(grid, tuple(node.params["width"])))
        return [OnWindow(height_of(node.inputs[0]), grid, _around(grid, window, margin))]

    def make(here: Here, numbers: Numbers, values: Array) -> Array:
        if _too_coarse(numbers, here.grid, here.ground):
            return mean(here, values)
        off = offsets(here.grid, tuple(numbers["width"]))
        margin = margin_of(off)
        wanted, inside = here.window.grown(*margin), _around(here.grid, here.window, margin)
        full = Window(
            min(inside.row0, wanted.row0),
            max(inside.row1, wanted.row1),
            min(inside.col0, wanted.col0),
            max(inside.col1, wanted.col1),
        )
        padded = np.ascontiguousarray(cut(extended(values, inside, full), full, wanted))
        return kernel(here, numbers, padded, off)

    return Local(name=name, version=version, needs=needs, make=make)
