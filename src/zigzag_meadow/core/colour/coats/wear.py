"""Soil and Bleach: dirt gathers where ground is sheltered, and what stands out is worn pale."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from numba import njit
from numpy.typing import NDArray
from pydantic import Field

from zigzag_meadow.core.arrays import readable
from zigzag_meadow.core.colour.blend import blended
from zigzag_meadow.core.colour.coats.base import Around, BaseCoat, Change, changing, within
from zigzag_meadow.core.masks.sources import ReadingUse, Source
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Numbers
from zigzag_meadow.core.parts import Colour, Edited, Told, Unit
from zigzag_meadow.core.srgb import lab_row, linear_of, rgb_row

__all__ = ["Bleach", "Soil", "bleached"]

F32 = NDArray[np.float32]


def _soiled(here: Here, numbers: Numbers, below: Array, by: Array) -> Array:
    return blended(below, tuple(numbers["colour"]), "normal", 1.0, by)


SOILED = changing("soiled", _soiled)


class _Worn(BaseCoat):
    """A coat that lies as strongly as what it reads says."""

    by: Source

    def lies(self, around: Around) -> Node:
        return within(around.source(self.by), self.mask(around))


class Soil(_Worn):
    title, family, hint = "Soil", "wear", "dirt where the ground is sheltered"
    sentence = "**Soil** where {by} shelters, towards {colour}, at {strength}, {within}"
    kind: Literal["soil"] = "soil"
    by: Annotated[Source, Edited("source", "What shelters", start="mapped")] = ReadingUse(
        reading="occlusion", black=0.04, white=0.45
    )
    colour: Annotated[Colour, Edited("colour", "Colour of the soil")] = "#2e261f"
    strength: Annotated[Unit, Told("Strength", "%")] = 0.6

    def change(self, around: Around) -> Change:
        return Change(SOILED, {"colour": list(linear_of(self.colour))}, (around.source(self.by),))


@njit(nogil=True, cache=True)
def _bleach(below: F32, by: F32, paler: np.float32, greyer: np.float32, out: F32) -> None:
    one = np.float32(1)
    lab = np.empty((3, below.shape[1]), np.float32)
    for r in range(below.shape[0]):
        anywhere = False
        for c in range(below.shape[1]):
            anywhere = anywhere or by[r, c] > np.float32(0)
        if not anywhere:
            out[r] = below[r]
            continue
        lab_row(below[r], lab)
        for c in range(below.shape[1]):
            m = by[r, c]
            kept = one - greyer * m
            lab[0, c] += (one - lab[0, c]) * paler * m
            lab[1, c] *= kept
            lab[2, c] *= kept
        rgb_row(lab, out[r])
        for c in range(below.shape[1]):
            if by[r, c] <= np.float32(0):
                out[r, c, 0], out[r, c, 1], out[r, c, 2] = below[r, c, 0], below[r, c, 1], below[r, c, 2]


def bleached(below: F32, by: F32, paler: float, greyer: float) -> F32:
    """Linear colours (rows, columns, 3) whose OKLab lightness goes towards white by ``paler`` and whose chroma is lost
    by ``greyer``, as far as ``by`` (float32 (rows, columns), 0–1) says; float32."""
    out = np.empty_like(below)
    _bleach(readable(below), readable(by), np.float32(paler), np.float32(greyer), out)
    return out


def _bleached(here: Here, numbers: Numbers, below: Array, by: Array) -> Array:
    return bleached(below, by, numbers["paler"], numbers["greyer"])


BLEACHED = changing("bleached", _bleached)


class Bleach(_Worn):
    title, family, hint = "Bleach", "wear", "pale and dry where the ground is exposed"
    sentence = "**Bleach** where {by} is exposed, paler by {paler}, greyer by {greyer}, at {strength}, {within}"
    kind: Literal["bleach"] = "bleach"
    by: Annotated[Source, Edited("source", "What is exposed", start="mapped")] = ReadingUse(
        reading="mean_curvature", black=0.0, white=0.012
    )
    paler: Annotated[float, Field(ge=0, le=1), Told("Paler", "%")] = 0.25
    greyer: Annotated[float, Field(ge=0, le=1), Told("Greyer", "%")] = 0.35
    strength: Annotated[Unit, Told("Strength", "%")] = 0.7

    def change(self, around: Around) -> Change:
        numbers = {"paler": self.paler, "greyer": self.greyer}
        return Change(BLEACHED, numbers, (around.source(self.by),))
