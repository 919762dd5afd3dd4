"""Whether a document holds together: unique names, references that exist, no circles, numbers that make sense."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import pairwise
from typing import Any

from pydantic import ValidationError

from zigzag_meadow.core.errors import BadDocument, BadNumber, Cycle, NameTaken, NotFound, TooLarge
from zigzag_meadow.core.formats.limits import LONGEST_SIDE, SHORTEST_SIDE
from zigzag_meadow.core.project.document import (
    MaskSource,
    Project,
    ReadingSource,
    ScatterSource,
    WeightSource,
)
from zigzag_meadow.core.project.pieces import exposed_value, lines_with
from zigzag_meadow.core.project.readings import kind_of, resolve
from zigzag_meadow.core.project.recipe import (
    Bend,
    Cut,
    Levels,
    Line,
    Mask,
    Piece,
    PieceLine,
    TouchUp,
    sources_of,
)
from zigzag_meadow.core.project.sources import Band, FeatureUse, MaskUse, ReadingUse, Source
from zigzag_meadow.core.project.steps import STEP_TITLES, legal_where
from zigzag_meadow.core.project.upgrade import made_by_another, upgraded
from zigzag_meadow.core.project.wrong import told
from zigzag_meadow.core.readings.catalogue import READINGS
from zigzag_meadow.core.targets.rules import target

__all__ = ["MOST_DOCUMENT_BYTES", "check_project", "masks_read_by", "parse_project", "read_back", "uses_of_mask"]

MOST_DEEP = 60
MOST_DOCUMENT_BYTES = 8 * 1024 * 1024


def parse_project(data: Any) -> Project:
    """A checked project from plain JSON data. Raises :class:`BadDocument` with the place that is wrong."""
    newer = made_by_another(data)
    if newer is not None:
        raise BadDocument(newer, field="version")
    try:
        project = Project.model_validate(upgraded(data))
    except ValidationError as error:
        raise told(error, "The project document") from None
    check_project(project)
    return project


def read_back(project: Project) -> Project:
    """``project`` as it comes back from its stored form. Raises what :func:`parse_project` raises, and
    :class:`TooLarge` for a document that no project file may hold."""
    stored = project.model_dump_json().encode()
    if len(stored) > MOST_DOCUMENT_BYTES:
        raise TooLarge(
            f"The project would have {len(stored) / 2**20:.1f} MiB without its files; at most "
            f"{MOST_DOCUMENT_BYTES // 2**20} MiB can be kept. Simplify drawn lines with very many points.",
        )
    try:
        again = Project.model_validate_json(stored)
    except ValidationError as error:
        raise told(error, "The project document") from None
    check_project(again)
    return again


def masks_read_by(mask: Mask | Piece) -> list[str]:
    """Ids of the masks that the lines of a mask or a piece use."""
    return [s.mask for line in mask.lines for s in sources_of(line) if isinstance(s, MaskUse)]


def uses_of_mask(project: Project, mask_id: str) -> list[str]:
    """Who uses a mask, in words: other masks, pieces, layers, channels, what is scattered, readings."""
    used = [f"the mask {m.name}" for m in project.masks if m.id != mask_id and mask_id in masks_read_by(m)]
    used += [f"the piece {p.name}" for p in project.pieces if mask_id in masks_read_by(p)]
    used += [f"the layer {item.name}" for item in project.layers if item.mask == mask_id]
    for sheet in project.sheets:
        for channel in sheet.channels:
            source = sheet.source(channel)
            if isinstance(source, MaskSource) and source.mask == mask_id:
                used.append(f"channel {channel.upper()} of the sheet {sheet.name}")
    name = f"mask:{mask_id}"
    used += [
        f"the scattered {item.name}"
        for item in project.scatters
        if mask_id in (item.mask, *item.keep_out) or item.size_by == name
    ]
    used += [f"the reading {resolve(project, s.id).title}" for s in project.readings if name in s.numbers.values()]
    return used


def _unique(kind: str, things: Iterable[tuple[str, str]]) -> None:
    ids: set[str] = set()
    names: set[str] = set()
    for thing_id, name in things:
        if thing_id in ids:
            raise BadDocument(f"Two {kind}s have the id {thing_id!r}.")
        if name.casefold() in names:
            raise NameTaken(f"There is already a {kind} called {name}. Choose another name.", field="name")
        ids.add(thing_id)
        names.add(name.casefold())


def _check_band(project: Project, source: Band, place: str) -> None:
    declared = kind_of(project, source.reading)
    if source.low > source.high and not declared.wraps:
        raise BadNumber(
            f"{place}: the lower edge {source.low:g} must not be above the upper edge {source.high:g}.",
            field="low",
        )
    if declared.scale == "log" and source.low <= 0:
        raise BadNumber(f"{place}: {declared.title} starts above 0, got {source.low:g}.", field="low")


def _check_reading_use(project: Project, source: ReadingUse, place: str) -> None:
    declared = kind_of(project, source.reading)
    if source.black == source.white:
        raise BadNumber(f"{place}: black and white must stand for different values.", field="white")
    if declared.scale == "log" and min(source.black, source.white) <= 0:
        raise BadNumber(f"{place}: {declared.title} starts above 0.", field="black")


def _check_source(project: Project, source: Source, place: str) -> None:
    if isinstance(source, Band):
        _check_band(project, source, place)
    elif isinstance(source, ReadingUse):
        _check_reading_use(project, source, place)
    elif isinstance(source, FeatureUse) and project.feature(source.feature) is None:
        raise NotFound(f"{place} reads a drawn line that is not there.", field="feature")
    elif isinstance(source, MaskUse):
        other = project.mask(source.mask)
        if other is None:
            raise NotFound(f"{place} reads a mask that is not there.", field="mask")
        cuts = [line for line in other.lines if isinstance(line, Cut) and not line.muted]
        if source.band is not None and (not cuts or source.band >= cuts[-1].count):
            has = f"is cut into {cuts[-1].count}" if cuts else "is not cut into bands"
            raise NotFound(f"{place} reads band {source.band + 1} of {other.name}, which {has}.", field="band")


def _check_piece_use(project: Project, line: PieceLine, place: str) -> None:
    piece = project.piece(line.piece)
    if piece is None:
        raise NotFound(f"{place} uses a piece that is not there.", field="piece")
    known = {exposed.id for exposed in piece.exposed}
    unknown = next((name for name in line.numbers if name not in known), None)
    if unknown is not None:
        raise BadNumber(f"{place}: the piece {piece.name} has no number called {unknown}.", field="numbers")
    try:
        lines_with(piece, line.numbers)
    except ValidationError as error:
        first = error.errors()[0]
        raise BadNumber(f"{place}: {first['loc'][-1]}: {first['msg']}.", field="numbers") from None


def _check_line(project: Project, line: Line, place: str) -> None:
    if isinstance(line, Levels) and line.in_low >= line.in_high:
        raise BadNumber(f"{place}: the darkest input must be below the brightest.", field="in_low")
    if isinstance(line, Bend) and any(b[0] - a[0] < 1e-6 for a, b in pairwise(line.points)):
        raise BadNumber(f"{place}: the points of the curve must go from left to right.", field="points")
    if isinstance(line, Cut) and line.how == "own":
        if len(line.edges) != line.count - 1:
            raise BadNumber(
                f"{place}: {line.count} bands need {line.count - 1} inner edges, got {len(line.edges)}.", field="edges"
            )
        if any(b <= a for a, b in pairwise(line.edges)):
            raise BadNumber(f"{place}: each edge must be above the one before.", field="edges")
    if isinstance(line, PieceLine):
        _check_piece_use(project, line, place)
    for source in sources_of(line):
        _check_source(project, source, place)


def _check_recipes(project: Project) -> None:
    for holder in project.recipes:
        ids = [line.id for line in holder.lines]
        if len(set(ids)) != len(ids):
            raise BadDocument(f"Two lines of {holder.name} have the same id.")
        for number, line in enumerate(holder.lines, 1):
            place = f"Line {number} of {holder.name}"
            if isinstance(holder, Piece) and isinstance(line, PieceLine | TouchUp):
                what = "another piece" if isinstance(line, PieceLine) else "touch up, which belongs to one ground"
                raise BadDocument(f"{place}: a piece cannot hold {what}.", field="lines")
            _check_line(project, line, place)
        if isinstance(holder, Piece):
            for exposed in holder.exposed:
                exposed_value(holder, exposed)


def _check_features(project: Project) -> None:
    _unique("drawn line", ((f.id, f.name) for f in project.features))
    for feature in project.features:
        if feature.closed and len(feature.points) < 3:
            raise BadNumber(f"The area {feature.name} needs three points or more.", field="points")
    _unique("scatter", ((s.id, s.name) for s in project.scatters))
    for scatter in project.scatters:
        for mask_id in (scatter.mask, *scatter.keep_out):
            if mask_id is not None and project.mask(mask_id) is None:
                raise NotFound(f"The scattered {scatter.name} reads a mask that is not there.", field="mask")
        if scatter.size_low > scatter.size_high:
            raise BadNumber(f"{scatter.name}: the smallest size must not be above the largest.", field="size_low")
        if scatter.size_by:
            _check_map_name(project, scatter.size_by, f"The scattered {scatter.name}")


def _maps_read_by(project: Project, name: str) -> list[str]:
    """Names of the maps that a mask or a reading with a map among its numbers reads."""
    kind, _, item = name.partition(":")
    if kind == "mask":
        mask = project.mask(item)
        lines = list(mask.lines if mask is not None else ())
        for line in tuple(lines):
            piece = project.piece(line.piece) if isinstance(line, PieceLine) else None
            lines += piece.lines if piece is not None else ()
        sources = [source for line in lines for source in sources_of(line)]
        return [
            f"mask:{s.mask}" if isinstance(s, MaskUse) else f"reading:{s.reading}"
            for s in sources
            if isinstance(s, MaskUse | Band | ReadingUse)
        ]
    resolved = resolve(project, item)
    maps = [p.name for p in resolved.kind.params if p.kind == "map"]
    return [str(resolved.numbers[name]) for name in maps if resolved.numbers[name]]


def _check_circles(project: Project) -> None:
    def title(name: str) -> str:
        kind, _, item = name.partition(":")
        mask = project.mask(item) if kind == "mask" else None
        return mask.name if mask is not None else resolve(project, item).title

    tall: dict[str, int] = {}

    def visit(name: str, path: list[str]) -> int:
        """How many maps stand one upon the other, ``name`` on top."""
        if name in path:
            circle = [*path[path.index(name) :], name]
            raise Cycle("Maps would read each other in a circle: " + " → ".join(title(m) for m in circle) + ".")
        if name not in tall:
            tall[name] = 1 + max((visit(other, [*path, name]) for other in _maps_read_by(project, name)), default=0)
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


def _check_map_name(project: Project, name: str, who: str) -> None:
    kind, _, item = name.partition(":")
    if kind == "mask" and project.mask(item) is None:
        raise NotFound(f"{who} reads a mask that is not there.", field="readings")
    if kind == "reading":
        kind_of(project, item)
    if kind not in ("mask", "reading"):
        raise NotFound(f"{who} must read a mask or a reading, got {name!r}.", field="readings")


def _check_ground(project: Project) -> None:
    ground = project.ground
    if ground.heights == "points" and ground.points is None:
        raise BadNumber("Two known points are needed to take heights from them.", field="points")
    low, high = ground.file_ends
    if high <= low:
        raise BadNumber(f"The highest height must be above the lowest, got {low:g} to {high:g} m.", field="high")
    ids = [step.id for step in ground.steps]
    if len(set(ids)) != len(ids):
        raise BadDocument("Two preparation steps have the same id.")
    for number, step in enumerate(ground.steps, 1):
        place = f"Step {number} ({STEP_TITLES[step.kind]})"
        if not legal_where(step):
            raise BadDocument(f"{place} acts on all of the ground: it cannot be limited to a part.", field="where")
        for band in step.where:
            _check_band(project, band, place)
        grid = ground.grid_after(number)
        if min(grid.rows, grid.cols) < SHORTEST_SIDE or max(grid.rows, grid.cols) > LONGEST_SIDE:
            raise BadNumber(
                f"{place} would make {grid.cols} × {grid.rows} samples; a ground has {SHORTEST_SIDE} to "
                f"{LONGEST_SIDE} a side.",
                field="steps",
            )


def _check_sheets(project: Project) -> None:
    for sheet in project.sheets:
        sources = [(channel, sheet.source(channel)) for channel in sheet.channels]
        if sum(1 for _, s in sources if s is not None and s.kind == "rest") > 1:
            raise BadDocument(f"The sheet {sheet.name} can have the rest of this sheet in one channel only.")
        for channel, source in sources:
            place = f"Channel {channel.upper()} of {sheet.name}"
            if isinstance(source, WeightSource) and project.layer(source.layer) is None:
                raise NotFound(f"{place} reads a layer that is not there.")
            if isinstance(source, MaskSource) and project.mask(source.mask) is None:
                raise NotFound(f"{place} reads a mask that is not there.")
            if isinstance(source, ScatterSource) and project.scatter(source.scatter) is None:
                raise NotFound(f"{place} reads something scattered that is not there.")
            if isinstance(source, ReadingSource):
                use = ReadingUse(reading=source.reading, black=source.black, white=source.white)
                _check_reading_use(project, use, place)


def check_project(project: Project) -> None:
    """Raise the first thing that does not hold together (a :class:`MeadowError` with the place in words)."""
    _check_ground(project)
    _check_readings(project)
    _unique("mask", ((m.id, m.name) for m in project.masks))
    _unique("layer", [("base", project.base.name), *((item.id, item.name) for item in project.layers)])
    _unique("sheet", ((s.id, s.name) for s in project.sheets))
    _unique("piece", ((p.id, p.name) for p in project.pieces))
    _check_features(project)
    _check_recipes(project)
    _check_circles(project)
    for layer in project.layers:
        if layer.mask is not None and project.mask(layer.mask) is None:
            raise NotFound(f"The layer {layer.name} reads a mask that is not there.")
    _check_sheets(project)
    target(project.delivery.target)
