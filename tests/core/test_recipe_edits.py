"""Edits of masks, lines and pieces: what becomes of what uses them, and how they name themselves."""

from __future__ import annotations

import pytest

from tests.support.recipes import evaluated, recipe
from zigzag_meadow.core.errors import BadDocument, MeadowError
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.edits.operations import apply_operations, parse_operations


def change(data, *operations):
    return apply_operations(parse_project(data), parse_operations(list(operations)))


def test_lines_become_a_piece_and_lines_again(tmp_path):
    data = recipe({"verb": "fray"}, {"verb": "contrast", "contrast": 0.3})
    piece = {"id": "new", "name": "Torn", "lines": [{"id": "x", "verb": "turn_over"}], "exposed": []}
    with_piece, label = change(
        data, {"op": "make_piece", "mask": "made", "first": 1, "last": 2, "line": "use", "piece": piece}
    )
    assert label == "make the piece Torn"
    assert [line.verb for line in with_piece.mask("made").lines] == ["take", "piece"]
    before = evaluated(tmp_path, data).map("mask:made")
    assert (evaluated(tmp_path, with_piece.model_dump(mode="json")).map("mask:made") == before).all()
    apart, _ = apply_operations(
        with_piece, parse_operations([{"op": "take_apart", "mask": "made", "line": "use", "ids": ["u", "v"]}])
    )
    assert [line.verb for line in apart.mask("made").lines] == ["take", "fray", "contrast"]
    with pytest.raises(BadDocument, match="used by the mask Made"):
        apply_operations(with_piece, parse_operations([{"op": "delete_piece", "piece": "new"}]))


def test_deleting_a_used_mask_refuses_takes_out_or_replaces():
    used = {"verb": "add", "source": {"kind": "mask", "mask": "wet"}}
    steered = {"verb": "drift", "steered": {"kind": "mask", "mask": "wet"}}
    data = recipe(used, steered, scatters=[{"id": "s", "name": "Stones", "mask": "wet"}])
    gone = {"op": "delete_mask", "mask": "wet"}
    with pytest.raises(BadDocument, match="the mask Steep, the mask Made, the layer Mud, channel B of the sheet data"):
        change(data, gone)
    out, _ = change(data, {**gone, "uses": "take_out"})
    assert [line.verb for line in out.mask("made").lines] == ["take", "drift"]
    assert out.mask("made").lines[1].steered is None
    assert out.layer("mud").mask is None
    assert out.sheet("data").b is None
    assert out.scatter("s").mask is None
    data["masks"].append({"id": "other", "name": "Other", "lines": []})
    swapped, _ = change(data, {**gone, "uses": "replace", "other": "other"})
    assert swapped.mask("made").lines[1].source.mask == "other"
    assert swapped.layer("mud").mask == "other"
    with pytest.raises(MeadowError):
        change(data, {**gone, "uses": "replace", "other": "wet"})


def test_edits_of_lines_name_themselves():
    data = recipe({"verb": "fray", "reach": 8}, {"verb": "drift"})
    labels = [
        ({"id": "n0", "verb": "fray", "reach": 14}, "reach to 14 m"),
        ({"id": "n0", "verb": "fray", "reach": 8, "note": "for the edge"}, "note on fray"),
        ({"id": "n1", "verb": "drift", "way": "up"}, "way: uphill"),
    ]
    for line, label in labels:
        assert change(data, {"op": "set_line", "mask": "made", "line": line})[1] == label
