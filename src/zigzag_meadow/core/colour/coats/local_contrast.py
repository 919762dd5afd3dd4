"""Local contrast: light against what lies around."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from zigzag_meadow.core.colour.coats.base import LENGTH, Around, BaseCoat, Change, partly
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.masks.softened import blur_need, blur_window, blurred
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Local, Need, Numbers, OnWindow
from zigzag_meadow.core.nodes.windows import cut
from zigzag_meadow.core.parts import Told
from zigzag_meadow.core.srgb import coded, linear, luma

__all__ = ["LocalContrast"]


def _needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    below, *mask = node.inputs
    return [blur_need(below, grid, window, node.params["sigma"]), *(OnWindow(n, grid, window) for n in mask)]


def _made(here: Here, numbers: Numbers, wide: Array, mask: Array | None = None) -> Array:
    """Coded luminance drawn away from its blur; the colour keeps its proportions."""
    light = luma(wide)
    here_light, around = blurred(here, coded(light), numbers["sigma"])
    new = linear(np.clip(here_light + np.float32(numbers["amount"]) * (here_light - around), 0, 1))
    window = blur_window(here.grid, here.window, numbers["sigma"]).clipped(*here.grid.shape)
    inside = cut(wide, window, here.window)
    before = cut(light, window, here.window)
    times = new / np.maximum(before, np.float32(1e-5))
    made = np.clip(inside * times[..., None], 0, 1).astype(np.float32, copy=False)
    return partly(numbers, inside, made, mask)


CONTRAST = Local(name="local_contrast", needs=_needs, make=_made)


class LocalContrast(BaseCoat):
    title, family, hint = "Local contrast", "change", "light and dark against what lies around"
    sentence = "**Local contrast** by {amount} over {width}, at {strength}, {within}"
    kind: Literal["local_contrast"] = "local_contrast"
    amount: Annotated[float, Field(ge=-1, le=3), Told("Amount", "%", low=-1, high=2)] = 0.4
    width: Annotated[LENGTH, Told("Width", "m", step=1, decimals=0, of="spacing", first=10, low=1)] = 40.0

    def change(self, around: Around) -> Change:
        return Change(CONTRAST, {"amount": self.amount, "sigma": self.width / 2})
