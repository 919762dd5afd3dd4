"""Mend the border: rows and columns that jump, from the ground inside them."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.ground.edges import mended_edges
from zigzag_meadow.core.ground.steps.base import F32, BaseStep, Work
from zigzag_meadow.core.parts import Told

__all__ = ["MendEdges"]


class MendEdges(BaseStep):
    title, hint = "Mend the border", "border lines that jump"
    sentence = "**Mend** the outer {samples} of the border"
    kind: Literal["mend_edges"] = "mend_edges"
    samples: Annotated[int, Field(ge=1, le=16), Told("Border lines", "lines", step=1, decimals=0)] = 1

    @staticmethod
    def shape(heights: F32, work: Work) -> F32:
        return mended_edges(heights, work.numbers["samples"])
