"""A sharper reduction than the box, for maps that are looked at: Lanczos over a finer grid.

Reference: Duchon 1979, Lanczos filtering in one and two dimensions, J. Applied Meteorology 18.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.formats.limits import LONGEST_SIDE
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Local, Need, Numbers, OnWindow

__all__ = ["sharper", "times_finer"]

_LOBES = 2
_MOST_TIMES = 8


def times_finer(grid: Grid, home: Grid) -> int:
    """How many times finer a map must be made so that it shows all of the ground; 1 where it does already."""
    wanted = math.ceil(max(grid.dy / home.dy, grid.dx / home.dx) - 1e-6)
    fits = LONGEST_SIDE // max(grid.rows, grid.cols)
    return max(min(wanted, _MOST_TIMES, fits), 1)


def _finer(grid: Grid, times: int) -> Grid:
    less = 1 if grid.registration == "vertex" else 0
    return grid.resized((grid.rows - less) * times + less, (grid.cols - less) * times + less)


def _taps(times: int, vertex: bool) -> tuple[int, NDArray[np.float32]]:
    """(first finer sample from the one at i·times, weights that add up to 1)."""
    centre = 0.0 if vertex else (times - 1) / 2
    first = math.ceil(centre - _LOBES * times)
    at = (np.arange(first, math.floor(centre + _LOBES * times) + 1) - centre) / times
    weight = np.sinc(at) * np.sinc(at / _LOBES)
    return first, (weight / weight.sum()).astype(np.float32)


def _spans(grid: Grid, window: Window, times: int) -> tuple[Window, tuple[int, int, int, int]]:
    """(the finer window inside its grid, how many samples are missing north, south, west, east)."""
    fine = _finer(grid, times)
    first, weight = _taps(times, grid.registration == "vertex")
    last = first + len(weight)
    wide = Window(
        window.row0 * times + first,
        (window.row1 - 1) * times + last,
        window.col0 * times + first,
        (window.col1 - 1) * times + last,
    )
    inside = wide.clipped(fine.rows, fine.cols)
    missing = (inside.row0 - wide.row0, wide.row1 - inside.row1, inside.col0 - wide.col0, wide.col1 - inside.col1)
    return inside, missing


def _needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    times = times_finer(grid, node.grid)
    if times == 1:
        return [OnWindow(node.inputs[0], grid, window)]
    return [OnWindow(node.inputs[0], _finer(grid, times), _spans(grid, window, times)[0])]


def _along(values: Array, weight: NDArray[np.float32], times: int, count: int) -> Array:
    """Weighted means along the first axis, every ``times`` samples."""
    out = np.zeros((count, *values.shape[1:]), np.float32)
    for k, w in enumerate(weight):
        out += values[k : k + (count - 1) * times + 1 : times] * w
    return out


def _reduced(here: Here, numbers: Numbers, values: Array) -> Array:
    times = times_finer(here.grid, here.ground)
    if times == 1:
        return values
    north, south, west, east = _spans(here.grid, here.window, times)[1]
    pads = [(north, south), (west, east)] + [(0, 0)] * (values.ndim - 2)
    mode = "reflect" if here.grid.registration == "vertex" else "symmetric"
    wide = np.pad(values, pads, mode=mode)  # type: ignore[call-overload]
    weight = _taps(times, here.grid.registration == "vertex")[1]
    down = _along(wide, weight, times, here.window.rows)
    made = np.moveaxis(_along(np.moveaxis(down, 1, 0), weight, times, here.window.cols), 0, 1)
    return np.clip(made, 0, 1) if numbers["unit"] else np.ascontiguousarray(made)


REDUCED = Local(name="sharper", needs=_needs, make=_reduced)


def sharper(node: Node, home: Grid, unit: bool) -> Node:
    """A map (rows, columns[, parts]) that keeps more of its edges where a grid is coarser than the ground.

    Windowed sinc of two lobes, mirrored about the border; ``unit``: clamped to 0–1.
    """
    return Node(REDUCED, {"unit": unit}, (node,), home=home)
