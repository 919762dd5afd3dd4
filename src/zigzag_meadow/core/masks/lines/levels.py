"""Levels, and gamma alone."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.masks import algebra
from zigzag_meadow.core.masks.lines.base import BaseLine, Maps, Pieces, numbered
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Numbers, by_sample
from zigzag_meadow.core.parts import Told, Unit

__all__ = ["Gamma", "Levels"]


def _levels(here: Here, numbers: Numbers, mask: Array) -> Array:
    return algebra.levels(mask, **numbers, stripes=here.stripes, cancel=here.cancel)


LEVELS = by_sample("levels", _levels, version=3)


class Levels(BaseLine):
    title, family, hint = "Levels", "tone", "lift, clean, clamp"
    sentence = "**Levels** from {in_low} to {in_high}, middle {middle}, onto {out_low} to {out_high}"
    verb: Literal["levels"] = "levels"
    in_low: Annotated[Unit, Told("Darkest input")] = 0.0
    in_high: Annotated[Unit, Told("Brightest input")] = 1.0
    middle: Annotated[float, Field(ge=0.05, le=20), Told("Middle", step=0.05)] = 1.0
    out_low: Annotated[Unit, Told("Darkest output")] = 0.0
    out_high: Annotated[Unit, Told("Brightest output")] = 1.0

    def node(self, before: Node, maps: Maps) -> Node:
        return Node(LEVELS, numbered(self, "in_low", "in_high", "middle", "out_low", "out_high"), (before,))

    def checked(self, place: str, pieces: Pieces) -> None:
        if self.in_low >= self.in_high:
            raise BadNumber(f"{place}: the darkest input must be below the brightest.", field="in_low")


class Gamma(BaseLine):
    title, family, hint = "Gamma", "tone", "lift or sink the middle"
    sentence = "**Gamma** {gamma}: above 1 lifts the middle"
    verb: Literal["gamma"] = "gamma"
    gamma: Annotated[float, Field(ge=0.05, le=20), Told("Gamma", step=0.05)] = 1.4

    def node(self, before: Node, maps: Maps) -> Node:
        ends = {"in_low": 0.0, "in_high": 1.0, "out_low": 0.0, "out_high": 1.0}
        return Node(LEVELS, {**ends, "middle": self.gamma}, (before,))
