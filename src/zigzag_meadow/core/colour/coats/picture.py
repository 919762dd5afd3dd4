"""Aerial image: a picture in true colour, laid where its reading lays it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.colour.coats.base import Around, Begun, Painted
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.nodes.ground import own_grid
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import AllOf, Array, FromFile, Here, Local, Need, Numbers, WholeGround
from zigzag_meadow.core.parts import Edited, Id
from zigzag_meadow.core.readings.picture import picture, read_colours
from zigzag_meadow.core.srgb import linear

__all__ = ["AerialImage", "picture_node"]

F32 = NDArray[np.float32]


def _file(node: Node, grid: Grid) -> Sequence[Need]:
    return [FromFile(node.params["asset"], read_colours)]


IMAGE = WholeGround(name="image", needs=_file, make=lambda here, numbers, pixels: pixels, grid=own_grid, lasting=True)
"""A picture as uint8 (rows, columns, 4), sRGB-coded, alpha last."""


def _halved(values: F32, axis: int) -> F32:
    moved = np.moveaxis(values, axis, 0)
    even = moved[: len(moved) // 2 * 2]
    return np.moveaxis((even[0::2] + even[1::2]) * np.float32(0.5), 0, axis)


def _seen(here: Here, numbers: Numbers, pixels: Array) -> Array:
    """Colours weighted by alpha, in linear light, halved as often as the grid's samples allow."""
    values = np.empty(pixels.shape, np.float32)
    values[..., :3] = linear(pixels[..., :3].astype(np.float32) * np.float32(1 / 255))
    values[..., 3] = pixels[..., 3] * np.float32(1 / 255)
    values[..., :3] *= values[..., 3:]
    for axis, part in enumerate(numbers["parts"]):
        # How many of its samples go into one of the grid's.
        many = part * values.shape[axis]
        while many >= 1.42 and values.shape[axis] >= 4:
            values, many = _halved(values, axis), many / 2
    return np.ascontiguousarray(values)


SEEN = WholeGround(
    name="image_seen", needs=lambda node, grid: [AllOf(node.inputs[0])], make=_seen, grid=own_grid, lasting=True
)  # fmt: skip


def _parts(numbers: Numbers, home: Grid, grid: Grid) -> list[float]:
    """Which part of the picture's length and width a sample of the grid stands for."""
    place = numbers["place"]
    lying = abs(math.sin(math.radians(place["turn"]))) > 0.7
    dy, dx = (grid.dx, grid.dy) if lying else (grid.dy, grid.dx)
    return [float(f"{part / place['wide']:.6g}") for part in (dy / home.length, dx / home.width)]


def _needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    image = node.inputs[1]
    return [AllOf(Node(SEEN, {"parts": _parts(node.params, node.grid, grid)}, (image,)))]


def _laid(here: Here, numbers: Numbers, seen: F32) -> Array:
    out = np.empty((*here.window.shape, 4), np.float32)
    for k in range(4):
        plane = np.ascontiguousarray(seen[..., k])
        out[..., k] = picture(plane, here.ground, here.grid, here.window, **numbers["place"])
    out[..., :3] /= np.maximum(out[..., 3:], np.float32(1e-6))
    return out


LAID = Local(name="image_laid", needs=_needs, make=_laid)


def picture_node(solid: Node, numbers: dict[str, Any], home: Grid) -> Node:
    """A picture's colours where the numbers of its reading lay it: float32 (rows, columns, 4): linear colour, and how
    much of it is there."""
    place = {name: numbers[name] for name in ("east", "north", "wide", "turn", "flip")}
    image = Node(IMAGE, {"asset": numbers["asset"]}, home=home)
    return Node(LAID, {"place": place}, (solid, image))


class AerialImage(Painted):
    title, family, hint = "Aerial image", "ground", "a picture of the ground, in true colour"
    sentence = "**Image** {picture}, laid on {mode} at {strength}, {within}, {seen}"
    part = True
    kind: Literal["image"] = "image"
    picture: Annotated[Id, Edited("picture", "Picture")] = "picture"

    @classmethod
    def begun(cls, begun: Begun) -> dict[str, Any]:
        return {} if begun.picture is None else {"picture": begun.picture}

    def top(self, around: Around) -> Node | None:
        return around.picture(self.picture)

    def trouble(self, around: Around) -> str | None:
        none = around.picture(self.picture) is None
        return "There is no picture yet: bring one in among the readings, or here." if none else None

    @property
    def picture_id(self) -> str:
        return self.picture
