"""What is odd about the prepared ground, which targets take its size, and what each step of preparation did."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.grid import reference_grid
from zigzag_meadow.core.ground.findings import Oddity, find_all
from zigzag_meadow.core.project.model.ground import Ground
from zigzag_meadow.core.readings.slope import SLOPE

__all__ = ["GroundReport", "StepEffect", "ground_report"]

_STRETCHED = 60.0
"""Degrees beyond which a texture laid on from above is pulled to more than twice its length."""


@dataclass(frozen=True, slots=True)
class StepEffect:
    """What a step did: the share of ground stretched beyond 2× before and after it, lowest and highest height in
    metres after it, its size, and what else is to be told."""

    id: str
    stretched_before: float
    stretched_after: float
    low: float
    high: float
    rows: int
    cols: int
    says: str | None


@dataclass(frozen=True, slots=True)
class GroundReport:
    """``low``, ``high``: metres."""

    low: float
    high: float
    oddities: list[Oddity]
    steps: list[StepEffect]


def _stretched(evaluation: Evaluation, steps: int) -> float:
    stage = evaluation.graph.stage(steps)
    node = evaluation.graph.reading(SLOPE.name, stage)
    grid = reference_grid(stage.home)
    return float((evaluation.window(node, grid, grid.whole) > _STRETCHED).mean())


def _effects(evaluation: Evaluation) -> list[StepEffect]:
    base, steps = evaluation.project.ground.base, evaluation.project.ground.steps
    # Each stage lies after one step and before the next, and is measured once for both.
    stretched = [_stretched(evaluation, number) for number in range(len(steps) + 1)] if steps else []
    made = []
    for number, step in enumerate(steps):
        stage = evaluation.graph.stage(number + 1)
        heights = evaluation.whole(stage.ground)
        made.append(
            StepEffect(
                step.id,
                stretched[number],
                stretched[number + 1],
                float(np.nanmin(heights)) + base,
                float(np.nanmax(heights)) + base,
                stage.home.rows,
                stage.home.cols,
                None if step.muted else step.says(heights, stage.home),
            )
        )
    return made


def _short_of_cells(ground: Ground) -> Oddity | None:
    """Cells that are laid out from middle to middle, as documents before the sixth version had them."""
    if ground.samples != "cells" or ground.cells_reach:
        return None
    now, meant = ground.file_grid, ground.model_copy(update={"cells_reach": True}).file_grid
    text = (
        f"Its samples are cells, yet the ground reaches from middle to middle only: {now.width:g} × {now.length:g} m "
        f"instead of {meant.width:g} × {meant.length:g} m, and a target of cells gets heights that were resampled. "
        f"Taken as cells, they go there unchanged; what was drawn lies {ground.spacing_x / 2:g} m elsewhere."
    )
    return Oddity(
        "short-of-cells",
        "attention",
        "Cells are cut in half at the border",
        text,
        edit={"op": "set_ground", "cells_reach": True},
        offers="Take cells as cells",
    )


def ground_report(evaluation: Evaluation) -> GroundReport:
    """Look at the prepared ground and at every step that led to it."""
    ground = evaluation.graph.stage().ground
    heights, base = evaluation.whole(ground), evaluation.project.ground.base
    oddities = find_all(heights + np.float32(base) if base else heights, ground.grid, evaluation.engine.stripes)
    short = _short_of_cells(evaluation.project.ground)
    oddities = oddities if short is None else [short, *oddities]
    low, high = evaluation.ends()
    return GroundReport(low, high, oddities, _effects(evaluation))
