"""Heights that go beyond what can be stored: how many samples of the file, how far, and where."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from zigzag_meadow.core.delivery.plan import Plan
from zigzag_meadow.core.delivery.planned import PlannedItem
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.grid import Window, reference_grid
from zigzag_meadow.core.reports.places import WorstPlace, worst_places

__all__ = ["Beyond", "heights_beyond", "storable"]

_BAND = 256


@dataclass(frozen=True, slots=True)
class Beyond:
    """``low``, ``high``: metres that can be stored; ``below``, ``above``: how many ``samples`` of the file are cut to
    them; ``places``: where, by how many metres (less than 0: below), the worst first."""

    low: float
    high: float
    below: int
    above: int
    samples: int
    places: tuple[WorstPlace, ...]


def _ends(plan: Plan) -> tuple[PlannedItem, float, float] | None:
    """The height in whole numbers, where it reaches beyond them, with the project's metres at black and at white."""
    for item in plan.items:
        scale = item.scale
        if scale is None or item.form.floats:
            continue
        low, high = plan.zero + scale.at_zero, plan.zero + scale.at_zero + scale.full * scale.step
        # What rounds to an end is not cut.
        if plan.ends[0] < low - scale.step / 2 or plan.ends[1] > high + scale.step / 2:
            return item, low, high
    return None


def storable(plan: Plan) -> tuple[float, float] | None:
    """Lowest and highest height (the project's metres) that the height file can hold; None where all heights fit."""
    found = _ends(plan)
    return None if found is None else found[1:]


def heights_beyond(evaluation: Evaluation, plan: Plan) -> Beyond | None:
    """What is cut off of the heights of a plan, counted on the grid that is delivered; None where nothing is.

    Raises :class:`Cancelled`.
    """
    found = _ends(plan)
    if found is None or found[0].scale is None:
        return None
    item, low, high = found
    half, base = found[0].scale.step / 2, plan.project.ground.base
    node, grid = evaluation.graph.reading("height", lifted=False), item.grid
    below = above = 0
    for row0 in range(0, grid.rows, _BAND):
        band = evaluation.window(node, grid, Window(row0, min(row0 + _BAND, grid.rows), 0, grid.cols))
        heights = band.astype(np.float64) + base
        below += int(np.count_nonzero(heights < low - half))
        above += int(np.count_nonzero(heights >= high + half))
    seen = reference_grid(evaluation.home)
    heights = evaluation.window(node, seen, seen.whole).astype(np.float64) + base
    # Where there is no height nothing is cut.
    gap = np.nan_to_num(np.maximum(low - heights, heights - high)).astype(np.float32)
    places = [
        _signed(place, heights[seen.nearest_to(place.east, place.south)], low)
        for place in worst_places(gap, seen, half)
    ]
    return Beyond(low, high, below, above, grid.rows * grid.cols, tuple(places))


def _signed(place: WorstPlace, height: float, low: float) -> WorstPlace:
    return replace(place, by=-place.by) if height < low else place
