"""Where a finding is, as a map."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.ground.findings import CODES, find
from zigzag_meadow.core.nodes.ground_nodes import own_grid
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import AllOf, Array, Here, Local, Need, Numbers, WholeGround
from zigzag_meadow.core.nodes.windows import sampled

__all__ = ["finding_map"]


def _needs(node: Node, grid: Grid) -> Sequence[Need]:
    return [AllOf(node.inputs[0])]


def _marked(here: Here, numbers: Numbers, heights: Array) -> Array:
    finding = find(numbers["code"], heights, here.ground, here.stripes)
    if finding is None or finding.where is None:
        return np.zeros(here.ground.shape, np.float32)
    return finding.where.astype(np.float32)


MARKED = WholeGround(name="marked", grid=own_grid, needs=_needs, make=_marked)


def _shown(here: Here, numbers: Numbers, marked: Array) -> Array:
    return sampled(marked, here.ground, here, "linear")


FINDING = Local(
    name="finding", needs=lambda node, grid, window: [AllOf(Node(MARKED, node.params, node.inputs))], make=_shown
)


def finding_map(code: str, ground: Node) -> Node:
    """Where a finding is, 0 or 1, on a stage of the ground. Raises :class:`NotFound`."""
    if code not in CODES:
        raise NotFound(f"There is no finding called {code!r}.", field="name")
    return Node(FINDING, {"code": code}, (ground,))
