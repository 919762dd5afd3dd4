"""Every kind of step, in the order in which they are offered."""

from __future__ import annotations

from zigzag_meadow.core.ground.steps.base import BaseStep
from zigzag_meadow.core.ground.steps.bed import Bed
from zigzag_meadow.core.ground.steps.carve import Carve
from zigzag_meadow.core.ground.steps.combine import Combine
from zigzag_meadow.core.ground.steps.crop import Crop
from zigzag_meadow.core.ground.steps.erode import Erode
from zigzag_meadow.core.ground.steps.exaggerate import Exaggerate
from zigzag_meadow.core.ground.steps.fill_voids import FillVoids
from zigzag_meadow.core.ground.steps.fit_rows import FitRows
from zigzag_meadow.core.ground.steps.flatten import Flatten
from zigzag_meadow.core.ground.steps.mend_edges import MendEdges
from zigzag_meadow.core.ground.steps.raising import Raise
from zigzag_meadow.core.ground.steps.refine import Refine
from zigzag_meadow.core.ground.steps.resampling import Resample
from zigzag_meadow.core.ground.steps.round_off import RoundOff
from zigzag_meadow.core.ground.steps.slump import Slump
from zigzag_meadow.core.ground.steps.smooth import Smooth
from zigzag_meadow.core.ground.steps.soften import Soften
from zigzag_meadow.core.ground.steps.turn import Turn
from zigzag_meadow.core.ground.steps.un_terrace import UnTerrace

__all__ = ["STEPS", "step_kind"]

STEPS: list[type[BaseStep]] = [
    FillVoids,
    MendEdges,
    FitRows,
    RoundOff,
    Crop,
    Resample,
    Refine,
    Combine,
    UnTerrace,
    Smooth,
    Soften,
    Bed,
    Slump,
    Erode,
    Carve,
    Flatten,
    Raise,
    Exaggerate,
    Turn,
]


def step_kind(kind: str) -> type[BaseStep]:
    """The class of steps of a kind."""
    return next(step for step in STEPS if step.model_fields["kind"].default == kind)
