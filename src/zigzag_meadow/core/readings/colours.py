"""Pictures in true colour, and how like a colour they are."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.nodes.ground_nodes import own_grid
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import (
    AllOf,
    Array,
    FromFile,
    Here,
    Local,
    Need,
    Numbers,
    WholeGround,
    by_sample,
)
from zigzag_meadow.core.readings.asked import Asked
from zigzag_meadow.core.readings.declare import Param, Reading
from zigzag_meadow.core.readings.enlarged import enlarged
from zigzag_meadow.core.readings.picture import NOTHING, lying, picture, placed, read_colours
from zigzag_meadow.core.srgb import lab_of, linear, linear_of, to_whole

__all__ = ["LIKENESS", "coloured", "likeness", "sample_of", "size_of", "to_look_at"]

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
)


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


def _laid_sharply(here: Here, numbers: Numbers, seen: F32) -> Array:
    inside, down, across = lying(seen.shape, here.ground, here.grid, here.window, **numbers["place"])
    out = enlarged(seen, inside, down, across, here.stripes, here.cancel)
    out[..., :3] /= np.maximum(out[..., 3:], np.float32(1e-6))
    return out


LAID_SHARPLY = Local(name="image_laid_sharply", needs=_needs, make=_laid_sharply)


def coloured(
    solid: Node, numbers: Mapping[str, Any], home: Grid, outer: tuple[float, float], sharp: bool = False
) -> Node:
    """A picture's colours where the numbers of its reading lay it: float32 (rows, columns, 4): linear colour, and how
    much of it is there. ``outer``: see :func:`picture`; ``sharp``: enlarged by :func:`enlarged` instead of straight
    lines between its samples."""
    place = placed(numbers, outer)
    image = Node(IMAGE, {"asset": numbers["asset"]}, home=home)
    return Node(LAID_SHARPLY if sharp else LAID, {"place": place}, (solid, image))


SIZE = WholeGround(
    name="image_size",
    needs=lambda node, grid: [AllOf(node.inputs[0])],
    make=lambda here, numbers, pixels: np.array(pixels.shape[:2]),
    grid=own_grid,
    lasting=True,
)


def size_of(laid: Node) -> Node:
    """How many rows and columns the picture has that a node of :func:`coloured` lays: two whole numbers."""
    return Node(SIZE, {}, (laid.inputs[1],))


def sample_of(laid: Node, size: Array) -> tuple[float, float]:
    """Metres (y, x) on the ground that a sample of a picture stands for, of a node of :func:`coloured`; of a turned
    one the box around it. ``size``: what :func:`size_of` gives."""
    place, home = laid.params["place"], laid.grid
    less = 0 if place["samples"] == "cells" else 1
    outer = place.get("outer", (0.0, 0.0))
    down, across = (
        place["wide"] * (long + more) / max(int(many) - less, 1)
        for long, more, many in zip((home.length, home.width), outer, size, strict=True)
    )
    angle = math.radians(place["turn"])
    c, s = abs(math.cos(angle)), abs(math.sin(angle))
    return c * down + s * across, c * across + s * down


def _bytes(here: Here, numbers: Numbers, colours: F32) -> NDArray[np.uint8]:
    out = np.empty(colours.shape, np.uint8)
    out[..., :3] = to_whole(np.ascontiguousarray(colours[..., :3]))
    out[..., 3] = np.clip(colours[..., 3] * 255 + np.float32(0.5), 0, 255)
    return out


BYTES = by_sample("picture_bytes", _bytes, quick=False)


def to_look_at(colours: Node) -> Node:
    """A picture's colours as uint8 (rows, columns, 4): sRGB-coded, and how much of it is there."""
    return Node(BYTES, {}, (colours,))


def likeness(colours: F32, colour: str, spread: float) -> F32:
    """How like a ``colour`` (``#rrggbb``) others are, 0–1: 1 where they are the same, a half where they lie ``spread``
    hundredths away in OKLab, 0 from twice that on.

    ``colours``: float32 (rows, columns, 4), linear light and how much is there; float32 (rows, columns). OKLab:
    Ottosson 2020, A perceptual color space for image processing.
    """
    wanted = lab_of(np.array([[linear_of(colour)]], np.float32))[0, 0]
    away = np.linalg.norm(lab_of(np.ascontiguousarray(colours[..., :3])) - wanted, axis=-1)
    near: F32 = np.clip(1 - away / np.float32(max(spread, 1e-3) / 50), 0, 1).astype(np.float32)
    return near * colours[..., 3]


def _like(here: Here, numbers: Numbers, colours: F32) -> F32:
    return likeness(colours, numbers["colour"], numbers["spread"])


LIKE = by_sample("likeness", _like, quick=False)


def _likeness(asked: Asked) -> Node:
    colours = asked.pictured(str(asked.numbers["picture"]))
    if colours is None:
        return Node(NOTHING, {}, (asked.solid,))
    return Node(LIKE, {"colour": asked.numbers["colour"], "spread": asked.number("spread")}, (colours,))


LIKENESS = Reading(
    name="likeness",
    title="Likeness to a colour",
    family="picture",
    low=0.0,
    high=1.0,
    sentence="How like a chosen colour a picture is: the same is 1, as far away as the spread is a half.",
    good_for="Fields, roads, woods, snow or water out of an aerial image.",
    build=_likeness,
    ramp="grey",
    ready=False,
    params=(
        Param(name="picture", title="Picture", kind="picture", default=""),
        Param(name="colour", title="Colour", kind="colour", default="#7a8450"),
        Param(name="spread", title="Spread", unit="%", default=6.0, low=0.1, high=60, step=0.5, decimals=1),
    ),
)
