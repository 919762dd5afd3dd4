"""Surface maps: directions, roughness and height detail from the ground and from what its layers wear."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.looks.texture import Worn, filtered_need, laid
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import AllOf, Array, Here, Local, Need, Numbers, OnWindow, by_sample
from zigzag_meadow.core.parts import Part, Told
from zigzag_meadow.core.readings.derivative import derivative
from zigzag_meadow.core.readings.differences import Offsets

__all__ = [
    "SURFACE_MAPS",
    "Surface",
    "SurfaceMap",
    "curvature_map",
    "detail_map",
    "normal_map",
    "normals",
    "occlusion_map",
    "roughness_map",
    "worn_surface",
]

F32 = NDArray[np.float32]
SurfaceMap = Literal["normal", "roughness", "occlusion", "curvature", "detail"]
SURFACE_MAPS: dict[SurfaceMap, str] = {
    "normal": "Normal",
    "roughness": "Roughness",
    "occlusion": "Occlusion",
    "curvature": "Curvature",
    "detail": "Height detail",
}
_PLAIN_ROUGHNESS = 0.85


class Surface(Part):
    """How surface maps are made. ``curvature`` and ``detail``: what full scale stands for, 1/m and metres."""

    green: Annotated[
        Literal["up", "down"], Told("Green", choices=(("up", "up, towards north"), ("down", "down, towards south")))
    ] = "up"
    strength: Annotated[float, Field(ge=0, le=8), Told("Strength of the ground", "%", high=3)] = 1.0
    textures: Annotated[float, Field(ge=0, le=8), Told("Strength of the textures", "%", high=3)] = 1.0
    occlusion: Annotated[float, Field(ge=0, le=1), Told("Strength of the occlusion", "%")] = 1.0
    curvature: Annotated[
        float, Field(gt=0, le=10), Told("Curvature at full scale", "1/m", step=0.001, decimals=3, low=0.001, high=0.2)
    ] = 0.02
    detail: Annotated[
        float, Field(gt=0, le=100), Told("Height at full scale", "m", step=0.05, decimals=2, low=0.01, high=5)
    ] = 0.5


def _beside(padded: F32, k: int, f: float, axis: int, margin: tuple[int, int], shape: tuple[int, int]) -> F32:
    """The neighbour ``k + f`` samples on along an axis (negative: back), between two samples straight."""

    def at(step: int) -> F32:
        start = [margin[0], margin[1]]
        start[axis] += step
        return padded[start[0] : start[0] + shape[0], start[1] : start[1] + shape[1]]

    way = 1 if k >= 0 else -1
    near = at(k)
    return near if f == 0 else near + np.float32(f) * (at(k + way) - near)


def _rise(here: Here, numbers: Numbers, padded: F32, off: Offsets) -> F32:
    east = numbers["way"] == "east"
    axis, k, f, w = (1, off.kx, off.fx, off.wx) if east else (0, off.ky, off.fy, off.wy)
    shape, margin = here.window.shape, off.margin
    on, back = (_beside(padded, sign * k, f, axis, margin, shape) for sign in (1, -1))
    # Rows run south: what rises with them falls towards north.
    return (on - back) * np.float32((1 if east else -1) / (2 * w))


RISE = derivative("rise", _rise)


def _rises(solid: Node, spacing: list[float]) -> tuple[Node, Node]:
    east, north = (Node(RISE, {"way": way, "width": spacing}, (solid,)) for way in ("east", "north"))
    return east, north


def _needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    weights, *textures = node.inputs
    each = iter(textures)
    needs: list[Need] = [OnWindow(weights, grid, window, passing=True)]
    for one in node.params["worn"]:
        planes: list[AllOf] = []
        if one["samples"]:
            texture = next(each)
            planes = [filtered_need(texture, plane, one, grid) for plane in ("surface", "relief")]
        needs += planes or [None, None]
    return needs


def _worn(here: Here, numbers: Numbers, weights: Array, *textures: Array | None) -> Array:
    out = np.zeros((*here.window.shape, 4), np.float32)
    for at, one in enumerate(numbers["worn"]):
        weight = weights[at]
        surface, relief = textures[2 * at], textures[2 * at + 1]
        if surface is None or relief is None:
            out[..., 2] += weight * np.float32(_PLAIN_ROUGHNESS)
            continue
        if not weight.any():
            continue
        right, top, rough = np.moveaxis(laid(surface, one, here.grid, here.window), 2, 0)
        # A texture that is laid larger is as much flatter: its relief keeps its metres.
        flat = one["drawn"]
        a = math.radians(one["turn"])
        c, s = np.float32(math.cos(a) * flat), np.float32(math.sin(a) * flat)
        out[..., 0] += weight * (right * c + top * s)
        out[..., 1] += weight * (top * c - right * s)
        out[..., 2] += weight * np.clip(rough * np.float32(one["roughness"]), 0, 1)
        out[..., 3] += weight * laid(relief, one, here.grid, here.window)[..., 0]
    return out


WORN = Local(name="worn_surface", needs=_needs, make=_worn)


def worn_surface(weights: Node, worn: Sequence[Worn]) -> Node:
    """What the layers' textures add to the surface: float32 (rows, columns, 4): rise towards east, rise towards north,
    roughness 0–1, relief in metres; mixed by weight."""
    textures = [one.texture for one in worn if one.texture is not None]
    return Node(WORN, {"worn": [one.numbers for one in worn]}, (weights, *textures))


def normals(east: NDArray[Any], north: NDArray[Any], green: Literal["up", "down"] = "up") -> F32:
    """Unit normals of a surface that rises so steeply towards east and north, as 0–1 (½ is 0): float32 (rows, columns,
    3). n = normalise(−∂z/∂x, −∂z/∂y, 1); ``green`` *down* turns the second part about."""
    length = 1 / np.sqrt(east * east + north * north + np.float32(1))
    sign = np.float32(1 if green == "up" else -1)
    out = np.stack([-east * length, -sign * north * length, length], axis=2)
    return (out * np.float32(0.5) + np.float32(0.5)).astype(np.float32, copy=False)


def _normal(here: Here, numbers: Numbers, east: Array, north: Array, worn: Array) -> Array:
    k, t = np.float32(numbers["strength"]), np.float32(numbers["textures"])
    # Slopes add where one relief lies on another: Barré-Brisebois & Hill 2012, Blending in Detail.
    x = np.nan_to_num(east) * k + worn[..., 0] * t
    y = np.nan_to_num(north) * k + worn[..., 1] * t
    return normals(x, y, numbers["green"])


NORMAL = by_sample("normal_map", _normal, quick=False)
ROUGHNESS = by_sample("roughness_map", lambda here, numbers, worn: worn[..., 2].copy(), quick=False)
DETAIL = by_sample(
    "detail_map", lambda here, numbers, worn: np.clip(worn[..., 3] / np.float32(numbers["full"]), 0, 1), quick=False
)
OCCLUSION = by_sample(
    "occlusion_map",
    lambda here, numbers, shelter: np.clip(1 - np.nan_to_num(shelter) * np.float32(numbers["strength"]), 0, 1),
    quick=False,
)
CURVATURE = by_sample(
    "curvature_map",
    lambda here, numbers, bend: np.clip(0.5 + np.nan_to_num(bend) / np.float32(2 * numbers["full"]), 0, 1),
    quick=False,
)


def normal_map(solid: Node, spacing: list[float], worn: Node, surface: Surface) -> Node:
    """Directions of ground and textures together: float32 (rows, columns, 3), 0–1."""
    numbers = {"strength": surface.strength, "textures": surface.textures, "green": surface.green}
    return Node(NORMAL, numbers, (*_rises(solid, spacing), worn))


def roughness_map(worn: Node) -> Node:
    """Roughness 0–1 (1: matt) of what is worn; float32 (rows, columns)."""
    return Node(ROUGHNESS, {}, (worn,))


def detail_map(worn: Node, surface: Surface) -> Node:
    """Relief of the textures above the ground, 0–1 at ``surface.detail`` metres; float32 (rows, columns)."""
    return Node(DETAIL, {"full": surface.detail}, (worn,))


def occlusion_map(shelter: Node, surface: Surface) -> Node:
    """How much light comes, 1 in the open; ``shelter``: a reading, 1 where none comes. float32 (rows, columns)."""
    return Node(OCCLUSION, {"strength": surface.occlusion}, (shelter,))


def curvature_map(bend: Node, surface: Surface) -> Node:
    """Curvature about ½, brighter where the ground bulges; float32 (rows, columns)."""
    return Node(CURVATURE, {"full": surface.curvature}, (bend,))
