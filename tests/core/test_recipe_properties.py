"""Any recipe that is accepted can be made, and any that is not is refused in a sentence: found by trying many."""

from __future__ import annotations

import json
from collections.abc import Callable
from itertools import pairwise
from typing import Any

import numpy as np
import pytest
from hypothesis import HealthCheck, example, given, settings
from hypothesis import strategies as st

from tests.support.ground import band, document, hills, png16
from tests.support.recipes import EVERY, FEATURES, PIECE, STROKE_LIST, STROKES
from zigzag_meadow.core.errors import BadFile, MeadowError, WrongFormat
from zigzag_meadow.core.evaluate.cache import TileCache
from zigzag_meadow.core.evaluate.engine import Engine
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.masks.pointing import Candidate, propose
from zigzag_meadow.core.masks.powers import bend_row
from zigzag_meadow.core.masks.shapes import cover_of, simplified
from zigzag_meadow.core.masks.strokes import parse_strokes
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.edits.operations import apply_operations, parse_operations
from zigzag_meadow.core.project.travel.geojson import features_from_geojson
from zigzag_meadow.core.project.travel.kit import parse_kit
from zigzag_meadow.core.project.travel.own_kits import OWN_KITS
from zigzag_meadow.core.stripes import Stripes

SIDE = 65
LINES = st.lists(st.sampled_from(EVERY), min_size=1, max_size=6)
JSON = st.recursive(
    st.none() | st.booleans() | st.integers(-5, 5) | st.floats(allow_nan=False) | st.text(max_size=5),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=8), inner, max_size=3),
    max_leaves=8,
)


@pytest.fixture(scope="module")
def engine(tmp_path_factory):
    folder = tmp_path_factory.mktemp("recipes")
    (folder / "hills.png").write_bytes(png16(hills(SIDE, SIDE)))
    (folder / "strokes.json").write_text(json.dumps(STROKE_LIST))
    paths = {STROKES: folder / "strokes.json"}
    return Engine(Stripes(1), TileCache(), lambda a: paths.get(a, folder / "hills.png"))


def refusal(call: Callable[[], object]) -> str | None:
    """What a call is refused with; None when it is not. Anything but a typed error goes through."""
    try:
        call()
    except MeadowError as error:
        return error.message
    return None


def project(lines: list[dict[str, Any]]) -> dict[str, Any]:
    data = document(SIDE, SIDE, features=FEATURES, pieces=[PIECE])
    data["delivery"] = {"rows": 127, "cols": 127}
    numbered = [{"id": f"l{k}", **line} for k, line in enumerate(lines)]
    data["masks"].append({"id": "made", "name": "Made", "lines": numbered})
    return data


@settings(max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(LINES, st.sampled_from([(65, 65), (33, 40), (90, 127)]))
def test_any_lines_in_any_order_make_a_mask(engine, lines, size):
    ev = engine.evaluation(parse_project(project(lines)))
    mask = ev.map("mask:made", ev.home.resized(*size))
    assert mask.dtype == np.float32
    assert mask.shape == size
    assert np.isfinite(mask).all()
    assert mask.min() >= 0
    assert mask.max() <= 1


@settings(max_examples=30, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(LINES, st.integers(0, 5))
def test_muting_a_line_is_leaving_it_out(engine, lines, which):
    which %= len(lines)
    muted = [{**line, "muted": k == which} for k, line in enumerate(lines)]
    without = [line for k, line in enumerate(lines) if k != which]
    keys = [engine.evaluation(parse_project(project(items))).key("mask:made") for items in (muted, without)]
    assert keys[0] == keys[1]


@settings(max_examples=30, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(LINES)
def test_saved_and_read_again_it_is_the_same_recipe(engine, lines):
    first = parse_project(project(lines))
    again = parse_project(json.loads(first.model_dump_json()))
    assert again == first
    assert engine.evaluation(again).key("mask:made") == engine.evaluation(first).key("mask:made")


@settings(max_examples=60, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.sampled_from(EVERY), st.data())
def test_a_line_with_a_wrong_part_is_refused_in_a_sentence_or_taken(engine, line, data):
    """Whatever stands in one field of a line: a typed error that ends like a sentence, or a mask from 0 to 1."""
    field = data.draw(st.sampled_from([*line, "note", "strength", "extra"]))
    broken = {**line, field: data.draw(JSON)}
    said = refusal(lambda: parse_project(project([broken])))
    if said is None:
        mask = engine.evaluation(parse_project(project([broken]))).map("mask:made")
        assert 0 <= mask.min() <= mask.max() <= 1
    else:
        assert said.endswith((".", "?"))


@settings(max_examples=80)
@given(JSON)
def test_files_of_anything_are_refused_in_a_sentence(data):
    text = json.dumps(data).encode()
    for read in (parse_kit, parse_strokes):
        assert (refusal(lambda read=read: read(data)) or ".").endswith((".", "?"))
    with pytest.raises((WrongFormat, BadFile)):
        features_from_geojson(text, "anything.json", 100.0, 100.0, "n-")


@settings(max_examples=40)
@given(st.sampled_from(sorted(OWN_KITS)), st.data())
def test_a_kit_with_a_wrong_part_never_gets_in_half(kit, data):
    plain = OWN_KITS[kit].model_dump(mode="json")
    masks = plain["masks"]
    line = data.draw(st.sampled_from(data.draw(st.sampled_from(masks))["lines"]))
    line[data.draw(st.sampled_from(list(line)))] = data.draw(JSON)
    project_before = parse_project(document())
    operation = {"op": "apply_kit", "kit": plain, "prefix": "k12345"}
    if refusal(lambda: apply_operations(project_before, parse_operations([operation]))) is not None:
        return
    after, _ = apply_operations(project_before, parse_operations([operation]))
    assert len(after.masks) == len(project_before.masks) + len(masks)


@settings(max_examples=40)
@given(
    st.lists(st.tuples(st.floats(-20, 120), st.floats(-20, 120)), min_size=1, max_size=8),
    st.floats(0, 30),
    st.floats(0, 30),
    st.booleans(),
)
def test_a_shape_is_the_same_in_any_window(points, half, fade, closed):
    grid = Grid(41, 51, 2.5, 2.0)
    line = np.array([(x, y, 1.0) for x, y in points])
    whole = cover_of(line, grid, grid.whole, half, fade, closed and len(points) > 2)
    part = cover_of(line, grid, Window(7, 30, 11, 44), half, fade, closed and len(points) > 2)
    assert whole[7:30, 11:44] == pytest.approx(part, abs=1e-5)
    assert whole.min() >= 0
    assert whole.max() <= 1
    if not closed:
        x, y = points[0]
        away = np.hypot(np.arange(41)[:, None] * 2.5 - y, np.arange(51) * 2.0 - x)
        assert (whole[away <= 1.25 - 1e-9] > 0).all()
        if len(points) == 1 and 0 <= x <= 100 and 0 <= y <= 100:
            # Between four samples something is left even of a dot without width.
            assert (whole[np.isclose(away, away.min())] > 0).all()


@settings(max_examples=60)
@given(st.lists(st.tuples(st.floats(-100, 100), st.floats(-100, 100)), min_size=2, max_size=40), st.floats(0, 20))
def test_simplifying_keeps_the_ends_and_stays_near(points, tolerance):
    line = np.array(points)
    kept = simplified(line, tolerance)
    assert (kept[0] == line[0]).all()
    assert (kept[-1] == line[-1]).all()
    assert len(kept) <= len(line)
    index = [int(np.flatnonzero((line == point).all(1))[0]) for point in kept]
    if len(set(map(tuple, points))) < len(points):
        return
    for a, b in pairwise(index):
        way, off = line[b] - line[a], line[a : b + 1] - line[a]
        away = np.abs(off[:, 0] * way[1] - off[:, 1] * way[0]) / max(float(np.hypot(*way)), 1e-12)
        assert away.max() <= tolerance + 1e-6


@settings(max_examples=60)
@given(
    st.lists(st.floats(0, 100), min_size=1, max_size=6),
    st.lists(st.floats(0, 100), min_size=1, max_size=6),
    st.lists(st.floats(0, 100), min_size=12, max_size=12),
)
def test_a_proposal_without_mistakes_has_none(inside, outside, other):
    """What a proposal claims of the marks is what its bands do with them."""
    ground = np.linspace(0, 100, 501)
    extra = np.array(other)
    given_readings = {
        "a": (np.array(inside), np.array(outside)),
        "b": (extra[: len(inside)], extra[6 : 6 + len(outside)]),
    }
    found = propose([Candidate(name, *marks, ground) for name, marks in given_readings.items()])
    assert 1 <= len(found) <= 3
    for proposal in found:
        held = [np.ones(len(inside), bool), np.ones(len(outside), bool)]
        for edge in proposal.lines:
            for k, values in enumerate(given_readings[edge.reading]):
                held[k] &= (values >= edge.low) & (values <= edge.high)
        assert set(np.flatnonzero(~held[0])) <= set(proposal.wrong_in)
        assert set(np.flatnonzero(held[1])) <= set(proposal.wrong_out)


def test_bands_of_readings_that_are_no_longer_there_name_the_line():
    with pytest.raises(MeadowError, match="glow"):
        parse_project(project([{"verb": "take", "source": band("glow", 0, 1)}]))


@example(0.05, [2.0**-149, 2.0**-127, 2.0**-126, 1e-30])
@given(st.floats(0.05, 20), st.lists(st.floats(0, 1, width=32), min_size=1, max_size=40))
def test_bending_is_a_power_and_keeps_the_ends_and_the_order(power, values):
    row = np.array([0, *sorted(values), 1], np.float32)
    bent = row.copy()
    bend_row(bent, np.float32(power))
    assert np.abs(bent - row.astype(np.float64) ** float(np.float32(power))).max() < 4e-7
    assert (bent[0], bent[-1]) == (0, 1)
    assert (np.diff(bent) >= -1e-7).all()
