"""Recipes from marks on the ground: readings measured at the marks, proposals as lines."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.grid import reference_grid
from zigzag_meadow.core.layers.scatter import sampled_at
from zigzag_meadow.core.map_name import ReadingName
from zigzag_meadow.core.masks.lines.combining import KeepWithin, LeaveOut, Take
from zigzag_meadow.core.masks.pointing import Candidate, Edge, Proposal, propose
from zigzag_meadow.core.masks.shapes import metres_from
from zigzag_meadow.core.masks.sources import FeatureUse
from zigzag_meadow.core.project.model.features import Feature
from zigzag_meadow.core.project.model.left import leavings
from zigzag_meadow.core.project.model.readings import resolve
from zigzag_meadow.core.project.model.recipe import Line
from zigzag_meadow.core.readings.catalogue import READINGS
from zigzag_meadow.core.readings.uses import Band

__all__ = ["Proposed", "proposals"]

F64 = NDArray[np.float64]
MOST_MARKS = 200
MOST_DRAWN = 12
"""So many drawn lines are weighed, the first ones."""
_DRAWN = "drawn:"
_DRAWN_COSTS, _LEFT_COSTS = 0.02, 0.03
_SAMPLE = 97
"""Samples a side that stand for the whole ground when values are ranked."""


@dataclass(frozen=True, slots=True)
class Proposed:
    """One proposal as lines of a recipe, in words, with the share of the ground it covers."""

    lines: tuple[Line, ...]
    apart: float
    wrong_in: tuple[int, ...]
    wrong_out: tuple[int, ...]


def _candidate(ev: Evaluation, reading: str, cost: float, places: F64, inside: int) -> Candidate:
    kind = resolve(ev.project, reading).kind
    grid = reference_grid(ev.home)
    values = ev.map(ReadingName(reading), grid)
    if kind.wraps:
        row, col = (np.round(at).astype(int) for at in grid.at_place(places[:, 0], places[:, 1]))
        at = values[np.clip(row, 0, grid.rows - 1), np.clip(col, 0, grid.cols - 1)].astype(np.float64)
    else:
        at = sampled_at(values, *grid.at_place(places[:, 0], places[:, 1]))
    rows, cols = (np.linspace(0, n - 1, min(n, _SAMPLE)).astype(int) for n in grid.shape)
    ground = values[np.ix_(rows, cols)].ravel().astype(np.float64)
    return Candidate(reading, at[:inside], at[inside:], ground, kind.scale == "log", kind.wraps, cost)


def _beside(ev: Evaluation, feature: Feature, places: F64, inside: int) -> Candidate:
    """How far marks, and a sample of the ground, lie from a drawn line."""
    grid = reference_grid(ev.home)
    rows, cols = (np.linspace(0, n - 1, min(n, _SAMPLE)).astype(int) for n in grid.shape)
    everywhere = np.stack(np.meshgrid(*grid.place_of(rows, cols)), -1).reshape(-1, 2)
    points = np.array(feature.points, np.float64)
    at = metres_from(points, feature.closed, places)
    ground = metres_from(points, feature.closed, everywhere)
    return Candidate(_DRAWN + feature.id, at[:inside], at[inside:], ground, cost=_DRAWN_COSTS)


def _drawn_lines(ev: Evaluation, edge: Edge, first: bool, number: int) -> list[Line]:
    """A band of distances from a drawn line: near it, away from it, or both."""
    feature_id = edge.reading.removeprefix(_DRAWN)
    feature = ev.project.feature(feature_id)
    sides = 1 if feature is not None and feature.closed else 2
    farthest = math.hypot(ev.home.width, ev.home.length)
    made: list[Line] = []
    if edge.high + edge.fade_high < farthest / 2:
        use = FeatureUse(feature=feature_id, width=round(edge.high * sides, 1), fade=round(edge.fade_high, 1))
        made.append((Take if first else KeepWithin)(id=f"p{number}", source=use))
    if edge.low > 0 or not made:
        wide = max(edge.low - edge.fade_low, 0.0) * sides
        use = FeatureUse(feature=feature_id, width=round(wide, 1), fade=round(edge.fade_low, 1))
        made.append(LeaveOut(id=f"p{number}-away", source=use))
    return made


def _band(ev: Evaluation, edge: Edge) -> Band:
    kind = resolve(ev.project, edge.reading).kind

    def tidy(value: float, size: float) -> float:
        digits = int(np.clip(2 - np.floor(np.log10(max(size, 1e-9))), 0, 9))
        return round(value, digits)

    size = abs(edge.high - edge.low) or abs(edge.high) or 1.0
    if kind.scale == "log":
        low, high = (float(f"{v:.3g}") for v in (edge.low, edge.high))
        return Band(
            reading=edge.reading,
            low=low,
            high=max(high, low),
            fade_low=round(edge.fade_low, 2),
            fade_high=round(edge.fade_high, 2),
        )
    low, high = tidy(edge.low, size), tidy(edge.high, size)
    fades = {"fade_low": tidy(edge.fade_low, size), "fade_high": tidy(edge.fade_high, size)}
    return Band(reading=edge.reading, low=low, high=high if kind.wraps else max(high, low), **fades)


def _proposed(ev: Evaluation, proposal: Proposal) -> Proposed:
    lines: list[Line] = []
    for number, edge in enumerate(proposal.lines):
        if edge.reading.startswith(_DRAWN):
            lines += _drawn_lines(ev, edge, not lines, number)
        else:
            kind = Take if not lines else KeepWithin
            lines.append(kind(id=f"p{number}", source=_band(ev, edge)))
    return Proposed(tuple(lines), proposal.apart, proposal.wrong_in, proposal.wrong_out)


def proposals(
    ev: Evaluation, inside: Sequence[tuple[float, float]], outside: Sequence[tuple[float, float]], most: int = 3
) -> list[Proposed]:
    """Up to ``most`` recipes that hold the places ``inside`` and not those ``outside`` (metres east and south of the
    north-west corner), best first; see :func:`zigzag_meadow.core.masks.pointing.propose`.

    Whole-ground readings that nobody has looked at yet are measured on a much smaller ground, so that the answer
    comes at once. Raises :class:`BadNumber` without marks or with marks off the ground.
    """
    marks = [*inside, *outside]
    if len(marks) > MOST_MARKS:
        raise BadNumber(f"At most {MOST_MARKS} marks are weighed, got {len(marks)}.", field="marks")
    for east, south in marks:
        if not (0 <= east <= ev.home.width and 0 <= south <= ev.home.length):
            raise BadNumber(f"A mark must lie on the ground, got {east:g}, {south:g} m.", field="marks")
    places = np.array(marks, np.float64).reshape(-1, 2)
    rough = ev.as_draft()
    candidates = []
    # Plain readings first: what an artist would name.
    offered = sorted(
        [(kind.pointing, kind.name) for kind in READINGS if kind.pointing is not None]
        + [(_LEFT_COSTS, item.id) for item in leavings(ev.project) if item.trouble is None]
    )
    for cost, reading in offered:
        quick = ev.is_quick(ev.graph.reading(reading))
        candidates.append(_candidate(ev if quick else rough, reading, cost, places, len(inside)))
    candidates += [_beside(ev, feature, places, len(inside)) for feature in ev.project.features[:MOST_DRAWN]]
    return [_proposed(ev, proposal) for proposal in propose(candidates, most)]
