"""What people read: the import note, legends, statistics."""

from __future__ import annotations

import re

import numpy as np
import pytest

from tests.support.ground import document, evaluation
from zigzag_meadow.core.delivery.note_view import note_page, note_text
from zigzag_meadow.core.delivery.notes import import_note
from zigzag_meadow.core.delivery.plan import make_plan
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.edits.operations import apply_operations, parse_operations
from zigzag_meadow.core.readings.statistics import summary
from zigzag_meadow.core.targets.note import CheckPoint


@pytest.fixture
def note_of(tmp_path):
    def made(data):
        project, ev = evaluation(tmp_path, data)
        return import_note(ev, make_plan(project, ev.heights()), {})

    return made


def test_the_note_says_what_to_type(note_of):
    note = note_of(document())
    point = CheckPoint(title="Middle", east=315.0, north=252.0, height=123.456, strongest="Rock")
    text = note_text(note.model_copy(update={"check_points": (point,)}))
    step = 300 / 65535
    assert note.height.stored.multiplier == pytest.approx(step * 128)
    assert note.height.stored.at_middle == pytest.approx(20 + 32768 * step)
    assert (note.ground.columns, note.ground.extent.width, note.ground.extent.length) == (127, 630, 504)
    for line in (
        r"Samples +127 × 127",
        r"Cells along a block side +126",
        r"Blocks +1 × 1",
        r"Metres between samples +5 m × 4 m",
        r"Width × length +630 m × 504 m",
        r"Metres a step +0\.004577706569 m",
        r"Metres at stored 0 +20 m",
        r"Metres at stored 65535 +320 m",
        r"Multiplier of a step +0\.58594.* +if it asks for a multiplier of steps of 0\.0078125 m",
        r"Lowest +20 m",
        r"Range +300 m",
        r"Water level +40 m",
        r"R  Rock, weight",
        r"B  Base, base weight",
        r"A  Steep, mask",
        r"R  Slope: black is 0 °, white is 60 °",
        r"even on the logarithm",
        r"add up to 255 at every sample",
        r"\[ \] Colour space of every mask and sheet: linear, not sRGB",
        r"\[ \] Middle: 315 m east, 252 m north: 123\.46 m, mostly Rock",
        r"laid over 630 m × 504 m from 0 m east, 0 m north; centre 315, 252",
        r"\[ \] Save before textures are assigned",
    ):
        assert re.search(line, text), line
    for words in ("vertical", "patch", "section", "component"):
        assert words not in text.lower()


def printed(text, title):
    """A number as somebody reads it off the note and types it."""
    return float(re.search(rf"{title} +(-?[\d.]+)", text)[1])


@pytest.mark.parametrize(("low", "tall"), [(20, 300), (8123.123456789, 0.0371), (-431.7654321, 8848.123457), (0, 1e-3)])
@pytest.mark.parametrize("target", ["plain-files", "block-grid", "raw-pair", "whole-metres"])
def test_what_is_typed_from_the_printed_note_is_right_to_a_tenth_of_a_step(note_of, target, low, tall):
    data = document()
    data["ground"] |= {"low": low, "high": low + tall, "water": None}
    project, _ = apply_operations(parse_project(data), parse_operations([{"op": "choose_target", "target": target}]))
    note = note_of(project.model_dump(mode="json"))
    stored, text = note.height.stored, note_text(note)
    step, zero = printed(text, "Metres a step"), printed(text, "Metres at stored 0")
    for at in (0, stored.middle, stored.full):
        assert abs(zero + at * step - (stored.at_zero + at * stored.step)) < 0.1 * stored.step
    assert abs(printed(text, f"Metres at stored {stored.full}") - stored.at_full) < 0.1 * stored.step
    if stored.multiplier is not None:
        typed = printed(text, "Multiplier of a step") * stored.base_step
        assert abs(typed - stored.step) * stored.full < 0.1 * stored.step


@pytest.mark.parametrize(
    ("change", "adds_up"),
    [
        ({}, True),
        ({"b": None}, False),
        ({"b": {"kind": "rest"}}, False),
        ({"a": {"kind": "weight", "layer": "rock"}}, False),
    ],
)
def test_sums_are_promised_only_where_they_hold(note_of, change, adds_up):
    data = document()
    data["sheets"][0] |= change
    assert (note_of(data).weights.full == 255) is adds_up


def test_switched_off_layers_and_empty_channels_are_said(note_of):
    data = document()
    data["layers"][0]["muted"] = True
    data["sheets"][0]["g"] = None
    text = note_text(note_of(data))
    assert "Rock (switched off), weight" in text
    assert re.search(r"G  empty", text)


def test_names_cannot_break_the_page(note_of):
    data = document(name="<script>alert(1)</script>".replace("/", ""))
    data["layers"][0]["name"] = "Rock & <b>roll"
    page = note_page(note_of(data), {})
    assert "<script>" not in page
    assert "Rock &amp; &lt;b&gt;roll" in page
    assert page.count("<tr>") == page.count("</tr>")


def test_histograms():
    values = np.concatenate([np.zeros(50), np.full(50, 10.0)]).astype(np.float32)
    found = summary(values, low=0, high=10)
    assert (found.low, found.high, found.mean) == (0, 10, 5)
    assert found.counts[0] == found.counts[-1] == 0.5
    logs = summary(np.geomspace(1, 1024, 4000).astype(np.float32), scale="log")
    assert max(logs.counts) < 1.2 * min(logs.counts)
    flat = summary(np.full(9, 3, np.float32))
    assert sum(flat.counts) == 1
