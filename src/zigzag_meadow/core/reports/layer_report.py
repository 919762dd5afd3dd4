"""What layers come to: coverage, dominance, budgets, why a place is what it is, and whether masks add up."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.grid import Grid, Window, reference_grid
from zigzag_meadow.core.layers.sharing import SHARINGS
from zigzag_meadow.core.map_name import StrengthName
from zigzag_meadow.core.masks.sources import MaskUse
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.painting import BASE
from zigzag_meadow.core.rounding import quantise_weights
from zigzag_meadow.core.srgb import hex_of

__all__ = [
    "Blocks",
    "CoatHere",
    "LayerHere",
    "LayerReport",
    "LayerShare",
    "WhyHere",
    "adds_up",
    "layer_report",
    "why_here",
]

STRONG = 0.5


@dataclass(frozen=True, slots=True)
class LayerShare:
    """``before``: share of the ground that its mask holds; ``after``: that it keeps after sharing; ``strongest``: where
    it is the strongest. Outcomes that are several layers have no ``before``."""

    id: str
    name: str
    colour: str
    before: float | None
    after: float
    strongest: float


@dataclass(frozen=True, slots=True)
class Blocks:
    """Layers a block of the target: ``rows`` × ``cols`` blocks, ``counts`` row by row; ``most`` allowed in one,
    ``over``: how many hold more."""

    rows: int
    cols: int
    counts: tuple[int, ...]
    most: int
    over: int


@dataclass(frozen=True, slots=True)
class LayerReport:
    """``overlap``: share of the ground where more than one layer is strong before sharing; ``total``, ``allowed``:
    layers with the base, and how many the target takes; ``sum_error``: how far sums are from 1 at worst."""

    layers: tuple[LayerShare, ...]
    overlap: float
    total: int
    allowed: int
    sum_error: float
    blocks: Blocks | None


def layer_report(evaluation: Evaluation) -> LayerReport:
    """Shares of all layers, measured on the reference grid, and the target's budgets."""
    project, painting = evaluation.project, evaluation.graph.painting
    grid = reference_grid(evaluation.home)
    weights = evaluation.window(painting.outcomes(), grid, grid.whole)
    size = grid.rows * grid.cols
    winners = np.bincount(weights.argmax(axis=0).ravel(), minlength=len(weights)) / size
    strengths = {item.id: evaluation.map(StrengthName(item.id), grid) for item in project.shown_layers}
    meet = np.zeros(grid.shape, np.uint8)
    for strength in strengths.values():
        meet += strength > STRONG
    shares = []
    for at, outcome in enumerate(project.outcomes):
        before = float(strengths[outcome.id].mean(dtype=np.float64)) if outcome.id in strengths else None
        after = float(weights[at].mean(dtype=np.float64))
        shares.append(LayerShare(outcome.id, outcome.name, outcome.colour, before, after, float(winners[at])))
    error = float(np.abs(weights.sum(axis=0, dtype=np.float64) - 1).max())
    chosen = project.target
    return LayerReport(
        tuple(shares),
        float((meet > 1).mean()),
        len(project.outcomes),
        chosen.most_layers,
        error,
        _blocks(evaluation, weights, grid),
    )


def _blocks(evaluation: Evaluation, weights: np.ndarray, grid: Grid) -> Blocks | None:
    """Layers with any weight left in bytes, per block of the size that is delivered; None where that is no legal
    size, or blocks have no limit."""
    project = evaluation.project
    most = project.target.most_per_block
    layout = project.target.sizes.layout(project.delivery.rows, project.delivery.cols)
    if layout is None or most is None:
        return None
    rows, cols = layout.down, layout.across
    present = quantise_weights(weights) > 0
    counts = []
    for i in range(rows):
        r0, r1 = _span(i, rows, grid.rows)
        for j in range(cols):
            c0, c1 = _span(j, cols, grid.cols)
            counts.append(int(present[:, r0:r1, c0:c1].any(axis=(1, 2)).sum()))
    return Blocks(rows, cols, tuple(counts), most, sum(1 for count in counts if count > most))


def _span(at: int, many: int, samples: int) -> tuple[int, int]:
    """The samples of one of many blocks along a side; borders belong to both."""
    return (at * (samples - 1)) // many, -(-(at + 1) * (samples - 1) // many) + 1


# Why here ---------------------------------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class LayerHere:
    """``strength``: of its mask here; ``covered``: by layers above it; ``shared``: its part after sharing; ``share``:
    after the layer brush."""

    id: str
    name: str
    strength: float
    covered: float
    shared: float
    share: float
    says: str


@dataclass(frozen=True, slots=True)
class CoatHere:
    """``lies``: how strongly it lies here; ``colour``: after it."""

    id: str
    title: str
    lies: float
    colour: str


@dataclass(frozen=True, slots=True)
class WhyHere:
    """Layers from the top, the base last; coats from the bottom up."""

    layers: tuple[LayerHere, ...]
    coats: tuple[CoatHere, ...]


def why_here(evaluation: Evaluation, row: int, col: int) -> WhyHere:
    """Why a place of the home grid is the ground and the colour that it is.

    Raises :class:`BadNumber` for a place that is not on the ground.
    """
    grid = evaluation.home
    if not (0 <= row < grid.rows and 0 <= col < grid.cols):
        raise BadNumber(f"Row and column must be on the ground, got {row}, {col}.", field="row")
    return WhyHere(_layers_here(evaluation, row, col), _coats_here(evaluation, row, col))


def _layers_here(evaluation: Evaluation, row: int, col: int) -> tuple[LayerHere, ...]:
    project, painting = evaluation.project, evaluation.graph.painting
    here = Window(row, row + 1, col, col + 1)
    shown = project.shown_layers
    strengths = [float(evaluation.map(StrengthName(item.id), evaluation.home, here)[0, 0]) for item in shown]
    shared = evaluation.window(painting.shared(), evaluation.home, here)[:, 0, 0]
    after = evaluation.window(painting.leaves(), evaluation.home, here)[:, 0, 0]
    told: list[LayerHere] = []
    open_above = 1.0
    for at in range(len(shown) - 1, -1, -1):
        covered = 1 - open_above
        told.append(
            LayerHere(
                shown[at].id,
                shown[at].name,
                strengths[at],
                covered,
                float(shared[at + 1]),
                float(after[at + 1]),
                _layer_says(project, strengths[at], covered, float(shared[at + 1]), float(after[at + 1])),
            )
        )
        open_above *= 1 - strengths[at]
    base, kept = float(shared[0]), float(after[0])
    says = f"The base takes what is left: {base * 100:.0f} %."
    told.append(LayerHere(BASE, project.base.name, 1.0, 1 - open_above, base, kept, says + _brushed(base, kept)))
    return tuple(told)


def _layer_says(project: Project, strength: float, covered: float, shared: float, after: float) -> str:
    if strength <= 0 and after <= 0:
        return "Its mask is not here."
    says = f"Its mask is {strength * 100:.0f} % here."
    in_order = SHARINGS[project.mixing.sharing].in_order
    if in_order and covered > 0.005:
        says += f" Layers above cover {covered * 100:.0f} %."
    elif not in_order and strength > shared + 0.005:
        says += " Others are strong here too: they share in proportion."
    return f"{says} That leaves {shared * 100:.0f} %.{_brushed(shared, after)}"


def _brushed(shared: float, after: float) -> str:
    return "" if abs(after - shared) < 0.005 else f" The layer brush makes it {after * 100:.0f} %."


def _coats_here(evaluation: Evaluation, row: int, col: int) -> tuple[CoatHere, ...]:
    project, painting = evaluation.project, evaluation.graph.painting
    here = Window(row, row + 1, col, col + 1)
    around = painting.around()
    told = []
    for at, coat in enumerate(project.coats):
        if not coat.shown("near"):
            continue
        mask = coat.lies(around)
        lies = 1.0 if mask is None else float(evaluation.window(mask, evaluation.home, here)[0, 0])
        after = evaluation.window(painting.coats("near", at + 1), evaluation.home, here)[0, 0]
        told.append(CoatHere(coat.id, coat.title, lies * coat.strength, hex_of(after)))
    return tuple(told)


# Layers in one go -------------------------------------------------------------------------------------------------


def adds_up(evaluation: Evaluation, masks: Sequence[MaskUse]) -> bool:
    """Whether some masks are weights already: together 1, but for the rounding of bytes, on at least 98 % of the
    ground, measured on the reference grid."""
    grid = reference_grid(evaluation.home)
    total = np.zeros(grid.shape, np.float64)
    for use in masks:
        total += evaluation.window(evaluation.graph.source(use), grid, grid.whole)
    off = np.abs(total - 1)
    return bool(len(masks) > 1 and (off < 2.5 / 255 * len(masks)).mean() > 0.98)
