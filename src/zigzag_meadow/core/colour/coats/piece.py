"""Piece: a run of coats under a name."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.colour.coats.base import Around, BaseCoat
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.parts import Edited, Id, Number

__all__ = ["PieceCoat"]


class PieceCoat(BaseCoat):
    title, family, hint = "Piece", "change", "coats that were put together before"
    sentence = "**Piece** {piece}, at {strength}, {within}"
    kind: Literal["piece"] = "piece"
    piece: Annotated[Id, Edited("piece", "Piece")]
    numbers: Annotated[dict[Id, Number], Field(max_length=16)] = Field(default_factory=dict)

    def changed_from(self, below: Node, around: Around) -> Node:
        for coat in around.piece(self.piece, self.numbers):
            below = below if coat.muted else coat.node(below, around)
        return below

    @property
    def piece_id(self) -> str:
        return self.piece
