"""Carry: colour washed downhill along the flow."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np
from numba import njit
from numpy.typing import NDArray
from pydantic import Field

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.colour.blend import blended
from zigzag_meadow.core.colour.coats.base import Around, BaseCoat, changing, held
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.masks.sources import Plain, Source
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import (
    AllOf,
    Array,
    Here,
    Need,
    Numbers,
    OnWindow,
    WholeGround,
    run_cost,
)
from zigzag_meadow.core.parts import Edited, Told, Unit
from zigzag_meadow.core.readings.flow import DRAIN
from zigzag_meadow.core.readings.planes import plane
from zigzag_meadow.core.terrain.flow import EAST_NORTH, streams_into

__all__ = ["Carry", "carried"]

F32 = NDArray[np.float32]
I8 = NDArray[np.int8]
ROW_STEPS = np.array([-n for _, n in EAST_NORTH])
COLUMN_STEPS = np.array([e for e, _ in EAST_NORTH])


@njit(nogil=True, cache=True)
def _carry(code: I8, keep: F32, held: F32, rows_on: NDArray[np.int64], cols_on: NDArray[np.int64]) -> None:
    """From every source down in the order in which water joins: what a sample holds, faded, goes on to the next."""
    waits = streams_into(code)
    for r0 in range(code.shape[0]):
        for c0 in range(code.shape[1]):
            if waits[r0, c0] != 0:
                continue
            r, c = r0, c0
            waits[r, c] = -1
            while code[r, c] >= 0:
                k = code[r, c]
                nr, nc = r + rows_on[k], c + cols_on[k]
                if held[3, r, c] > np.float32(1e-6):
                    for p in range(4):
                        held[p, nr, nc] += held[p, r, c] * keep[k]
                waits[nr, nc] -= 1
                r, c = nr, nc
                if waits[r, c] != 0:
                    break
                waits[r, c] = -1


def carried(colours: F32, mask: F32, code: I8, dy: float, dx: float, fade: float) -> dict[str, F32]:
    """Colour washed off where ``mask`` is and carried along the water.

    ``colours``: float32 (rows, columns, 3); ``mask``: float32 (rows, columns); ``code``: D8 directions. What is
    carried falls to 1/e over ``fade`` metres; where streams join their colours mix by how much each carries. Returns
    planes ``red``, ``green``, ``blue`` and ``much`` (0–1: how much is carried past, 1 − exp of the sum).
    """
    held = np.empty((4, *mask.shape), np.float32)
    for k in range(3):
        held[k] = colours[..., k] * mask
    held[3] = mask
    lengths = np.hypot(ROW_STEPS * dy, COLUMN_STEPS * dx)
    _carry(readable(code), np.exp(-lengths / fade).astype(np.float32), held, ROW_STEPS, COLUMN_STEPS)
    much = held[3]
    mean = held[:3] / np.maximum(much, np.float32(1e-6))
    return {"red": mean[0], "green": mean[1], "blue": mean[2], "much": 1 - np.exp(-much)}


def _needs(node: Node, grid: Grid) -> Sequence[Need]:
    below, mask, drain = node.inputs
    return [OnWindow(below, grid, grid.whole), OnWindow(mask, grid, grid.whole), AllOf(drain, "code")]


def _run(here: Here, numbers: Numbers, below: Array, mask: Array, code: Array) -> dict[str, Array]:
    return dict(carried(below, mask, code, here.grid.dy, here.grid.dx, numbers["fade"]))


CARRIED = WholeGround(
    name="carried",
    planes=("red", "green", "blue", "much"),
    needs=_needs,
    make=_run,
    cost=run_cost("Carrying colour downhill", 44),
)


def _washed(here: Here, numbers: Numbers, below: Array, *planes: Array) -> Array:
    return blended(below, np.stack(planes, axis=2), "normal")


WASHED = changing("washed", _washed)


class Carry(BaseCoat):
    title, family, hint = "Carry", "wear", "colour washed downhill along the flow"
    sentence = "**Carry** the colour of {of} downhill, fading over {fade}, at {strength}, {within}"
    kind: Literal["carry"] = "carry"
    of: Annotated[Source, Edited("source", "Where the colour comes from", start="full")] = Plain(value=1.0)
    fade: Annotated[
        float, Field(gt=0, le=100000), Told("Distance", "m", step=5, decimals=0, of="spacing", first=50, high=2000)
    ] = 200.0
    strength: Annotated[Unit, Told("Strength", "%")] = 0.5

    def node(self, below: Node, around: Around) -> Node:
        # Carried from on the ground's own grid, and washed over on any other.
        below = held(below)
        drain = Node(DRAIN, {}, (around.stage().solid,))
        run = Node(CARRIED, {"fade": self.fade}, (below, around.source(self.of), drain))
        parts = [plane(run, name, "linear") for name in CARRIED.planes]
        mask = self.mask(around)
        numbers = {"strength": self.strength, "masked": mask is not None}
        return Node(WASHED, numbers, (below, *parts, *([] if mask is None else [mask])))
