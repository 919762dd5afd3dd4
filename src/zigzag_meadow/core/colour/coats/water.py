"""Water: colours by depth, with a shore."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.colour.coats.base import LENGTH, Around, Painted
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Numbers, by_sample
from zigzag_meadow.core.parts import Colour, Edited, Told
from zigzag_meadow.core.srgb import linear_of

__all__ = ["Water", "water_colours"]

F32 = NDArray[np.float32]
WET = np.float32(0.4)
"""How much of the shallow colour lies on the shore beside the water."""


@njit(nogil=True, cache=True)
def _water(heights: F32, level: np.float32, deep: np.float32, shore: np.float32, near: F32, far: F32, out: F32) -> None:
    zero, one = np.float32(0), np.float32(1)
    for r in range(heights.shape[0]):
        for c in range(heights.shape[1]):
            depth = level - heights[r, c]
            t = min(max(depth * deep, zero), one)
            for k in range(3):
                out[r, c, k] = near[k] + t * (far[k] - near[k])
            under = WET + (one - WET) * min(depth * shore, one)
            above = WET * max(one + depth * shore, zero)
            # Where there is no height there is no water.
            out[r, c, 3] = under if depth > zero else above if depth <= zero else zero


def water_colours(
    heights: F32, level: float, deep: float, shore: float, colours: tuple[tuple[float, ...], tuple[float, ...]]
) -> F32:
    """Water over heights in metres: float32 (rows, columns, 4), linear colour and how much of it there is.

    From the shallow colour at the edge to the deep one ``deep`` metres down, straight in linear light. Full cover is
    reached ``shore`` metres down; as far above the edge the ground is still wet.
    """
    out = np.empty((*heights.shape, 4), np.float32)
    near, far = (np.array(colour, np.float32) for colour in colours)
    numbers = (np.float32(level), np.float32(1 / deep), np.float32(1 / shore))
    _water(readable(heights), *numbers, near, far, out)
    return out


def _made(here: Here, numbers: Numbers, heights: Array) -> Array:
    return water_colours(heights, numbers["level"], numbers["deep"], numbers["shore"], numbers["colours"])


WATER = by_sample("water_colours", _made)


class Water(Painted):
    title, family, hint = "Water", "ground", "colours by depth, with a wet shore"
    sentence = "**Water** to {deep} deep, {shallow} to {far_down}, shore over {shore}, laid on {mode} at {strength}"
    part = True
    kind: Literal["water"] = "water"
    deep: Annotated[LENGTH, Told("Depth", "m", step=1, decimals=1, low=0.1, high=200)] = 20.0
    shallow: Annotated[Colour, Edited("colour", "Colour of shallow water")] = "#3c5f5a"
    far_down: Annotated[Colour, Edited("colour", "Colour of deep water")] = "#122a35"
    shore: Annotated[LENGTH, Told("Shore", "m", step=0.1, decimals=1, low=0.1, high=50)] = 1.5

    def top(self, around: Around) -> Node | None:
        level = around.water()
        if level is None:
            return None
        colours = [list(linear_of(self.shallow)), list(linear_of(self.far_down))]
        numbers = {"level": level, "deep": self.deep, "shore": self.shore, "colours": colours}
        return Node(WATER, numbers, (around.height(),))

    def trouble(self, around: Around) -> str | None:
        return "The ground has no water level: set one at Ground." if around.water() is None else None
