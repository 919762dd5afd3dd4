"""Threshold: in or out, as soft as you like."""

from __future__ import annotations

from typing import Annotated, Literal

from zigzag_meadow.core.masks import tone
from zigzag_meadow.core.masks.lines.base import BaseLine, Maps
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import by_sample
from zigzag_meadow.core.parts import Told, Unit

__all__ = ["Threshold"]

RAMP = by_sample("ramp", lambda here, numbers, mask: tone.ramp(mask, numbers["low"], numbers["high"]))


class Threshold(BaseLine):
    title, family, hint = "Threshold", "tone", "in or out, as soft as you like"
    sentence = "**Threshold** at {at}, soft over {softness}"
    verb: Literal["threshold"] = "threshold"
    at: Annotated[Unit, Told("Threshold")] = 0.5
    softness: Annotated[Unit, Told("Softness")] = 0.1

    def node(self, before: Node, maps: Maps) -> Node:
        half = self.softness / 2
        return Node(RAMP, {"low": self.at - half, "high": self.at + half}, (before,))
