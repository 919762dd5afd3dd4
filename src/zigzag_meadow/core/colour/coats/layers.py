"""Layers: their plain colours, the mean colours of their textures, or the textures themselves."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.colour.coats.base import Around, Painted
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.looks.texture import Worn, filtered_need, laid, lay, mean_of
from zigzag_meadow.core.nodes.ground_nodes import own_grid
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import AllOf, Array, Here, Local, Need, Numbers, OnWindow, WholeGround
from zigzag_meadow.core.parts import Told

__all__ = ["Layers", "layers_colour"]

F32 = NDArray[np.float32]
How = Literal["plain", "mean", "textures"]


@njit(nogil=True, cache=True)
def _add_plain(weight: F32, colour: F32, out: F32) -> None:
    for r in range(weight.shape[0]):
        for c in range(weight.shape[1]):
            w = weight[r, c]
            if w != np.float32(0):
                for k in range(3):
                    out[r, c, k] += w * colour[k]


@njit(nogil=True, cache=True)
def _add(weight: F32, colours: F32, tint: F32, out: F32) -> None:
    for r in range(weight.shape[0]):
        for c in range(weight.shape[1]):
            w = weight[r, c]
            if w != np.float32(0):
                for k in range(3):
                    out[r, c, k] += w * tint[k] * colours[r, c, k]


MEAN = WholeGround(
    name="mean_colour",
    needs=lambda node, grid: [AllOf(node.inputs[0], "albedo")],
    make=lambda here, numbers, albedo: mean_of(albedo),
    grid=own_grid,
    lasting=True,
)


def _nested(worn: Sequence[Worn]) -> list[Worn]:
    """Everything worn, and after each the one for its middle distance."""
    return [part for one in worn for part in (one, one.middle) if part is not None]


def _needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    weights, *textures = node.inputs
    each = iter(textures)
    needs: list[Need] = [OnWindow(weights, grid, window, passing=True)]
    for one in node.params["worn"]:
        for part in (one, one["middle"]):
            if part is not None and part["samples"]:
                texture = next(each)
                needs.append(AllOf(Node(MEAN, {}, (texture,))))
                needs.append(filtered_need(texture, "albedo", part, grid) if node.params["how"] == "textures" else None)
    return needs


def _made(here: Here, numbers: Numbers, weights: Array, *textures: Array | None) -> Array:
    out = np.zeros((*here.window.shape, 3), np.float32)
    each = iter(textures)
    for weight, one in zip(weights, numbers["worn"], strict=True):
        weight = readable(weight)
        if not one["samples"]:
            _add_plain(weight, np.array(one["plain"], np.float32), out)
            continue
        mean, texture = next(each), next(each)
        tint = np.array(one["tint"], np.float32)
        far = (next(each), next(each)) if one["middle"] and one["middle"]["samples"] else None
        if not weight.any():
            continue
        if texture is None:
            assert mean is not None
            _add_plain(weight, mean * tint, out)
            continue
        if far is None or far[0] is None or far[1] is None:
            lay(texture, one, here.grid, here.window, weight, tint, out)
            continue
        # What varies in the second texture is laid over the first: its mean changes nothing.
        colours = laid(texture, one, here.grid, here.window)
        colours *= laid(far[1], one["middle"], here.grid, here.window) / np.maximum(far[0], np.float32(1e-4))
        _add(weight, colours, tint, out)
    return np.minimum(out, np.float32(1), out=out)


LAYERS = Local(name="layers_colour", needs=_needs, make=_made)


def layers_colour(weights: Node, worn: Sequence[Worn], how: How) -> Node:
    """The colours of what is worn, mixed by weight: float32 (rows, columns, 3) linear light."""
    if how == "plain":
        worn = [Worn(one.plain) for one in worn]
    textures = [part.texture for part in _nested(worn) if part.texture is not None]
    return Node(LAYERS, {"how": how, "worn": [one.numbers for one in worn]}, (weights, *textures))


class Layers(Painted):
    title, family, hint = "Layers", "ground", "what the layers look like, mixed by their weights"
    sentence = "**Layers** in {how}, laid on {mode} at {strength}, {within}"
    whole = True
    kind: Literal["layers"] = "layers"
    how: Annotated[
        How,
        Told(
            "Layers as",
            choices=(
                ("textures", "their textures at ground scale"),
                ("mean", "the mean colours of their textures"),
                ("plain", "their plain colours"),
            ),
        ),
    ] = "textures"

    def top(self, around: Around) -> Node:
        return layers_colour(around.weights(), around.worn(), self.how)
