"""A made-up reading, line, step, coat and look, as docs/adding.md says, registered before anything else is imported.

Their results are known by heart: the reading goes evenly from 0 in the west to ``most`` in the east, the line
multiplies what is there, the step raises the east by so many metres, the coat turns light and dark about, the look is
chequered.
"""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from tests.support.made_up_line import Dim
from zigzag_meadow.core.colour.coats.base import Around, BaseCoat, Change, changing
from zigzag_meadow.core.colour.coats.catalogue import COATS
from zigzag_meadow.core.ground.steps.base import F32, BaseStep, Work
from zigzag_meadow.core.ground.steps.catalogue import STEPS
from zigzag_meadow.core.looks.catalogue import LOOKS
from zigzag_meadow.core.looks.made.base import Made, MadeLook
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Local, Numbers
from zigzag_meadow.core.parts import Told
from zigzag_meadow.core.readings.catalogue import READINGS
from zigzag_meadow.core.readings.declare import Param, Reading

__all__ = ["Dim", "Negate", "Tip"]


def _eastness(here: Here, numbers: Numbers) -> Array:
    columns = np.arange(here.window.col0, here.window.col1) * here.grid.dx / here.grid.width
    return np.broadcast_to(columns * numbers["most"], here.window.shape).astype(np.float32)


EASTNESS = Local(name="eastness", needs=lambda node, grid, window: [], make=_eastness)
READINGS.append(
    Reading(
        name="eastness",
        title="Eastness",
        family="breakup",
        unit="leagues",
        low=0.0,
        high=8.0,
        sentence="How far east a place lies.",
        good_for="Trying out how a reading is added.",
        build=lambda asked: Node(EASTNESS, asked.some("most"), (asked.solid,)),
        params=(Param(name="most", title="Most", unit="leagues", default=4.0, low=1, high=8),),
        ramp="strength",
    )
)


class Tip(BaseStep):
    title, hint = "Tip", "raise the east"
    sentence = "**Tip** the ground by {by} in the east"
    kind: Literal["tip"] = "tip"
    by: Annotated[float, Field(ge=0, le=500), Told("Raised in the east", "m", 1, first=30)] = 0.0

    @staticmethod
    def shape(heights: F32, work: Work) -> F32:
        share = np.linspace(0, 1, work.src.cols, dtype=np.float32)
        return heights + share * np.float32(work.numbers["by"])


STEPS.append(Tip)


NEGATE = changing("negate", lambda here, numbers, below: np.float32(numbers["most"]) - below)


class Negate(BaseCoat):
    title, family, hint = "Negate", "change", "light for dark"
    sentence = "**Negate** up to {most}, at {strength}, {within}"
    kind: Literal["negate"] = "negate"
    most: Annotated[float, Field(ge=0.5, le=1), Told("Most", "%")] = 1.0

    def change(self, around: Around) -> Change:
        return Change(NEGATE, {"most": self.most})


COATS.append(Negate)


def _chequered(n: int) -> Made:
    y, x = np.mgrid[0:n, 0:n] * 4 // n % 2
    board = (x ^ y).astype(np.float32)
    return Made(np.repeat(board[..., None], 3, axis=2), np.full((n, n), 0.5, np.float32), board)


LOOKS.append(MadeLook("chequered", "Chequered", 2.0, 0.1, "#bcbcbc", _chequered))
