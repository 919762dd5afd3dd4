"""Raise: move the whole ground up or down."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np

from zigzag_meadow.core.ground.steps.base import F32, BaseStep, Work
from zigzag_meadow.core.parts import Metres, Told

__all__ = ["Raise"]


class Raise(BaseStep):
    title, hint = "Raise", "or lower the whole ground"
    sentence = "**Raise** by {by}"
    kind: Literal["raise"] = "raise"
    by: Annotated[Metres, Told("Raised by", "m", 1, first=10)] = 0.0

    @staticmethod
    def shape(heights: F32, work: Work) -> F32:
        return heights + np.float32(work.numbers["by"])
