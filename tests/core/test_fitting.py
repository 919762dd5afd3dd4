"""Numbers that fit the ground: bands keep their share when they change their reading."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.support.ground import band, document, evaluation, lay
from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.map_name import ReadingName
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.readings.catalogue import READINGS
from zigzag_meadow.core.readings.uses import Band
from zigzag_meadow.core.reports.fitting import fitted

KINDS = [kind.name for kind in READINGS if kind.ready]


@pytest.fixture(scope="module")
def ev(tmp_path_factory):
    return evaluation(tmp_path_factory.mktemp("fit"), document())[1]


@pytest.mark.parametrize("name", KINDS)
def test_what_is_proposed_for_a_reading_is_taken_and_holds_ground(ev, name):
    found = fitted(ev, ReadingName(name))
    numbers = {key: getattr(found, key) for key in ("low", "high", "fade_low", "fade_high")}
    take = [{"id": "a", "verb": "take", "source": {"kind": "band", "reading": name, **numbers}}]
    use = {"kind": "reading", "reading": name, "black": found.black, "white": found.white}
    steer = [{"id": "b", "verb": "multiply", "source": use}]
    masks = [{"id": "m", "name": "M", "lines": take}, {"id": "n", "name": "N", "lines": take + steer}]
    made = ev.engine.evaluation(parse_project(document(masks=masks, layers=[], sheets=[])))
    mean = float(made.map("mask:m").mean())
    # A reading may be the same nearly everywhere; it is never asked for all of it.
    assert 0 < mean < 0.97, (found, mean)


@settings(max_examples=30)
@given(low=st.floats(0.05, 0.9), wide=st.floats(0.05, 0.9), name=st.sampled_from(["height", "ruggedness", "flow"]))
def test_a_band_keeps_its_share_of_the_ground(ev, low, wide, name):
    slope = np.sort(ev.map("reading:slope").ravel())
    ends = [float(np.quantile(slope, q)) for q in (low, min(low + wide, 1.0))]
    before = Band(reading="slope", low=ends[0], high=max(ends[1], ends[0]))
    held = float(((slope >= before.low) & (slope <= before.high)).mean())
    found = fitted(ev, ReadingName(name), before)
    values = ev.map(ReadingName(name))
    share = float(((values >= found.low) & (values <= found.high)).mean())
    # Flow counts cells: much of the ground has one and the same value.
    assert share == pytest.approx(held, abs=0.02 if name != "flow" else 0.6)
    assert found.share == pytest.approx(share, abs=1e-3)


def test_open_ends_stay_open_and_fades_keep_their_part_of_the_ground(ev):
    slope = ev.map("reading:slope")
    steep = Band(**band("slope", float(np.quantile(slope, 0.7)), 90, fade_low=3))
    high = fitted(ev, ReadingName("height"), steep)
    height = ev.map("reading:height")
    assert high.high >= height.max()
    assert high.fade_low > 0
    faded = float((slope >= steep.low - 3).mean())
    assert float((height >= high.low - high.fade_low).mean()) == pytest.approx(faded, abs=0.01)
    gentle = Band(**band("slope", 0, float(np.quantile(slope, 0.4)), fade_high=2))
    low = fitted(ev, ReadingName("height"), gentle)
    assert low.low <= height.min() + 0.1
    assert float((height <= low.high).mean()) == pytest.approx(0.4, abs=0.01)
    with pytest.raises(NotFound):
        fitted(ev, ReadingName("nothing"))


def test_a_mapping_of_flow_goes_from_one_cell_to_the_largest(ev):
    found = fitted(ev, ReadingName("flow"))
    flow = ev.map("reading:flow")
    assert (found.black, found.white) == pytest.approx((20, float(flow.max())), rel=0.01)
    laid = fitted(ev, ReadingName("deposition"))
    values = ev.map("reading:deposition")
    assert laid.black == 0
    assert laid.white == pytest.approx(np.quantile(values, 0.98), rel=0.05)


def test_an_edge_keeps_off_a_value_that_much_of_the_ground_has(tmp_path):
    _, ev = evaluation(tmp_path, document())
    checks = np.indices(ev.home.shape).sum(0) // 8 % 2
    lay(ev, ev.graph.stage(0).ground, np.where(checks, 230, 70).astype(np.float32))
    found = fitted(ev, ReadingName("height"))
    assert 120 < found.low < 220
    assert found.share == pytest.approx(0.5, abs=0.01)
