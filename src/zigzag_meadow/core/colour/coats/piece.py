"""Piece: a run of coats under a name."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.colour.coats.base import Around, BaseCoat, held, laid_on
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.parts import Edited, Id, Number

__all__ = ["PieceCoat"]


class PieceCoat(BaseCoat):
    title, family, hint = "Piece", "change", "coats that were put together before"
    sentence = "**Piece** {piece}, at {strength}, {within}"
    kind: Literal["piece"] = "piece"
    piece: Annotated[Id, Edited("piece", "Piece")]
    numbers: Annotated[dict[Id, Number], Field(max_length=16)] = Field(default_factory=dict)

    def node(self, below: Node, around: Around) -> Node:
        mask = self.mask(around)
        partly = self.strength < 1 or mask is not None
        # What is below is asked for twice then: held, it is made once.
        below = made = held(below) if partly else below
        for coat in around.piece(self.piece, self.numbers):
            made = coat.node(made, around) if coat.shown(around.distance) else made
        return laid_on(below, made, "normal", self.strength, mask) if partly else made

    @property
    def piece_id(self) -> str:
        return self.piece
