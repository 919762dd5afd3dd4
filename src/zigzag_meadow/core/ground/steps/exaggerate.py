"""Multiply: make heights larger or smaller."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from zigzag_meadow.core.ground.steps.base import F32, BaseStep, Work
from zigzag_meadow.core.parts import Metres, Told

__all__ = ["Exaggerate"]


class Exaggerate(BaseStep):
    """Heights above and below ``about`` grow by ``factor``."""

    title, hint = "Multiply", "make heights larger or smaller"
    sentence = "**Multiply** heights {factor} about {about}"
    heights = ("about",)
    kind: Literal["multiply"] = "multiply"
    factor: Annotated[float, Field(gt=0, le=20), Told("Factor", "×", 0.05, first=1.2, low=0.01)] = 1.0
    about: Annotated[Metres, Told("About", "m", 1, 1, of="low", first=1)] = 0.0

    @staticmethod
    def shape(heights: F32, work: Work) -> F32:
        about = np.float32(work.numbers["about"])
        return (heights - about) * np.float32(work.numbers["factor"]) + about
