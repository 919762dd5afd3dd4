"""Fray: ragged edges by noise."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.masks import breakup
from zigzag_meadow.core.masks.lines.base import LENGTH, SEED, BaseLine, Maps
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Local, Need, Numbers, OnWindow
from zigzag_meadow.core.nodes.windows import margin_of, widened
from zigzag_meadow.core.parts import Told
from zigzag_meadow.core.readings.noise import NOISE_OPERATION

__all__ = ["Fray"]


def _wide(numbers: Numbers, grid: Grid, window: Window) -> Window:
    return widened(grid, window, margin_of(grid, numbers["reach"]))


def _needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    mask, south, east = node.inputs
    wide = _wide(node.params, grid, window)
    return [OnWindow(mask, grid, wide), OnWindow(south, grid, window), OnWindow(east, grid, window)]


def _frayed(here: Here, numbers: Numbers, mask: Array, south: Array, east: Array) -> Array:
    wide, grid, window = _wide(numbers, here.grid, here.window), here.grid, here.window
    # Noise rarely comes near its ends: twice the reach between them makes the reach the usual one.
    per = (2 * numbers["reach"] / grid.dy, 2 * numbers["reach"] / grid.dx)
    offset = (window.row0 - wide.row0, window.col0 - wide.col0)
    return breakup.displaced(mask, south, east, 0.5, per, offset, here.stripes, here.cancel)


FRAY = Local(name="fray", needs=_needs, make=_frayed)


class Fray(BaseLine):
    title, family, hint = "Fray", "breakup", "ragged edges by noise"
    sentence = "**Fray** its edges by {reach} in patches of {size}, seed {seed}"
    verb: Literal["fray"] = "fray"
    reach: Annotated[LENGTH, Told("Reach", "m", step=0.5, decimals=1, of="spacing", first=4)] = 14.0
    size: Annotated[float, Field(gt=0, le=20000), Told("Patch size", "m", decimals=1, of="spacing", first=15)] = 60.0
    seed: SEED = 1

    def node(self, before: Node, maps: Maps) -> Node:
        plain = {"kind": "gradient", "size": self.size, "octaves": 3.0, "stretch": 1.0, "direction": 0.0}
        ways = (Node(NOISE_OPERATION, {**plain, "seed": self.seed * 2 + k}, (maps.stage().solid,)) for k in (0, 1))
        return Node(FRAY, {"reach": self.reach}, (before, *ways))

    def at_final(self, draft: float) -> str | None:
        if self.size >= 4 * draft:
            return None
        return f"Patches of {self.size:g} m are finer than the draft shows ({draft:.3g} m a sample)."
