"""Equalise: every strength equally often."""

from __future__ import annotations

from typing import Annotated, Literal

from zigzag_meadow.core.masks import algebra, tone
from zigzag_meadow.core.masks.lines.base import BaseLine, Maps, numbered
from zigzag_meadow.core.masks.reference import MEASURED_ONCE, measured, with_measured
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Local, Numbers
from zigzag_meadow.core.parts import Told, Unit

__all__ = ["Equalise"]


def _equalised(here: Here, numbers: Numbers, mask: Array, table: Array) -> Array:
    return algebra.combine(mask, tone.looked_up(mask, table), "take", numbers["amount"])


CURVE = measured("equalising_curve", lambda here, numbers, mask: tone.equalising_table(mask))
EQUALISE = Local(name="equalise", needs=with_measured(CURVE), make=_equalised)


class Equalise(BaseLine):
    title, family, hint = "Equalise", "tone", "every strength equally often"
    sentence = "**Equalise** by {amount}"
    verb: Literal["equalise"] = "equalise"
    amount: Annotated[Unit, Told("Amount", "%")] = 1.0

    def node(self, before: Node, maps: Maps) -> Node:
        return Node(EQUALISE, numbered(self, "amount"), (before,))

    def at_final(self, draft: float) -> str | None:
        return MEASURED_ONCE
