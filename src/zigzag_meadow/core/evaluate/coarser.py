"""Which maps hang on work on the whole ground that is made coarser than the ground, as long as that is capped."""

from __future__ import annotations

from collections.abc import Sequence

from zigzag_meadow.core.evaluate.graph import Graph
from zigzag_meadow.core.grid import Grid, Window, whole_ground_grid
from zigzag_meadow.core.map_name import MapName
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import AllOf, EveryTile, Local, OnWindow, Unfolding, WholeGround

__all__ = ["coarser_grid", "coarser_words", "made_coarser"]


def made_coarser(node: Node) -> Grid | None:
    """The grid of the work on the whole ground that a map hangs on, where that is coarser than its ground; else None.

    Statistics, which are always measured on the reference grid, are no such work.
    """
    seen: set[str] = set()
    waiting = [node]
    while waiting:
        one = waiting.pop()
        if one.key in seen:
            continue
        seen.add(one.key)
        if isinstance(one.op, WholeGround) and one.home is not None:
            run, capped = one.op.grid(one), whole_ground_grid(one.home)
            if run == capped and capped != one.home:
                return capped
        waiting += [*one.inputs, *_asked(one)]
    return None


def _asked(node: Node) -> Sequence[Node]:
    """Nodes that its operation asks for beside its inputs."""
    if node.home is None:
        return ()
    grid = node.home
    if isinstance(node.op, Local):
        needs = node.op.needs(node, grid, Window(0, 1, 0, 1))
    elif isinstance(node.op, WholeGround):
        needs = node.op.needs(node, node.op.grid(node))
    else:
        needs = node.op.needs(node) if isinstance(node.op, Unfolding) else ()
    return [need.node for need in needs if isinstance(need, OnWindow | AllOf | EveryTile)]


def coarser_grid(graph: Graph, node: Node) -> Grid | None:
    """:func:`made_coarser` for a map of a project; at once where its ground is no larger than such work is made on."""
    home = graph.stage().true_home
    return None if whole_ground_grid(home) == home else made_coarser(node)


def coarser_words(graph: Graph, name: MapName) -> str | None:
    """A sentence for a map (by its name) that hangs on such work; None for any other. Raises :class:`NotFound`."""
    grid = coarser_grid(graph, graph.named(name))
    if grid is None:
        return None
    return (
        f"Work on the whole ground is made on {grid.cols} × {grid.rows} samples, and what hangs on it is sampled from "
        "there."
    )
