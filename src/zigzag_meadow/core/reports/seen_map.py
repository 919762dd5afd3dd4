"""A map as it goes to a screen: what its name leads to is looked up once, and asked of that from then on."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.evaluate.as_shown import Shown
from zigzag_meadow.core.evaluate.coarser import coarser_grid
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.map_name import (
    BandName,
    CoatName,
    MapName,
    MaskName,
    ScatterName,
    StrengthName,
    WeightName,
    reading_of,
)
from zigzag_meadow.core.nodes.node import Node, held_key
from zigzag_meadow.core.project.model.readings import kind_of
from zigzag_meadow.core.readings.declare import Reading
from zigzag_meadow.core.rounding import quantise_light, quantise_mask

__all__ = ["SeenMap", "seen_map"]

_THIN = (MaskName, BandName, ScatterName, CoatName, StrengthName, WeightName)


@dataclass(frozen=True, slots=True)
class SeenMap:
    """A map of an evaluation. ``home``: the grid that it belongs to; ``reading``: the declaration of the reading that
    it is, if it is one; ``thin``: a small picture of it is a mean, or what is thin would be lost on a coarse grid."""

    evaluation: Evaluation
    name: MapName
    node: Node
    home: Grid
    reading: Reading | None
    thin: bool

    @property
    def is_quick(self) -> bool:
        """Whether nothing long has to be computed before."""
        return self.evaluation.is_quick(self.node)

    @property
    def coarser(self) -> Grid | None:
        """The grid of work on the whole ground that it hangs on, where that is coarser than the ground; else None."""
        return coarser_grid(self.evaluation.graph, self.node)

    def as_draft(self) -> SeenMap:
        """The same on a much smaller ground."""
        return seen_map(self.evaluation.as_draft(), self.name)

    def key(self, grid: Grid) -> str:
        """What its content on a grid is known by."""
        return held_key(self.node, grid, "map")

    def values(self, grid: Grid) -> NDArray[Any]:
        """All of it, as :meth:`Evaluation.map` has it."""
        return self.evaluation.window(self.node, grid, grid.whole)

    def encoded(self, values: NDArray[Any]) -> NDArray[Any]:
        """Values of it for a screen: readings as float32, what is 0–1, light or a byte already as uint8."""
        if values.dtype == np.uint8:
            return values
        if values.dtype == np.uint16:
            return (values >> 8).astype(np.uint8)
        if self.reading is None:
            return quantise_mask(values)
        return quantise_light(values) if self.reading.light else values

    def bytes(self, grid: Grid, window: Window) -> NDArray[Any]:
        """A window of it for a screen."""
        return self.evaluation.window(self.node, grid, window, self.encoded)

    def measured(self, grid: Grid, window: Window) -> tuple[NDArray[Any], float]:
        """(a window of it for a screen, its mean), tile by tile."""
        sums: list[float] = []

        def measured(tile: NDArray[Any]) -> NDArray[Any]:
            sums.append(float(tile.sum(dtype=np.float64)))
            return self.encoded(tile)

        made = self.evaluation.window(self.node, grid, window, measured)
        return made, math.fsum(sums) / (window.rows * window.cols)

    def moving(self, grid: Grid, window: Window) -> tuple[NDArray[Any], float]:
        """(a window of it as large as the screen shows it, its mean), for as long as a hand moves."""
        values = Shown(self.evaluation, grid).window(self.node, window)
        return self.encoded(values), float(values.mean(dtype=np.float64))


def seen_map(evaluation: Evaluation, name: MapName) -> SeenMap:
    """A map by its name. Raises :class:`NotFound`."""
    reading = reading_of(name)
    graph = evaluation.graph
    return SeenMap(
        evaluation,
        name,
        graph.named(name),
        graph.home_of(name),
        None if reading is None else kind_of(evaluation.project, reading),
        isinstance(name, _THIN),
    )
