"""Maps of classes, with names and a table, and of holes: of layers and masks, delivered and read back by others."""

from __future__ import annotations

import json

import imagecodecs
import numpy as np
import pytest

from tests.support.delivery import checked, made
from tests.support.ground import document, evaluation
from tests.support.painting import edited
from zigzag_meadow.core.errors import MeadowError
from zigzag_meadow.core.project.checks.whole import parse_project

CLASSES = {
    "classes": [
        {"number": 7, "name": "Stone", "of": "layer:rock"},
        {"number": 200, "name": "Water", "of": "mask:wet"},
        {"number": 3, "name": "Grass", "of": "layer:base"},
    ],
    "otherwise": "Bare",
    "holes": "steep",
}


def test_classes_and_holes_go_out_as_numbers_with_names(tmp_path):
    items = [{"of": "classes", "deliver": True}, {"of": "holes", "deliver": True}]
    delivery = {"rows": 253, "cols": 253, "items": items}
    ev, out = made(tmp_path, document(classes=CLASSES, delivery=delivery))
    numbers = imagecodecs.png_decode((out / "test_moor_ground_classes.png").read_bytes())
    assert (numbers.shape, numbers.dtype) == ((253, 253), np.uint8)
    final = ev.project.final
    strongest, wet = ev.map("strongest", final), ev.map("mask:wet", final)
    # Mud, the layer in the middle, has no class of its own.
    meant = np.select([wet > 0.5, strongest == 0, strongest == 1], [200, 3, 7], 0)
    np.testing.assert_array_equal(numbers, meant)
    assert set(np.unique(numbers)) == {0, 3, 7, 200} if (strongest[wet <= 0.5] == 2).any() else {3, 7, 200}
    holes = imagecodecs.png_decode((out / "test_moor_holes.png").read_bytes())
    np.testing.assert_array_equal(holes, np.where(ev.map("mask:steep", final) > 0.5, 255, 0))
    note = json.loads((out / "import_note.json").read_text())
    (channel,) = next(file for file in note["files"] if file["of"] == "classes")["channels"]
    assert channel["numbers"] == {"0": "Bare", "7": "Stone", "200": "Water", "3": "Grass"}
    assert "<td class=n>200</td><td>Water</td>" in (out / "import_note.html").read_text()
    assert checked(ev, out).fits


def test_classes_follow_what_they_are_of(tmp_path):
    project = parse_project(document(classes=CLASSES))
    assert [c.name for c in edited(project, {"op": "delete_layer", "layer": "rock"}).classes.classes] == [
        "Water",
        "Grass",
    ]
    without = edited(project, {"op": "delete_mask", "mask": "steep", "uses": "take_out"})
    assert without.classes.holes is None
    # A mask that has a class of its own keeps that.
    both = [*CLASSES["classes"], {"number": 9, "name": "Cliff", "of": "mask:steep"}]
    twice = edited(project, {"op": "set_classes", "classes": {"classes": both}})
    put = edited(twice, {"op": "delete_mask", "mask": "steep", "uses": "replace", "other": "wet"}).classes.classes
    assert [c.name for c in put] == ["Stone", "Water", "Grass"]
    merge = {"op": "merge_layers", "id": "all", "name": "All", "layers": ["rock", "mud"], "shares": [0.5, 0.5]}
    merged = edited(project, merge)
    assert len(merged.classes.classes) == 3
    # Merged layers are what one of them is.
    _, ev = evaluation(tmp_path, document(sheets=[], **merged.model_dump(include={"merges", "classes"})))
    all_of_it = [outcome.id for outcome in ev.project.outcomes].index("all")
    stone = (ev.map("strongest", ev.home) == all_of_it) & (ev.map("mask:wet", ev.home) <= 0.5)
    assert stone.any()
    np.testing.assert_array_equal(ev.map("classes", ev.home) == 7, stone)


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"classes": [CLASSES["classes"][0], {**CLASSES["classes"][1], "number": 7}]}, "same number"),
        ({"classes": [CLASSES["classes"][0], {**CLASSES["classes"][0], "number": 8}]}, "same layer or mask"),
        ({"classes": [{"number": 1, "name": "X", "of": "layer:gone"}]}, "not there"),
        ({"classes": [{"number": 0, "name": "X", "of": "layer:rock"}]}, "greater than or equal to 1"),
        ({"classes": [{"number": 256, "name": "X", "of": "layer:rock"}]}, "less than or equal to 255"),
        ({"holes": "gone"}, "not there"),
    ],
)
def test_classes_that_make_no_sense_are_refused(change, words):
    with pytest.raises(MeadowError, match=words):
        edited(parse_project(document()), {"op": "set_classes", "classes": change})
