"""Who uses what: one graph of a project's masks, bands, readings, pieces, drawn lines, layers, sheets, things scattered
and files. Deletion, circles, kits, warnings and the pages' "where it goes" all ask it.

Things are named by kind and id: ``mask:ID``, ``reading:ID``, ``piece:ID``, ``feature:ID``, ``layer:ID`` (or
``layer:base``), ``look:ID``, ``strokes:ID``, ``coat:ID``, ``coat_piece:ID``, ``colour``, ``surface``, ``sheet:ID``,
``scatter:ID``, ``step:ID``, ``item:MAP`` (a file of the delivery), ``file:CHECKSUM``, and ``ground``, the heightmap
itself.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass

from zigzag_meadow.core.map_name import (
    BandName,
    CoatName,
    LookName,
    MapName,
    MaskName,
    PointsName,
    ReadingName,
    ScatterName,
    WeightName,
    map_name,
)
from zigzag_meadow.core.masks.lines.base import BaseLine
from zigzag_meadow.core.masks.sources import Band, FeatureUse, MaskUse, ReadingUse, Source
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.left import leavings
from zigzag_meadow.core.project.model.painting import BASE, Coat
from zigzag_meadow.core.project.model.readings import kind_of
from zigzag_meadow.core.project.model.recipe import Mask, Piece
from zigzag_meadow.core.project.model.sheets import (
    BandSource,
    BaseSource,
    Channel,
    ChannelSource,
    MaskSource,
    PaintedSource,
    ReadingSource,
    ScatterSource,
    Sheet,
    StepSource,
    WeightSource,
)
from zigzag_meadow.core.readings.catalogue import READINGS
from zigzag_meadow.core.remembered import once_an_object

__all__ = ["USERS", "Use", "below", "line_uses", "thing", "uses", "uses_of", "words_for"]


@dataclass(frozen=True, slots=True)
class Use:
    """``user`` uses ``used``, of a mask perhaps only one ``band``. ``words``: where, as in "is used by …"."""

    user: str
    used: str
    words: str
    band: int | None = None


def thing(name: str) -> tuple[str, str]:
    """(kind, id) of a thing by its name in the graph of uses."""
    kind, _, item = name.partition(":")
    return kind, item


def _source_use(source: Source) -> tuple[str, int | None] | None:
    if isinstance(source, MaskUse):
        return f"mask:{source.mask}", source.band
    if isinstance(source, Band | ReadingUse):
        return f"reading:{source.reading}", None
    return (f"feature:{source.feature}", None) if isinstance(source, FeatureUse) else None


def line_uses(lines: Iterable[BaseLine], user: str, words: str) -> Iterator[Use]:
    """What some lines use."""
    for line in lines:
        for _, source in line.sources():
            used = _source_use(source)
            if used is not None:
                yield Use(user, used[0], words, used[1])
        if line.piece_id is not None:
            yield Use(user, f"piece:{line.piece_id}", words)
        for asset in line.assets:
            yield Use(user, f"file:{asset}", words)


def _channel_use(source: ChannelSource) -> str | None:
    if isinstance(source, BandSource):
        return f"mask:{source.mask}"
    if isinstance(source, WeightSource | StepSource):
        return f"layer:{source.layer}"
    if isinstance(source, BaseSource):
        return "layer:base"
    if isinstance(source, MaskSource):
        return f"mask:{source.mask}"
    if isinstance(source, ScatterSource):
        return f"scatter:{source.scatter}"
    if isinstance(source, PaintedSource):
        return "colour" if source.map.startswith("colour") else "surface"
    return f"reading:{source.reading}" if isinstance(source, ReadingSource) else None


def channel_words(sheet: Sheet, channel: Channel) -> str:
    """A channel, as in "is used by …"."""
    return f"channel {channel.upper()} of the sheet {sheet.name}"


def _sheet_uses(project: Project) -> Iterator[Use]:
    for sheet in project.sheets:
        for channel in sheet.channels:
            source = sheet.source(channel)
            used = None if source is None else _channel_use(source)
            band = source.band if isinstance(source, BandSource) else None
            if used is not None:
                yield Use(f"sheet:{sheet.id}", used, channel_words(sheet, channel), band)


def _reading_uses(project: Project) -> Iterator[Use]:
    for setting in project.readings:
        kind = kind_of(project, setting.id)
        words = f"the reading {setting.name or kind.title}"
        values = [(param, str(setting.numbers.get(param.name, ""))) for param in kind.params]
        maps = [value for param, value in values if value and param.kind == "map"]
        yield from (Use(f"reading:{setting.id}", used, words) for used in maps)
        files = [value for param, value in values if value and param.kind == "file"]
        yield from (Use(f"reading:{setting.id}", f"file:{used}", words) for used in files)
        laid = [value for param, value in values if value and param.kind == "picture"]
        yield from (Use(f"reading:{setting.id}", f"reading:{used}", words) for used in laid)
        if maps:
            # Others that share its numbers read the same maps.
            sharing = [other for other in READINGS if other.numbers_of == setting.id]
            yield from (Use(f"reading:{other.name}", f"reading:{setting.id}", words) for other in sharing)


def _scatter_uses(project: Project) -> Iterator[Use]:
    for item in project.scatters:
        user, words = f"scatter:{item.id}", f"the scattered {item.name}"
        masks = [mask for mask in (item.mask, *item.keep_out) if mask is not None]
        yield from (Use(user, f"mask:{mask}", words) for mask in dict.fromkeys(masks))
        yield from (Use(user, f"{clear.of}:{clear.id}", words) for clear in item.clear)
        if item.size_by:
            yield Use(user, item.size_by, words)
        if item.steepest < 90:
            yield Use(user, "reading:slope", words)


def _ground_uses(project: Project) -> Iterator[Use]:
    yield Use("ground", f"file:{project.ground.asset}", "the ground")
    for number, step in enumerate(project.ground.steps, 1):
        yield from line_uses(step.where, f"step:{step.id}", f"preparation step {number}")
        yield from (Use(f"step:{step.id}", f"file:{asset}", f"preparation step {number}") for asset in step.assets)
    for item in leavings(project):
        yield Use(f"reading:{item.id}", f"step:{item.step.id}", f"the reading {item.title}")


@once_an_object
def _recipe_uses(holder: Mask | Piece) -> tuple[Use, ...]:
    kind = "mask" if isinstance(holder, Mask) else "piece"
    return tuple(line_uses(holder.lines, f"{kind}:{holder.id}", f"the {kind} {holder.name}"))


def _mask_uses(project: Project) -> Iterator[Use]:
    holders: tuple[Mask | Piece, ...] = (*project.masks, *project.pieces)
    for holder in holders:
        yield from _recipe_uses(holder)


def _layer_uses(project: Project) -> Iterator[Use]:
    for merge in project.merges:
        yield from (Use(f"layer:{merge.id}", f"layer:{layer}", f"the merged {merge.name}") for layer in merge.layers)
    worn = [(BASE, project.base.name, project.base.dressing)]
    worn += [(layer.id, layer.name, layer.dressing) for layer in project.layers]
    for layer_id, name, dressing in worn:
        for wears in (dressing.look, dressing.middle):
            if wears is not None:
                yield Use(f"layer:{layer_id}", f"look:{wears}", f"the layer {name}")
    for look in project.looks:
        yield from (Use(f"look:{look.id}", f"file:{asset}", f"the look {look.name}") for asset in look.assets)
    for layer in project.layers:
        if layer.mask is not None:
            yield Use(f"layer:{layer.id}", f"mask:{layer.mask}", f"the layer {layer.name}", layer.band)
    for item in project.strokes:
        words = "the layer brush"
        yield Use(f"strokes:{item.id}", f"file:{item.asset}", words)
        used = None if item.only is None else _source_use(item.only)
        if used is not None:
            yield Use(f"strokes:{item.id}", used[0], words, used[1])


def _coat_parts(coats: Iterable[Coat], user: str, words: str) -> Iterator[Use]:
    for coat in coats:
        for _, source in coat.sources():
            used = _source_use(source)
            if used is not None:
                yield Use(user, used[0], words, used[1])
        if coat.picture_id is not None:
            yield Use(user, f"reading:{coat.picture_id}", words)
        if coat.piece_id is not None:
            yield Use(user, f"coat_piece:{coat.piece_id}", words)


def _coat_uses(project: Project) -> Iterator[Use]:
    for coat in project.coats:
        words = f"the coat {coat.title}"
        yield Use("colour", f"coat:{coat.id}", "the colour map")
        yield from _coat_parts([coat], f"coat:{coat.id}", words)
    for piece in project.coat_pieces:
        yield from _coat_parts(piece.coats, f"coat_piece:{piece.id}", f"the piece {piece.name}")


def _used_alone(name: MapName) -> tuple[str, int | None] | None:
    """(the thing that a file of its own is made of, which band of it); None for what is no one thing's own map."""
    if isinstance(name, MaskName | BandName):
        return f"mask:{name.mask}", name.band if isinstance(name, BandName) else None
    if isinstance(name, ScatterName | PointsName):
        return f"scatter:{name.scatter}", None
    if isinstance(name, WeightName):
        return f"layer:{name.layer}", None
    if isinstance(name, ReadingName):
        return f"reading:{name.reading}", None
    if isinstance(name, CoatName):
        return f"coat:{name.coat}", None
    return (f"look:{name.look}", None) if isinstance(name, LookName) else None


def _delivery_uses(project: Project) -> Iterator[Use]:
    """What goes out as a file of its own."""
    for item in project.delivery.items:
        used = _used_alone(map_name(item.of)) if item.deliver else None
        if used is not None:
            yield Use(f"item:{item.of}", used[0], "the delivery, as its own file", used[1])


def _class_uses(project: Project) -> Iterator[Use]:
    for item in project.classes.classes:
        yield Use("classes", item.of, f"the class {item.name}")
    if project.classes.holes is not None:
        yield Use("holes", f"mask:{project.classes.holes}", "where the ground is open")


USERS: list[Callable[[Project], Iterable[Use]]] = [
    _ground_uses,
    _reading_uses,
    _mask_uses,
    _layer_uses,
    _coat_uses,
    _sheet_uses,
    _scatter_uses,
    _class_uses,
    _delivery_uses,
]


@once_an_object
def uses(project: Project) -> tuple[Use, ...]:
    """Every use there is, in the order of ``USERS`` and of the document; the heightmap's first."""
    return tuple(use for users in USERS for use in users(project))


def uses_of(project: Project, name: str) -> list[Use]:
    """The uses of one thing by others."""
    return [use for use in uses(project) if use.used == name and use.user != name]


def words_for(project: Project, name: str) -> list[str]:
    """Who uses a thing, in words, each once."""
    return list(dict.fromkeys(use.words for use in uses_of(project, name)))


def below(project: Project, names: Iterable[str]) -> list[str]:
    """Some things and everything that they are made of, each once, as they are met."""
    by_user: dict[str, list[str]] = {}
    for use in uses(project):
        by_user.setdefault(use.user, []).append(use.used)
    reached = dict.fromkeys(names)
    waiting = list(reached)
    for name in waiting:
        for used in by_user.get(name, ()):
            if used not in reached:
                reached[used] = None
                waiting.append(used)
    return list(reached)
