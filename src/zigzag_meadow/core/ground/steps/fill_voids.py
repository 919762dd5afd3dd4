"""Fill: missing samples from what surrounds them."""

from __future__ import annotations

from typing import Literal

from zigzag_meadow.core.ground.steps.base import F32, BaseStep, Work

__all__ = ["FillVoids"]


class FillVoids(BaseStep):
    title, hint = "Fill", "missing samples from what surrounds them"
    sentence = "**Fill** missing samples from their surroundings"
    fills, graded, slow, bytes_each = True, False, "Filling missing samples", 24
    kind: Literal["fill_voids"] = "fill_voids"

    @staticmethod
    def shape(heights: F32, work: Work) -> F32:
        # The ground comes with its gaps filled.
        return heights
