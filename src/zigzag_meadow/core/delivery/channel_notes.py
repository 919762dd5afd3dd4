"""What every channel of a file carries, for the import note."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Literal

from zigzag_meadow.core.colour.surface import SURFACE_MAPS
from zigzag_meadow.core.delivery.content import reading_ends
from zigzag_meadow.core.delivery.plan import Plan, PlannedItem
from zigzag_meadow.core.delivery.raster import is_coded
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.map_name import (
    BandName,
    ClassesName,
    MapName,
    MaskName,
    ReadingName,
    ScatterName,
    SurfaceName,
    WeightName,
    is_albedo,
)
from zigzag_meadow.core.packing.sheets import channel_ends
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.painting import BASE
from zigzag_meadow.core.project.model.readings import resolve
from zigzag_meadow.core.project.model.sheets import COLOURS, ChannelSource, PaintedSource, ReadingSource
from zigzag_meadow.core.targets.note import ChannelNote

__all__ = ["channel_notes", "file_colour_space", "painted_title"]

PARTS = {"r": "red", "g": "green", "b": "blue"}


def file_colour_space(plan: Plan, item: PlannedItem) -> Literal["sRGB", "linear", "data"]:
    if is_coded(plan, item):
        return "sRGB"
    return "linear" if item.thing.kind == "colour" or is_albedo(item.thing.name) else "data"


def channel_notes(evaluation: Evaluation, plan: Plan, item: PlannedItem) -> tuple[ChannelNote, ...]:
    """One note a channel, in file order."""
    if item.sheet is None:
        told = _alone(evaluation, plan, item)
        return tuple(ChannelNote(channel=c, **told[at]) for at, c in enumerate(item.channels))
    made = []
    for channel in item.channels:
        source = item.sheet.source(channel)
        told_of = {"kind": "empty", "title": "empty"} if source is None else _carries(evaluation, plan.project, source)
        turned = source is not None and source.turned
        made.append(ChannelNote(channel=channel, turned=turned, **told_of))
    return tuple(made)


def _alone(evaluation: Evaluation, plan: Plan, item: PlannedItem) -> list[dict[str, Any]]:
    """Of a map that goes out by itself."""
    thing, project = item.thing, plan.project
    name = thing.name
    if thing.kind == "height":
        return [{"kind": "height", "title": "Height", "of": "height", "unit": "m"}]
    if len(item.channels) == 3:
        kind = "look" if thing.kind == "look" else "painted"
        return [{"kind": kind, "title": f"{thing.title}, {PARTS[c]}", "of": thing.of} for c in item.channels]
    if thing.kind == "classes":
        told_of = ground_numbers(project) if isinstance(name, ClassesName) else class_numbers(project)
        return [{"kind": "classes", "title": told_of, "of": thing.of, "numbers": _table(project, name)}]
    if isinstance(name, ReadingName):
        black, white = reading_ends(evaluation, item)
        declared = resolve(project, name.reading).kind
        as_measured = item.form.floats and item.choice.black is None
        ends = {} if as_measured else {"black": black, "white": white}
        mapping = "log" if declared.scale == "log" and not as_measured else "even"
        return [
            {"kind": "reading", "title": thing.title, "of": thing.of, "unit": declared.unit, "mapping": mapping, **ends}
        ]
    if thing.kind == "density":
        scatter = project.scatter(item.scatter)
        return [
            {
                "kind": "density",
                "title": scatter.name if scatter else "?",
                "of": thing.of,
                "white": scatter.density if scatter else 0.0,
            }
        ]
    if isinstance(name, WeightName):
        outcome = next(outcome for outcome in project.outcomes if outcome.id == name.layer)
        # By itself it is rounded by itself: it belongs to no sum.
        return [{"kind": "mask", "title": thing.title, "of": thing.of, "colour": outcome.colour}]
    kind = "painted" if thing.kind in ("surface", "colour") else "look" if thing.kind == "look" else "mask"
    return [{"kind": kind, "title": thing.title, "of": thing.of}]


def ground_numbers(project: Project) -> str:
    told = ", ".join(f"{item.number} {item.name}" for item in project.classes.classes)
    return f"Number of the class: 0 {project.classes.otherwise}, {told}"


def _table(project: Project, name: MapName) -> dict[int, str]:
    """What every number of a map of classes is called."""
    if isinstance(name, ClassesName):
        return {0: project.classes.otherwise} | {item.number: item.name for item in project.classes.classes}
    return {at: item.name for at, item in enumerate(project.outcomes)}


def class_numbers(project: Project) -> str:
    numbers = ", ".join(f"{at} {item.name} ({item.colour})" for at, item in enumerate(project.outcomes))
    return f"Number of the strongest layer: {numbers}"


def painted_title(project: Project, source: PaintedSource) -> str:
    """What a channel of a painted map is called."""
    if source.map == "strongest":
        return class_numbers(project)
    if source.map in COLOURS:
        return f"{COLOURS[source.map]}, {PARTS[source.part]}"
    if source.map == "normal":
        return f"Normal map, {PARTS[source.part]}"
    return next(title for name, title in SURFACE_MAPS.items() if name == source.map)


def _carries(evaluation: Evaluation, project: Project, source: ChannelSource) -> dict[str, Any]:
    return _SOURCES[source.kind](evaluation, project, source)


def _weight(evaluation: Evaluation, project: Project, source: Any) -> dict[str, Any]:
    made = next((item for item in project.outcomes if item.id == source.layer), None)
    if made is None:
        every = {item.id: item.name for item in project.layers} | {item.id: item.name for item in project.merges}
        title = f"{every.get(source.layer, '?')} (switched off)"
        return {"kind": source.kind, "title": title, "layer": source.layer, "of": str(WeightName(source.layer))}
    return {
        "kind": source.kind,
        "title": made.name,
        "colour": made.colour,
        "layer": made.id,
        "of": str(WeightName(made.id)),
    }


def _reading(evaluation: Evaluation, project: Project, source: ReadingSource) -> dict[str, Any]:
    resolved = resolve(project, source.reading)
    kind = resolved.kind
    of = str(ReadingName(source.reading))
    if source.mapping in ("east", "north"):
        title = f"{resolved.title}, how far an arrow of length 1 reaches {source.mapping}"
        return {"kind": "reading", "title": title, "of": of, "mapping": "even", "black": -1.0, "white": 1.0}
    black, white = source.black, source.white
    mapping = "log" if source.mapping == "log" or (source.mapping != "even" and kind.scale == "log") else "even"
    if source.mapping == "signed":
        black, mapping = -source.white, "even"
    if source.mapping == "stretch":
        ends = evaluation.whole(channel_ends(evaluation.graph.reading(source.reading)))
        black, white = float(ends[0]), float(ends[1])
    return {
        "kind": "reading",
        "title": resolved.title,
        "of": of,
        "unit": kind.unit,
        "mapping": mapping,
        "black": black,
        "white": white,
    }


def _density(evaluation: Evaluation, project: Project, source: Any) -> dict[str, Any]:
    scatter = project.scatter(source.scatter)
    return {
        "kind": "density",
        "title": scatter.name if scatter else "?",
        "of": str(ScatterName(source.scatter)),
        "white": scatter.density if scatter else 0.0,
    }


def _mask(evaluation: Evaluation, project: Project, source: Any) -> dict[str, Any]:
    mask = project.mask(source.mask)
    name = mask.name if mask else "?"
    if source.kind == "band":
        return {
            "kind": "mask",
            "title": f"{name}, band {source.band + 1}",
            "of": str(BandName(source.mask, source.band)),
        }
    return {"kind": "mask", "title": name, "of": str(MaskName(source.mask))}


def _base(evaluation: Evaluation, project: Project, source: Any) -> dict[str, Any]:
    base = project.base
    return {"kind": "base", "title": base.name, "colour": base.colour, "layer": BASE, "of": str(WeightName(BASE))}


def _painted(evaluation: Evaluation, project: Project, source: PaintedSource) -> dict[str, Any]:
    plain = source.map in COLOURS or source.map == "strongest"
    of = source.map if plain else str(SurfaceName(source.map))
    kind = "classes" if source.map == "strongest" else "painted"
    return {"kind": kind, "title": painted_title(project, source), "of": of}


_SOURCES: dict[str, Callable[[Evaluation, Project, Any], dict[str, Any]]] = {
    "weight": _weight,
    "step": _weight,
    "base": _base,
    "mask": _mask,
    "band": _mask,
    "reading": _reading,
    "scatter": _density,
    "painted": _painted,
    "rest": lambda evaluation, project, source: {"kind": "rest", "title": "rest of this sheet"},
    "constant": lambda evaluation, project, source: {"kind": "constant", "title": f"{source.value:g} everywhere"},
}
