"""Who uses what, in a project where every kind of thing uses every kind that it can."""

from __future__ import annotations

import pytest

from tests.support.ground import band, limited
from tests.support.recipes import FEATURES, PATH, PIECE, STROKES, recipe
from zigzag_meadow.core.errors import BadDocument
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.edits.operations import apply_operations
from zigzag_meadow.core.project.edits.ops_masks import DeleteMask
from zigzag_meadow.core.project.model.uses import below, uses, words_for

PICTURE = "7" * 64
MASK = {"kind": "mask", "mask": "steep"}


@pytest.fixture
def project():
    data = recipe(
        {"verb": "blend", "source": PATH, "by": {**MASK, "band": 2}},
        {"verb": "touch_up", "asset": STROKES, "count": 1},
        {"verb": "piece", "piece": "worn", "numbers": {"reach": 8}},
        readings=[
            {"id": "scour", "kind": "scour", "numbers": {"hardness": "mask:steep"}},
            {"id": "aerial", "kind": "picture", "name": "Aerial", "numbers": {"asset": PICTURE}},
        ],
        scatters=[
            {
                "id": "firs",
                "name": "Firs",
                "mask": "steep",
                "keep_out": ["steep", "wet"],
                "steepest": 40,
                "size_by": "mask:steep",
            }
        ],
    )
    data["masks"][0]["lines"].append({"id": "cut", "verb": "cut", "count": 4})
    data["pieces"][0] = {**PIECE, "lines": [*PIECE["lines"], {"id": "r", "verb": "multiply", "source": MASK}]}
    data["ground"]["steps"] = [{"id": "calm", "kind": "smooth", "where": limited(band("height", 0, 100))}]
    data["sheets"][1]["b"] = {"kind": "scatter", "scatter": "firs"}
    return parse_project(data)


def test_every_use_there_is(project):
    made = [(use.user, use.used, use.band) for use in uses(project)]
    assert made[:4] == [
        ("ground", f"file:{'0' * 64}", None),
        ("step:calm", "reading:height", None),
        ("reading:scour", "mask:steep", None),
        ("reading:deposition", "reading:scour", None),
    ]
    assert ("reading:aerial", f"file:{PICTURE}", None) in made
    assert [use for use in made if use[0] == "mask:made"] == [
        ("mask:made", "reading:slope", None),
        ("mask:made", "feature:path", None),
        ("mask:made", "mask:steep", 2),
        ("mask:made", f"file:{STROKES}", None),
        ("mask:made", "piece:worn", None),
    ]
    assert [use for use in made if use[0] in ("piece:worn", "layer:rock", "sheet:splat", "sheet:data")] == [
        ("piece:worn", "mask:steep", None),
        ("layer:rock", "mask:steep", None),
        ("sheet:splat", "layer:rock", None),
        ("sheet:splat", "layer:mud", None),
        ("sheet:splat", "layer:base", None),
        ("sheet:splat", "mask:steep", None),
        ("sheet:data", "reading:slope", None),
        ("sheet:data", "reading:flow", None),
        ("sheet:data", "scatter:firs", None),
    ]
    assert [use for use in made if use[0] == "scatter:firs"] == [
        ("scatter:firs", "mask:steep", None),
        ("scatter:firs", "mask:wet", None),
        ("scatter:firs", "mask:steep", None),
        ("scatter:firs", "reading:slope", None),
    ]


def test_users_in_words_and_what_a_thing_is_made_of(project):
    assert words_for(project, "mask:steep") == [
        "the reading Scour",
        "the mask Made",
        "the piece Worn",
        "the layer Rock",
        "channel A of the sheet splat",
        "the scattered Firs",
    ]
    assert set(below(project, ["mask:made"])) == {
        "mask:made",
        "reading:slope",
        "reading:flow",
        "feature:path",
        "mask:steep",
        "mask:wet",
        f"file:{STROKES}",
        "piece:worn",
    }


@pytest.mark.parametrize(("how", "other"), [("take_out", None), ("replace", "wet")])
def test_a_mask_goes_from_everywhere_or_another_takes_its_place(project, how, other):
    after, _ = apply_operations(project, [DeleteMask(mask="steep", uses=how, other=other)])
    named = [use.user for use in uses(project) if use.used == "mask:steep"]
    left = [use.user for use in uses(after) if use.used == f"mask:{other}"]
    assert "mask:steep" not in {use.used for use in uses(after)}
    assert other is None or set(named) <= set(left)
    assert after.readings[0].numbers["hardness"] == ("" if other is None else "mask:wet")
    assert (after.scatters[0].mask, after.scatters[0].keep_out) == (other, ("wet",))
    assert [line.verb for line in after.pieces[0].lines] == ["fray", "contrast", *(["multiply"] if other else [])]


def test_a_piece_keeps_a_line(project):
    lonely = project.pieces[0].model_copy(update={"lines": project.pieces[0].lines[2:], "exposed": ()})
    held = project.model_copy(update={"pieces": (lonely,), "masks": project.masks[:2]})
    with pytest.raises(BadDocument, match="The piece Worn would have no lines left"):
        apply_operations(held, [DeleteMask(mask="steep", uses="take_out")])


def test_drawn_lines_are_not_used_until_something_reads_them(project):
    assert words_for(project, f"feature:{FEATURES[1]['id']}") == []
