"""Smooth: calm the ground, with or without its edges."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.ground.shaping import smoothed
from zigzag_meadow.core.ground.steps.base import F32, LENGTH, BaseStep, Work
from zigzag_meadow.core.parts import Told

__all__ = ["Smooth"]


class Smooth(BaseStep):
    """``keep``: metres of height difference that are kept as edges; None: nothing is."""

    title, hint = "Smooth", "calm the ground, with or without its edges"
    sentence = "**Smooth** over {radius}, {keep}"
    slow, bytes_each = "Smoothing the ground", 32
    kind: Literal["smooth"] = "smooth"
    radius: Annotated[LENGTH, Told("Radius of smoothing", "m", 1, of="spacing", first=3, low=0.01, high=5000)] = 10.0
    keep: Annotated[
        Annotated[float, Field(gt=0, le=10000)] | None,
        Told(
            "Edges kept",
            "m",
            0.1,
            3,
            first=2,
            none="edges too",
            some="but not edges higher than",
            low=0.001,
            high=10000,
        ),
    ] = None

    @staticmethod
    def shape(heights: F32, work: Work) -> F32:
        return smoothed(heights, work.src, work.numbers["radius"], work.numbers["keep"], work.stripes, work.cancel)
