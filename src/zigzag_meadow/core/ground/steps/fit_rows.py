"""Fit rows: rows that jump, put back to where their neighbours are."""

from __future__ import annotations

from typing import Literal

from zigzag_meadow.core.ground.rows import fitted_rows
from zigzag_meadow.core.ground.steps.base import F32, BaseStep, Work

__all__ = ["FitRows"]


class FitRows(BaseStep):
    title, hint = "Fit rows", "rows that jump against their neighbours"
    sentence = "**Fit** rows that jump to those beside them"
    kind: Literal["fit_rows"] = "fit_rows"

    @staticmethod
    def shape(heights: F32, work: Work) -> F32:
        return fitted_rows(heights)
