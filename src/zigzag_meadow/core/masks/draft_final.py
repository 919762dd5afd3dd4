"""Draft against final: the difference between a mask at the size that is looked at and at the size delivered."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.grid import Grid, Window, reference_grid
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import (
    AllOf,
    Array,
    Cost,
    EveryTile,
    Here,
    Local,
    Need,
    Numbers,
    OnWindow,
    Tiles,
    WholeGround,
)
from zigzag_meadow.core.nodes.windows import sampled
from zigzag_meadow.core.resample import Resampling

__all__ = ["SEEN", "difference", "final_difference", "split", "summed"]

F32 = NDArray[np.float32]
FINAL_TITLE = "Making the mask at final size"
SEEN = 0.1
"""Differences above this are seen on the ground."""


def _gap_needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    mask, draft = node.inputs[0], reference_grid(node.grid)
    return [OnWindow(mask, grid, window), OnWindow(mask, draft, Resampling(draft, grid, window, "mask").needs)]


def _gap(here: Here, numbers: Numbers, final: F32, draft: F32) -> F32:
    plan = Resampling(reference_grid(here.ground), here.grid, here.window, "mask")
    gap: F32 = np.abs(final - plan.apply(draft))
    return gap


GAP = Local(name="gap", needs=_gap_needs, make=_gap)


def difference(mask: Node) -> Node:
    """|final − draft| of a mask on the grid that is delivered: float32, 0–1."""
    return Node(GAP, {}, (mask,))


def _nearest(index: NDArray[np.int64], axis: int, coarse: Grid, final: Grid) -> NDArray[np.float64]:
    """Samples of the coarser grid over samples of the final one."""
    n, m = coarse.shape[axis], final.shape[axis]
    if coarse.registration == final.registration == "vertex":
        return index * np.float64(n - 1) / np.float64(m - 1)
    apart = (final.dy / coarse.dy, final.dx / coarse.dx)[axis]
    to, own = (np.float64(0.0 if grid.registration == "vertex" else 0.5) for grid in (coarse, final))
    return (index + own) * np.float64(apart) - to


def _pooled(values: F32, window: Window, final: Grid, coarse: Grid, out: F32) -> None:
    """The largest of the values that lie nearest to each sample of a coarser grid."""
    rows, cols = (
        np.round(_nearest(np.arange(a, b), axis, coarse, final)).clip(0, coarse.shape[axis] - 1).astype(np.int64)
        for axis, a, b in ((0, window.row0, window.row1), (1, window.col0, window.col1))
    )
    starts = [np.flatnonzero(np.diff(index, prepend=-1)) for index in (rows, cols)]
    pooled = np.maximum.reduceat(np.maximum.reduceat(values, starts[0], axis=0), starts[1], axis=1)
    at = np.ix_(rows[starts[0]], cols[starts[1]])
    out[at] = np.maximum(out[at], pooled)


def _final(numbers: Numbers, home: Grid) -> Grid:
    return home.resized(numbers["rows"], numbers["cols"], numbers.get("lie", "vertex"))


def _sum_needs(node: Node, grid: Grid) -> Sequence[Need]:
    return [EveryTile(difference(node.inputs[0]), _final(node.params, node.grid))]


def _summed(here: Here, numbers: Numbers, tiles: Tiles) -> Array:
    final, out = _final(numbers, here.ground), np.zeros(here.grid.shape, np.float32)
    total, seen = 0.0, 0
    for window, gap in tiles:
        total += float(gap.sum(dtype=np.float64))
        seen += int((gap > SEEN).sum())
        _pooled(gap, window, final, here.grid, out)
    count = final.rows * final.cols
    return np.append(out.ravel(), np.array([total / count, seen / count], np.float32))


SUM = WholeGround(
    name="final",
    grid=lambda node: reference_grid(node.grid),
    needs=_sum_needs,
    make=_summed,
    cost=lambda node, grid: Cost(FINAL_TITLE, long=True),
)


def summed(mask: Node, final: Grid) -> Node:
    """The difference about each sample of the reference grid, row by row, then its mean and the share that is seen.

    Tile by tile: no final map is held whole.
    """
    lie = {} if final.registration == "vertex" else {"lie": final.registration}
    return Node(SUM, {"rows": final.rows, "cols": final.cols, **lie}, (mask,))


def split(measured: F32, home: Grid) -> tuple[F32, float, float]:
    """(largest difference about each sample of the reference grid, mean difference, share that is seen)."""
    return measured[:-2].reshape(reference_grid(home).shape), float(measured[-2]), float(measured[-1])


def _shown(here: Here, numbers: Numbers, measured: F32) -> F32:
    return sampled(split(measured, here.ground)[0], reference_grid(here.ground), here, "linear")


SHOWN = Local(name="final_gap", version=2, needs=lambda node, grid, window: [AllOf(node.inputs[0])], make=_shown)


def final_difference(mask: Node, final: Grid) -> Node:
    """What differs between draft and final, the largest about each sample of the reference grid, as a map: 0–1."""
    return Node(SHOWN, {}, (summed(mask, final),))
