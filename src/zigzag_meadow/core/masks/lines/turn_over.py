"""Turn over: in becomes out."""

from __future__ import annotations

from typing import Literal

from zigzag_meadow.core.masks import algebra
from zigzag_meadow.core.masks.lines.base import BaseLine, Maps
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import by_sample

__all__ = ["TurnOver"]

TURN_OVER = by_sample("turn_over", lambda here, numbers, mask: algebra.turn_over(mask))


class TurnOver(BaseLine):
    title, family, hint = "Turn over", "tone", "in becomes out"
    sentence = "**Turn over** what is there so far"
    verb: Literal["turn_over"] = "turn_over"

    def node(self, before: Node, maps: Maps) -> Node:
        return Node(TURN_OVER, {}, (before,))
