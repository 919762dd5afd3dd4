"""What is measured once on the fixed reference grid, and what a mask was before a line."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from zigzag_meadow.core.grid import Grid, Window, reference_grid
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import AllOf, Array, Need, OnWindow, WholeGround

__all__ = ["MEASURED_ONCE", "measured", "with_measured"]

MEASURED_ONCE = "Its numbers are measured once, on the draft; what the final size shows beyond them is clamped."


def _needs(node: Node, grid: Grid) -> Sequence[Need]:
    return [OnWindow(node.inputs[0], grid, grid.whole)]


def measured(name: str, make: Callable[..., Array]) -> WholeGround:
    """A table or a few numbers measured on its first input: ``make(here, numbers, mask)``."""
    return WholeGround(name=name, grid=lambda node: reference_grid(node.grid), needs=_needs, make=make, roughly=True)


def with_measured(table: WholeGround, *numbers: str) -> Callable[[Node, Grid, Window], Sequence[Need]]:
    """Needs of a line: what was there before, and a table measured on that with some of the line's numbers."""

    def needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
        once = Node(table, {name: node.params[name] for name in numbers}, node.inputs[:1])
        return [OnWindow(node.inputs[0], grid, window, passing=True), AllOf(once)]

    return needs
