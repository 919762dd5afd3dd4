"""What steps of preparation leave: maps of their runs, carried along to where the prepared ground lies."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.grid import Grid, Window, grid_from, grid_numbers, whole_ground_grid
from zigzag_meadow.core.ground.prepare import CHANGE
from zigzag_meadow.core.ground.steps.base import BaseStep, Left, Work
from zigzag_meadow.core.ground.steps.catalogue import step_kind
from zigzag_meadow.core.nodes.ground_nodes import HEIGHT, Stage, gaps_on, heights_on, own_grid
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import (
    AllOf,
    Array,
    Cost,
    Here,
    Local,
    Need,
    Numbers,
    OnWindow,
    WholeGround,
    by_sample,
)
from zigzag_meadow.core.nodes.windows import sampled
from zigzag_meadow.core.readings.planes import kept_out, plane

__all__ = ["carried", "left_by", "left_how", "run_of", "settled"]

F32 = NDArray[np.float32]
UNSAID = np.float32(4) * np.finfo(np.float32).eps


def _needs(node: Node, grid: Grid) -> Sequence[Need]:
    return [heights_on(node.inputs[0], grid), gaps_on(node.inputs[0], grid)]


def _cost(node: Node, grid: Grid) -> Cost:
    kind = step_kind(node.params["kind"])
    return Cost(kind.slow, kind.bytes_each * grid.rows * grid.cols, long=True)


def _run(here: Here, numbers: Numbers, heights: F32, gaps: NDArray[np.bool_] | None) -> dict[str, Array]:
    kind = step_kind(numbers["kind"])
    made = kind.run(heights, Work(here.grid, here.grid, numbers, gaps, here.stripes, here.cancel, here.tell))
    return kept_out(gaps, here.grid, {name: np.ascontiguousarray(values) for name, values in made.items()})


@lru_cache
def _operation(kind: str) -> WholeGround:
    planes = (CHANGE, *(left.name for left in step_kind(kind).leaves))
    return WholeGround(name=f"{kind}_run", version=2, planes=planes, needs=_needs, make=_run, cost=_cost)


def run_of(step: BaseStep, before: Stage, base: float) -> Node:
    """The run of a step that leaves maps, in full, on the ground ``before`` it; its heights are above ``base``."""
    numbers = step.numbers
    numbers |= {name: numbers[name] - base for name in step.heights}
    return Node(_operation(step.kind), numbers, (before.solid,))


def _part(here: Here, numbers: Numbers, values: Array, limit: Array | None = None) -> Array:
    share = np.float32(numbers["amount"])
    return values * (share if limit is None else limit * share)


PART = by_sample("left", _part)


def left_how(left: Left) -> str:
    """How a map that a step left is sampled: metres as heights are, so that at any size what was laid down less what
    was taken is how the height changed."""
    return "height" if left.like.unit == "m" and left.like.scale == "linear" else left.like.scale


def left_by(run: Node, step: BaseStep, left: Left, limit: Node | None, before: Stage, after: Stage) -> Node:
    """A map that a step left on the ground before it. Metres are those by which the ground really changed: as far as
    the step's strength says, and where it is let (``limit``)."""
    made = _in_part(run, step, left, limit)
    if not left.sign:
        return made
    others = [_in_part(run, step, other, limit) for other in step.leaves if other.sign == -left.sign]
    heights = (Node(HEIGHT, {}, (stage.solid,)) for stage in (before, after))
    return Node(AGREED, {"sign": left.sign}, (made, *heights, *others))


def _in_part(run: Node, step: BaseStep, left: Left, limit: Node | None) -> Node:
    made = plane(run, left.name, left_how(left))
    if left.like.unit != "m" or (step.amount == 1 and limit is None):
        return made
    return Node(PART, {"amount": step.amount}, (made,) if limit is None else (made, limit))


def _agreed(here: Here, numbers: Numbers, values: Array, before: F32, after: F32, other: Array | None = None) -> Array:
    if here.grid == here.ground == whole_ground_grid(here.ground):
        return values
    sign = np.float32(numbers["sign"])
    missing = sign * (after - before) - values + (np.float32(0) if other is None else other)
    # Less than heights can say is no change: where nothing lies, nothing is laid.
    missing[np.abs(missing) <= UNSAID * (np.abs(before) + np.abs(after))] = 0
    more = missing if other is None else np.maximum(missing, np.float32(0))
    made: Array = np.maximum(values + more, np.float32(0))
    return made


AGREED = by_sample("left_agreed", _agreed)
"""On other grids than where it ran, heights keep within their neighbours, and what was laid and taken each by itself:
what is then missing of how the height changed is given to whichever of both is too small."""


def _moved(here: Here, numbers: Numbers, values: Array) -> Array:
    work = Work(grid_from(numbers["from"]), here.ground, numbers, None, here.stripes, here.cancel, here.tell)
    return step_kind(numbers["kind"]).shape(values, work)


MOVED = WholeGround(
    name="left_moved",
    grid=own_grid,
    make=_moved,
    needs=lambda node, grid: [OnWindow(node.inputs[0], node.inputs[0].grid, node.inputs[0].grid.whole)],
)


def _lies(here: Here, numbers: Numbers, values: Array) -> Array:
    return sampled(values, here.ground, here, numbers["how"])


LIES = Local(name="left_lies", needs=lambda node, grid, window: [AllOf(node.inputs[0])], make=_lies)


def carried(made: Node, step: BaseStep, before: Stage, after: Stage, how: str) -> Node:
    """A map on the ground ``before`` a later step as it lies on the ground ``after`` it; ``how`` it is sampled."""
    if step.muted or not step.moves:
        return made
    numbers = {**step.numbers, "from": grid_numbers(before.home)}
    return Node(LIES, {"how": how}, (Node(MOVED, numbers, (made,), home=after.home),), home=after.home)


def _same(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    return [OnWindow(node.inputs[0], grid, window, passing=True)]


SETTLED = Local(name="left_settled", needs=_same, make=lambda here, numbers, values: values, by_sample=True)


def settled(made: Node, home: Grid) -> Node:
    """The same as a map of a ground with the grid ``home`` over the same extent."""
    return made if made.home == home else Node(SETTLED, {}, (made,), home=home)
