"""A picture laid over the ground: moved, turned, flipped, resized, and stretched between black and white."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadFile, WrongFormat
from zigzag_meadow.core.formats.catalogue import FORMATS, recognised
from zigzag_meadow.core.formats.declare import Head
from zigzag_meadow.core.formats.limits import check_bytes
from zigzag_meadow.core.formats.read import HEAD, read_stored
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.nodes.ground_nodes import own_grid
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import (
    AllOf,
    FromFile,
    Here,
    Local,
    Need,
    Numbers,
    WholeGround,
)
from zigzag_meadow.core.readings.asked import Asked
from zigzag_meadow.core.readings.declare import Param, Reading

__all__ = [
    "PICTURE",
    "Flip",
    "Samples",
    "check_picture",
    "lying",
    "picture",
    "placed",
    "read_channel",
    "read_colours",
    "read_pixels",
    "unit_ends",
    "upright",
]

F32 = NDArray[np.float32]
F64 = NDArray[np.float64]
Flip = Literal["none", "east_west", "north_south"]
Samples = Literal["border", "cells"]
_ROWS = 256
# Rec. 709 weights on the stored values: what the eye takes for brightness in the file.
_LUMA = (0.2126, 0.7152, 0.0722)


def read_pixels(path: Path, name: str) -> NDArray[Any]:
    """A picture at its stored depth, (rows, columns) or (rows, columns, channels): any format that holds pixels or
    heights.

    Raises :class:`BadFile`, :class:`WrongFormat` or :class:`TooLarge`.
    """
    size = path.stat().st_size
    check_bytes(size, name)
    with path.open("rb") as file:
        head = Head(file.read(HEAD), name, size)
    kind = recognised(head)
    if kind.pixels is not None:
        return kind.pixels(path, name)
    try:
        return read_stored(path, name).samples
    except (BadFile, WrongFormat):
        # Stored pictures are known by their content alone, and some kinds have no signature.
        likely = next((kind for kind in FORMATS if kind.may_be is not None and kind.may_be(head)), None)
        if likely is None or likely.pixels is None:
            raise
        return likely.pixels(path, name)


def _unit(samples: NDArray[Any], low: float, span: float) -> F32:
    out = np.empty(samples.shape, np.float32)
    for at in range(0, len(samples), _ROWS):
        out[at : at + _ROWS] = np.nan_to_num((samples[at : at + _ROWS].astype(np.float64) - low) / span)
    return out


def unit_ends(samples: NDArray[Any]) -> tuple[float, float]:
    """Whole numbers over what their type holds, floats from 0 to 1 as they are, other floats over their own range."""
    if np.issubdtype(samples.dtype, np.unsignedinteger):
        return 0.0, float(np.iinfo(samples.dtype).max)
    low, high = float(np.nanmin(samples)), float(np.nanmax(samples))
    return (0.0, 1.0) if (low >= 0 and high <= 1) or low == high else (low, high)


def check_picture(path: Path, name: str) -> tuple[int, int, int]:
    """(rows, columns, channels) of a picture that can be laid over the ground.

    Raises :class:`BadFile`, :class:`WrongFormat` or :class:`TooLarge`.
    """
    shape = read_pixels(path, name).shape
    return shape[0], shape[1], shape[2] if len(shape) == 3 else 1


def read_channel(path: Path, channel: str, name: str = "The picture") -> F32:
    """One channel of a picture as float32 (rows, columns), 0–1: ``r``, ``g``, ``b``, ``a`` or ``luma``.

    Raises :class:`BadFile`, :class:`WrongFormat` or :class:`TooLarge`.
    """
    pixels = read_pixels(path, name)
    if pixels.ndim == 2:
        pixels = pixels[..., None]
    low, high = unit_ends(pixels)
    count = pixels.shape[2]
    if channel == "luma" and count >= 3:
        luma = np.zeros(pixels.shape[:2], np.float32)
        for k, weight in enumerate(_LUMA):
            luma += _unit(pixels[..., k], low, high - low) * np.float32(weight)
        return luma
    index = {"r": 0, "g": 1, "b": 2, "a": 3, "luma": 0}[channel]
    if channel == "a" and count in (2, 4):
        index = count - 1
    if index >= count:
        raise WrongFormat(f"The picture has {count} channels, no {channel.upper()}.", field="channel")
    return _unit(pixels[..., index], low, high - low)


def read_colours(path: Path, name: str = "The picture") -> NDArray[np.uint8]:
    """A picture in its stored colours: uint8 (rows, columns, 4), red, green, blue and alpha; grey ones in grey.

    Raises :class:`BadFile`, :class:`WrongFormat` or :class:`TooLarge`.
    """
    pixels = read_pixels(path, name)
    if pixels.ndim == 2:
        pixels = pixels[..., None]
    low, high = unit_ends(pixels)
    count = pixels.shape[2]
    out = np.full((*pixels.shape[:2], 4), 255, np.uint8)
    parts = (0, 1, 2) if count >= 3 else (0, 0, 0)
    for k, part in enumerate(parts):
        out[..., k] = np.clip(_unit(pixels[..., part], low, high - low) * 255 + np.float32(0.5), 0, 255)
    if count in (2, 4):
        out[..., 3] = np.clip(_unit(pixels[..., count - 1], low, high - low) * 255 + np.float32(0.5), 0, 255)
    return out


def lying(
    shape: tuple[int, ...],
    home: Grid,
    grid: Grid,
    window: Window,
    *,
    east: float = 0.0,
    north: float = 0.0,
    wide: float = 1.0,
    turn: float = 0.0,
    flip: Flip = "none",
    samples: Samples = "border",
    outer: Sequence[float] = (0.0, 0.0),
) -> tuple[NDArray[np.bool_], F64, F64]:
    """(whether a picture lies there, its row, its column) at every sample of a window of ``grid``; rows and columns
    float64, held to its outermost samples. ``shape``: its rows and columns; all else: see :func:`picture`."""
    y0, x0 = grid.first
    y = (y0 + np.arange(window.row0, window.row1) * grid.dy)[:, None] + north - home.length / 2
    x = (x0 + np.arange(window.col0, window.col1) * grid.dx)[None, :] - east - home.width / 2
    angle = math.radians(turn)
    c, s = math.cos(angle), math.sin(angle)
    # Turning clockwise on the map (south down) by the inverse: back to where the picture was drawn.
    u = (x * c + y * s) / (wide * (home.width + outer[1])) + 0.5
    v = (-x * s + y * c) / (wide * (home.length + outer[0])) + 0.5
    u = 1 - u if flip == "east_west" else u
    v = 1 - v if flip == "north_south" else v
    rows, cols = shape[:2]
    inside = (u >= -1e-9) & (u <= 1 + 1e-9) & (v >= -1e-9) & (v <= 1 + 1e-9)
    if samples == "cells":
        return inside, np.clip(v * rows - 0.5, 0, rows - 1), np.clip(u * cols - 0.5, 0, cols - 1)
    return inside, np.clip(v, 0, 1) * (rows - 1), np.clip(u, 0, 1) * (cols - 1)


def picture(
    pixels: F32,
    home: Grid,
    grid: Grid,
    window: Window,
    *,
    black: float = 0.0,
    white: float = 1.0,
    east: float = 0.0,
    north: float = 0.0,
    wide: float = 1.0,
    turn: float = 0.0,
    flip: Flip = "none",
    samples: Samples = "border",
    outer: Sequence[float] = (0.0, 0.0),
) -> F32:
    """A picture's channel (float32, see :func:`read_channel`) on a window of ``grid``, 0–1 between its ``black`` and
    ``white``; float32.

    As it is the picture covers the ground exactly: ``samples`` says whether its outermost ones lie on the *border* or
    whether each is a *cell*, its middle half a cell inside. ``outer``: metres (y, x) by which the ground is longer and
    wider than its own outermost samples, where those are cells. ``wide`` enlarges it about the middle of the ground,
    ``turn`` turns it clockwise by degrees, then it moves by ``east`` and ``north`` metres. Outside the picture: 0.
    Bilinear.
    """
    inside, py, px = lying(
        pixels.shape,
        home,
        grid,
        window,
        east=east,
        north=north,
        wide=wide,
        turn=turn,
        flip=flip,
        samples=samples,
        outer=outer,
    )
    rows, cols = pixels.shape
    i, j = np.minimum(py.astype(np.int64), max(rows - 2, 0)), np.minimum(px.astype(np.int64), max(cols - 2, 0))
    fy, fx = (py - i).astype(np.float32), (px - j).astype(np.float32)
    i1, j1 = np.minimum(i + 1, rows - 1), np.minimum(j + 1, cols - 1)
    top = pixels[i, j] * (1 - fx) + pixels[i, j1] * fx
    low = pixels[i1, j] * (1 - fx) + pixels[i1, j1] * fx
    value = top * (1 - fy) + low * fy
    span = white - black if white != black else 1e-6
    return np.where(inside, np.clip((value - np.float32(black)) / np.float32(span), 0, 1), 0).astype(np.float32)


def _file(node: Node, grid: Grid) -> Sequence[Need]:
    return [FromFile(node.params["asset"], read_channel, (node.params["channel"],))]


PIXELS = WholeGround(name="pixels", grid=own_grid, needs=_file, make=lambda here, numbers, pixels: pixels)


def _nothing(here: Here, numbers: Numbers) -> F32:
    return np.zeros(here.window.shape, np.float32)


NOTHING = Local(name="no_picture", needs=lambda node, grid, window: [], make=_nothing)
"""A picture before there is one."""


def _laid(here: Here, numbers: Numbers, pixels: F32) -> F32:
    return picture(pixels, here.ground, here.grid, here.window, **numbers)


LAID = Local(name="picture", needs=lambda node, grid, window: [AllOf(node.inputs[1])], make=_laid)


def placed(numbers: Mapping[str, Any], outer: tuple[float, float]) -> dict[str, Any]:
    """The numbers of a picture's reading that say where it lies."""
    names = ("east", "north", "wide", "turn", "flip", "samples")
    return {**{name: numbers[name] for name in names}, **({"outer": list(outer)} if any(outer) else {})}


def upright(asset: str, channel: str, solid: Node, home: Grid) -> Node:
    """A channel of a stored picture that covers the whole ground as it lies: float32, 0–1."""
    numbers = {"east": 0.0, "north": 0.0, "wide": 1.0, "turn": 0.0, "flip": "none", "samples": "border"}
    return Node(LAID, numbers, (solid, Node(PIXELS, {"asset": asset, "channel": channel}, home=home)))


def _picture(asked: Asked) -> Node:
    if not asked.numbers["asset"]:
        return Node(NOTHING, {}, (asked.solid,))
    numbers = {**{name: asked.numbers[name] for name in ("black", "white")}, **placed(asked.numbers, asked.outer)}
    file = {name: asked.numbers[name] for name in ("asset", "channel")}
    return Node(LAID, numbers, (asked.solid, Node(PIXELS, file, home=asked.stage.home)))


PICTURE = Reading(
    name="picture",
    title="Picture",
    family="picture",
    low=0.0,
    high=1.0,
    sentence="A picture laid over the ground: where it lies, how it is turned, and what is black and white in it.",
    good_for="Painted masks, aerial images, maps from elsewhere.",
    build=_picture,
    ramp="grey",
    ready=False,
    params=(
        Param(name="asset", title="File", kind="file", default=""),
        Param(
            name="channel",
            title="Channel",
            kind="choice",
            default="luma",
            choices=(("luma", "brightness"), ("r", "red"), ("g", "green"), ("b", "blue"), ("a", "alpha")),
        ),
        Param(name="black", title="Black", default=0.0, low=-1, high=2, step=0.01, decimals=2),
        Param(name="white", title="White", default=1.0, low=-1, high=2, step=0.01, decimals=2),
        Param(name="east", title="East", unit="m", default=0.0, low=-100000, high=100000, decimals=1),
        Param(name="north", title="North", unit="m", default=0.0, low=-100000, high=100000, decimals=1),
        Param(name="wide", title="Size", unit="×", default=1.0, low=0.01, high=100, step=0.01, decimals=3),
        Param(name="turn", title="Turned", unit="°", default=0.0, low=-360, high=360, decimals=1),
        Param(
            name="flip",
            title="Flipped",
            kind="choice",
            default="none",
            choices=(("none", "not"), ("east_west", "east–west"), ("north_south", "north–south")),
        ),
        Param(
            name="samples",
            title="Samples",
            kind="choice",
            default="border",
            choices=(("border", "reach to the border"), ("cells", "are cells")),
        ),
    ),
)
