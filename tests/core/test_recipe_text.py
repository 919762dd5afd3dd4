"""Recipes as sentences of plain text: what is written is read again, and mistakes are told with their place."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.support.ground import band
from tests.support.recipes import EVERY, recipe
from zigzag_meadow.core.errors import BadText
from zigzag_meadow.core.project.checks.whole import parse_project, read_back
from zigzag_meadow.core.project.edits.operations import apply_operations, parse_operations
from zigzag_meadow.core.project.travel.recipe_text import lines_as_text, lines_of_text

MORE = [
    {"verb": "cut", "count": 3, "how": "own", "edges": [0.25, 0.75], "muted": True, "note": "three kinds"},
    {"verb": "take", "source": {**band("aspect", 315, 45, fade_low=10, fade_high=12.5), "smooth": True}},
    {"verb": "add", "source": {"kind": "mask", "mask": "wet", "band": 2}, "note": "a note\nof two lines"},
    {"verb": "bend", "points": [[0, 0.1], [0.4, 0.2], [1, 0.9]]},
    {"verb": "piece", "piece": "worn", "how": "keep_within", "numbers": {"reach": 8}, "strength": 0.4},
    {"verb": "lay_over", "asset": "ab" * 32, "strength": 0.7},
    {"verb": "drift", "way": "up", "by": 12},
]


def project_with(*lines):
    data = recipe(*lines)
    data["masks"][1]["lines"].append({"id": "cut", "verb": "cut", "count": 4})
    return parse_project(data)


def test_every_kind_of_line_is_read_as_it_was_written():
    project = project_with(*EVERY, *MORE)
    lines = project.mask("made").lines
    text = lines_as_text(project, lines)
    assert lines_of_text(project, text, lines) == list(lines)
    assert 'Take [reading "slope" from 44 to 90 fading 12 and 0] at 100 %' in text
    assert "(muted) Cut into 3 bands, at own edges (0.25 0.75) # three kinds" in text
    # Spaces and capitals do not matter.
    loose = text.replace("at 100 %", "AT   100%").replace("Take [", "take[")
    assert lines_of_text(project, loose, lines) == list(lines)


@settings(max_examples=60)
@given(
    low=st.floats(-1e6, 1e6, allow_nan=False),
    wide=st.floats(0, 1e6),
    fade=st.floats(0, 1e4),
    s=st.floats(0, 1),
    name=st.text(
        st.characters(exclude_categories=("Cs", "Cc"), exclude_characters="/\\:"), min_size=1, max_size=40
    ).filter(lambda name: name.casefold() not in ("made", "steep")),
)
def test_any_number_and_any_name_comes_back(low, wide, fade, s, name):
    data = recipe(
        {"verb": "take", "source": {"kind": "mask", "mask": "wet"}, "strength": round(s, 6)},
        {"verb": "add", "source": band("height", low, low + wide, fade_low=fade)},
    )
    data["masks"][1]["name"] = name
    project = parse_project(data)
    lines = project.mask("made").lines
    again = lines_of_text(project, lines_as_text(project, lines), lines)
    assert again[1] == lines[1]
    assert again[2].source.low == pytest.approx(lines[2].source.low, rel=1e-11)
    assert again[2].source.fade_low == pytest.approx(fade, rel=1e-11)


@pytest.mark.parametrize(
    ("text", "line", "column", "words"),
    [
        ("Grab it", 1, 1, "a line begins with"),
        ("Turn over what is there so far\nBlur over", 2, 10, "a number is expected"),
        ("Blur over 12 m and on", 1, 16, "something follows"),
        ('Take [reading "slop" from 1 to 2] at 100 %', 1, 15, "no reading called slop"),
        ('Take [mask "Wet" at 100 %', 1, 18, "“]” is expected"),
        ('Take [mask "Wet] at 100 %', 1, 12, "not closed"),
        ('Take [thing "Wet"] at 100 %', 1, 7, "mask, number, drawn, reading"),
        ("\n\nCut into 99 bands, evenly ()", 3, 1, "count"),
        ("Drift it sideways for 3 m, as strongly as everywhere alike", 1, 10, "one of these"),
        ('Blur over 12 m {"radius": ', 1, 16, "not closed"),
        ("Blur over 12 m " + "[" * 5000, 1, 16, "something follows"),
    ],
)
def test_a_mistake_is_told_with_its_place(text, line, column, words):
    with pytest.raises(BadText, match=words) as caught:
        lines_of_text(project_with(), text)
    assert (caught.value.line, caught.value.column) == (line, column)


def test_lines_keep_their_ids_where_they_stay_of_their_kind_and_as_many_as_a_recipe_holds():
    project = project_with({"verb": "blur", "radius": 45}, {"verb": "gamma", "gamma": 2.0})
    lines = project.mask("made").lines
    changed = lines_as_text(project, lines).replace("45", "30").replace("Gamma 2", "Blur over 2 m #")
    again = lines_of_text(project, changed, lines)
    assert [line.id for line in again[:2]] == ["first", "n0"]
    assert again[2].id not in {line.id for line in lines}
    lots = "\n".join(["Turn over what is there so far"] * 200)
    made = lines_of_text(project, lots)
    op = {"op": "set_lines", "mask": "made", "lines": [line.model_dump() for line in made], "what": "recipe as text"}
    new, label = apply_operations(project, parse_operations([op]))
    assert (label, len(read_back(new).mask("made").lines)) == ("recipe as text", 200)
    with pytest.raises(BadText, match="at most 200"):
        lines_of_text(project, lots + "\nTurn over what is there so far")
