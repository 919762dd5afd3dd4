"""Names of maps: written and read in one place, and made of a project from the outermost door to the node."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.every_edit import project_to_edit
from tests.support.painting import edited
from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.evaluate.graph import Graph
from zigzag_meadow.core.map_name import every_kind, map_name, reading_of
from zigzag_meadow.core.project.model.items import deliverables, map_of

ID = st.from_regex(r"[a-z0-9_-]{1,20}", fullmatch=True)
PARTS = {
    "string": ID,
    "number": st.integers(0, 999999).map(str),
    "true": st.just("otherwise"),
    "string[]": st.lists(ID, min_size=1, max_size=3).map("+".join),
}


def _part(ts: str):
    return PARTS[ts] if ts in PARTS else st.sampled_from([word.strip('"') for word in ts.split(" | ")])


def texts():
    """Every kind of name, with and without what may be left out."""
    made = []
    for kind, parts in every_kind().items():
        for count in range(sum(not maybe for _, _, maybe in parts), len(parts) + 1):
            values = [_part(ts) for _, ts, _ in parts[:count]]
            made.append(st.tuples(st.just(kind), *values).map(":".join))
    return st.one_of(made)


@given(texts())
def test_a_name_is_written_as_it_was_read(text):
    name = map_name(text)
    assert name.kind == text.split(":")[0]
    assert map_name(str(name)) == name
    # Counts lose leading noughts, and nothing else changes.
    assert str(map_name(str(name))) == str(name)


@pytest.mark.parametrize(
    "text",
    [
        "",
        ":",
        "mask",
        "mask:",
        "mask:a:b",
        "mask:a:1:2",
        "mask:A",
        "mask:../a",
        "at:x:slope",
        "at:1",
        "where:-1",
        "where:1234567",
        "channel:s:x",
        "channel:s",
        "picture:p:other",
        "mixed:both",
        "sums:a",
        "nothing:a",
        "count:",
        "count:a+",
        "m" * 5000,
        "reading:" + "a" * 81,
        "mask:a\n",
        "band:a:\u0663",
    ],
)
def test_what_is_no_name_is_refused_in_a_sentence(text):
    with pytest.raises(NotFound) as refused:
        map_name(text)
    assert refused.value.message.endswith(".")
    assert len(refused.value.message) < 200


def test_every_map_that_is_offered_can_be_made():
    classes = {"classes": [{"number": 7, "name": "Wet", "of": "mask:wet"}], "holes": "steep"}
    project = edited(project_to_edit(), {"op": "set_classes", "classes": classes})
    graph = Graph(project)
    made = {map_of(item).kind for item in deliverables(project) if item.kind != "look" and graph.named(map_of(item))}
    assert made == {
        "reading",
        "sheet",
        "colour",
        "colour_middle",
        "colour_far",
        "surface",
        "strongest",
        "mask",
        "weight",
        "coat",
        "scatter",
        "classes",
        "holes",
    }
    others = [
        "at:1:slope",
        "where:0",
        "finding:voids",
        "picture:aerial",
        "picture:aerial:otherwise",
        "mask:steep:1",
        "count:steep+wet",
        "final:steep",
        "strength:rock",
        "layers",
        "layers:rock",
        "colour:1",
        "channel:splat:a",
        "sums",
        "mixed:sum",
        "mixed:chain",
    ]
    for text in others:
        assert graph.named(text).key, text
    assert {name.split(":")[0] for name in others} | made == set(every_kind()) - {"band", "height", "points", "look"}


@pytest.mark.parametrize("text", ["height", "points:firs", "look:sand:albedo"])
def test_what_is_a_file_alone_is_no_map_to_look_at(text):
    with pytest.raises(NotFound, match="files alone"):
        Graph(project_to_edit()).named(text)


def test_a_reading_is_told_by_its_name_on_any_ground():
    assert [reading_of(map_name(text)) for text in ("reading:slope", "at:2:flow", "mask:slope")] == [
        "slope",
        "flow",
        None,
    ]
