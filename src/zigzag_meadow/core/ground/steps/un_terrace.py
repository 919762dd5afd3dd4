"""Un-terrace: stair steps taken out, cliffs kept."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.ground.steps.base import F32, BaseStep, Work
from zigzag_meadow.core.ground.terraces import un_terraced
from zigzag_meadow.core.parts import Told

__all__ = ["UnTerrace"]


class UnTerrace(BaseStep):
    """``step``: metres a stair is high; None: as found."""

    title, hint = "Un-terrace", "take out stair steps, keep cliffs"
    sentence = "**Un-terrace** stairs {step}"
    slow, bytes_each, shows = "Taking out stair steps", 36, "slope"
    kind: Literal["un_terrace"] = "un_terrace"
    step: Annotated[
        Annotated[float, Field(gt=0, le=1000)] | None,
        Told(
            "Stair height",
            "m",
            0.1,
            4,
            first=1,
            none="as high as found",
            some="of a typed height",
            low=0.0001,
            high=1000,
        ),
    ] = None

    @staticmethod
    def shape(heights: F32, work: Work) -> F32:
        return un_terraced(heights, work.src, work.numbers["step"], work.stripes, work.cancel)
