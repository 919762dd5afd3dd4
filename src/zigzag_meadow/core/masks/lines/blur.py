"""Blur and sharpen: softer or harder edges, by metres."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.masks.lines.base import LENGTH, BaseLine, Maps
from zigzag_meadow.core.masks.softened import blur_need, blurred
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Local, Need, Numbers
from zigzag_meadow.core.parts import Told

__all__ = ["Blur", "Sharpen"]


def _needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    return [blur_need(node.inputs[0], grid, window, node.params["sigma"])]


def _blurred(here: Here, numbers: Numbers, mask: Array) -> Array:
    return blurred(here, mask, numbers["sigma"])[1]


def _sharpened(here: Here, numbers: Numbers, mask: Array) -> Array:
    own, soft = blurred(here, mask, numbers["sigma"])
    out = own + (own - soft) * np.float32(numbers["amount"])
    return np.clip(out, 0, 1, out=out)


BLUR = Local(name="blur", version=2, needs=_needs, make=_blurred)
SHARPEN = Local(name="sharpen", version=2, needs=_needs, make=_sharpened)
RADIUS = Told("Radius", "m", step=0.5, decimals=1, of="spacing", first=2)


class Blur(BaseLine):
    title, family, hint = "Blur", "area", "softer by metres"
    sentence = "**Blur** over {radius}"
    verb: Literal["blur"] = "blur"
    radius: Annotated[LENGTH, RADIUS] = 8.0

    def node(self, before: Node, maps: Maps) -> Node:
        # A blur that reaches about its radius: two standard deviations.
        return Node(BLUR, {"sigma": self.radius / 2}, (before,))

    def at_final(self, draft: float) -> str | None:
        if self.radius >= 2 * draft:
            return None
        return f"A blur of {self.radius:g} m is finer than the draft shows ({draft:.3g} m a sample)."


class Sharpen(BaseLine):
    title, family, hint = "Sharpen", "area", "harder edges"
    sentence = "**Sharpen** by {amount} over {radius}"
    verb: Literal["sharpen"] = "sharpen"
    amount: Annotated[float, Field(ge=0, le=5), Told("Amount", "%", step=0.05)] = 1.0
    radius: Annotated[LENGTH, RADIUS] = 8.0

    def node(self, before: Node, maps: Maps) -> Node:
        return Node(SHARPEN, {"sigma": self.radius / 2, "amount": self.amount}, (before,))
