"""Contrast and brightness."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from zigzag_meadow.core.masks.lines.base import BaseLine, Maps
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Numbers, by_sample
from zigzag_meadow.core.parts import Told

__all__ = ["Contrast"]


def _gained(here: Here, numbers: Numbers, mask: Array) -> Array:
    out = mask * np.float32(numbers["gain"])
    out += np.float32(numbers["offset"])
    return np.clip(out, 0, 1, out=out)


GAIN = by_sample("gain", _gained)


class Contrast(BaseLine):
    title, family, hint = "Contrast and brightness", "tone", "about the middle, then lighter or darker"
    sentence = "**Contrast** {contrast}, **brightness** {brightness}"
    verb: Literal["contrast"] = "contrast"
    contrast: Annotated[float, Field(ge=-1, le=1), Told("Contrast", "%")] = 0.2
    brightness: Annotated[float, Field(ge=-1, le=1), Told("Brightness", "%")] = 0.0

    def node(self, before: Node, maps: Maps) -> Node:
        gain = (1 + self.contrast) / max(1 - self.contrast, 1e-2)
        return Node(GAIN, {"gain": gain, "offset": 0.5 - 0.5 * gain + self.brightness}, (before,))
