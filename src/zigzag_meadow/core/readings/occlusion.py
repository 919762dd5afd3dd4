"""Occlusion and sky share: how the surroundings stand above a place."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.nodes.ground_nodes import gaps_near, height_of
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import (
    Here,
    Local,
    Need,
    Numbers,
    OnWindow,
    by_sample,
)
from zigzag_meadow.core.nodes.windows import cut, from_home, home_mean
from zigzag_meadow.core.readings.declare import Param, Reading
from zigzag_meadow.core.readings.horizon import horizon_margin, horizon_padded
from zigzag_meadow.core.readings.numbers import radius

__all__ = ["OCCLUSION", "OCCLUSION_FAR", "OCCLUSION_MID", "OCCLUSION_NEAR", "SKY_SHARE"]

F32 = NDArray[np.float32]
Mask = NDArray[np.bool_]


def _too_coarse(grid: Grid, home: Grid) -> bool:
    """The nearest samples make the horizon: a coarser ground has lower ones."""
    return max(grid.dy, grid.dx) > max(home.dy, home.dx) * (1 + 1e-6)


def _wanted(numbers: Numbers, grid: Grid, window: Window) -> tuple[float, Window]:
    reach = max(numbers["radius"], grid.dy, grid.dx)
    return reach, window.grown(*horizon_margin(grid, reach))


def _needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    if _too_coarse(grid, node.grid):
        return [from_home(node, grid, window)]
    inside = _wanted(node.params, grid, window)[1].clipped(*grid.shape)
    return [OnWindow(height_of(node.inputs[0]), grid, inside), gaps_near(node.inputs[0], grid, inside)]


def _horizon(here: Here, numbers: Numbers, heights: F32, gaps: Mask | None = None) -> F32:
    if _too_coarse(here.grid, here.ground):
        return home_mean(here, heights)
    reach, wanted = _wanted(numbers, here.grid, here.window)
    # Nothing stands beyond the border, nor in gaps.
    padded = np.full(wanted.shape, -np.inf, np.float32)
    stands = heights if gaps is None else np.where(gaps, np.float32(-np.inf), heights)
    cut(padded, wanted, wanted.clipped(*here.grid.shape))[:] = stands
    return horizon_padded(padded, here.grid, reach, numbers["kind"], here.stripes, cancel=here.cancel)


HORIZON = Local(name="horizon", version=2, needs=_needs, make=_horizon)


def _mixed(here: Here, numbers: Numbers, *parts: F32) -> F32:
    total = sum(numbers["weights"]) or 1.0
    out = np.zeros(here.window.shape, np.float32)
    for weight, part in zip(numbers["weights"], parts, strict=True):
        out += part * np.float32(weight / total)
    return out


MIX = by_sample("mix", _mixed, quick=False)
_SIZES = ("near", "mid", "far")
_SHELTER = "How much the surroundings rise above a place, up to a radius: 0 in the open, 1 in a pit."


def _up_to(size: str, part: float, good_for: str, pointing: float | None) -> Reading:
    return Reading(
        name=f"occlusion_{size}",
        title=f"Occlusion, {size}",
        family="light",
        low=0.0,
        high=1.0,
        sentence=_SHELTER,
        good_for=good_for,
        params=(radius(part),),
        ramp="shelter",
        ramp_high=(0.05, 1.0),
        build=lambda asked: Node(HORIZON, {"kind": "occlusion", "radius": asked.radius}, (asked.solid,)),
        pointing=pointing,
    )


OCCLUSION_NEAR = _up_to("near", 0.008, "Dirt and moss in creases, sharp contact shade in the colour map.", None)
OCCLUSION_MID = _up_to("mid", 0.03, "Gullies and the foot of faces.", 0.06)
OCCLUSION_FAR = _up_to("far", 0.1, "Valleys as a whole; soft shade over the far ground.", None)
OCCLUSION = Reading(
    name="occlusion",
    title="Occlusion, mixed",
    family="light",
    low=0.0,
    high=1.0,
    sentence="Near, mid and far occlusion together, each with its weight.",
    good_for="One map for sheltered ground of every size.",
    build=lambda asked: Node(
        MIX,
        {"weights": [asked.number(size) for size in _SIZES]},
        tuple(asked.other(f"occlusion_{size}") for size in _SIZES),
    ),
    params=tuple(
        Param(name=size, title=size.capitalize(), default=1.0, low=0, high=4, step=0.1, decimals=1) for size in _SIZES
    ),
    ramp="shelter",
    ramp_high=(0.05, 1.0),
)
SKY_SHARE = Reading(
    name="sky_share",
    title="Sky share",
    family="light",
    low=0.0,
    high=1.0,
    sentence="The part of the sky that is seen from a place, up to a radius.",
    good_for="Soft light for the colour map; frost and snow in the open.",
    build=lambda asked: Node(HORIZON, {"kind": "sky", "radius": asked.radius}, (asked.solid,)),
    params=(radius(0.1),),
    ramp="light",
)
