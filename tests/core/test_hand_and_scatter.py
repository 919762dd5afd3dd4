"""What is placed by hand or by chance: points that keep their distance, marks, traced lines, kits, verdicts."""

from __future__ import annotations

import json
import re
from itertools import pairwise

import imagecodecs
import numpy as np
import pytest
from scipy.spatial import cKDTree

from tests.support.delivery import checked, made
from tests.support.ground import band, document, evaluation, png16
from tests.support.recipes import evaluated, recipe
from zigzag_meadow.core.errors import BadDocument, BadNumber, NotFound, TooLarge, WrongFormat
from zigzag_meadow.core.evaluate.scattered import scatter_points
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.layers.scatter import densest, throw
from zigzag_meadow.core.masks.pointing import Candidate, propose
from zigzag_meadow.core.masks.shapes import simplified
from zigzag_meadow.core.masks.tracing import along_contour, down_flow
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.edits.operations import apply_operations, parse_operations
from zigzag_meadow.core.project.travel.geojson import features_as_geojson, features_from_geojson
from zigzag_meadow.core.project.travel.kit import Heights, kit_of, rescaled
from zigzag_meadow.core.project.travel.own_kits import OWN_KITS
from zigzag_meadow.core.reports.pointed import proposals
from zigzag_meadow.core.reports.returned import look_at_returned
from zigzag_meadow.core.reports.verdict import verdict
from zigzag_meadow.core.terrain.flow import directions


def test_thrown_points_keep_their_distance_and_cover_the_ground_evenly():
    thrown = throw(400, 300, 3.0, 4.0, 7)
    points = np.column_stack([thrown.east, thrown.south])
    assert len(points) == 3 * 1200
    assert cKDTree(points).query(points, k=2)[0][:, 1].min() >= 4.0
    quarters = np.histogram2d(thrown.east, thrown.south, (4, 4), ((0, 400), (0, 300)))[0]
    assert quarters.std() / quarters.mean() < 0.05
    assert thrown.chance.mean() == pytest.approx(0.5, abs=0.02)
    again = throw(400, 300, 3.0, 4.0, 7)
    assert (again.east == thrown.east).all()
    assert (throw(400, 300, 3.0, 4.0, 8).east != thrown.east).any()
    # Fewer of the same seed are the first of the many: thinning leaves the rest where they stand.
    fewer = throw(400, 300, 1.0, 4.0, 7)
    assert (fewer.east == thrown.east[: len(fewer.east)]).all()
    crowded = throw(400, 300, 900, 4.0, 7)
    assert len(crowded.east) == pytest.approx(densest(4.0) * 1200, rel=0.02)
    with pytest.raises(TooLarge, match="Lower the density"):
        throw(40000, 30000, 3.0, 0.0, 7)


def test_scatter_is_the_same_whatever_size_is_delivered(tmp_path):
    stones = {
        "id": "s",
        "name": "Stones",
        "mask": "steep",
        "density": 2,
        "distance": 3,
        "size_by": "reading:slope",
        "size_low": 1,
        "size_high": 3,
        "spread": 0,
        "steepest": 60,
    }
    found = []
    for rows in (127, 253):
        data = document(scatters=[stones])
        data["delivery"] = {"rows": rows, "cols": rows}
        ev = evaluated(tmp_path, data)
        found.append(scatter_points(ev, "s").points)
    assert (found[0] == found[1]).all()
    east, south, height, size, turn = found[0].T
    slope = ev.map("reading:slope")[np.round(south / 4).astype(int), np.round(east / 5).astype(int)]
    assert np.quantile(slope, 0.95) < 61
    assert np.corrcoef(slope, size)[0, 1] > 0.9
    assert (size.min() >= 1) & (size.max() <= 3)
    assert height.min() >= 20
    assert 0 <= turn.min() <= turn.max() < 360
    # The heights do not know of it.
    bare = evaluated(tmp_path, document())
    assert (ev.map("reading:height") == bare.map("reading:height")).all()


@pytest.mark.parametrize("bits", [8, 16])
def test_scattered_things_are_delivered_and_fit(tmp_path, bits):
    stones = {"id": "s", "name": "Stones", "mask": "steep", "density": 1, "bits": bits, "points_format": "geojson"}
    ev, out = made(tmp_path, document(scatters=[stones]))
    report = checked(ev, out)
    assert report.fits, report.findings
    note = json.loads((out / "import_note.json").read_bytes())
    density = next(file for file in note["files"] if file["kind"] == "density")
    assert (density["bits"], density["channels"][0]["title"]) == (bits, "Stones")
    image = imagecodecs.png_decode((out / density["file"]).read_bytes())
    assert np.abs(image / (2**bits - 1) - ev.map("scatter:s", ev.project.final)).max() <= 0.51 / (2**bits - 1)
    features = json.loads((out / next(f["file"] for f in note["files"] if f["kind"] == "points")).read_bytes())[
        "features"
    ]
    assert len(features) == len(scatter_points(ev, "s").points)
    assert "white is 1 on 100 m²" in (out / "import_note.txt").read_text("utf-8")


@pytest.mark.parametrize("turn", [lambda a: a, np.flipud])
def test_what_was_changed_in_a_mask_is_counted_sample_by_sample(tmp_path, turn):
    data = document(505, 505, delivery={"rows": 505, "cols": 505})
    data["masks"][0]["lines"] = [{"id": "a", "verb": "take", "source": band("flow", 3000, 1e9)}]
    ev = evaluated(tmp_path, data)
    image = np.floor(ev.map("mask:steep") * 65535 + 0.5).astype(np.uint16)
    image[100:150, 200:300] = 65535 - image[100:150, 200:300]
    path = tmp_path / "back.png"
    path.write_bytes(png16(np.ascontiguousarray(turn(image))))
    found = look_at_returned(ev, "steep", path)
    assert found.flip == ("none" if turn(image) is image else "north_south")
    assert found.changed == pytest.approx(50 * 100 / 505**2, rel=0.02)


def candidate(name, inside, outside, **more):
    ground = np.linspace(0, 100, 1001)
    return Candidate(name, np.array(inside, float), np.array(outside, float), ground, **more)


def test_one_reading_that_separates_is_preferred_to_two():
    steep = candidate("steep", [40, 45, 60], [5, 10, 20])
    odd = candidate("odd", [40, 10, 60], [5, 50, 20])
    best = propose([odd, steep])[0]
    assert [line.reading for line in best.lines] == ["steep"]
    low = best.lines[0]
    assert 20 < low.low - low.fade_low < low.low < 40
    assert low.high == 100
    assert best.apart == pytest.approx(0.2, abs=0.01)


def test_two_readings_are_put_together_where_one_does_not_do():
    a = candidate("a", [40, 45, 50], [5, 46, 42])
    b = candidate("b", [70, 75, 80], [72, 20, 30])
    best = propose([a, b])[0]
    assert sorted(line.reading for line in best.lines) == ["a", "b"]
    assert not best.wrong_in
    assert not best.wrong_out


def test_directions_through_north_and_honesty():
    north = Candidate(
        "aspect", np.array([350.0, 10.0, 5.0]), np.array([90.0, 180.0, 270.0]), np.linspace(0, 359, 360), wraps=True
    )
    line = propose([north])[0].lines[0]
    assert line.low > 300
    assert line.high < 60
    same = propose([candidate("a", [50, 51], [50, 51]), candidate("b", [1, 9], [5, 5])])
    assert all(p.wrong_in or p.wrong_out for p in same)
    with pytest.raises(BadNumber, match="at least one place"):
        propose([candidate("a", [], [5])])


def test_pointing_at_the_ground_measures_whole_ground_readings_on_a_draft(tmp_path):
    ev = evaluated(tmp_path, document(127, 127))
    flow = ev.map("reading:height_over_water")
    low, high = (np.argwhere(part)[::97][:4] for part in (flow < 2, flow > 60))
    found = proposals(ev, [(c * 5, r * 4) for r, c in low], [(c * 5, r * 4) for r, c in high])
    assert found[0].wrong_in == found[0].wrong_out == ()
    assert found[0].lines[0].verb == "take"


def test_a_contour_stays_on_its_level_and_closes():
    grid = Grid(101, 101, 2.0, 2.0)
    y, x = np.mgrid[0:101, 0:101] * 2.0
    cone = (200 - np.hypot(x - 100, y - 100)).astype(np.float32)
    points, closed = along_contour(cone, grid, (160.0, 100.0), 2000)
    assert closed
    assert np.hypot(points[:, 0] - 100, points[:, 1] - 100) == pytest.approx(60, abs=0.7)
    assert len(points) < 80
    part, closed = along_contour(cone, grid, (160.0, 100.0), 100)
    assert not closed
    assert np.hypot(*np.diff(part, axis=0).T).sum() == pytest.approx(100, rel=0.05)
    with pytest.raises(BadNumber, match="level"):
        along_contour(np.zeros((101, 101), np.float32), grid, (50, 50), 100)
    with pytest.raises(BadNumber, match="on the ground"):
        along_contour(cone, grid, (-5, 50), 100)


def test_the_way_of_the_water_goes_down_and_off_the_map():
    grid = Grid(50, 50, 3.0, 3.0)
    plane = np.tile(100 - np.arange(50, dtype=np.float32), (50, 1))
    line = down_flow(directions(plane, grid), grid, (30.0, 60.0), 1e6)
    assert line[0] == pytest.approx([30, 60])
    assert line[-1] == pytest.approx([147, 60])
    assert len(line) == 2
    zigzag = np.array([[0, 0], [1, 0.1], [2, -0.1], [3, 5], [4, 6.0]])
    assert simplified(zigzag, 0.5).tolist() == [[0, 0], [2, -0.1], [3, 5], [4, 6]]


def test_drawn_lines_survive_geojson():
    project = parse_project(recipe())
    text = features_as_geojson(project.features, 504.0)
    back = features_from_geojson(text, "drawn", 630.0, 504.0, "n-")
    assert [(f.name, f.kind, f.closed) for f in back] == [(f.name, f.kind, f.closed) for f in project.features]
    assert [f.points for f in back] == [f.points for f in project.features]
    with pytest.raises(WrongFormat, match="metres"):
        features_from_geojson(text, "drawn", 10.0, 10.0, "n-")


def test_kits_leave_the_ground_behind_and_move_with_heights():
    data = recipe(
        {"verb": "add", "source": {"kind": "feature", "feature": "path"}},
        {"verb": "leave_out", "source": band("height", 20, 170, fade_high=30)},
        {"verb": "touch_up"},
        {"verb": "piece", "piece": "worn"},
        {"verb": "add", "source": {"kind": "mask", "mask": "wet"}},
    )
    heights = Heights(low=20, high=320)
    kit, left = kit_of(parse_project(data), "Mine", "", heights, ["made"], [])
    assert [m.name for m in kit.masks] == ["Made", "Wet"]
    assert [line.verb for line in kit.masks[0].lines] == ["take", "leave_out", "piece", "add"]
    assert [p.name for p in kit.pieces] == ["Worn"]
    assert left == ["Made: 2 lines that belong to this ground."]
    moved = rescaled(kit, Heights(low=1000, high=1600)).masks[0].lines[1].source
    assert (moved.low, moved.high, moved.fade_high) == (1000, 1300, 60)
    slope = rescaled(kit, Heights(low=1000, high=1600)).masks[0].lines[0].source
    assert slope == kit.masks[0].lines[0].source
    wet = OWN_KITS["moor"]
    same = rescaled(wet, wet.heights)
    assert same.masks == wet.masks


@pytest.mark.parametrize(
    ("lines", "words"),
    [
        ([{"verb": "leave_out", "source": band("height", 0, 400)}], r"from line 2 \(leave out\) on: Height goes from"),
        ([{"verb": "gamma"}, {"verb": "multiply", "source": {"kind": "plain", "value": 0}}], "empty, from line 3"),
        ([{"verb": "strongest", "source": {"kind": "plain", "value": 1}}], "full, from line 2"),
        ([{"verb": "take", "source": {"kind": "plain", "value": 0.4}}], "0.40 everywhere"),
    ],
)
def test_a_mask_without_shape_names_the_line(tmp_path, lines, words):
    ev = evaluated(tmp_path, recipe(*lines))
    assert re.search(words, verdict(ev, "made") or "")
    assert verdict(evaluated(tmp_path, recipe()), "made") is None


ROAD = {"id": "road", "name": "Road", "kind": "road", "points": [[20, 30], [300, 200], [610, 220]]}


@pytest.mark.parametrize(
    "clear",
    [
        {"of": "feature", "id": "road", "distance": 40},
        {"of": "mask", "id": "wet", "distance": 9},
        {"of": "feature", "id": "yard", "distance": 15},
    ],
    ids=["line", "mask", "area"],
)
def test_nothing_stands_within_a_distance_of_what_it_keeps_away_from(tmp_path, clear):
    yard = {"id": "yard", "name": "Yard", "closed": True, "points": [[100, 300], [400, 320], [360, 460]]}
    stones = {"id": "s", "name": "Stones", "density": 8, "distance": 0}
    data = document(features=[ROAD, yard], scatters=[stones])
    _, ev = evaluation(tmp_path, data)
    free = scatter_points(ev, "s").points
    data["scatters"] = [{**stones, "clear": [clear]}]
    made = ev.engine.evaluation(parse_project(data))
    kept = scatter_points(made, "s").points
    far = _distances(made, clear, free[:, :2])
    assert _distances(made, clear, kept[:, :2]).min() > clear["distance"]
    # Nothing is lost beyond what is read between samples.
    assert len(kept) >= (far > clear["distance"] + 20).sum()
    assert 100 < len(kept) < len(free)


def _distances(ev, clear, places):
    """Metres from each place to what is kept clear, by brute force."""
    if clear["of"] == "mask":
        mask = ev.map(f"mask:{clear['id']}") > 0.5
        rows, cols = np.nonzero(mask)
        spots = np.column_stack([cols * ev.home.dx, rows * ev.home.dy])
        return np.array([np.hypot(*(spots - place).T).min() for place in places])
    feature = ev.project.feature(clear["id"])
    points = np.array(feature.points)
    ends = np.vstack([points, points[:1]]) if feature.closed else points
    t = np.linspace(0, 1, 400)[:, None]
    line = np.vstack([a + (b - a) * t for a, b in pairwise(ends)])
    away = np.array([np.hypot(*(line - place).T).min() for place in places])
    if feature.closed:
        inside = np.array([_inside(points, place) for place in places])
        away[inside] = 0
    return away


def _inside(corners, place):
    x, y = place
    hits = False
    for (x0, y0), (x1, y1) in zip(corners, np.roll(corners, -1, 0), strict=True):
        if (y0 > y) != (y1 > y) and x < x0 + (y - y0) / (y1 - y0) * (x1 - x0):
            hits = not hits
    return hits


def test_what_is_kept_clear_must_be_there_and_goes_with_its_mask():
    stones = {"id": "s", "name": "Stones", "clear": [{"of": "mask", "id": "wet", "distance": 5}]}
    made = parse_project(document(scatters=[stones]))
    gone, _ = apply_operations(made, parse_operations([{"op": "delete_mask", "mask": "wet", "uses": "take_out"}]))
    assert gone.scatters[0].clear == ()
    with pytest.raises(NotFound, match="keeps away from a drawn line"):
        parse_project(document(scatters=[{**stones, "clear": [{"of": "feature", "id": "x"}]}]))
    parse_project(document(scatters=[{**stones, "clear": stones["clear"] * 20}]))
    with pytest.raises(BadDocument, match="at most 20"):
        parse_project(document(scatters=[{**stones, "clear": stones["clear"] * 21}]))


@pytest.mark.parametrize("near", [True, False])
def test_pointing_weighs_how_far_marks_lie_from_a_drawn_line(tmp_path, near):
    _, ev = evaluation(tmp_path, document(features=[ROAD]))
    rng = np.random.default_rng(4)
    t = rng.uniform(0.1, 0.9, 12)
    along = np.column_stack([20 + t * 280, 30 + t * 170])
    beside, away = along + rng.uniform(-6, 6, (12, 2)), along + [[90, -60]] * 12
    inside, outside = (beside, away) if near else (away, beside)
    marks = [[tuple(map(float, np.clip(p, 0, 480))) for p in some] for some in (inside, outside)]
    found = next(
        p for p in proposals(ev, *marks) if any(getattr(line.source, "kind", "") == "feature" for line in p.lines)
    )
    assert found.lines[0].verb == ("take" if near else "leave_out")
    lines = [line.model_dump(mode="json") for line in found.lines]
    made = document(features=[ROAD], masks=[{"id": "m", "name": "M", "lines": lines}], layers=[], sheets=[])
    mask = ev.engine.evaluation(parse_project(made)).map("mask:m")
    at = [[mask[round(south / 4), round(east / 5)] for east, south in some] for some in marks]
    assert min(at[0]) > max(at[1])


def test_pointing_weighs_what_erosion_and_channels_left(tmp_path):
    _, ev = evaluation(tmp_path, document())
    laid = ev.map("reading:deposition")
    order = np.argsort(laid[8:-8, 8:-8].ravel())
    places = [divmod(int(k), 111) for k in (*order[-400::80], *order[500:3500:600])]
    marks = [((col + 8) * 5.0, (row + 8) * 4.0) for row, col in places]
    found = proposals(ev, marks[:5], marks[5:], most=6)
    assert any(line.source.reading == "deposition" for p in found for line in p.lines)
