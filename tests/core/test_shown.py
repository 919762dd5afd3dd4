"""Maps as large as a screen shows them: nearly what they are, made of what is measured already, and kept apart."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.ground import band, document, evaluation
from zigzag_meadow.core.evaluate import as_shown
from zigzag_meadow.core.evaluate.as_shown import Shown
from zigzag_meadow.core.grid import Window, reference_grid
from zigzag_meadow.core.masks import algebra
from zigzag_meadow.core.resample import resample


def moor(*lines, rows=193):
    data = document(rows, rows)
    data["masks"][0]["lines"] += [{"id": f"m{k}", **line} for k, line in enumerate(lines)]
    return data


def moving(ev):
    return ev.engine.evaluation(ev.project, keep=False)


def test_on_the_full_grid_it_is_the_map_itself(tmp_path):
    _, ev = evaluation(tmp_path, moor({"verb": "keep_within", "source": band("height", 40, 200, fade_low=9)}))
    full = reference_grid(ev.home)
    whole = ev.map("mask:steep", full)
    found = Shown(moving(ev), full)
    assert (found.map("mask:steep", full.whole) == whole).all()
    assert (found.map("mask:steep", Window(20, 90, 5, 140)) == whole[20:90, 5:140]).all()


def test_readings_are_reduced_and_never_measured_anew(tmp_path):
    _, ev = evaluation(tmp_path, document(193, 193))
    full, small = reference_grid(ev.home), reference_grid(ev.home).resized(97, 97)
    for name in ("slope", "profile_curvature", "flow"):
        mean = resample(ev.map(f"reading:{name}", full), full, small, "linear")
        assert (Shown(moving(ev), small).map(f"reading:{name}", small.whole) == mean).all()
    # Directions have no mean.
    aspect = Shown(moving(ev), small).map("reading:aspect", small.whole)
    assert np.isin(aspect[~np.isnan(aspect)], ev.map("reading:aspect", full)).all()


@pytest.mark.parametrize(
    "line",
    [
        {"verb": "remove_specks", "area": 900},
        {"verb": "fill_holes", "area": 900},
        {"verb": "trickle", "by": 200},
        {"verb": "equalise"},
        {"verb": "widen", "by": 1000, "fade": 50},
        {"verb": "drift", "by": 30},
        {"verb": "fray"},
    ],
)
def test_what_hangs_on_the_whole_ground_is_nearly_what_it_is(tmp_path, line):
    _, ev = evaluation(tmp_path, moor(line, rows=257))
    full, small = reference_grid(ev.home), reference_grid(ev.home).resized(129, 129)
    exact = resample(ev.map("mask:steep", full), full, small, "mask")
    found = Shown(moving(ev), small).map("mask:steep", small.whole)
    assert found.mean() == pytest.approx(exact.mean(), abs=0.06)
    assert np.abs(found - exact).mean() < 0.1


def test_a_move_makes_only_what_hangs_on_it_and_leaves_nothing_with_what_is_saved(tmp_path, monkeypatch):
    rest = [
        {"verb": "keep_within", "source": band("height", 40, 200)},
        {"verb": "add", "source": band("aspect", 0, 90)},
    ]
    data = moor(*rest)
    _, ev = evaluation(tmp_path, data)
    small = reference_grid(ev.home).resized(97, 97)
    Shown(moving(ev), small).map("mask:steep", small.whole)
    held = dict(ev.engine.cache._held)
    made = []
    monkeypatch.setattr(algebra, "band", lambda *a, real=algebra.band, **k: made.append(k["low"]) or real(*a, **k))
    data["masks"][0]["lines"][0]["source"]["low"] = 31
    _, moved = evaluation(tmp_path, data)
    again = Shown(ev.engine.evaluation(moved.project, keep=False), small).map("mask:steep", small.whole)
    assert made == [31]
    assert dict(ev.engine.cache._held) == held
    monkeypatch.setattr(as_shown, "MOST_DEEP", 2)
    usual = Shown(ev.engine.evaluation(moved.project, keep=False), small).map("mask:steep", small.whole)
    assert usual.shape == again.shape
    assert np.abs(usual - again).mean() < 0.1
