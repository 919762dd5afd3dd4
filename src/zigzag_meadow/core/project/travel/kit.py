"""Kits: recipes, pieces and readings without the ground, to be used on another one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError, model_validator

from zigzag_meadow.core.errors import BadDocument
from zigzag_meadow.core.looks.catalogue import LOOKS
from zigzag_meadow.core.masks.sources import Band, FeatureUse, ReadingUse, Source
from zigzag_meadow.core.parts import Name, Part
from zigzag_meadow.core.project.model.document import Project, ReadingSetting
from zigzag_meadow.core.project.model.recipe import Line, Mask, Piece
from zigzag_meadow.core.project.model.uses import line_uses, thing, uses
from zigzag_meadow.core.project.model.wrong import told
from zigzag_meadow.core.project.travel.kit_painting import KitPainting, Wanted, coats_with, painting_out
from zigzag_meadow.core.readings.catalogue import READINGS
from zigzag_meadow.core.upgrades import Upgrades, upgraded

__all__ = ["Heights", "Kit", "MovedRange", "check_kit", "kit_of", "moved_ranges", "parse_kit", "rescaled"]


class Heights(Part):
    """Lowest and highest height of the ground a kit was made on, and its water, in metres."""

    low: float
    high: float
    water: float | None = None


KIT_UPGRADES: Upgrades = {1: lambda data: data, 2: lambda data: data, 3: lambda data: data}
"""1 → 2: kits carry layers, coats and sheets; those that held none hold none. 2 → 3: coats may be seen at middle
distance, and sheets say whether they were proposed: those of before were not. 3 → 4: aerial images may be
enlarged sharply and with grain; no kit holds one."""


class Kit(Part):
    kit: Literal[4] = 4
    name: Name
    note: Annotated[str, Field(max_length=400)] = ""
    heights: Heights
    readings: Annotated[tuple[ReadingSetting, ...], Field(max_length=200)] = ()
    pieces: Annotated[tuple[Piece, ...], Field(max_length=100)] = ()
    masks: Annotated[tuple[Mask, ...], Field(max_length=200)] = ()
    painting: KitPainting = KitPainting()

    @model_validator(mode="before")
    @classmethod
    def _upgraded(cls, data: Any) -> Any:
        return upgraded({"kit": 1, **data}, KIT_UPGRADES, "kit") if isinstance(data, dict) else data


def parse_kit(data: Any) -> Kit:
    """A kit from plain JSON data. Raises :class:`BadDocument` with the place that is wrong."""
    try:
        kit = Kit.model_validate(data)
    except ValidationError as error:
        raise told(error, "The kit") from None
    check_kit(kit)
    return kit


def check_kit(kit: Kit) -> None:
    """Raise :class:`BadDocument` when a kit names stored files: those belong to the project that they were brought
    into, and a kit from a stranger must not reach for them."""
    own = [s.id for s in kit.readings if s.numbers.get("asset")]
    holders: tuple[Mask | Piece, ...] = (*kit.masks, *kit.pieces)
    own += [m.name for m in holders if any(line.assets or line.bound for line in m.lines)]
    dressed = [kit.painting.base.dressing] if kit.painting.base is not None else []
    dressed += [layer.dressing for layer in kit.painting.layers]
    bundled = {look.id for look in LOOKS}
    worn = [look for dressing in dressed for look in (dressing.look, dressing.middle) if look is not None]
    own += [f"look {look}" for look in worn if look not in bundled]
    own += [f"coat {coat.title}" for coat in kit.painting.coats if coat.picture_id is not None]
    if own:
        raise BadDocument(f"The kit names files of a project ({own[0]}); a kit holds recipes only.", field="readings")


def _bound_to_place(line: Line) -> bool:
    return line.bound or any(isinstance(source, FeatureUse) for _, source in line.sources())


def _of(kind: str, lines: Sequence[Line]) -> list[str]:
    """Ids of the things of one kind that some lines use."""
    used = (thing(use.used) for use in line_uses(lines, "", ""))
    return [item for other, item in used if other == kind]


def kit_of(
    project: Project,
    name: str,
    note: str,
    heights: Heights,
    mask_ids: Sequence[str],
    piece_ids: Sequence[str],
    painting: Wanted = Wanted(),  # noqa: B008 (frozen)
) -> tuple[Kit, list[str]]:
    """(the kit of some masks and pieces, and of parts of the ``painting``, with all they read; what could not come
    along, in sentences).

    Touch-ups, drawn lines and pictures belong to one ground and stay with it.
    """
    painted, left = painting_out(project, painting)
    wanted = list(dict.fromkeys([*mask_ids, *painted.masks]))
    masks: list[Mask] = []
    pieces = dict.fromkeys(piece_ids)
    used = uses(project)
    files = {use.user for use in used if thing(use.used)[0] in ("file", "step")}
    # What looks at a picture stays with it.
    files |= {use.user for use in used if use.used in files and thing(use.user)[0] == "reading"}
    for mask_id in wanted:
        mask = project.mask(mask_id)
        if mask is None:
            continue
        lines = tuple(line for line in mask.lines if not _bound_to_place(line))
        kept = tuple(line for line in lines if not any(f"reading:{r}" in files for r in _of("reading", [line])))
        if len(kept) < len(mask.lines):
            left.append(f"{mask.name}: {len(mask.lines) - len(kept)} lines that belong to this ground.")
        masks.append(mask.model_copy(update={"lines": kept}))
        wanted += [used for used in dict.fromkeys(_of("mask", kept)) if used not in wanted]
        pieces |= dict.fromkeys(_of("piece", kept))
    parts = tuple(piece for piece in project.pieces if piece.id in pieces)
    for piece in parts:
        missing = [m for m in _of("mask", piece.lines) if m not in wanted]
        if missing or any(_bound_to_place(line) for line in piece.lines):
            raise BadDocument(f"The piece {piece.name} reads a mask or drawn line: it cannot go into a kit.")
    holders: tuple[Mask | Piece, ...] = (*masks, *parts)
    read = set(_of("reading", [line for holder in holders for line in holder.lines])) | set(painted.readings)
    there = {f"mask:{m.id}" for m in masks} | {f"reading:{name}" for name in read}
    readings = tuple(
        s.model_copy(
            update={"numbers": {k: "" if ":" in str(v) and v not in there else v for k, v in s.numbers.items()}}
        )
        for s in project.readings
        if s.id in read
    )
    kit = Kit(
        name=name, note=note, heights=heights, readings=readings, pieces=parts, masks=tuple(masks), painting=painted
    )
    return kit, left


def _tidy(metres: float) -> float:
    """Four digits: moved ranges are read by people."""
    return float(f"{metres:.4g}")


def rescaled(kit: Kit, heights: Heights) -> Kit:
    """The kit with its ranges in metres moved from its own ground's heights to those of another.

    Heights above sea level keep their place between the lowest (the water, where both have one) and the highest;
    heights over something keep their share of the range.
    """
    both = kit.heights.water is not None and heights.water is not None
    low0, low1 = (kit.heights.water, heights.water) if both else (kit.heights.low, heights.low)
    assert low0 is not None
    assert low1 is not None
    grows = (heights.high - low1) / max(kit.heights.high - low0, 1e-6)
    moves = {r.name: r.moves for r in READINGS}
    moves |= {s.id: moves.get(s.kind, "") for s in kit.readings}

    def moved(source: Source) -> Source:
        if not isinstance(source, Band | ReadingUse) or not moves.get(source.reading):
            return source
        place = moves[source.reading] == "place"

        def at(value: float) -> float:
            return _tidy(low1 + (value - low0) * grows if place else value * grows)

        if isinstance(source, ReadingUse):
            return source.model_copy(update={"black": at(source.black), "white": at(source.white)})
        fades = {name: _tidy(getattr(source, name) * grows) for name in ("fade_low", "fade_high")}
        return source.model_copy(update={"low": at(source.low), "high": at(source.high), **fades})

    def lines(items: tuple[Line, ...]) -> tuple[Line, ...]:
        return tuple(line.changed(**{name: moved(source) for name, source in line.sources()}) for line in items)

    return kit.model_copy(
        update={
            "heights": heights,
            "masks": tuple(m.model_copy(update={"lines": lines(m.lines)}) for m in kit.masks),
            "pieces": tuple(p.model_copy(update={"lines": lines(p.lines)}) for p in kit.pieces),
            "painting": kit.painting.model_copy(
                update={
                    "coats": coats_with(kit.painting.coats, moved),
                    "coat_pieces": tuple(
                        p.model_copy(update={"coats": coats_with(p.coats, moved)}) for p in kit.painting.coat_pieces
                    ),
                }
            ),
        }
    )


@dataclass(frozen=True, slots=True)
class MovedRange:
    """How a range of a kit was moved to another ground's heights, in words; ``line`` counts from 1."""

    mask: str
    line: int
    before: str
    after: str


def moved_ranges(kit: Kit, moved: Kit) -> list[MovedRange]:
    """What :func:`rescaled` changed in the bands of a kit's masks."""
    kinds = {setting.id: setting.kind for setting in kit.readings}
    titles = {kind.name: kind.title for kind in READINGS}
    changes = []
    for before, after in zip(kit.masks, moved.masks, strict=True):
        for number, (old, new) in enumerate(zip(before.lines, after.lines, strict=True), 1):
            for (_, a), (_, b) in zip(old.sources(), new.sources(), strict=True):
                if isinstance(a, Band) and isinstance(b, Band) and a != b:
                    title = titles.get(kinds.get(a.reading, a.reading), a.reading)
                    was = f"{title} {a.low:g} to {a.high:g} m"
                    changes.append(MovedRange(before.name, number, was, f"{b.low:g} to {b.high:g} m"))
    return changes
