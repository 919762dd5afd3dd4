"""Why a place is in a mask: what each line reads there, which decided, and which number would change it."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.support.ground import band, document, evaluation
from zigzag_meadow.core.errors import BadNumber, NotFound
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.reports.why_mask import why_mask

LINES = [
    {"id": "a", "verb": "take", "source": band("slope", 20, 90, fade_low=6)},
    {"id": "b", "verb": "leave_out", "source": {"kind": "mask", "mask": "wet"}, "strength": 0.7},
    {"id": "c", "verb": "add", "source": band("height", 250, 400), "muted": True},
    {"id": "d", "verb": "keep_within", "source": band("flow", 40, 5000, fade_low=1, fade_high=1)},
    {"id": "e", "verb": "gamma", "gamma": 0.8},
]


@pytest.fixture(scope="module")
def ev(tmp_path_factory):
    data = document()
    data["masks"][0]["lines"] = LINES
    return evaluation(tmp_path_factory.mktemp("why"), data)[1]


@settings(max_examples=40)
@given(row=st.integers(0, 126), col=st.integers(0, 126))
def test_what_is_told_is_what_the_maps_hold(ev, row, col):
    here = why_mask(ev, "steep", row, col)
    assert here.strength == ev.map("mask:steep")[row, col]
    for at, line in enumerate(here.lines):
        assert line.before == ev.map(f"mask:steep:{at}")[row, col]
        assert line.after == ev.map(f"mask:steep:{at + 1}")[row, col]
    assert here.lines[2].muted
    assert here.lines[2].before == here.lines[2].after
    assert sum(line.decides for line in here.lines) <= 1
    decided = next((line for line in here.lines if line.decides), None)
    if decided is not None and any((line.before >= 0.5) != (line.after >= 0.5) for line in here.lines):
        assert (decided.after >= 0.5) == (here.strength >= 0.5)
        assert f"line {decided.number}" in here.says
    slope = float(ev.map("reading:slope")[row, col])
    assert f"slope is {slope:.1f}°" in here.lines[0].reads[0].says
    assert here.lines[1].reads[0].mask == "wet"


@settings(max_examples=40)
@given(row=st.integers(0, 126), col=st.integers(0, 126), at=st.sampled_from([0, 3]))
def test_an_offered_number_does_what_it_says(ev, row, col, at):
    line = why_mask(ev, "steep", row, col).lines[at]
    source = LINES[at]["source"]
    for offer in line.reads[0].offers:
        changed = {**source, offer.field: offer.value}
        assert changed["low"] <= changed["high"]
        take = [{"id": "x", "verb": "take", "source": changed}]
        data = document(masks=[{"id": "m", "name": "M", "lines": take}], layers=[], sheets=[])
        strength = ev.engine.evaluation(parse_project(data)).map("mask:m")[row, col]
        # Numbers are rounded as they are shown: a hair may be missing.
        assert strength >= 0.97 if offer.says.startswith("in") else strength <= 0.03, offer


def test_a_place_beside_the_ground_and_a_mask_that_is_gone_are_refused(ev):
    why_mask(ev, "steep", 126, 126)
    with pytest.raises(BadNumber, match="on the ground"):
        why_mask(ev, "steep", 127, 0)
    with pytest.raises(NotFound):
        why_mask(ev, "nobody", 0, 0)
