"""Readings, layers, looks and coats of a project as the pages get them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import asdict
from pathlib import Path
from typing import Any

from zigzag_meadow.core.colour.coats.base import Begun
from zigzag_meadow.core.colour.surface import SURFACE_MAPS
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.evaluate.graph import Graph
from zigzag_meadow.core.evaluate.painted_file import DEPTHS, PaintedSize, painted_sizes
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.layers.sharing import SHARINGS
from zigzag_meadow.core.looks.catalogue import LOOKS
from zigzag_meadow.core.looks.files import said
from zigzag_meadow.core.looks.model import MAPS
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.kinds import Slot, coat_kinds, surface_slots
from zigzag_meadow.core.project.model.painting import BASE
from zigzag_meadow.core.project.model.readings import Resolved, all_readings
from zigzag_meadow.core.readings.declare import Param
from zigzag_meadow.core.targets.map_sizes import SizeKind

__all__ = ["painting_of", "readings_of", "slots_out"]


def _param(param: Param, value: float | str, home: Grid) -> dict[str, Any]:
    low, high = param.bounds(home)
    return {
        "name": param.name,
        "title": param.title,
        "unit": param.unit,
        "kind": param.kind,
        "value": value,
        "default": param.default_on(home),
        "low": low,
        "high": high,
        "step": param.step,
        "decimals": param.decimals,
        "choices": [{"value": value, "label": label} for value, label in param.choices],
    }


def _reading(resolved: Resolved, home: Grid, key: str) -> dict[str, Any]:
    kind = resolved.kind
    own = resolved.id != kind.name
    return {
        "name": resolved.id,
        "key": key,
        "kind": kind.name,
        "numbers_of": resolved.id if own else kind.numbers_of or kind.name,
        "own": own,
        "title": resolved.title,
        "family": kind.family,
        "unit": kind.unit,
        "scale": kind.scale,
        "decimals": kind.decimals,
        "low": kind.low,
        "high": kind.high,
        "whole_ground": kind.whole_ground,
        "sentence": kind.sentence,
        "good_for": kind.good_for,
        "ramp": kind.ramp,
        "wraps": kind.wraps,
        "signed": kind.signed,
        "at_other_sizes": kind.at_other_sizes,
        "ramp_high": kind.ramp_high,
        "ramp_all": kind.ramp_all,
        "open_end": kind.open_end,
        "more": kind.more,
        "less": kind.less,
        "above": kind.above,
        "left": resolved.left is not None,
        "trouble": None if resolved.left is None else resolved.left.trouble,
        "light": kind.light,
        "first": kind.first,
        "probed": kind.probed,
        "steers": kind.steers,
        "params": [_param(p, resolved.numbers[p.name], home) for p in kind.params],
    }


def readings_of(graph: Graph) -> list[dict[str, Any]]:
    """Every reading of a project with its numbers and the key of its content."""
    document, home = graph.project, graph.project.ground.home
    return [_reading(item, home, graph.reading(item.id).key) for item in all_readings(document)]


def slots_out(slots: Sequence[Slot]) -> list[dict[str, Any]]:
    """Places of a sentence as the pages get them."""
    return [
        {**asdict(slot), "choices": [{"value": value, "label": label} for value, label in slot.choices]}
        for slot in slots
    ]


def _choice(value: str, label: str) -> dict[str, str]:
    return {"value": value, "label": label}


def _looks(evaluation: Evaluation, asset_path: Callable[[str], Path]) -> list[dict[str, Any]]:
    """Looks brought in, then bundled ones."""
    made = []
    for look in evaluation.project.looks:
        missing = any(not asset_path(asset).is_file() for asset in look.assets)
        made.append(
            {
                "id": look.id,
                "name": look.name,
                "own": True,
                "size": look.size,
                "mean": look.mean,
                "maps": [kind for kind in MAPS if look.asset(kind) is not None],
                "told": said(look.rows, look.cols, look.seam),
                "missing": missing,
            }
        )
    return made + [
        {
            "id": look.id,
            "name": look.title,
            "own": False,
            "size": look.size,
            "mean": look.mean,
            "maps": list(MAPS),
            "told": [],
            "missing": False,
        }
        for look in LOOKS
    ]


def _troubles(project: Project, evaluation: Evaluation, gone: set[str]) -> list[dict[str, str]]:
    """Layers and coats that do nothing, and why."""
    told = []
    known = {look.id for look in project.looks} | {look.id for look in LOOKS}
    worn = [(BASE, project.base.dressing), *((layer.id, layer.dressing) for layer in project.layers)]
    for layer_id, dressing in worn:
        for look in (dressing.look, dressing.middle):
            if look is not None and (look not in known or look in gone):
                text = "Its texture is gone: its plain colour stands in. Choose another look."
                told.append({"id": layer_id, "text": text})
    told += [
        {"id": layer.id, "text": "It has no mask: it covers nothing until you choose one."}
        for layer in project.layers
        if layer.mask is None
    ]
    around = evaluation.graph.painting.around()
    why = ((coat.id, coat.trouble(around)) for coat in project.coats)
    return told + [{"id": coat, "text": text} for coat, text in why if text is not None]


def painting_of(evaluation: Evaluation, asset_path: Callable[[str], Path]) -> dict[str, Any]:
    """Everything the pages of layers and colour need that is not in the document."""
    project, home = evaluation.project, evaluation.home
    low, high = project.ground.file_ends
    looks = _looks(evaluation, asset_path)
    pictures = [
        _choice(setting.id, setting.name or "Picture")
        for setting in project.readings
        if setting.kind == "picture" and setting.numbers.get("asset")
    ]
    begun = Begun(low, high, max(home.width, home.length), pictures[0]["value"] if pictures else None)
    return {
        "coats": [{**asdict(kind), "slots": slots_out(kind.slots)} for kind in coat_kinds(home, begun)],
        "surface": slots_out(surface_slots(home)),
        "surface_maps": [_choice(value, label) for value, label in SURFACE_MAPS.items()],
        "looks": looks,
        "sharings": [
            {"value": k, "label": s.title, "sentence": s.sentence, "by_relief": s.by_relief}
            for k, s in SHARINGS.items()
        ],
        "outcomes": [
            {**asdict(item), "members": list(item.members), "index": at} for at, item in enumerate(project.outcomes)
        ],
        "troubles": _troubles(project, evaluation, {look["id"] for look in looks if look["missing"]}),
        "sizes": [asdict(size) for size in [*_far(project), *painted_sizes(home)]],
        "depths": [_choice(value, title) for value, (_, _, title) in DEPTHS.items()],
        "pictures": pictures,
    }


def _far(project: Project) -> list[PaintedSize]:
    """The sizes that the target names: near, and far where it wants that."""
    chosen = project.target
    wanted: list[tuple[SizeKind, str]] = [("colour", "near")]
    wanted += [("colour_middle", "middle")] if chosen.distances.middle_size is not None else []
    wanted += [("colour_far", "far")] if chosen.distances.far_size is not None else []
    grids = [(chosen.map_grid(project.final, kind, "colour"), word) for kind, word in wanted]
    return [PaintedSize(g.rows, g.cols, g.registration, f"{word}, as {chosen.title} takes it") for g, word in grids]
