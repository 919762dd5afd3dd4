"""What every kind of map gives on the test ground, at some places: kept in ``tests/samples/kept_values.json``.

Somebody's recipes give tomorrow what they give today. Who changes a kind of map on purpose raises its version, and
keeps what it gives from then on with ``python -m tests.support.kept_values``.
"""

from __future__ import annotations

import json
import math
import tempfile
from collections.abc import Callable, Iterator, Sequence
from pathlib import Path
from typing import Any

import numpy as np

from tests.support.ground import band, document, evaluation
from tests.support.painting import STROKES, edited, every_coat, painted, painted_document
from tests.support.recipes import EVERY, FEATURES, evaluated, recipe
from zigzag_meadow.core.colour.coats.base import Begun
from zigzag_meadow.core.evaluate.scattered import scatter_points
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.looks.catalogue import LOOKS
from zigzag_meadow.core.packing.reduced import sharper
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.model.kinds import Slot, coat_kinds, line_kinds, step_kinds, surface_slots
from zigzag_meadow.core.readings.catalogue import READINGS
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.core.survey.world import aerial_tile, height_tile

KEPT = Path(__file__).parents[1] / "samples" / "kept_values.json"
PLACES = 24
Values = dict[str, np.ndarray]


def some(values: np.ndarray) -> list[float | None]:
    """Values at places all over an array, the corners among them; five digits, None where there is none."""
    flat = np.asarray(values, np.float64).ravel()
    at = np.round(np.linspace(0, 1, PLACES) ** 1.1 * (flat.size - 1)).astype(int)
    return [float(f"{v:.5g}") if math.isfinite(v) else None for v in flat[at]]


def other_numbers(slots: Sequence[Slot]) -> Iterator[dict[str, Any]]:
    """Every number of a kind at another value, and every other choice, one at a time."""
    for slot in slots:
        if slot.kind in ("number", "optional"):
            low, high = slot.low, min(slot.high, 4 * max(abs(float(slot.value or 1.0)), 1.0))
            other = low + 0.37 * (high - low)
            yield {slot.name: round(other) if slot.whole else round(other, 4)}
        elif slot.kind == "choice":
            of = type(slot.value)
            yield from ({slot.name: of(value)} for value, _ in slot.choices if of(value) != slot.value)


def _told(changes: dict[str, Any]) -> str:
    return " ".join(f"{key}={value}" for key, value in changes.items())


def readings(folder: Path) -> Values:
    """As they begin, and with every number and choice otherwise."""
    data = document(readings=[])
    _, plain = evaluation(folder, data)
    home = plain.home
    cases = []
    for kind in READINGS:
        if not kind.ready:
            continue
        cases.append((kind.name, {}))
        for param in [] if kind.numbers_of else kind.params:
            default = param.default_on(home)
            if param.kind == "choice":
                cases += [(kind.name, {param.name: value}) for value, _ in param.choices if value != default]
            elif param.kind == "number":
                low, high = param.bounds(home)
                other = low + 0.37 * (min(high, 3 * abs(float(default)) + 1) - low)
                cases.append((kind.name, {param.name: round(other, 3)}))
    made = {}
    for name, numbers in cases:
        settings = [{"id": "other", "kind": name, "name": "Other", "numbers": numbers}] if numbers else []
        ev = plain.engine.evaluation(parse_project({**data, "readings": settings}))
        made[f"{name} {_told(numbers)}".strip()] = ev.map("reading:other" if numbers else f"reading:{name}")
    return made


def lines(folder: Path) -> Values:
    """Every kind of line after a band of slope: with some numbers, as it begins, and with every number otherwise."""
    begun = {kind.verb: kind for kind in line_kinds(parse_project(document()).ground.home)}
    cases = []
    for line in EVERY:
        kind = begun[line["verb"]]
        own = {
            slot.name: line[slot.name]
            for slot in kind.slots
            if slot.kind in ("source", "strokes") and slot.name in line
        }
        own |= {key: line[key] for key in ("asset", "count", "piece") if key in line and kind.verb != "cut"}
        cases.append((f"{kind.verb} with numbers", line))
        for changes in [{}, *other_numbers(kind.slots)]:
            by_hand = {"edges": [0.15, 0.3, 0.5, 0.8]} if changes == {"how": "own"} else {}
            cases.append((f"{kind.verb} {_told(changes)}".strip(), {**kind.fresh, **own, **changes, **by_hand}))
    engine = evaluated(folder, recipe()).engine
    return {told: engine.evaluation(parse_project(recipe(line))).map("mask:made") for told, line in cases}


def steps(folder: Path) -> Values:
    """Every kind of step on the ground itself, as it begins, with every number otherwise, and where it is gentle."""
    data = document(features=FEATURES)
    _, plain = evaluation(folder, data)
    made = {}
    for kind in step_kinds(plain.home, 20.0):
        where = [{"id": "w", "verb": "take", "source": band("slope", 0, 15, fade_high=10)}]
        slots = [slot for slot in kind.slots if slot.name != "amount" or kind.graded]
        for changes in [{}, *other_numbers(slots), *([] if kind.makes_grid else [{"where": where}])]:
            step = {**kind.fresh, "id": "s", **changes}
            if kind.tool == "heightmap":
                # The same file again, half as high: it lies above the ground in its valleys.
                file = {name: data["ground"][name] for name in ("asset", "file_name", "rows", "cols")}
                step = {**file, "metres_a_step": 150 / 65535, "at_zero": 90.0, **step}
            if "feature" in step or any(slot.name == "feature" for slot in kind.slots):
                step["feature"] = "path"
            project = parse_project({**data, "ground": {**data["ground"], "steps": [step]}})
            ev = plain.engine.evaluation(project)
            made[f"{kind.kind} {'where' if 'where' in changes else _told(changes)}".strip()] = ev.map("reading:height")
    return made


def coats(folder: Path) -> Values:
    """Every kind of coat over a colour map, as it begins and with every number otherwise; all together; surfaces."""
    base = painted_document(63, 63)
    begun = Begun(20.0, 320.0, 630.0, "aerial")
    _, plain = painted(folder, base)
    under = {**next(coat for coat in every_coat() if coat["kind"] == "ramp"), "id": "u"}
    made: Values = {}
    for kind in coat_kinds(plain.home, begun):
        if kind.kind == "piece":
            continue
        fresh = next(coat for coat in every_coat() if coat["kind"] == kind.kind)
        for changes in [{}, *other_numbers(kind.slots)]:
            data = {**base, "coats": [under, {**fresh, "id": "c", **changes}]}
            made[f"{kind.kind} {_told(changes)}".strip()] = plain.engine.evaluation(parse_project(data)).map("colour")
    for name in ("colour", "colour_far", "layers", "strongest"):
        made[f"all: {name}"] = plain.map(name)
    for changes in [{}, *other_numbers(surface_slots(plain.home))]:
        ev = plain.engine.evaluation(parse_project({**base, "surface": changes}))
        for name in ("normal", "roughness", "occlusion", "curvature", "detail"):
            made[f"{name} {_told(changes)}".strip()] = ev.map(f"surface:{name}")
    return made


def shared(folder: Path) -> Values:
    """Weights by every way of sharing, merged and brushed, packed at other sizes, and what is scattered."""
    data = painted_document(63, 63)
    project, plain = painted(folder, data)
    made: Values = {}
    for sharing in ("cover", "by_strength", "relief_led"):
        for depth in (0.1, 0.4):
            ev = plain.engine.evaluation(parse_project({**data, "mixing": {"sharing": sharing, "depth": depth}}))
            for name in ("weight:rock", "weight:mud", "weight:base", "strength:rock"):
                made[f"{sharing} {depth} {name}"] = ev.map(name)
    strokes = {"op": "set_strokes", "strokes": {"id": "s", "layer": "base", "asset": STROKES, "count": 1}}
    merge = {"op": "merge_layers", "id": "both", "name": "Both", "layers": ["rock", "mud"], "shares": [0.3, 0.1]}
    for operation in (strokes, merge):
        changed = plain.engine.evaluation(edited(project, operation))
        for name in ("weight:base", "sheet:splat", "colour", "surface:normal"):
            made[f"{operation['op']}: {name}"] = changed.map(name)
    for changes in ({}, {"density": 3.0}, {"spread": 0.7}, {"seed": 5}):
        thing = {"id": "s", "name": "Stones", "mask": "steep", **changes}
        ev = plain.engine.evaluation(parse_project({**data, "scatters": [thing]}))
        made[f"scatter {_told(changes)}".strip()] = ev.map("scatter:s")
        made[f"points {_told(changes)}".strip()] = scatter_points(ev, "s").points
    home = plain.home
    grids = {
        "as it is": home,
        "coarser": Grid(48, 48, home.length / 47, home.width / 47),
        "finer": Grid(140, 131, home.length / 139, home.width / 130),
        "cells": Grid(47, 47, home.length / 47, home.width / 47, "area"),
    }
    for told, grid in grids.items():
        for name in (
            "sheet:splat",
            "sheet:data",
            "mask:steep",
            "weight:rock",
            "colour",
            "reading:height",
            "reading:slope",
        ):
            made[f"{told}: {name}"] = plain.map(name, grid)
        for name, unit in (("mask:wet", True), ("reading:slope", False)):
            sharp = sharper(plain.graph.named(name), home, unit)
            made[f"{told}, sharper: {name}"] = plain.window(sharp, grid, grid.whole)
    return made


def survey(_: Path) -> Values:
    """Tiles of the made-up survey: of a coast, of high ground, from far away."""
    pool = Stripes(1)
    made: Values = {}
    for level, col, row in ((7, 60, 50), (9, 250, 190), (4, 7, 6), (0, 0, 0)):
        made[f"heights {level} {col} {row}"] = height_tile(level, col, row, pool)
        made[f"aerial {level} {col} {row}"] = aerial_tile(level, col, row, pool)
    return made


def looks(_: Path) -> Values:
    """Every bundled texture."""
    made = {}
    for look in LOOKS:
        texture = look.make(64)
        made |= {f"{look.id} {part}": getattr(texture, part) for part in ("tone", "roughness", "relief")}
    return made


GROUPS: dict[str, Callable[[Path], Values]] = {
    "readings": readings,
    "lines": lines,
    "steps": steps,
    "coats": coats,
    "shared": shared,
    "looks": looks,
    "survey": survey,
}


def keep(path: Path, found: dict[str, dict[str, Any]]) -> None:
    """Every entry on a line of its own."""
    groups = []
    for name, group in found.items():
        rows = [f" {json.dumps(key)}: {json.dumps(values, ensure_ascii=False)}" for key, values in group.items()]
        groups.append(f'"{name}": {{\n' + ",\n".join(rows) + "\n}")
    path.write_text("{\n" + ",\n".join(groups) + "\n}\n")


if __name__ == "__main__":
    found: dict[str, dict[str, Any]] = {}
    for name, make in GROUPS.items():
        with tempfile.TemporaryDirectory() as folder:
            found[name] = {key: some(values) for key, values in make(Path(folder)).items()}
    keep(KEPT, found)
