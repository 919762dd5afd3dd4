"""Operations that make the ground: reading the file, and the steps of preparation."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.read import read_stored
from zigzag_meadow.core.grid import Grid, grid_from, whole_ground_grid
from zigzag_meadow.core.ground.heights import coded_metres, in_metres
from zigzag_meadow.core.ground.steps.base import Work
from zigzag_meadow.core.ground.steps.catalogue import step_kind
from zigzag_meadow.core.nodes.ground_nodes import own_grid
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import (
    AllOf,
    Cost,
    FromFile,
    Here,
    Need,
    Numbers,
    OnWindow,
    WholeGround,
)
from zigzag_meadow.core.resample import resample
from zigzag_meadow.core.voids import fill_voids, moved

__all__ = ["CHANGE", "MIX", "PREPARE", "SHRINK", "SOURCE"]

F32 = NDArray[np.float32]
CHANGE = "change"
"""What the run of a step does to the heights, in metres."""


def _file(node: Node, grid: Grid) -> Sequence[Need]:
    p = node.params
    layout = Layout(p["rows"], p["cols"], p["order"], p["header"], p["sample"], p["channel"], p["code"], p["nodata"])
    return [FromFile(p["asset"], read_stored, (p["name"], layout))]


def _metres(here: Here, numbers: Numbers, stored: Any) -> F32:
    if stored.samples.shape != here.ground.shape:
        raise BadNumber(f"{numbers['name']} no longer has the size that the project was made with.")
    if "step" in numbers:
        return coded_metres(stored.samples, numbers["step"], numbers["at_zero"], numbers["base"])
    return in_metres(stored.samples, numbers["low"], numbers["high"], numbers["base"])


SOURCE = WholeGround(name="source", version=2, grid=own_grid, needs=_file, make=_metres)
"""The heightmap as it came, in metres."""


def _before(node: Node, grid: Grid) -> Sequence[Need]:
    return [AllOf(node.inputs[0])]


def _shrunk(here: Here, numbers: Numbers, heights: F32) -> F32:
    src = grid_from(numbers["from"])
    return moved(heights, src, here.ground)


SHRINK = WholeGround(name="shrink", version=2, grid=own_grid, needs=_before, make=_shrunk)
"""The heightmap on fewer samples, for a draft; ``from``: rows, columns and spacings it had."""


def _needs(node: Node, grid: Grid) -> Sequence[Need]:
    before, *run = node.inputs
    kind, file = step_kind(node.params["kind"]), []
    if kind.reads_file:
        asset, name, layout = kind.layout(node.params)
        file = [FromFile(asset, read_stored, (name, layout))]
    return [AllOf(before, passing=True), *(AllOf(n, CHANGE) for n in run), *file]


def _cost(node: Node, grid: Grid) -> Cost:
    kind = step_kind(node.params["kind"])
    if kind.as_is or kind.leaves:
        return Cost(light=True)
    samples = max(g.rows * g.cols for g in (node.inputs[0].grid, grid))
    return Cost(
        kind.slow or "Preparing the ground", kind.bytes_each * samples, long=bool(kind.slow), light=not kind.slow
    )


def _other(numbers: Numbers, stored: Any, src: Grid) -> F32:
    """Heights of a file that a step reads, on the grid before it."""
    if stored.samples.shape != (numbers["rows"], numbers["cols"]):
        raise BadNumber(f"{numbers['file_name']} no longer has the size that the step was made with.")
    metres = coded_metres(stored.samples, numbers["metres_a_step"], numbers["at_zero"])
    return moved(metres, src.resized(numbers["rows"], numbers["cols"]), src)


def _prepared(here: Here, numbers: Numbers, before: F32, change: Any = None) -> F32:
    kind = step_kind(numbers["kind"])
    src, dst = grid_from(numbers["from"]), here.ground
    other = _other(numbers, change, src) if kind.reads_file else None
    if change is not None and other is None:
        own = whole_ground_grid(src)
        return before + (change if own == src else resample(change, own, src, "linear"))
    if kind.as_is:
        return kind.shape(before, Work(src, dst, numbers, None, here.stripes, here.cancel, here.tell))
    void = np.isnan(before)
    gaps = void if void.any() else None
    z = before if gaps is None else fill_voids(before)
    after = kind.shape(z, Work(src, dst, numbers, gaps, here.stripes, here.cancel, here.tell, other))
    if gaps is not None and not kind.fills:
        left = void if src == dst else resample(void.astype(np.float32), src, dst, "nearest") > 0.5
        after = np.where(left, np.float32(np.nan), after)
    return np.ascontiguousarray(after, np.float32)


PREPARE = WholeGround(name="prepare", version=3, grid=own_grid, needs=_needs, make=_prepared, cost=_cost)
"""One step of preparation in full, everywhere; a step that leaves maps is given its run."""


def _mix_needs(node: Node, grid: Grid) -> Sequence[Need]:
    before, after, *limit = node.inputs
    return [AllOf(before), AllOf(after), *(OnWindow(n, grid, grid.whole) for n in limit)]


def _mixed(here: Here, numbers: Numbers, before: F32, after: F32, limit: F32 | None = None) -> F32:
    amount = np.float32(numbers["amount"])
    share = amount if limit is None else limit * amount
    mixed = before + (after - before) * share
    void = np.isnan(before)
    if void.any():
        # A step that fills gaps fills those that it reaches.
        mixed[void] = np.where(share > 0, after, np.float32(np.nan))[void]
    return mixed


MIX = WholeGround(
    name="step_mix", grid=own_grid, needs=_mix_needs, make=_mixed, cost=lambda node, grid: Cost(light=True)
)
"""Between the ground before a step and after it: so far as the step's strength says, and where it is let."""
