"""What is odd about the prepared ground, which targets take its size, and what each step of preparation did."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.grid import reference_grid
from zigzag_meadow.core.ground.findings import Oddity, find_all
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


def ground_report(evaluation: Evaluation) -> GroundReport:
    """Look at the prepared ground and at every step that led to it."""
    ground = evaluation.graph.stage().ground
    heights, base = evaluation.whole(ground), evaluation.project.ground.base
    oddities = find_all(heights + np.float32(base) if base else heights, ground.grid, evaluation.engine.stripes)
    low, high = evaluation.ends()
    return GroundReport(low, high, oddities, _effects(evaluation))
