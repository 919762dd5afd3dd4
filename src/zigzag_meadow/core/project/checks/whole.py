"""Whether a document holds together: unique names, references that exist, no circles, numbers that make sense."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Set
from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel, ValidationError

from zigzag_meadow.core.errors import BadDocument, BadNumber, Cycle, NotFound, TooLarge
from zigzag_meadow.core.formats.codes import code_ends
from zigzag_meadow.core.formats.limits import LONGEST_SIDE, SHORTEST_SIDE
from zigzag_meadow.core.map_name import MaskName, ReadingName, map_name
from zigzag_meadow.core.masks.sources import MaskUse
from zigzag_meadow.core.project.checks.delivery import check_delivery, check_sheets
from zigzag_meadow.core.project.checks.shared import check_source, unique
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.left import leavings
from zigzag_meadow.core.project.model.painting import BASE, Coat
from zigzag_meadow.core.project.model.pieces import exposed_value, lines_with
from zigzag_meadow.core.project.model.readings import kind_of, resolve
from zigzag_meadow.core.project.model.recipe import Line, Piece
from zigzag_meadow.core.project.model.steps import Step
from zigzag_meadow.core.project.model.stored import plain_size
from zigzag_meadow.core.project.model.upgrade import UPGRADES, made_by_another
from zigzag_meadow.core.project.model.uses import below, thing, uses
from zigzag_meadow.core.project.model.wrong import told
from zigzag_meadow.core.readings.catalogue import READINGS
from zigzag_meadow.core.remembered import same_objects
from zigzag_meadow.core.upgrades import upgraded

__all__ = ["MOST_DOCUMENT_BYTES", "check_project", "parse_project", "read_back"]

MOST_DEEP = 60
_NO_MAPS = ("piece", "step")
_READ = ("mask", "reading", *_NO_MAPS)
MOST_DOCUMENT_BYTES = 8 * 1024 * 1024


def parse_project(data: Any) -> Project:
    """A checked project from plain JSON data. Raises :class:`BadDocument` with the place that is wrong."""
    newer = made_by_another(data)
    if newer is not None:
        raise BadDocument(newer, field="version")
    try:
        project = Project.model_validate(upgraded(data, UPGRADES))
    except ValidationError as error:
        raise told(error, "The project document") from None
    check_project(project)
    return project


def read_back(project: Project, before: Project | None = None) -> Project:
    """``project`` as it comes back from its stored form; parts that are those of a document that was read ``before``
    stay the same objects. Raises what :func:`parse_project` raises, and :class:`TooLarge` for a document that no
    project file may hold."""
    size = plain_size(project)
    if size > MOST_DOCUMENT_BYTES:
        raise TooLarge(
            f"The project would have {size / 2**20:.1f} MiB without its files; at most "
            f"{MOST_DOCUMENT_BYTES // 2**20} MiB can be kept. Simplify drawn lines with very many points.",
        )
    known = set() if before is None else {id(part) for part in _parts(before)}
    try:
        again = Project.model_validate(
            {name: _read(getattr(project, name), known) for name in type(project).model_fields}
        )
    except ValidationError as error:
        raise told(error, "The project document") from None
    check_project(again, before)
    return again


def _parts(project: Project) -> Iterator[Any]:
    for name in type(project).model_fields:
        value = getattr(project, name)
        yield from value if isinstance(value, tuple) else (value,)


def _read(value: Any, known: Set[int]) -> Any:
    """A part, or every part of a list, as it comes back; what is known is not read again."""
    if isinstance(value, tuple):
        return tuple(_read(item, known) for item in value)
    if not isinstance(value, BaseModel) or id(value) in known:
        return value
    return type(value).model_validate_json(value.model_dump_json())


@dataclass(frozen=True, slots=True)
class _PiecesOf:
    """What lines may ask of the document while they are checked."""

    project: Project

    def check_piece(self, piece_id: str, numbers: Mapping[str, float], place: str) -> None:
        piece = self.project.piece(piece_id)
        if piece is None:
            raise NotFound(f"{place} uses a piece that is not there.", field="piece")
        known = {exposed.id for exposed in piece.exposed}
        unknown = next((name for name in numbers if name not in known), None)
        if unknown is not None:
            raise BadNumber(f"{place}: the piece {piece.name} has no number called {unknown}.", field="numbers")
        try:
            lines_with(piece, numbers)
        except ValidationError as error:
            first = error.errors()[0]
            raise BadNumber(f"{place}: {first['loc'][-1]}: {first['msg']}.", field="numbers") from None


def _check_line(project: Project, line: Line, place: str) -> None:
    line.checked(place, _PiecesOf(project))
    for _, source in line.sources():
        check_source(project, source, place)


def _checked(project: Project, before: Project) -> Set[int]:
    """Recipes that were checked before, with all that they may read as it was."""
    lists = ("readings", "pieces", "features")
    if project.ground is not before.ground or not all(
        same_objects(getattr(project, name), getattr(before, name)) for name in lists
    ):
        return set()
    if [(mask.id, mask.bands) for mask in project.masks] != [(mask.id, mask.bands) for mask in before.masks]:
        return set()
    return {id(mask) for mask in before.masks}


def _check_recipes(project: Project, before: Project | None) -> None:
    checked = set() if before is None else _checked(project, before)
    for holder in project.recipes:
        if id(holder) in checked:
            continue
        ids = [line.id for line in holder.lines]
        if len(set(ids)) != len(ids):
            raise BadDocument(f"Two lines of {holder.name} have the same id.")
        for number, line in enumerate(holder.lines, 1):
            place = f"Line {number} of {holder.name}"
            if isinstance(holder, Piece) and not line.in_piece:
                raise BadDocument(f"{place}: a piece cannot hold {line.outside}.", field="lines")
            _check_line(project, line, place)
        if isinstance(holder, Piece):
            for exposed in holder.exposed:
                exposed_value(holder, exposed)


def _check_features(project: Project) -> None:
    unique("drawn line", ((f.id, f.name) for f in project.features))
    for feature in project.features:
        if feature.closed and len(feature.points) < 3:
            raise BadNumber(f"The area {feature.name} needs three points or more.", field="points")
    unique("scatter", ((s.id, s.name) for s in project.scatters))
    for scatter in project.scatters:
        for mask_id in (scatter.mask, *scatter.keep_out):
            if mask_id is not None and project.mask(mask_id) is None:
                raise NotFound(f"The scattered {scatter.name} reads a mask that is not there.", field="mask")
        for clear in scatter.clear:
            there = project.mask(clear.id) if clear.of == "mask" else project.feature(clear.id)
            if there is None:
                what = "a mask" if clear.of == "mask" else "a drawn line"
                raise NotFound(f"The scattered {scatter.name} keeps away from {what} that is not there.", field="clear")
        if scatter.size_low > scatter.size_high:
            raise BadNumber(f"{scatter.name}: the smallest size must not be above the largest.", field="size_low")
        if scatter.size_by:
            _check_map_name(project, scatter.size_by, f"The scattered {scatter.name}")


def _check_circles(project: Project) -> None:
    def title(name: str) -> str:
        kind, item = thing(name)
        if kind == "step":
            return next(step.title for step in project.ground.steps if step.id == item)
        holder = project.mask(item) if kind == "mask" else project.piece(item) if kind == "piece" else None
        return holder.name if holder is not None else resolve(project, item).title

    tall: dict[str, int] = {}
    read: dict[str, list[str]] = {}
    for use in uses(project):
        read.setdefault(use.user, []).append(use.used)

    def visit(name: str, path: list[str]) -> int:
        """How many maps stand one upon the other, ``name`` on top."""
        if name in path:
            circle = [*path[path.index(name) :], name]
            named = " → ".join(title(other) for other in circle if thing(other)[0] not in _NO_MAPS)
            raise Cycle(f"Maps would read each other in a circle: {named}.")
        if name not in tall:
            inside = 0 if thing(name)[0] in _NO_MAPS else 1
            maps = [used for used in read.get(name, ()) if thing(used)[0] in _READ]
            tall[name] = inside + max((visit(other, [*path, name]) for other in maps), default=0)
        if tall[name] > MOST_DEEP:
            raise BadDocument(
                f"{title(name)} builds on a chain of {tall[name]} maps; at most {MOST_DEEP} may do so.",
                field="masks",
            )
        return tall[name]

    for mask in project.masks:
        visit(f"mask:{mask.id}", [])
    for setting in project.readings:
        visit(f"reading:{setting.id}", [])
    for step in project.ground.steps:
        visit(f"step:{step.id}", [])


def _check_readings(project: Project) -> None:
    ids = [setting.id for setting in project.readings]
    if len(set(ids)) != len(ids):
        raise BadDocument("Two readings have the same id.")
    for setting in project.readings:
        resolved = resolve(project, setting.id)
        by_name = next((r.name for r in READINGS if r.name == setting.id), setting.kind)
        if by_name != setting.kind:
            raise BadDocument(f"The reading {setting.id} cannot be a {resolved.kind.title}.", field="readings")
        for param in resolved.kind.params:
            value = resolved.numbers[param.name]
            if param.kind == "map" and value:
                _check_map_name(project, str(value), resolved.title)
            if param.kind == "picture" and value and kind_of(project, str(value)).name != "picture":
                raise BadDocument(f"{resolved.title} must look at a picture.", field="readings")


def _check_map_name(project: Project, name: str, who: str) -> None:
    read = map_name(name)
    if isinstance(read, MaskName) and read.lines is None:
        if project.mask(read.mask) is None:
            raise NotFound(f"{who} reads a mask that is not there.", field="readings")
    elif isinstance(read, ReadingName):
        kind_of(project, read.reading)
    else:
        raise NotFound(f"{who} must read a mask or a reading, got {name!r}.", field="readings")


def _check_classes(project: Project) -> None:
    told = project.classes
    numbers, things = [str(c.number) for c in told.classes], [c.of for c in told.classes]
    for what, seen in (("number", numbers), ("layer or mask", things)):
        twice = next((value for value in seen if seen.count(value) > 1), None)
        if twice is not None:
            raise BadNumber(f"Two classes of the ground have the same {what}, {twice}.", field="classes")
    outcomes = {f"layer:{outcome.id}" for outcome in project.outcomes}
    outcomes |= {f"layer:{layer.id}" for layer in project.layers} | {f"layer:{merge.id}" for merge in project.merges}
    masks = {f"mask:{mask.id}" for mask in project.masks}
    lost = next((c for c in told.classes if c.of not in outcomes | masks), None)
    if lost is not None:
        raise NotFound(f"The class {lost.name} is of something that is not there.", field="classes")
    if told.holes is not None and f"mask:{told.holes}" not in masks:
        raise NotFound("The mask of where the ground is open is not there.", field="holes")


def _check_ground(project: Project) -> None:
    ground = project.ground
    if ground.heights == "points" and ground.points is None:
        raise BadNumber("Two known points are needed to take heights from them.", field="points")
    if ground.heights == "ends" and code_ends(ground.depth) is None:
        raise BadNumber(
            f"{ground.file_name} tells heights in a code of its own, with no black or white. Take them as stored.",
            field="heights",
        )
    if ground.heights == "ends" and not ground.at_white > ground.at_black:
        raise BadNumber(
            f"White must stand for more than black, got {ground.at_black:g} m at black and {ground.at_white:g} m at "
            "white.",
            field="at_white",
        )
    low, high = ground.file_ends
    if high <= low:
        raise BadNumber(f"The highest height must be above the lowest, got {low:g} to {high:g} m.", field="high")
    ids = [step.id for step in ground.steps]
    if len(set(ids)) != len(ids):
        raise BadDocument("Two preparation steps have the same id.")
    for number, step in enumerate(ground.steps, 1):
        place = f"Step {number} ({step.title})"
        _check_step(project, step, place, number)
        grid = ground.grid_after(number)
        if min(grid.rows, grid.cols) < SHORTEST_SIDE or max(grid.rows, grid.cols) > LONGEST_SIDE:
            raise BadNumber(
                f"{place} would make {grid.cols} × {grid.rows} samples; a ground has {SHORTEST_SIDE} to "
                f"{LONGEST_SIDE} a side.",
                field="steps",
            )


def _check_step(project: Project, step: Step, place: str, number: int) -> None:
    if step.makes_grid and (step.where or step.amount < 1):
        raise BadDocument(f"{place} acts on all of the ground: it cannot be limited to a part.", field="where")
    if not step.graded and step.amount < 1:
        raise BadDocument(f"{place} is done or not done: it has no strength.", field="amount")
    _unique_ids(f"lines that say where {place} acts", [line.id for line in step.where])
    for at, line in enumerate(step.where, 1):
        _check_line(project, line, f"{place}, line {at} of where it acts")
    reads = {item for kind, item in map(thing, below(project, [f"step:{step.id}"])) if kind == "reading"}
    for later in leavings(project):
        if later.id in reads and later.index >= number - 1:
            raise BadDocument(
                f"{place} acts where {later.title} is strong, which is not there before it.", field="where"
            )


def _check_layers(project: Project) -> None:
    named = [(item.id, item.name) for item in project.layers] + [(item.id, item.name) for item in project.merges]
    unique("layer", [(BASE, project.base.name), *named])
    unique("look", ((look.id, look.name) for look in project.looks))
    for layer in project.layers:
        if layer.mask is not None:
            use = MaskUse(mask=layer.mask, band=layer.band)
            check_source(project, use, f"The layer {layer.name}")
    inside: set[str] = set()
    for merge in project.merges:
        twice = inside & set(merge.layers) or len(set(merge.layers)) < len(merge.layers)
        if twice or any(project.layer(item) is None for item in merge.layers):
            raise BadDocument(f"{merge.name} merges a layer that is not there, or that is merged already.")
        inside |= set(merge.layers)
        if len(merge.shares) != len(merge.layers) or abs(sum(merge.shares) - 1) > 1e-6:
            raise BadDocument(f"The shares of {merge.name} must be one a layer and add up to 1.", field="shares")
    _unique_ids("brush strokes", [item.id for item in project.strokes])
    for item in project.strokes:
        if item.layer != BASE and project.layer(item.layer) is None:
            raise NotFound("Brush strokes are on a layer that is not there.", field="strokes")
        if item.only is not None:
            check_source(project, item.only, "The layer brush")


def _unique_ids(kind: str, ids: list[str]) -> None:
    if len(set(ids)) != len(ids):
        raise BadDocument(f"Two {kind} have the same id.")


def _check_coats(project: Project) -> None:
    _unique_ids("coats", [coat.id for coat in project.coats])
    unique("piece of coats", ((piece.id, piece.name) for piece in project.coat_pieces))
    holders = [("", project.coats), *((f" of {piece.name}", piece.coats) for piece in project.coat_pieces)]
    for where, coats in holders:
        for coat in coats:
            place = f"The coat {coat.title}{where}"
            for _, source in coat.sources():
                check_source(project, source, place)
            if coat.picture_id is not None and kind_of(project, coat.picture_id).name != "picture":
                raise BadDocument(f"{place} must lay a picture.", field="picture")
            if coat.piece_id is not None:
                _check_coat_piece(project, coat, where, place)
    for piece in project.coat_pieces:
        _unique_ids(f"coats of {piece.name}", [coat.id for coat in piece.coats])
        for exposed in piece.exposed:
            exposed_value(piece, exposed)


def _check_coat_piece(project: Project, coat: Coat, where: str, place: str) -> None:
    piece = project.coat_piece(coat.piece_id or "")
    if piece is None:
        raise NotFound(f"{place} uses a piece that is not there.", field="piece")
    if where:
        raise BadDocument(f"{place}: a piece cannot hold another piece.", field="coats")
    try:
        lines_with(piece, getattr(coat, "numbers", {}))
    except ValidationError as error:
        raise told(error, place) from None


def check_project(project: Project, before: Project | None = None) -> None:
    """Raise the first thing that does not hold together (a :class:`MeadowError` with the place in words). ``before``: a
    document that does: what it shares is not checked again."""
    _check_ground(project)
    _check_readings(project)
    unique("mask", ((m.id, m.name) for m in project.masks))
    unique("sheet", ((s.id, s.name) for s in project.sheets))
    unique("piece", ((p.id, p.name) for p in project.pieces))
    _check_features(project)
    _check_recipes(project, before)
    _check_circles(project)
    _check_layers(project)
    _check_coats(project)
    _check_classes(project)
    check_sheets(project)
    check_delivery(project)
