"""One of every operation on a project that has one of everything that can be edited."""

from __future__ import annotations

from typing import Any

from tests.support.ground import band
from tests.support.painting import painted_document
from tests.support.recipes import FEATURES, PIECE
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.edits.operations import Operation, parse_operations
from zigzag_meadow.core.project.edits.places import OPERATIONS
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.travel.own_kits import OWN_KITS
from zigzag_meadow.core.targets.catalogue import built_in

LOOK = {"id": "turf", "name": "Turf", "albedo": "8" * 64, "rows": 64, "cols": 64, "mean": "#556633"}
COAT = {"id": "soil", "kind": "plain", "colour": "#443322"}
MASK = {"id": "bare", "name": "Bare", "lines": [{"id": "a", "verb": "take", "source": band("height", 0, 90)}]}


def project_to_edit() -> Project:
    """Two of everything that stands in a list, so that it can be moved."""
    data = painted_document(features=FEATURES)
    data["masks"] += [MASK, {"id": "worn", "name": "Worn", "lines": [{"id": "p", "verb": "piece", "piece": "worn"}]}]
    data["pieces"] = [PIECE, {**PIECE, "id": "idle", "name": "Idle"}]
    data["readings"].append({"id": "wide", "kind": "slope", "name": "Wide", "numbers": {"width": 9.0}})
    data["features"] = [*FEATURES, {**FEATURES[0], "id": "idle", "name": "Idle"}]
    data["scatters"] = [{"id": "firs", "name": "Firs", "mask": "wet"}]
    data["looks"] = [LOOK, {**LOOK, "id": "idle", "name": "Idle"}]
    data["layers"] += [{**data["layers"][0], "id": name, "name": name, "dressing": {}} for name in ("moss", "scree")]
    shares = {"layers": ["moss", "scree"], "shares": [0.5, 0.5]}
    data["merges"] = [{"id": "green", "name": "Green", "colour": "#445544", **shares}]
    data["strokes"] = [{"id": "hand", "layer": "rock", "asset": "5" * 64, "count": 2}]
    data["coat_pieces"] = [{"id": name, "name": name, "coats": [{**COAT, "id": "in"}]} for name in ("dust", "idle")]
    data["coats"].append({"id": "dusty", "kind": "piece", "piece": "dust"})
    data["ground"]["steps"] = [{"id": "calm", "kind": "smooth"}, {"id": "flat", "kind": "soften"}]
    data["targets"] = [{**built_in()[0].model_dump(mode="json"), "id": own, "title": own} for own in ("own", "idle")]
    data["delivery"]["items"] = [{"of": "height", "form": "tiff16"}]
    return parse_project(data)


def _puts(data: dict[str, Any], path: str) -> list[dict[str, Any]]:
    """Operations that put everything that stands at a place into it again."""
    *steps, last = path.split("/")
    found: list[tuple[Any, dict[str, Any]]] = [(data, {})]
    for step in steps:
        if step.startswith("{"):
            found = [(item, {**fields, step[1:-1]: item["id"]}) for items, fields in found for item in items]
        else:
            found = [(value[step], fields) for value, fields in found]
    if last.startswith("{"):
        return [{**fields, last[1:-1]: item} for items, fields in found for item in items]
    return [{**fields, last: value[last]} for value, fields in found]


def puts(data: dict[str, Any]) -> list[dict[str, Any]]:
    """For everything in a document (plain JSON) the operation that puts it there again."""
    made = []
    for name, kind in OPERATIONS.items():
        if name == "set_ground":
            fields = ("heights", "low", "high", "spacing_x", "spacing_y", "water")
            made.append({"op": name, **{field: data["ground"][field] for field in fields}})
        elif kind.replaces is not None:
            many = str(kind.model_fields[kind.replaces.split("/")[-1].strip("{}")].annotation).startswith("tuple")
            for fields in _puts(data, kind.replaces):
                last = kind.replaces.split("/")[-1].strip("{}")
                listed = {**fields, last: [fields[last]]} if many and kind.replaces.endswith("}") else fields
                made.append({"op": name, **listed})
    return made


def _others(data: dict[str, Any]) -> list[dict[str, Any]]:
    """Operations that replace nothing."""
    ground, first = data["ground"], data["masks"][0]["lines"][0]
    layer, look, sheet = data["layers"][0], data["looks"][0], data["sheets"][0]
    fields = ("asset", "file_name", "file_format", "depth", "rows", "cols", "stored_low", "stored_high", "voids")
    new = {"id": "new", "name": "New"}
    piece = {**PIECE, **new, "exposed": []}
    return [
        {"op": "add_mask", "mask": {**MASK, **new}},
        {"op": "copy_mask", "mask": "steep", **new},
        {"op": "move_mask", "mask": "bare", "to": 0},
        {"op": "delete_mask", "mask": "bare"},
        {"op": "delete_mask", "mask": "wet", "uses": "take_out"},
        {"op": "add_line", "mask": "wet", "line": {**first, "id": "new"}},
        {"op": "move_line", "mask": "steep", "line": "b", "to": 0},
        {"op": "delete_line", "mask": "wet", "line": "d"},
        {"op": "make_piece", "mask": "bare", "first": 0, "last": 0, "line": "new", "piece": piece},
        {"op": "delete_piece", "piece": "idle"},
        {"op": "take_apart", "mask": "worn", "line": "p", "ids": ["x", "y"]},
        {"op": "add_feature", "feature": {**FEATURES[0], **new}},
        {"op": "delete_feature", "feature": "idle"},
        {"op": "add_scatter", "scatter": new},
        {"op": "delete_scatter", "scatter": "firs"},
        {"op": "apply_kit", "kit": OWN_KITS["moor"].model_dump(mode="json"), "prefix": "moor"},
        {"op": "add_layer", "layer": {**layer, **new}},
        {"op": "add_layers", "layers": [{**layer, **new}]},
        {"op": "add_layers", "layers": [{**layer, **new}], "sharing": "relief_led"},
        {"op": "move_layer", "layer": "rock", "to": 1},
        {"op": "delete_layer", "layer": "rock"},
        {"op": "delete_layer", "layer": "moss"},
        {"op": "merge_layers", **new, "layers": ["rock", "mud"], "shares": [0.2, 0.3]},
        {"op": "take_merge_apart", "merge": "green"},
        {"op": "delete_strokes", "strokes": "hand"},
        {"op": "add_look", "look": {**look, **new}},
        {"op": "delete_look", "look": "idle"},
        {"op": "add_coat", "coat": {**COAT, "id": "new"}},
        {"op": "move_coat", "coat": "c0", "to": 2},
        {"op": "delete_coat", "coat": "c1"},
        {"op": "begin_colour"},
        {"op": "make_coat_piece", "first": 0, "last": 0, "coat": "new", "piece": {**data["coat_pieces"][0], **new}},
        {"op": "delete_coat_piece", "piece": "idle"},
        {"op": "take_coat_apart", "coat": "dusty", "ids": ["x"]},
        {"op": "add_sheet", "sheet": {**sheet, **new}},
        {"op": "delete_sheet", "sheet": "data"},
        {"op": "propose_sheets"},
        {"op": "propose_data_sheets", "what": "surface"},
        {"op": "choose_target", "target": "plain-files"},
        {"op": "delete_target", "target": "idle"},
        {"op": "add_step", "step": {"id": "new", "kind": "smooth"}},
        {"op": "move_step", "step": "calm", "to": 1},
        {"op": "delete_step", "step": "flat"},
        {"op": "replace_heightmap", "file": {**{name: ground[name] for name in fields}, "voids": 3}, "keep": "extent"},
        {"op": "add_reading", "setting": {"id": "new", "kind": "slope", "numbers": {"width": 30.0}}},
        {"op": "delete_reading", "reading": "wide"},
    ]


def every_edit(project: Project) -> list[Operation]:
    """Operations of every kind that the project takes, with something in them that changes it."""
    data = project.model_dump(mode="json")
    return parse_operations([*(_changed(edit) for edit in puts(data)), *_others(data)])


def _changed(edit: dict[str, Any]) -> dict[str, Any]:
    """An edit that puts something back, with one thing in it that differs."""
    other = {
        "set_ground": {"low": 30.0},
        "set_lines": {"lines": []},
        "rename_mask": {"name": "Other"},
        "rename_project": {"name": "Other"},
        "set_items": {"items": [{"of": "height", "form": "raw16"}]},
    }
    if edit["op"] in other:
        return {**edit, **other[edit["op"]]}
    field = OPERATIONS[edit["op"]].replaces.split("/")[-1].strip("{}")
    thing = edit[field]
    for key, value in thing.items():
        # Whether a proposal made it is no matter of choice.
        if isinstance(value, bool) and key != "proposed":
            return {**edit, field: {**thing, key: not value}}
    for key in ("name", "title", "pattern"):
        if key in thing:
            return {**edit, field: {**thing, key: "Other"}}
    odd = {"set_mixing": {"depth": 3.0}, "set_surface": {"strength": 2.0}, "set_classes": {"otherwise": "Air"}}
    return {**edit, field: {**thing, **odd[edit["op"]]}}
