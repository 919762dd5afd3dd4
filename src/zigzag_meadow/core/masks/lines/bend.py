"""Bend: by a curve with points."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.masks import tone
from zigzag_meadow.core.masks.lines.base import BaseLine, Maps, Pieces
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Numbers, by_sample
from zigzag_meadow.core.parts import Edited, UnitPair

__all__ = ["Bend"]


def _bent(here: Here, numbers: Numbers, mask: Array) -> Array:
    return tone.looked_up(mask, tone.curve_table(numbers["points"]))


BEND = by_sample("bend", _bent, quick=False)


class Bend(BaseLine):
    title, family, hint = "Bend", "tone", "by a curve with points"
    sentence = "**Bend** by the curve {points}"
    verb: Literal["bend"] = "bend"
    points: Annotated[tuple[UnitPair, ...], Field(min_length=2, max_length=16), Edited("curve", "Curve")] = (
        (0.0, 0.0),
        (0.35, 0.2),
        (0.65, 0.8),
        (1.0, 1.0),
    )

    def node(self, before: Node, maps: Maps) -> Node:
        return Node(BEND, {"points": [list(p) for p in self.points]}, (before,))

    def checked(self, place: str, pieces: Pieces) -> None:
        if any(b[0] - a[0] < 1e-6 for a, b in pairwise(self.points)):
            raise BadNumber(f"{place}: the points of the curve must go from left to right.", field="points")
