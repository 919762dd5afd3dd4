"""Textures as operations: made or read once, filtered to what a grid can show, and laid over the ground.

A texture is no map of the ground: its nodes live on a grid of their own, and what is laid asks for them whole.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.looks.catalogue import LOOKS
from zigzag_meadow.core.looks.files import read_map
from zigzag_meadow.core.looks.model import Dressing, Look
from zigzag_meadow.core.nodes.ground_nodes import own_grid
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import AllOf, Array, Cost, FromFile, Here, MadeOnce, Need, Numbers
from zigzag_meadow.core.srgb import coded, linear, linear_of

__all__ = ["SIDE", "Texture", "Worn", "filtered_need", "laid", "lay", "made_texture", "read_texture", "worn"]

F32 = NDArray[np.float32]
SIDE = 1024
"""Samples a side of bundled textures."""
PLANES = ("albedo", "surface", "relief")
_FLAT_ROUGHNESS = 0.85


@dataclass(frozen=True, slots=True)
class Texture:
    """``node`` has three planes: *albedo* uint8 (rows, columns, 3), sRGB-coded; *surface* float16 (rows, columns, 3):
    rise towards the right, rise towards the top, roughness; *relief* float16 (rows, columns) in metres above its
    lowest. ``size``: metres across, as it comes."""

    node: Node
    size: float


def _planes(tone: F32, roughness: F32, relief: F32, rise: tuple[F32, F32]) -> dict[str, Array]:
    surface = np.stack([*rise, roughness], axis=2).astype(np.float16)
    return {
        "albedo": np.clip(tone * 255 + 0.5, 0, 255).astype(np.uint8),
        "surface": surface,
        "relief": relief.astype(np.float16),
    }


def _rise(relief: F32, step: float) -> tuple[F32, F32]:
    """How steeply a relief in metres rises to the right and to the top, going round its border; ``step``: metres."""
    per = np.float32(1 / (2 * step))
    right = (np.roll(relief, -1, axis=1) - np.roll(relief, 1, axis=1)) * per
    top = (np.roll(relief, 1, axis=0) - np.roll(relief, -1, axis=0)) * per
    return right, top


def _made(here: Here, numbers: Numbers) -> dict[str, Array]:
    look = next(look for look in LOOKS if look.id == numbers["look"])
    made = look.make(here.grid.cols)
    relief = made.relief * np.float32(look.depth)
    return _planes(made.tone, made.roughness, relief, _rise(relief, here.grid.dx))


def _read(
    here: Here, numbers: Numbers, albedo: F32, normal: F32 | None, roughness: F32 | None, relief: F32 | None
) -> dict[str, Array]:
    shape = here.grid.shape
    height = np.zeros(shape, np.float32) if relief is None else relief[..., 0] * np.float32(numbers["depth"])
    rise = _rise(height, here.grid.dx)
    if normal is not None:
        n = normal * np.float32(2) - np.float32(1)
        up = np.maximum(n[..., 2], np.float32(0.05))
        rise = (-n[..., 0] / up, (-n[..., 1] if numbers["green"] == "up" else n[..., 1]) / up)
    rough = np.full(shape, _FLAT_ROUGHNESS, np.float32) if roughness is None else roughness[..., 0]
    return _planes(albedo, rough, height, rise)


def _made_cost(node: Node, grid: Grid) -> Cost:
    title = next(look.title for look in LOOKS if look.id == node.params["look"])
    return Cost(f"Making the texture {title}", 80 * grid.rows * grid.cols, long=True)


def _files(node: Node, grid: Grid) -> Sequence[Need]:
    return [
        None if asset is None else FromFile(asset, read_map, (kind, grid.rows, grid.cols))
        for kind, asset in node.params["files"]
    ]


MADE = MadeOnce(
    name="made_texture",
    planes=PLANES,
    needs=lambda node, grid: [],
    make=_made,
    grid=own_grid,
    cost=_made_cost,
    lasting=True,
)
READ = MadeOnce(name="read_texture", planes=PLANES, needs=_files, make=_read, grid=own_grid, lasting=True)


def made_texture(look_id: str, side: int = SIDE) -> Texture | None:
    """A bundled look; None where there is none of this id."""
    look = next((look for look in LOOKS if look.id == look_id), None)
    if look is None:
        return None
    grid = Grid(side, side, look.size / side, look.size / side, "area")
    return Texture(Node(MADE, {"look": look.id, "version": look.version}, home=grid), look.size)


def read_texture(look: Look) -> Texture:
    """A look that was brought in."""
    step = look.size / look.cols
    grid = Grid(look.rows, look.cols, step, step, "area")
    files = [[kind, look.asset(kind)] for kind in ("albedo", "normal", "roughness", "relief")]
    return Texture(Node(READ, {"files": files, "depth": look.depth, "green": look.green}, home=grid), look.size)


# Filtered to what a grid can show ---------------------------------------------------------------------------------


def _boxed(values: F32, width: float, axis: int) -> F32:
    """Means over ``width`` samples along an axis, going round; exact for any width from 1."""
    n = values.shape[axis]
    if width >= n:
        return np.repeat(values.mean(axis=axis, keepdims=True, dtype=np.float64), n, axis=axis).astype(np.float32)
    moved = np.moveaxis(values, axis, 0)
    ends = np.concatenate([np.zeros((1, *moved.shape[1:])), np.cumsum(moved, axis=0, dtype=np.float64)])

    def upto(at: NDArray[Any]) -> NDArray[Any]:
        rounds, rest = np.divmod(at, n)
        i = np.minimum(rest.astype(np.int64), n - 1)
        f = (rest - i).reshape(-1, *[1] * (moved.ndim - 1))
        total: NDArray[Any] = ends[i] + (ends[i + 1] - ends[i]) * f
        made: NDArray[Any] = total + ends[-1] * rounds.reshape(f.shape)
        return made

    middle = np.arange(n) + 0.5
    means = (upto(middle + width / 2) - upto(middle - width / 2)) / width
    return np.moveaxis(means.astype(np.float32), 0, axis)


def _filtered(here: Here, numbers: Numbers, plane: Array) -> Array:
    values = linear(plane.astype(np.float32) / 255) if plane.dtype == np.uint8 else plane.astype(np.float32)
    values = values[..., None] if values.ndim == 2 else values
    if all(width >= many for width, many in zip(numbers["over"], values.shape, strict=False)):
        # Every sample of the grid sees all of it.
        whole: Array = values.mean(axis=(0, 1), dtype=np.float64, keepdims=True).astype(np.float32)
        return whole
    for axis, width in enumerate(numbers["over"]):
        # A texture that is seen from far is small: halve it as long as two samples of it go into what is shown.
        while width >= 4 and values.shape[axis] % 2 == 0 and values.shape[axis] > 2:
            halves = np.moveaxis(values, axis, 0)
            values = np.moveaxis((halves[0::2] + halves[1::2]) * np.float32(0.5), 0, axis)
            width /= 2
        if width > 1:
            values = _boxed(values, width, axis)
    return np.ascontiguousarray(values)


FILTERED = MadeOnce(
    name="filtered_texture",
    needs=lambda node, grid: [AllOf(node.inputs[0], node.params["plane"])],
    make=_filtered,
    grid=own_grid,
    lasting=True,
)


# Laid over the ground ---------------------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class Worn:
    """A texture as a layer wears it. ``size``: metres across; ``turn``: degrees clockwise; ``shift``: metres (east,
    south); ``tint``: what linear colours are multiplied by; ``roughness`` multiplies. ``middle``: another one whose
    variation is laid over its colours. ``plain``: linear colour where there is no texture."""

    plain: tuple[float, float, float]
    texture: Node | None = None
    size: float = 1.0
    turn: float = 0.0
    shift: tuple[float, float] = (0.0, 0.0)
    tint: tuple[float, float, float] = (1.0, 1.0, 1.0)
    roughness: float = 1.0
    middle: Worn | None = None

    @property
    def numbers(self) -> dict[str, object]:
        """Everything but the nodes, for a node's numbers; with the ``samples`` of the texture (None without one)
        and how much flatter it is for being ``drawn`` out to its size."""
        return {
            "plain": list(self.plain),
            "size": self.size,
            "turn": self.turn,
            "shift": list(self.shift),
            "tint": list(self.tint),
            "roughness": self.roughness,
            "middle": None if self.middle is None else self.middle.numbers,
            "samples": None if self.texture is None else list(self.texture.grid.shape),
            "drawn": 1.0 if self.texture is None else self.texture.grid.width / self.size,
        }


def worn(
    dressing: Dressing, colour: str, texture: Texture | None, middle: Texture | None, one_size: float | None
) -> Worn:
    """A layer's look; ``colour``: its plain colour; ``one_size``: metres for all layers, if any."""
    if texture is None:
        return Worn(linear_of(colour))
    bright = dressing.brightness
    r, g, b = (part * bright for part in linear_of(dressing.tint))
    far = None if middle is None else Worn((1.0, 1.0, 1.0), middle.node, dressing.middle_size)
    return Worn(
        linear_of(colour),
        texture.node,
        one_size or dressing.size or texture.size,
        dressing.turn,
        (dressing.east, dressing.south),
        (r, g, b),
        dressing.roughness,
        far,
    )


def filtered_need(texture: Node, plane: str, numbers: Numbers, grid: Grid) -> AllOf:
    """A plane of a texture as it is seen on ``grid``: float32 (rows, columns, parts), colours in linear light.

    Means over what a sample of the grid stands for; turned textures over the box around it.
    """
    own = texture.grid
    step = numbers["size"] / own.cols
    a = math.radians(numbers["turn"])
    c, s = abs(math.cos(a)), abs(math.sin(a))
    over = [(c * grid.dy + s * grid.dx) / step, (c * grid.dx + s * grid.dy) / step]
    # Textures seen on grids that differ by a hair are the same.
    kept = [float(f"{max(width, 1.0):.5g}") for width in over]
    return AllOf(Node(FILTERED, {"plane": plane, "over": kept}, (texture,)))


@njit(nogil=True, cache=True, error_model="numpy")
def _lay(texture: F32, place: NDArray[np.float64], weight: F32, tint: F32, out: F32) -> None:
    """Add a texture to ``out``, times weight and tint; nothing is looked up where it weighs nothing."""
    rows, cols, parts = texture.shape
    x0, y0, dx, dy, c, s, size, tall = place
    plain = rows == 1 and cols == 1
    # In samples of the texture, going east and south over the ground.
    ux, uy, vx, vy = c / size, s / size, -s / tall, c / tall
    half, one = np.float32(0.5), np.float32(1)
    for r in range(out.shape[0]):
        y = y0 + r * dy
        u0, v0 = x0 * ux + y * uy, x0 * vx + y * vy
        for q in range(out.shape[1]):
            w = weight[r, q]
            if w == np.float32(0):
                continue
            if plain:
                for k in range(parts):
                    out[r, q, k] += w * tint[k] * texture[0, 0, k]
                continue
            u, v = u0 + q * dx * ux, v0 + q * dx * vx
            px = np.float32((u - math.floor(u)) * cols) + half
            py = np.float32((v - math.floor(v)) * rows) + half
            # Half a sample on, so that nothing is below 0: the sample before is one less.
            j1, i1 = min(max(0, np.int32(px)), cols), min(max(0, np.int32(py)), rows)
            fx, fy = px - np.float32(j1), py - np.float32(i1)
            j0, i0 = (j1 - 1 if j1 > 0 else cols - 1), (i1 - 1 if i1 > 0 else rows - 1)
            j2, i2 = (j1 if j1 < cols else 0), (i1 if i1 < rows else 0)
            a, b = w * (one - fy) * (one - fx), w * (one - fy) * fx
            d, e = w * fy * (one - fx), w * fy * fx
            for k in range(parts):
                out[r, q, k] += tint[k] * (
                    a * texture[i0, j0, k] + b * texture[i0, j2, k] + d * texture[i2, j0, k] + e * texture[i2, j2, k]
                )


def lay(texture: F32, numbers: Numbers, grid: Grid, window: Window, weight: F32, tint: F32, out: F32) -> None:
    """Add a filtered texture (rows, columns, parts), laid over a window of the ground, to ``out`` (float32 (rows,
    columns, parts)), times ``weight`` (rows, columns) and ``tint`` (parts,).

    ``numbers``: those of what is :class:`Worn`. Repeats without a seam from the extent's north-west corner on;
    ``turn`` clockwise; bilinear.
    """
    y, x = grid.first
    a = math.radians(numbers["turn"])
    east, south = numbers["shift"]
    size = numbers["size"]
    place = np.array(
        [
            x + window.col0 * grid.dx - east,
            y + window.row0 * grid.dy - south,
            grid.dx,
            grid.dy,
            math.cos(a),
            math.sin(a),
            size,
            size * numbers["samples"][0] / numbers["samples"][1],
        ]
    )
    _lay(readable(texture), place, readable(weight), readable(tint), out)


def laid(texture: F32, numbers: Numbers, grid: Grid, window: Window) -> F32:
    """The same by itself: float32 (rows, columns, parts)."""
    out = np.zeros((*window.shape, texture.shape[2]), np.float32)
    lay(texture, numbers, grid, window, np.ones(window.shape, np.float32), np.ones(texture.shape[2], np.float32), out)
    return out


def mean_of(albedo: Array) -> F32:
    """The mean colour of an sRGB-coded albedo in linear light; float32 (3,)."""
    made: F32 = linear(albedo.astype(np.float32) / 255).mean(axis=(0, 1), dtype=np.float64).astype(np.float32)
    return made


def shown(albedo: Array, side: int) -> Array:
    """An albedo as a square picture of ``side`` samples, uint8 (side, side, 3), means taken in linear light."""
    light = linear(albedo.astype(np.float32) / 255)
    rows = np.linspace(0, light.shape[0], side + 1).astype(int)
    cols = np.linspace(0, light.shape[1], side + 1).astype(int)
    sums = np.add.reduceat(np.add.reduceat(light, rows[:-1], axis=0), cols[:-1], axis=1)
    counts = np.diff(rows)[:, None] * np.diff(cols)[None, :]
    made: Array = np.clip(coded(sums / counts[..., None]) * 255 + 0.5, 0, 255).astype(np.uint8)
    return made
