"""Stretch: to all of black to white; makes faint maps readable."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from zigzag_meadow.core.masks import tone
from zigzag_meadow.core.masks.lines.base import BaseLine, Maps, numbered
from zigzag_meadow.core.masks.reference import MEASURED_ONCE, measured, with_measured
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Local, Numbers
from zigzag_meadow.core.parts import Told

__all__ = ["Stretch"]


def _ends(here: Here, numbers: Numbers, mask: Array) -> Array:
    return np.array(tone.stretch_ends(mask, numbers["clip"]), np.float64)


def _stretched(here: Here, numbers: Numbers, mask: Array, ends: Array) -> Array:
    return tone.ramp(mask, float(ends[0]), float(ends[1]))


STRETCH = Local(name="stretch_tone", needs=with_measured(measured("stretch_ends", _ends), "clip"), make=_stretched)


class Stretch(BaseLine):
    title, family, hint = "Stretch", "tone", "to all of black to white; makes faint maps readable"
    sentence = "**Stretch** to black and white, clipping {clip} at each end"
    verb: Literal["stretch"] = "stretch"
    clip: Annotated[float, Field(ge=0, le=0.45), Told("Clipped share", "%", step=0.001, decimals=1)] = 0.01

    def node(self, before: Node, maps: Maps) -> Node:
        return Node(STRETCH, numbered(self, "clip"), (before,))

    def at_final(self, draft: float) -> str | None:
        return MEASURED_ONCE
