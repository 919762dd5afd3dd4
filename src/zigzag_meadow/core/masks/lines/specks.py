"""Remove specks and fill holes: areas and gaps that are too small."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np

from zigzag_meadow.core.grid import Grid, Window, whole_ground_grid
from zigzag_meadow.core.masks import areas
from zigzag_meadow.core.masks.lines.base import AREA, BaseLine, Maps, numbered
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import AllOf, Array, Here, Local, Need, Numbers, OnWindow, WholeGround
from zigzag_meadow.core.nodes.windows import sampled
from zigzag_meadow.core.parts import Told

__all__ = ["FillHoles", "RemoveSpecks"]


def _gate_needs(node: Node, grid: Grid) -> Sequence[Need]:
    return [OnWindow(node.inputs[0], grid, grid.whole)]


def _kept(here: Here, numbers: Numbers, mask: Array) -> Array:
    return areas.keeping(mask, here.grid, numbers["area"], here.stripes, here.cancel)


KEPT = WholeGround(name="kept_areas", needs=_gate_needs, make=_kept, roughly=True)
FILLED = WholeGround(
    name="filled_areas",
    needs=_gate_needs,
    make=lambda here, numbers, mask: areas.filling(mask, here.grid, numbers["area"]),
    roughly=True,
)


def _line(name: str, areas_found: WholeGround, gated: np.ufunc) -> Local:
    """Connected areas are found once on the ground's own grid; finer and coarser maps are gated by them."""

    def needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
        gate = Node(areas_found, node.params, node.inputs)
        return [OnWindow(node.inputs[0], grid, window, passing=True), AllOf(gate)]

    def make(here: Here, numbers: Numbers, mask: Array, gate: Array) -> Array:
        made: Array = gated(mask, sampled(gate, whole_ground_grid(here.ground), here, "linear"))
        return made

    return Local(name=name, needs=needs, make=make)


REMOVE_SPECKS = _line("remove_specks", KEPT, np.multiply)
FILL_HOLES = _line("fill_holes", FILLED, np.maximum)
SMALLEST = Told("Area", "m²", step=10, decimals=0, of="cell", first=20)


class RemoveSpecks(BaseLine):
    title, family, hint = "Remove specks", "area", "areas that are too small"
    sentence = "**Remove specks** smaller than {area}"
    verb: Literal["remove_specks"] = "remove_specks"
    area: Annotated[AREA, SMALLEST] = 400.0

    def node(self, before: Node, maps: Maps) -> Node:
        return Node(REMOVE_SPECKS, numbered(self, "area"), (before,))


class FillHoles(BaseLine):
    title, family, hint = "Fill holes", "area", "gaps that are too small"
    sentence = "**Fill holes** smaller than {area}"
    verb: Literal["fill_holes"] = "fill_holes"
    area: Annotated[AREA, SMALLEST] = 400.0

    def node(self, before: Node, maps: Maps) -> Node:
        return Node(FILL_HOLES, numbered(self, "area"), (before,))
