"""Results of whole-ground runs, sampled; and how gaps are kept out of them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.grid import Grid, Window, whole_ground_grid
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import AllOf, Array, Here, Local, Need, Numbers
from zigzag_meadow.core.nodes.windows import sampled
from zigzag_meadow.core.terrain.distance import nearest

__all__ = ["kept_out", "plane"]


def _needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    return [AllOf(node.inputs[0], node.params["plane"])]


def _plane(here: Here, numbers: Numbers, whole: Array) -> Array:
    return sampled(whole, whole_ground_grid(here.ground), here, numbers["how"])


PLANE = Local(name="plane", needs=_needs, make=_plane)


def plane(run: Node, name: str, how: str) -> Node:
    """One result of a run as a map; ``how`` it is sampled: *linear*, *log*, *nearest*, or as a *height*."""
    return Node(PLANE, {"plane": name, "how": how}, (run,))


def kept_out(gaps: NDArray[np.bool_] | None, grid: Grid, planes: dict[str, Array]) -> dict[str, Array]:
    """Maps (float32 of the grid's shape) with, in gaps, what the nearest sample beside them holds: sampled in between,
    gaps leak nothing."""
    if gaps is None or not gaps.any():
        return planes
    _, at = nearest(~gaps, grid)
    source = at[gaps]
    made = {}
    for name, values in planes.items():
        filled = np.ascontiguousarray(values, np.float32)
        filled[gaps] = filled.ravel()[source]
        made[name] = filled
    return made
