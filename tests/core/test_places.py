"""Operations change what they say, and only that; what changes different places can come in either order."""

from __future__ import annotations

import json

import orjson
import pytest
from jsonpatch import apply_patch

from tests.support.every_edit import every_edit, project_to_edit
from tests.support.painting import edited
from zigzag_meadow.core.errors import MeadowError
from zigzag_meadow.core.evaluate.graph import Graph
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.edits.operations import apply_operations
from zigzag_meadow.core.project.edits.place_titles import changed_places, edited_places, meeting_places, place_title
from zigzag_meadow.core.project.edits.places import OPERATIONS, apart, places
from zigzag_meadow.core.project.model.stored import differences, plain, plain_size

PROJECT = project_to_edit()
EDITS = every_edit(PROJECT)
GRAPH = Graph(PROJECT)
for made in PROJECT.masks:
    GRAPH.mask(made.id)


def test_every_operation_is_tried():
    assert {edit.op for edit in EDITS} == set(OPERATIONS)


@pytest.mark.parametrize("edit", EDITS, ids=lambda edit: edit.op)
def test_it_changes_something_and_nothing_beyond_what_it_says(edit):
    after, _ = edit.apply(PROJECT)
    touched = changed_places(PROJECT, after)
    assert touched
    declared = places(edit)
    assert [path for path in touched if not any(path[: len(place)] == place for place in declared)] == []


def test_places_of_two_states_are_as_deep_as_they_differ():
    data = PROJECT.model_dump(mode="json")
    data["masks"][0]["lines"][0]["strength"] = 0.25
    data["coats"] = data["coats"][::-1]
    data["delivery"]["pattern"] = "{map}"
    told = {"masks": data["masks"][0]["id"], "line": data["masks"][0]["lines"][0]["id"]}
    assert changed_places(PROJECT, parse_project(data)) == (
        ("masks", told["masks"], "lines", told["line"], "strength"),
        ("coats",),
        ("delivery", "pattern"),
    )
    assert changed_places(PROJECT, PROJECT) == ()
    assert place_title(PROJECT, ("delivery", "items", "mask:none")) == "the file"
    assert place_title(PROJECT, ("masks", "none", "lines", "x")) == "the line of the mask"


@pytest.mark.parametrize("edit", EDITS, ids=lambda edit: edit.op)
def test_every_edit_is_told_where_it_is_and_whether_it_meets_another(edit):
    """In words of what is there, never by an id; it meets itself and nothing that it is apart from."""
    after, _ = edit.apply(PROJECT)
    titles = [place_title(after, steps) for steps in places(edit)]
    assert all(title.startswith(("the ", "how ")) for title in titles)
    assert not [title for title in titles if "-" in title or title.endswith((" of", " on"))]
    told = edited_places(after, [edit])
    assert told.startswith(titles[0])
    assert told.endswith(f" and {len(set(titles)) - 2} more") == (len(set(titles)) > 2)
    assert meeting_places(after, [edit], changed_places(PROJECT, after))
    for other in EDITS:
        if apart(edit, other):
            assert meeting_places(after, [other], changed_places(PROJECT, after)) == []


@pytest.mark.parametrize("edit", EDITS, ids=lambda edit: edit.op)
def test_what_it_changed_is_told_in_full_and_what_it_left_alone_is_kept(edit):
    """The change that is stored and sent makes the new document of the old one, and no mask is taken for another."""
    after, _ = apply_operations(PROJECT, [edit])
    was = json.loads(json.dumps(plain(PROJECT)))
    told = differences(plain(PROJECT), plain(after))
    assert apply_patch(was, told) == plain(after) == after.model_dump(mode="json")
    assert parse_project(plain(after)) == after
    assert plain_size(after) == len(orjson.dumps(plain(after)))
    assert _keys(Graph(after, before=GRAPH)) == _keys(Graph(after))


def _keys(graph):
    return {mask.id: graph.mask(mask.id).key for mask in graph.project.masks}


def test_a_mask_that_says_where_the_ground_is_prepared_changes_all_that_lie_on_it():
    step = {
        "id": "calm",
        "kind": "smooth",
        "where": [{"id": "w", "verb": "take", "source": {"kind": "mask", "mask": "bare"}}],
    }
    before = edited(PROJECT, {"op": "set_step", "step": step})
    graph = Graph(before)
    was = _keys(graph)
    after = edited(before, {"op": "set_lines", "mask": "bare", "lines": []})
    now = _keys(Graph(after, before=graph))
    assert now == _keys(Graph(after))
    assert was["wet"] != now["wet"]


@pytest.mark.parametrize(
    "after", [list("abcd"), list("dabc"), list("bcda"), list("dcba"), list("xbyd"), [], list("cxab")]
)
def test_lists_of_things_are_changed_by_moves(after):
    before = [{"id": name, "at": [1, 2]} for name in "abcd"]
    wanted = [{"id": name, "at": [1, 3 if name == "b" else 2]} for name in after]
    told = differences({"things": before}, {"things": wanted})
    assert apply_patch({"things": before}, told) == {"things": wanted}
    if sorted(after) == sorted("abcd"):
        assert {change["op"] for change in told} <= {"move", "replace"}
    if after in (list("dabc"), list("bcda")):
        assert [change["op"] for change in told].count("move") == 1


def test_two_that_are_apart_come_to_the_same_in_either_order():
    """Every pair of operations there is."""

    def both(first, second):
        try:
            return second.apply(first.apply(PROJECT)[0])[0]
        except MeadowError as error:
            return error.message

    compared = 0
    for at, one in enumerate(EDITS):
        for other in EDITS[at + 1 :]:
            if not apart(one, other):
                continue
            made = [both(one, other), both(other, one)]
            # Where one is refused because of the other, nothing is lost: the artist is told.
            if any(isinstance(result, str) for result in made):
                continue
            assert made[0] == made[1], (one.op, other.op)
            compared += 1
    assert compared > 4000
