"""Kits: recipes, pieces and readings without the ground, to be used on another one."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError

from zigzag_meadow.core.errors import BadDocument
from zigzag_meadow.core.project.document import Project, ReadingSetting
from zigzag_meadow.core.project.parts import Name, Part
from zigzag_meadow.core.project.recipe import Line, Mask, Piece, PieceLine, TouchUp, sources_of
from zigzag_meadow.core.project.sources import Band, FeatureUse, MaskUse, ReadingUse, Source
from zigzag_meadow.core.project.wrong import told
from zigzag_meadow.core.readings.catalogue import READINGS

__all__ = ["Heights", "Kit", "check_kit", "kit_of", "parse_kit", "rescaled"]

PLACES = ("height", "eroded_height")
"""Readings whose numbers are heights above sea level: they move with the ground's own range."""
RISES = ("relative_height", "height_over_water", "standing_water", "ruggedness", "scour", "deposition", "talus")
"""Readings in metres up or down: they grow with the ground's range."""


class Heights(Part):
    """Lowest and highest height of the ground a kit was made on, and its water, in metres."""

    low: float
    high: float
    water: float | None = None


class Kit(Part):
    kit: Literal[1] = 1
    name: Name
    note: Annotated[str, Field(max_length=400)] = ""
    heights: Heights
    readings: Annotated[tuple[ReadingSetting, ...], Field(max_length=200)] = ()
    pieces: Annotated[tuple[Piece, ...], Field(max_length=100)] = ()
    masks: Annotated[tuple[Mask, ...], Field(max_length=200)] = ()


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
    own += [m.name for m in holders if any(isinstance(line, TouchUp) for line in m.lines)]
    if own:
        raise BadDocument(f"The kit names files of a project ({own[0]}); a kit holds recipes only.", field="readings")


def _bound_to_place(line: Line) -> bool:
    return isinstance(line, TouchUp) or any(isinstance(source, FeatureUse) for source in sources_of(line))


def _readings_of(lines: Sequence[Line]) -> set[str]:
    return {s.reading for line in lines for s in sources_of(line) if isinstance(s, Band | ReadingUse)}


def kit_of(
    project: Project, name: str, note: str, heights: Heights, mask_ids: Sequence[str], piece_ids: Sequence[str]
) -> tuple[Kit, list[str]]:
    """(the kit of some masks and pieces with all they read, what could not come along, in sentences).

    Touch-ups, drawn lines and pictures belong to one ground and stay with it.
    """
    wanted = list(dict.fromkeys(mask_ids))
    left: list[str] = []
    masks: list[Mask] = []
    pieces = dict.fromkeys(piece_ids)
    pictures = {s.id for s in project.readings if s.kind == "picture"}
    for mask_id in wanted:
        mask = project.mask(mask_id)
        if mask is None:
            continue
        lines = tuple(line for line in mask.lines if not _bound_to_place(line))
        kept = tuple(line for line in lines if not (_readings_of([line]) & pictures))
        if len(kept) < len(mask.lines):
            left.append(f"{mask.name}: {len(mask.lines) - len(kept)} lines that belong to this ground.")
        masks.append(mask.model_copy(update={"lines": kept}))
        for line in kept:
            wanted += [s.mask for s in sources_of(line) if isinstance(s, MaskUse) and s.mask not in wanted]
            if isinstance(line, PieceLine):
                pieces[line.piece] = None
    parts = tuple(piece for piece in project.pieces if piece.id in pieces)
    for piece in parts:
        used = [s.mask for line in piece.lines for s in sources_of(line) if isinstance(s, MaskUse)]
        missing = [m for m in used if m not in wanted]
        if missing or any(_bound_to_place(line) for line in piece.lines):
            raise BadDocument(f"The piece {piece.name} reads a mask or drawn line: it cannot go into a kit.")
    holders: tuple[Mask | Piece, ...] = (*masks, *parts)
    read = _readings_of([line for holder in holders for line in holder.lines])
    there = {f"mask:{m.id}" for m in masks} | {f"reading:{name}" for name in read}
    readings = tuple(
        s.model_copy(
            update={"numbers": {k: "" if ":" in str(v) and v not in there else v for k, v in s.numbers.items()}}
        )
        for s in project.readings
        if s.id in read
    )
    return Kit(name=name, note=note, heights=heights, readings=readings, pieces=parts, masks=tuple(masks)), left


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
    kinds = {r.name: r.name for r in READINGS} | {s.id: s.kind for s in kit.readings}

    def moved(source: Source) -> Source:
        if not isinstance(source, Band | ReadingUse) or kinds.get(source.reading) not in (*PLACES, *RISES):
            return source
        place = kinds[source.reading] in PLACES

        def at(value: float) -> float:
            return _tidy(low1 + (value - low0) * grows if place else value * grows)

        if isinstance(source, ReadingUse):
            return source.model_copy(update={"black": at(source.black), "white": at(source.white)})
        fades = {name: _tidy(getattr(source, name) * grows) for name in ("fade_low", "fade_high")}
        return source.model_copy(update={"low": at(source.low), "high": at(source.high), **fades})

    def lines(items: tuple[Line, ...]) -> tuple[Line, ...]:
        changed = []
        for line in items:
            parts = {
                name: moved(source)
                for name in ("source", "by", "steered", "only")
                if isinstance(source := getattr(line, name, None), Band | ReadingUse)
            }
            changed.append(line.model_copy(update=parts) if parts else line)
        return tuple(changed)

    return kit.model_copy(
        update={
            "heights": heights,
            "masks": tuple(m.model_copy(update={"lines": lines(m.lines)}) for m in kit.masks),
            "pieces": tuple(p.model_copy(update={"lines": lines(p.lines)}) for p in kit.pieces),
        }
    )
