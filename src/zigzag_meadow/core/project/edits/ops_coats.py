"""Edits of coats, of pieces made of them, and of how surface maps are made."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from zigzag_meadow.core.colour.coats.base import SEEN
from zigzag_meadow.core.colour.coats.piece import PieceCoat
from zigzag_meadow.core.colour.surface import Surface
from zigzag_meadow.core.errors import BadDocument, NotFound
from zigzag_meadow.core.parts import Id
from zigzag_meadow.core.project.edits.first_colour import first_coats
from zigzag_meadow.core.project.edits.labels import field_change
from zigzag_meadow.core.project.edits.ops_base import Index, Op, inserted, moved, replaced, with_changes, without
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.painting import Coat, CoatPiece
from zigzag_meadow.core.project.model.pieces import lines_with
from zigzag_meadow.core.project.model.uses import words_for

__all__ = [
    "AddCoat",
    "BeginColour",
    "DeleteCoat",
    "DeleteCoatPiece",
    "MakeCoatPiece",
    "MoveCoat",
    "SetCoat",
    "SetCoatPiece",
    "SetSurface",
    "TakeCoatApart",
]


def _coat(project: Project, coat_id: str) -> Coat:
    coat = project.coat(coat_id)
    if coat is None:
        raise NotFound("That coat is no longer there. Undo brings it back.", field="coat")
    return coat


def _piece(project: Project, piece_id: str) -> CoatPiece:
    piece = project.coat_piece(piece_id)
    if piece is None:
        raise NotFound("That piece is no longer there. Undo brings it back.", field="piece")
    return piece


class AddCoat(Op):
    """``at``: how many coats lie below it; on top when left out."""

    op: Literal["add_coat"] = "add_coat"
    changes: ClassVar = ("coats",)
    coat: Coat
    at: Index | None = None

    def apply(self, project: Project) -> tuple[Project, str]:
        coats = inserted(project.coats, self.coat, self.at)
        return with_changes(project, coats=coats), f"add {self.coat.title.lower()}"


class SetCoat(Op):
    op: Literal["set_coat"] = "set_coat"
    replaces: ClassVar = "coats/{coat}"
    coat: Coat

    def apply(self, project: Project) -> tuple[Project, str]:
        before = _coat(project, self.coat.id)
        label = _change(before, self.coat)
        return with_changes(project, coats=replaced(project.coats, self.coat)), label


def _change(before: Coat, after: Coat) -> str:
    name = after.title.lower()
    if before.muted != after.muted:
        return f"mute {name}" if after.muted else f"unmute {name}"
    if before.note != after.note:
        return f"note on {name}"
    change = field_change(before, after)
    return f"change {name}" if change is None else f"{name}: {change}"


class MoveCoat(Op):
    op: Literal["move_coat"] = "move_coat"
    changes: ClassVar = ("coats",)
    coat: Id
    to: Index

    def apply(self, project: Project) -> tuple[Project, str]:
        coat = _coat(project, self.coat)
        return with_changes(project, coats=moved(project.coats, self.coat, self.to)), f"move {coat.title.lower()}"


class DeleteCoat(Op):
    op: Literal["delete_coat"] = "delete_coat"
    changes: ClassVar = ("coats",)
    coat: Id

    def apply(self, project: Project) -> tuple[Project, str]:
        coat = _coat(project, self.coat)
        return with_changes(project, coats=without(project.coats, self.coat)), f"delete {coat.title.lower()}"


class BeginColour(Op):
    """A first colour map of coats that can be changed: what the layers look like (or heights, without any), soil in
    shelter, worn edges."""

    op: Literal["begin_colour"] = "begin_colour"
    changes: ClassVar = ("coats",)
    reads: ClassVar = ("ground", "layers", "base", "readings")

    def apply(self, project: Project) -> tuple[Project, str]:
        taken = {coat.id for coat in project.coats}
        return with_changes(project, coats=(*project.coats, *first_coats(project, taken))), "a first colour"


class MakeCoatPiece(Op):
    """Keep coats ``first`` to ``last`` (from 0, the bottom) as a piece and use it in their place."""

    op: Literal["make_coat_piece"] = "make_coat_piece"
    changes: ClassVar = ("coats", "coat_pieces")
    first: Index
    last: Index
    coat: Id
    piece: CoatPiece

    def apply(self, project: Project) -> tuple[Project, str]:
        coats = project.coats[self.first : self.last + 1]
        if not coats:
            raise BadDocument("A piece needs at least one coat.", field="first")
        piece = self.piece.model_copy(update={"coats": coats})
        use = PieceCoat(id=self.coat, piece=piece.id)
        left = (*project.coats[: self.first], use, *project.coats[self.last + 1 :])
        changed = with_changes(project, coat_pieces=(*project.coat_pieces, piece), coats=left)
        return changed, f"make the piece {piece.name}"


class SetCoatPiece(Op):
    op: Literal["set_coat_piece"] = "set_coat_piece"
    replaces: ClassVar = "coat_pieces/{piece}"
    piece: CoatPiece

    def apply(self, project: Project) -> tuple[Project, str]:
        _piece(project, self.piece.id)
        return with_changes(project, coat_pieces=replaced(project.coat_pieces, self.piece)), f"change {self.piece.name}"


class DeleteCoatPiece(Op):
    op: Literal["delete_coat_piece"] = "delete_coat_piece"
    changes: ClassVar = ("coat_pieces",)
    piece: Id

    def apply(self, project: Project) -> tuple[Project, str]:
        piece = _piece(project, self.piece)
        used = words_for(project, f"coat_piece:{piece.id}")
        if used:
            raise BadDocument(f"{piece.name} is used by {', '.join(used)}. Take it apart there first.", field="piece")
        return with_changes(project, coat_pieces=without(project.coat_pieces, piece.id)), f"delete {piece.name}"


class TakeCoatApart(Op):
    """Put a piece's coats, with the numbers set here, in the place of the coat that uses it."""

    op: Literal["take_coat_apart"] = "take_coat_apart"
    changes: ClassVar = ("coats",)
    reads: ClassVar = ("coat_pieces",)
    coat: Id
    ids: Annotated[tuple[Id, ...], Field(max_length=40)]

    def apply(self, project: Project) -> tuple[Project, str]:
        use = _coat(project, self.coat)
        if not isinstance(use, PieceCoat):
            raise NotFound("That coat uses no piece.", field="coat")
        if use.strength < 1 or use.within is not None:
            raise BadDocument(
                "A piece laid at part of its strength or within a mask cannot be taken apart.", field="coat"
            )
        piece = _piece(project, use.piece)
        coats = lines_with(piece, use.numbers)
        if len(self.ids) < len(coats):
            raise BadDocument(f"{piece.name} has {len(coats)} coats.", field="ids")
        fresh = tuple(_as_seen(coat, use).changed(id=i) for coat, i in zip(coats, self.ids, strict=False))
        at = [coat.id for coat in project.coats].index(use.id)
        left = (*project.coats[:at], *fresh, *project.coats[at + 1 :])
        return with_changes(project, coats=left), f"take {piece.name} apart"


def _as_seen(coat: Coat, use: PieceCoat) -> Coat:
    """A coat of a piece as it lay under its user: muted with it, seen where both are."""
    shared = tuple(distance for distance in SEEN[coat.seen] if distance in SEEN[use.seen])
    seen = next((name for name, distances in SEEN.items() if distances == shared), None)
    return coat.changed(muted=coat.muted or use.muted or seen is None, seen=seen or coat.seen)


class SetSurface(Op):
    op: Literal["set_surface"] = "set_surface"
    replaces: ClassVar = "surface"
    surface: Surface

    def apply(self, project: Project) -> tuple[Project, str]:
        change = field_change(project.surface, self.surface)
        return with_changes(project, surface=self.surface), f"surface maps: {change or 'change'}"
