"""A made-up line that multiplies what is there. Steps are limited by lines: it is registered before any step is."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from zigzag_meadow.core.masks.lines.base import BaseLine, Maps, numbered
from zigzag_meadow.core.masks.lines.catalogue import LINES
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import by_sample
from zigzag_meadow.core.parts import Told

__all__ = ["Dim"]

DIM = by_sample("dim", lambda here, numbers, mask: mask * np.float32(numbers["by"]))


class Dim(BaseLine):
    title, family, hint = "Dim", "tone", "darker by a share"
    sentence = "**Dim** to {by} of what is there"
    verb: Literal["dim"] = "dim"
    by: Annotated[float, Field(ge=0, le=1), Told("Share left", "%")] = 0.25

    def node(self, before: Node, maps: Maps) -> Node:
        return Node(DIM, numbered(self, "by"), (before,))


LINES.append(Dim)
