"""Use a piece: lines kept under a name, with numbers of its own."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.masks.lines.base import STRENGTH, BaseLine, Maps, Pieces
from zigzag_meadow.core.masks.lines.combining import combined
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.parts import Edited, Id

__all__ = ["PieceLine"]


class PieceLine(BaseLine):
    """A piece with numbers of its own; ``how`` says whether its lines go on from what is there or are put to it."""

    title, family, hint = "Use a piece", "reuse", "lines kept under a name"
    sentence = "**Use the piece** {piece}"
    in_piece, outside = False, "another piece"
    verb: Literal["piece"] = "piece"
    piece: Annotated[Id, Edited("piece", "Piece")]
    how: Literal[
        "follow", "take", "add", "leave_out", "keep_within", "strongest", "weakest", "multiply", "difference"
    ] = "follow"
    numbers: dict[Id, float] = Field(default_factory=dict)
    strength: STRENGTH = 1.0

    def node(self, before: Node, maps: Maps) -> Node:
        lines = maps.piece(self.piece, self.numbers)
        if self.how == "follow":
            made = maps.after(before, lines)
            return made if self.strength == 1 else combined("take", self.strength, before, made)
        return combined(self.how, self.strength, before, maps.after(maps.start(lines), lines))

    def begins_empty(self, maps: Maps) -> bool:
        if self.how == "follow":
            return maps.begin_empty(maps.piece(self.piece, {}))
        return self.how in ("take", "add", "strongest", "difference")

    def checked(self, place: str, pieces: Pieces) -> None:
        pieces.check_piece(self.piece, self.numbers, place)

    @property
    def piece_id(self) -> str | None:
        return self.piece
