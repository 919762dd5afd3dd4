"""Edits of pieces, and kits laid onto a project."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from zigzag_meadow.core.errors import BadDocument, NotFound
from zigzag_meadow.core.map_name import MaskName, ReadingName, map_name
from zigzag_meadow.core.masks.lines.piece import PieceLine
from zigzag_meadow.core.masks.sources import Band, MaskUse, ReadingUse, Source
from zigzag_meadow.core.parts import Id
from zigzag_meadow.core.project.edits.ops_base import Index, Op, replaced, with_changes, without
from zigzag_meadow.core.project.edits.ops_masks import mask_of
from zigzag_meadow.core.project.model.document import Project, ReadingSetting
from zigzag_meadow.core.project.model.pieces import lines_with
from zigzag_meadow.core.project.model.recipe import Line, Mask, Piece
from zigzag_meadow.core.project.model.uses import words_for
from zigzag_meadow.core.project.travel.kit import Heights, Kit, check_kit, rescaled
from zigzag_meadow.core.project.travel.kit_painting import painting_into
from zigzag_meadow.core.project.travel.layer_proposals import free_name

__all__ = ["ApplyKit", "DeletePiece", "MakePiece", "SetPiece", "TakeApart"]


def _piece(project: Project, piece_id: str) -> Piece:
    piece = project.piece(piece_id)
    if piece is None:
        raise NotFound("That piece is no longer there. Undo brings it back.", field="piece")
    return piece


class MakePiece(Op):
    """Keep lines ``first`` to ``last`` (from 0) of a mask as a piece and use it in their place."""

    op: Literal["make_piece"] = "make_piece"
    changes: ClassVar = ("masks/{mask}/lines", "pieces")
    mask: Id
    first: Index
    last: Index
    line: Id
    piece: Piece

    def apply(self, project: Project) -> tuple[Project, str]:
        mask = mask_of(project, self.mask)
        lines = mask.lines[self.first : self.last + 1]
        if not lines:
            raise BadDocument("A piece needs at least one line.", field="first")
        piece = self.piece.model_copy(update={"lines": lines})
        use = PieceLine(id=self.line, piece=piece.id)
        new = mask.model_copy(update={"lines": (*mask.lines[: self.first], use, *mask.lines[self.last + 1 :])})
        changed = with_changes(project, pieces=(*project.pieces, piece), masks=replaced(project.masks, new))
        return changed, f"make the piece {piece.name}"


class SetPiece(Op):
    op: Literal["set_piece"] = "set_piece"
    replaces: ClassVar = "pieces/{piece}"
    piece: Piece

    def apply(self, project: Project) -> tuple[Project, str]:
        _piece(project, self.piece.id)
        return with_changes(project, pieces=replaced(project.pieces, self.piece)), f"change {self.piece.name}"


class DeletePiece(Op):
    op: Literal["delete_piece"] = "delete_piece"
    changes: ClassVar = ("pieces",)
    piece: Id

    def apply(self, project: Project) -> tuple[Project, str]:
        piece = _piece(project, self.piece)
        used = words_for(project, f"piece:{piece.id}")
        if used:
            raise BadDocument(
                f"{piece.name} is used by {', '.join(used)}. Take it apart or delete those lines first.", field="piece"
            )
        return with_changes(project, pieces=without(project.pieces, piece.id)), f"delete {piece.name}"


class TakeApart(Op):
    """Put a piece's lines, with the numbers set here, in the place of the line that uses it."""

    op: Literal["take_apart"] = "take_apart"
    changes: ClassVar = ("masks/{mask}/lines",)
    reads: ClassVar = ("pieces",)
    mask: Id
    line: Id
    ids: Annotated[tuple[Id, ...], Field(max_length=40)]

    def apply(self, project: Project) -> tuple[Project, str]:
        mask = mask_of(project, self.mask)
        at = next((i for i, item in enumerate(mask.lines) if item.id == self.line), None)
        use = mask.lines[at] if at is not None else None
        if at is None or not isinstance(use, PieceLine):
            raise NotFound("That line uses no piece.", field="line")
        if use.how != "follow":
            raise BadDocument("Only a piece whose lines go on from what is there can be taken apart.", field="how")
        piece = _piece(project, use.piece)
        lines = lines_with(piece, use.numbers)
        if len(self.ids) < len(lines):
            raise BadDocument(f"{piece.name} has {len(lines)} lines.", field="ids")
        fresh = tuple(line.model_copy(update={"id": i}) for line, i in zip(lines, self.ids, strict=False))
        new = mask.model_copy(update={"lines": (*mask.lines[:at], *fresh, *mask.lines[at + 1 :])})
        return with_changes(project, masks=replaced(project.masks, new)), f"take {piece.name} apart"


class ApplyKit(Op):
    """Masks, pieces and readings of a kit; ``heights``: those of this ground, to which ranges are moved.

    ``prefix`` makes the ids of what comes in new. Names that are taken get a number.
    """

    op: Literal["apply_kit"] = "apply_kit"
    changes: ClassVar = (
        "readings",
        "pieces",
        "masks",
        "layers",
        "base",
        "mixing",
        "looks",
        "coats",
        "coat_pieces",
        "scatters",
        "sheets",
        "surface",
    )
    kit: Kit
    prefix: Annotated[str, Field(pattern=r"^[a-z0-9]{4,10}$")]
    heights: Heights | None = None

    def apply(self, project: Project) -> tuple[Project, str]:
        check_kit(self.kit)
        kit = self.kit if self.heights is None else rescaled(self.kit, self.heights)
        # A first reading of its kind keeps its id (its numbers count for all who read it): it comes in as one more.
        ids = {s.id: f"{self.prefix}-reading{n}" for n, s in enumerate(kit.readings)}
        ids |= {p.id: f"{self.prefix}-piece{n}" for n, p in enumerate(kit.pieces)}
        ids |= {f"mask:{m.id}": f"{self.prefix}-mask{n}" for n, m in enumerate(kit.masks)}
        readings = tuple(_reading(s, kit, ids) for s in kit.readings)
        pieces: list[Piece] = []
        masks: list[Mask] = []
        for piece in kit.pieces:
            name = free_name(piece.name, [p.name for p in (*project.pieces, *pieces)])
            pieces.append(
                piece.model_copy(update={"id": ids[piece.id], "name": name, "lines": _renamed(piece.lines, ids)})
            )
        for mask in kit.masks:
            name = free_name(mask.name, [m.name for m in (*project.masks, *masks)])
            masks.append(Mask(id=ids[f"mask:{mask.id}"], name=name, lines=_renamed(mask.lines, ids)))
        new = with_changes(
            project,
            readings=(*project.readings, *readings),
            pieces=(*project.pieces, *pieces),
            masks=(*project.masks, *masks),
            **painting_into(project, kit.painting, ids, self.prefix, lambda source: _source(source, ids)),
        )
        return new, f"apply the kit {kit.name}"


def _reading(setting: ReadingSetting, kit: Kit, ids: dict[str, str]) -> ReadingSetting:
    def named(value: float | str) -> float | str:
        if not isinstance(value, str):
            return value
        if ":" not in value:
            return value
        name = map_name(value)
        if isinstance(name, MaskName) and value in ids:
            return str(MaskName(ids[value]))
        return str(ReadingName(ids[name.reading])) if isinstance(name, ReadingName) and name.reading in ids else value

    title = setting.name or f"{setting.kind.replace('_', ' ').capitalize()}, {kit.name}"
    numbers = {name: named(value) for name, value in setting.numbers.items()}
    return setting.model_copy(update={"id": ids[setting.id], "name": title[:60], "numbers": numbers})


def _renamed(lines: tuple[Line, ...], ids: dict[str, str]) -> tuple[Line, ...]:
    """The lines with every id of the kit's own things replaced."""
    return tuple(
        line.changed(
            **{name: _source(source, ids) for name, source in line.sources()},
            **({} if line.piece_id is None else {"piece": ids.get(line.piece_id, line.piece_id)}),
        )
        for line in lines
    )


def _source(source: Source, ids: dict[str, str]) -> Source:
    if isinstance(source, MaskUse):
        if f"mask:{source.mask}" not in ids:
            raise BadDocument("The kit is not whole: a line reads a mask that is not in it.", field="kit")
        return source.model_copy(update={"mask": ids[f"mask:{source.mask}"]})
    if isinstance(source, Band | ReadingUse):
        return source.model_copy(update={"reading": ids.get(source.reading, source.reading)})
    return source
