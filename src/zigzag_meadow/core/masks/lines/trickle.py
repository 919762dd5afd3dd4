"""Trickle: runs on along the flow."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.masks.breakup import trickled
from zigzag_meadow.core.masks.lines.base import STRENGTH, BaseLine, Maps
from zigzag_meadow.core.masks.lines.combining import combined
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import AllOf, Array, Here, Need, Numbers, OnWindow, WholeGround, run_cost
from zigzag_meadow.core.parts import Told
from zigzag_meadow.core.readings.flow import DRAIN
from zigzag_meadow.core.readings.planes import plane

__all__ = ["Trickle"]


def _needs(node: Node, grid: Grid) -> Sequence[Need]:
    mask, drain = node.inputs
    return [OnWindow(mask, grid, grid.whole), AllOf(drain, "code")]


def _trickled(here: Here, numbers: Numbers, mask: Array, code: Array) -> dict[str, Array]:
    return {"carried": trickled(mask, code, here.grid.dy, here.grid.dx, numbers["by"])}


TRICKLE = WholeGround(
    name="trickle",
    planes=("carried",),
    needs=_needs,
    make=_trickled,
    cost=run_cost("Trickling along the flow", 20),
    roughly=True,
)


class Trickle(BaseLine):
    title, family, hint, brings = "Trickle", "breakup", "runs on along the flow", True
    sentence = "**Trickle** along the flow, fading over {by}, at {strength}"
    verb: Literal["trickle"] = "trickle"
    by: Annotated[float, Field(gt=0, le=100000), Told("Distance", "m", decimals=0, of="spacing", first=30)] = 120.0
    strength: STRENGTH = 1.0

    def node(self, before: Node, maps: Maps) -> Node:
        run = Node(TRICKLE, {"by": self.by}, (before, Node(DRAIN, {}, (maps.stage().solid,))))
        return combined("strongest", self.strength, before, plane(run, "carried", "linear"))

    def at_final(self, draft: float) -> str | None:
        return "Flow runs once on the ground's own grid; the final size is sampled from it."
