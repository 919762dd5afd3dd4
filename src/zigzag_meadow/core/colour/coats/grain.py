"""Grain: what the layers' textures show between the samples of a picture, in the picture's own colours.

The layers' colours over what they are on average around a place say how much brighter or darker, redder or greener it
is there. That share of the picture's colour is laid on it: its colours stay what they are on average, as colours are
brought to each other by their means (Reinhard et al. 2001, Color transfer between images, doi:10.1109/38.946629).
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.colour.coats.layers import layers_colour
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.looks.texture import Worn
from zigzag_meadow.core.masks.softened import blur_need, blurred
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import AllOf, Array, Here, Local, Need, Numbers, OnWindow, Unfolding
from zigzag_meadow.core.readings.colours import sample_of, size_of
from zigzag_meadow.core.resample import Resampling

__all__ = ["grained", "with_grain"]

F32 = NDArray[np.float32]
LEAST, MOST = np.float32(0.25), np.float32(4.0)
"""A colour becomes no darker and no brighter than that many times what it was."""
WIDTH = 0.5
"""What a picture holds is what a blur of that many of its samples leaves: waves of two samples are left at 29 %."""
STEPS = 6
"""Samples to a blur: wider ones are made on coarser grids, at the same cost."""


def with_grain(image: F32, fine: F32, around: F32, amount: float) -> F32:
    """Colours of a picture (rows, columns, 4: linear light, and how much of it is there) times what ``fine`` colours
    (rows, columns, 3) are over those ``around``, by ``amount`` (1: as they are); float32, within 0–1."""
    least = np.float32(1e-4)
    ratio = np.clip(1 + np.float32(amount) * ((fine + least) / (around + least) - 1), LEAST, MOST)
    out = image.copy()
    out[..., :3] = np.clip(image[..., :3] * ratio, 0, 1)
    return out


def _around_needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    return [blur_need(node.inputs[0], grid, window, node.params["sigma"])]


def _around(here: Here, numbers: Numbers, wide: Array) -> Array:
    return np.stack([blurred(here, np.ascontiguousarray(wide[..., k]), numbers["sigma"])[1] for k in range(3)], axis=2)


AROUND = Local(name="layers_around", needs=_around_needs, make=_around)


def _afar(home: Grid, grid: Grid, sigma: float) -> Grid:
    """The grid on which what lies around is made: no finer than a blur can tell."""
    rows, cols = (math.ceil(STEPS * long / sigma) + 1 for long in (home.length, home.width))
    coarse = home.resized(max(rows, 2), max(cols, 2), "vertex")
    return coarse if coarse.dy > grid.dy and coarse.dx > grid.dx else grid


def _needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    image, fine, around = node.inputs
    sigma = around.params["sigma"]
    # Where the picture is as fine as the map there is nothing between its samples.
    if max(grid.dy, grid.dx) * WIDTH >= sigma:
        return [OnWindow(image, grid, window), None, None]
    afar = _afar(node.grid, grid, sigma)
    seen = OnWindow(around, afar, Resampling(afar, grid, window, "mask").needs)
    return [OnWindow(image, grid, window), OnWindow(fine, grid, window), seen]


def _made(here: Here, numbers: Numbers, image: Array, fine: Array | None, seen: Array | None) -> Array:
    if fine is None or seen is None:
        return image.copy()
    plan = Resampling(_afar(here.ground, here.grid, numbers["sigma"]), here.grid, here.window, "mask")
    around = np.stack([plan.apply(np.ascontiguousarray(seen[..., k])) for k in range(3)], axis=2)
    return with_grain(image, fine, around, numbers["amount"])


GRAIN = Local(name="picture_grain", needs=_needs, make=_made)


def _unfolded(node: Node, size: Array) -> Node:
    image, fine, _ = node.inputs
    sigma = float(f"{WIDTH * math.sqrt(math.prod(sample_of(image, size))):.6g}")
    around = Node(AROUND, {"sigma": sigma}, (fine,))
    return Node(GRAIN, {**node.params, "sigma": sigma}, (image, fine, around))


GRAINED = Unfolding(name="grained_picture", needs=lambda node: [AllOf(node.inputs[2])], unfold=_unfolded)


def grained(image: Node, weights: Node, worn: Sequence[Worn], amount: float) -> Node:
    """A picture's colours (a node of :func:`zigzag_meadow.core.readings.colours.coloured`) with the grain of what is
    worn, by weight: float32 (rows, columns, 4)."""
    return Node(GRAINED, {"amount": amount}, (image, layers_colour(weights, worn, "textures"), size_of(image)))
