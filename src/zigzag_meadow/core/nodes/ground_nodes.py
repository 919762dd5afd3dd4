"""Heights and gaps of the ground, as every reading takes them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import AllOf, Array, Here, Local, Need, Numbers, OnWindow, WholeGround
from zigzag_meadow.core.nodes.windows import sampled
from zigzag_meadow.core.voids import fill_voids

__all__ = [
    "ENDS",
    "SOLID",
    "VOID",
    "Stage",
    "ends_of",
    "gaps_near",
    "gaps_on",
    "height_of",
    "heights_on",
    "mean_of",
    "own_grid",
]


@dataclass(frozen=True)
class Stage:
    """The ground at one point of its preparation.

    ``ground``: heights in metres, NaN where there is none. ``solid``: the same with all gaps filled, which readings
    are made of; the same node where there are no gaps. ``true_home``: its grid were it not a draft. ``steps``: how
    many steps lie before it.
    """

    ground: Node
    solid: Node
    true_home: Grid
    steps: int = 0

    @property
    def home(self) -> Grid:
        return self.ground.grid

    @property
    def has_voids(self) -> bool:
        return self.ground is not self.solid


def own_grid(node: Node) -> Grid:
    """The home grid, however large: what is as fine as the ground itself."""
    return node.grid


def _all(node: Node, grid: Grid) -> Sequence[Need]:
    return [AllOf(node.inputs[0])]


def _ends(here: Here, numbers: Numbers, heights: Array) -> Array:
    return np.array([np.nanmin(heights), np.nanmax(heights)], np.float64)


SOLID = WholeGround(name="solid", grid=own_grid, needs=_all, make=lambda here, numbers, z: fill_voids(z))
"""A stage of the ground with all gaps filled."""
ENDS = WholeGround(name="ends", grid=own_grid, needs=_all, make=_ends)
MEAN = WholeGround(
    name="mean", grid=own_grid, needs=_all, make=lambda here, numbers, z: np.array([np.nanmean(z, dtype=np.float64)])
)
MISSING = WholeGround(
    name="missing", grid=own_grid, needs=_all, make=lambda here, numbers, z: np.isnan(z).astype(np.float32)
)


def _height(here: Here, numbers: Numbers, whole: Array) -> Array:
    return sampled(whole, here.ground, here, "height")


def _gaps(here: Here, numbers: Numbers, missing: Array) -> Array:
    return sampled(missing, here.ground, here, "nearest") > 0.5


HEIGHT = Local(name="height", version=2, needs=lambda node, grid, window: [AllOf(node.inputs[0])], make=_height)
"""Metres above the base of the ground."""
GAPS = Local(name="gaps", needs=lambda node, grid, window: [AllOf(Node(MISSING, {}, (node.inputs[0],)))], make=_gaps)


def _void(here: Here, numbers: Numbers, values: Array, gaps: Array) -> Array:
    """No height, no reading: NaN where the nearest sample of the ground is missing."""
    return np.where(gaps, np.float32(np.nan), values)


def _void_needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    values, ground = node.inputs
    return [OnWindow(values, grid, window), OnWindow(Node(GAPS, {}, (ground,)), grid, window)]


VOID = Local(name="void", needs=_void_needs, make=_void)


def height_of(stage: Node) -> Node:
    """A stage of the ground as a map: float32 metres above its base."""
    return Node(HEIGHT, {}, (stage,))


def ends_of(stage: Node) -> AllOf:
    """Lowest and highest height of a stage in metres above its base; float64 (2,)."""
    return AllOf(Node(ENDS, {}, (stage,)))


def mean_of(stage: Node) -> Node:
    """Mean height of the samples of a stage in metres above its base; float64 (1,)."""
    return Node(MEAN, {}, (stage,))


def heights_on(stage: Node, grid: Grid) -> Need:
    """All heights of a stage on a grid of its extent; float32 metres above its base."""
    return AllOf(stage) if grid == stage.grid else OnWindow(height_of(stage), grid, grid.whole)


def gaps_near(solid: Node, grid: Grid, window: Window) -> OnWindow | None:
    """Where the ground (in its filled form) has no height on a window, bool; None where it has no gaps at all."""
    return OnWindow(Node(GAPS, {}, solid.inputs), grid, window) if solid.op is SOLID else None


def gaps_on(solid: Node, grid: Grid) -> OnWindow | None:
    """The same on all of a grid."""
    return gaps_near(solid, grid, grid.whole)
