"""Edits of the ground and of readings, and what they are refused for."""

from __future__ import annotations

import pytest

from tests.support.ground import band, document
from zigzag_meadow.core.errors import BadDocument, Cycle, MeadowError
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.edits.operations import apply_operations, parse_operations


def edited(data, *operations):
    return apply_operations(parse_project(data), parse_operations(list(operations)))


def test_readings_have_numbers_names_and_company():
    wider = {"op": "set_reading", "setting": {"id": "slope", "kind": "slope", "numbers": {"width": 20}}}
    project, label = edited(document(), wider)
    assert label == "width of slope to 20 m"
    own = {"id": "fine", "kind": "noise", "name": "Fine", "numbers": {"size": 30, "seed": 3}}
    project, label = edited(document(), {"op": "add_reading", "setting": own})
    assert label == "new reading Fine"
    uses = {"op": "add_line", "mask": "wet", "line": {"id": "n", "verb": "take", "source": band("fine", 0.5, 1)}}
    with pytest.raises(BadDocument, match="used by the mask Wet"):
        edited(project.model_dump(mode="json"), uses, {"op": "delete_reading", "reading": "fine"})
    back, _ = edited(project.model_dump(mode="json"), {"op": "delete_reading", "reading": "fine"})
    assert back.readings == ()
    for setting, words in (
        ({"id": "slope", "kind": "noise"}, "cannot be"),
        ({"id": "x", "kind": "slope", "numbers": {"width": 1}}, "must be 5 to"),
        ({"id": "x", "kind": "slope", "numbers": {"size": 9}}, "no number called"),
        ({"id": "x", "kind": "noise", "numbers": {"kind": "loud"}}, "must be one of"),
        ({"id": "x", "kind": "nothing"}, "no reading called"),
        ({"id": "x", "kind": "scour", "numbers": {"hardness": "mask:gone"}}, "not there"),
    ):
        with pytest.raises(MeadowError, match=words):
            edited(document(), {"op": "add_reading", "setting": setting})


def test_readings_and_masks_must_not_read_each_other_in_a_circle():
    hard = {"id": "scour", "kind": "scour", "numbers": {"hardness": "mask:wet"}}
    line = {"id": "n", "verb": "take", "source": band("scour", 0.5, 9)}
    with pytest.raises(Cycle, match=r"(Wet → Scour|Scour → Wet)"):
        edited(document(), {"op": "set_reading", "setting": hard}, {"op": "add_line", "mask": "wet", "line": line})


def test_another_heightmap_keeps_extent_or_spacing():
    file = {
        "asset": "1" * 64,
        "file_name": "b.png",
        "file_format": "png",
        "depth": "16",
        "rows": 253,
        "cols": 253,
        "stored_low": 5,
        "stored_high": 900,
    }
    project, label = edited(document(), {"op": "replace_heightmap", "file": file})
    assert label == "replace the heightmap by b.png"
    assert (project.ground.home.width, project.ground.home.dx) == (630, 2.5)
    project, _ = edited(document(), {"op": "replace_heightmap", "file": file, "keep": "spacing"})
    assert project.ground.home.width == 252 * 5
    assert [mask.id for mask in project.masks] == ["steep", "wet"]
