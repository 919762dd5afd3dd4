"""What steps of preparation leave behind, how strongly they act and where."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest

from tests.support.ground import band, document, evaluation
from zigzag_meadow.core.errors import BadDocument, Cycle, NotFound
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.edits.operations import apply_operations, parse_operations
from zigzag_meadow.core.project.model.readings import all_readings

ERODE = {"kind": "erode", "id": "rain", "rain": 0.5, "strength": 1.0, "seed": 3}
SLUMP = {"kind": "slump", "id": "slide", "angle": 20}
AREA = {"id": "area", "name": "Area", "closed": True, "points": [[50, 40], [300, 60], [280, 250], [60, 300]]}


def with_steps(*steps, **more):
    return document(ground={**document()["ground"], "steps": list(steps)}, **more)


def maps(tmp_path, steps, *names, **more):
    _, made = evaluation(tmp_path, with_steps(*steps, **more))
    return [made.map(name, made.graph.home_of(name)) for name in names]


def test_what_a_step_left_is_what_it_did_to_the_ground(tmp_path):
    names = ("reading:scour-of-rain", "reading:deposition-of-rain", "at:0:height", "at:1:height")
    scour, laid, before, after = maps(tmp_path, [ERODE], *names)
    # Each drop takes and lays: the sums differ by exactly what the ground changed by.
    np.testing.assert_allclose(after - before, laid - scour, atol=2e-3)
    assert scour.max() > 1
    half = maps(tmp_path, [{**ERODE, "amount": 0.5}], *names)
    np.testing.assert_allclose(half[3], (before + after) / 2, atol=1e-3)
    np.testing.assert_allclose(half[1], laid / 2, atol=1e-4)
    slid, talus, low, high = maps(
        tmp_path, [SLUMP], "reading:slid-of-slide", "reading:talus-of-slide", "at:0:height", "at:1:height"
    )
    np.testing.assert_allclose(high - low, talus - slid, atol=1e-3)


def test_what_is_left_keeps_its_place_when_later_steps_cut_turn_and_resample(tmp_path):
    later = [
        {"kind": "crop", "id": "c", "west": 100, "north": 80, "width": 300, "length": 240},
        {"kind": "turn", "id": "t", "how": "left"},
        {"kind": "resample", "id": "r", "rows": 121, "cols": 121},
    ]
    (whole,) = maps(tmp_path, [ERODE], "reading:deposition-of-rain")
    cut, turned, resampled = (maps(tmp_path, [ERODE, *later[:n]], "reading:deposition-of-rain")[0] for n in (1, 2, 3))
    np.testing.assert_array_equal(cut, whole[20:81, 20:81])
    np.testing.assert_array_equal(turned, np.rot90(cut))
    np.testing.assert_allclose(resampled[::2, ::2], turned, atol=1e-5)


def test_what_a_step_left_is_what_it_did_at_double_size_too(tmp_path):
    """On ground that falls 300 m within 500: one way to go between samples for heights and for what was left."""
    data = with_steps(ERODE)
    data["ground"] |= {"high": 900}
    _, made = evaluation(tmp_path, data)
    names = ("reading:scour-of-rain", "reading:deposition-of-rain", "at:0:height", "at:1:height")
    homes = [made.graph.home_of(name) for name in names]
    scour, laid, before, after = (
        made.map(name, home.resized(2 * home.rows - 1, 2 * home.cols - 1))
        for name, home in zip(names, homes, strict=True)
    )
    assert scour.max() > 5
    np.testing.assert_allclose(after - before, laid - scour, atol=0.02)


def test_a_muted_step_leaves_nothing_and_says_so(tmp_path):
    muted = with_steps({**ERODE, "muted": True})
    assert float(evaluation(tmp_path, muted)[1].map("reading:scour-of-rain").max()) == 0
    told = {item.id: item for item in all_readings(parse_project(muted))}
    assert told["scour-of-rain"].title == "Scour of Erode"
    assert "muted" in (told["scour-of-rain"].left.trouble or "")
    assert all(
        item.left is None or item.left.trouble is None for item in all_readings(parse_project(with_steps(ERODE)))
    )


@pytest.mark.parametrize("how", ["right", "left", "half", "north_south", "east_west", "transpose"])
def test_drawn_areas_limit_a_step_where_they_lie_on_the_prepared_ground(tmp_path, how):
    where = [{"id": "w", "verb": "take", "source": {"kind": "feature", "feature": "area", "width": 0, "fade": 0}}]
    steps = [
        {"kind": "raise", "id": "up", "by": 50, "where": where},
        {"kind": "crop", "id": "c", "west": 20, "north": 12, "width": 480, "length": 400},
        {"kind": "turn", "id": "t", "how": how},
    ]
    features = {"features": [AREA], "masks": [{"id": "m", "name": "M", "lines": where}], "layers": [], "sheets": []}
    raised, area = maps(tmp_path, steps, "reading:height", "mask:m", **features)
    (flat,) = maps(tmp_path, [{**steps[0], "amount": 0.0}, *steps[1:]], "reading:height", **features)
    np.testing.assert_allclose(raised - flat, area * 50, atol=1e-3)
    assert 0.1 < area.mean() < 0.9


def test_where_a_step_acts_is_a_whole_recipe_over_the_ground_before_it(tmp_path):
    where = [
        {"id": "a", "verb": "take", "source": {"kind": "mask", "mask": "high"}},
        {"id": "b", "verb": "leave_out", "source": band("slope", 10, 90), "strength": 0.5},
        {"id": "c", "verb": "blur", "radius": 10},
    ]
    masks = [
        {"id": "high", "name": "High", "lines": [{"id": "x", "verb": "take", "source": band("height", 150, 999)}]},
        {"id": "where", "name": "Where", "lines": where},
    ]
    more = {"masks": masks, "layers": [], "sheets": []}
    flat = {"kind": "flatten", "id": "f", "side": "above", "height": 100, "where": where}
    before, after = maps(tmp_path, [flat], "at:0:height", "at:1:height", **more)
    (mask,) = maps(tmp_path, [], "mask:where", **more)
    np.testing.assert_allclose(after, before + (np.minimum(before, 100) - before) * mask, atol=1e-3)


def test_steps_refuse_what_is_not_there_yet_and_what_goes_round():
    fans = {"id": "l", "verb": "take", "source": band("deposition-of-rain", 0.5, 99)}
    mask = {"masks": [{"id": "fans", "name": "Fans", "lines": [fans]}], "layers": [], "sheets": []}
    later = {"kind": "raise", "id": "up", "by": 5}
    parse_project(with_steps(ERODE, {**later, "where": [fans]}, **mask))
    with pytest.raises(BadDocument, match="not there before it"):
        parse_project(with_steps({**later, "where": [fans]}, ERODE, **mask))
    use = [{"id": "u", "verb": "take", "source": {"kind": "mask", "mask": "fans"}}]
    with pytest.raises(BadDocument, match="not there before it"):
        parse_project(with_steps({**later, "where": use}, ERODE, **mask))
    with pytest.raises((BadDocument, Cycle)):
        parse_project(with_steps({**ERODE, "where": use}, **mask))
    for step in ({"kind": "turn", "id": "t", "amount": 0.5}, {"kind": "fill_voids", "id": "v", "amount": 0.9}):
        with pytest.raises(BadDocument, match=r"all of the ground|no strength"):
            parse_project(with_steps(step))
    many = [{**fans, "id": f"l{n}"} for n in range(41)]
    parse_project(with_steps(ERODE, {**later, "where": many[:40]}, **mask))
    with pytest.raises(BadDocument, match="at most 40"):
        parse_project(with_steps(ERODE, {**later, "where": many}, **mask))


def test_a_step_whose_leavings_are_used_is_not_deleted_and_nothing_else_is_lost(tmp_path):
    fans = {"id": "l", "verb": "take", "source": band("deposition-of-rain", 0.5, 99)}
    made = parse_project(with_steps(ERODE, masks=[{"id": "f", "name": "Fans", "lines": [fans]}], layers=[], sheets=[]))
    with pytest.raises(BadDocument, match="Deposition of Erode is used by the mask Fans"):
        apply_operations(made, parse_operations([{"op": "delete_step", "step": "rain"}]))
    out = [{"op": "delete_line", "mask": "f", "line": "l"}, {"op": "delete_step", "step": "rain"}]
    assert not apply_operations(made, parse_operations(out))[0].ground.steps
    _, at_zero = evaluation(tmp_path, with_steps(ERODE))
    with pytest.raises(NotFound, match="not there before step 1"):
        at_zero.map("at:0:scour-of-rain")


def test_the_third_documents_bands_become_a_recipe():
    old = json.loads((Path(__file__).parents[1] / "samples" / "preparation_3.json").read_text())
    step = parse_project(old).ground.steps[0]
    assert [line.verb for line in step.where] == ["take", "keep_within"]
    assert (step.where[1].source.reading, step.amount) == ("height", 1.0)
