"""Lines of recipes: each does what its sentence says, at any size, without seams."""

from __future__ import annotations

import json
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import ndimage

from tests.support.ground import document, small_tiles
from tests.support.recipes import EVERY, MAPPED, PIECE, STROKE_LIST, STROKES, evaluated, recipe
from zigzag_meadow.core.errors import BadDocument, BadFile, BadNumber, Cycle, NotFound, TooLarge
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.masks import areas, breakup, tone
from zigzag_meadow.core.masks.algebra import blend, combine
from zigzag_meadow.core.masks.lines.catalogue import LINES
from zigzag_meadow.core.masks.shapes import shape_mask
from zigzag_meadow.core.masks.strokes import parse_strokes, read_strokes, strokes_as_bytes
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.terrain.flow import directions


def made(folder, *lines, grid=None, strokes=STROKE_LIST):
    ev = evaluated(folder, recipe(*lines), strokes)
    return ev.map("mask:made", grid and ev.home.resized(*grid))


def test_every_kind_of_line_is_tried_here():
    assert {line["verb"] for line in EVERY} == {kind.model_fields["verb"].default for kind in LINES if kind.offered}
    for kind in LINES:
        assert kind.sentence.startswith("**")
        named = {part.split("}")[0] for part in kind.sentence.split("{")[1:]}
        assert named <= set(kind.model_fields), kind


@pytest.mark.parametrize("line", EVERY, ids=lambda line: line["verb"])
def test_a_line_is_the_same_in_tiles_and_whole_and_agrees_between_sizes(tmp_path, monkeypatch, line):
    """No seams where tiles meet; 0–1, float32; a finer map averages to about the coarser one."""
    soft = {"verb": "blur", "radius": 14}
    fine = made(tmp_path, soft, line, grid=(379, 379))
    assert fine.dtype == np.float32
    assert fine.min() >= 0
    assert fine.max() <= 1
    small_tiles(monkeypatch, 100)
    tiled = made(tmp_path, soft, line, grid=(379, 379))
    crisp = line["verb"] == "cut"
    # A band's edge may fall the other way where a float differs in its last place.
    # Half a step of eight bits is what drifting along a smoothed slope may cost.
    assert np.abs(tiled - fine).max() < 2.5e-3 or (crisp and (tiled != fine).mean() < 1e-3)
    assert (fine != made(tmp_path, soft, grid=(379, 379))).any()
    coarse = made(tmp_path, soft, line)
    assert np.abs(fine[::3, ::3] - coarse).mean() < 0.03


def test_combining_follows_the_rules():
    a, b = np.full((1, 1), 0.8, np.float32), np.full((1, 1), 0.25, np.float32)
    rules = {"add": 1.0, "strongest": 0.8, "weakest": 0.25, "multiply": 0.2, "difference": 0.55}
    for verb, value in rules.items():
        assert combine(a, b, verb)[0, 0] == pytest.approx(value)
        assert combine(a, b, verb, 0.5)[0, 0] == pytest.approx((0.8 + value) / 2)
    assert blend(a, b, np.full((1, 1), 0.4, np.float32), 0.5)[0, 0] == pytest.approx(0.8 * 0.8 + 0.25 * 0.2)


def test_curves_pass_their_points_and_never_turn_back():
    table = tone.curve_table([(0.1, 0.0), (0.4, 0.9), (0.6, 0.92), (1.0, 1.0)])
    assert table[0] == 0
    assert tone.looked_up(np.array([[0.1, 0.4, 0.6, 1.0]], np.float32), table)[0] == pytest.approx(
        [0, 0.9, 0.92, 1], abs=3e-3
    )
    assert (np.diff(table) >= -1e-7).all()
    with pytest.raises(BadNumber, match="left to right"):
        tone.curve_table([(0.5, 0), (0.5, 1)])


@settings(max_examples=40)
@given(st.lists(st.floats(0, 1, width=32), min_size=20, max_size=200), st.integers(2, 16))
def test_bands_hold_every_sample_once(values, count):
    mask = np.array(values, np.float32).reshape(1, -1)
    for how in ("even", "quantiles"):
        edges = tone.cut_edges(mask, count, how, ())
        held = sum(tone.in_band(mask, edges, k) for k in range(count))
        assert (held == 1).all()
        assert sum(tone.shares_of(mask, edges)) == pytest.approx(1)
        assert set(np.unique(tone.cut(mask, edges))) <= {np.float32(k) / np.float32(count - 1) for k in range(count)}


def test_a_faint_map_is_stretched_equalised_and_cut_evenly(tmp_path):
    faint = {"verb": "take", "source": {"kind": "reading", "reading": "slope", "black": 0, "white": 3000}}
    assert made(tmp_path, faint).max() <= 0.03
    stretched = made(tmp_path, faint, {"verb": "stretch", "clip": 0.01})
    assert (stretched == 0).any()
    assert (stretched == 1).mean() == pytest.approx(0.01, abs=0.01)
    equal = made(tmp_path, faint, {"verb": "equalise"})
    assert np.quantile(equal[equal > 0], (0.25, 0.5, 0.75)) == pytest.approx([0.25, 0.5, 0.75], abs=0.06)
    ev = evaluated(tmp_path, recipe(faint, {"verb": "cut", "count": 5, "how": "quantiles"}))
    bands = [ev.map(f"band:made:{k}") for k in range(5)]
    assert (sum(bands) == 1).all()
    shares = [float(b.mean()) for b in bands]
    assert max(shares[1:]) - min(shares[1:]) < 0.02
    with pytest.raises(NotFound, match="5 bands"):
        ev.map("band:made:5")


@pytest.mark.parametrize("spacing", [(1.0, 1.0), (3.0, 2.0)])
def test_widening_and_narrowing_move_the_rim_by_metres(spacing):
    """A disc of 60 m becomes one of 81 and one of 45, halfway through the fade, on square cells and others."""
    grid = Grid(round(240 / spacing[0]) + 1, round(240 / spacing[1]) + 1, *spacing)
    y, x = np.meshgrid(np.arange(grid.rows) * grid.dy - 120, np.arange(grid.cols) * grid.dx - 120, indexing="ij")
    out = np.hypot(y, x)
    disc = np.clip((60 - out) / 4 + 0.5, 0, 1).astype(np.float32)
    wide = areas.widened(disc, areas.rim_distance(disc, grid, False), 18, 6)
    thin = areas.narrowed(disc, areas.rim_distance(disc, grid, True), 12, 6)
    cell = spacing[0] * spacing[1]
    for mask, radius in ((wide, 81), (thin, 45)):
        assert math.sqrt(mask.sum() * cell / math.pi) == pytest.approx(radius, abs=0.35 * max(spacing))
    assert wide[np.abs(out - 81) < 0.3] == pytest.approx(0.5, abs=0.25)
    assert (areas.rim_distance(np.zeros(grid.shape, np.float32), grid, False) == areas.FAR).all()


@settings(max_examples=25)
@given(st.integers(0, 10**6), st.integers(1, 40))
def test_specks_and_holes_agree_with_labelling(seed, cells):
    rng = np.random.default_rng(seed)
    mask = (ndimage.gaussian_filter(rng.random((50, 60)), 1.2) > 0.5).astype(np.float32)
    grid = Grid(50, 60, 2.0, 3.0)
    area = cells * 6.0
    label, count = ndimage.label(mask >= 0.5, np.ones((3, 3)))
    size = np.bincount(label.ravel(), minlength=count + 1) * 6.0
    expected = (mask >= 0.5) & (size[label] >= area)
    assert ((mask * areas.keeping(mask, grid, area) >= 0.5) == expected).all()
    label, count = ndimage.label(mask < 0.5)
    size = np.bincount(label.ravel(), minlength=count + 1) * 6.0
    rim = np.unique(np.concatenate([label[0], label[-1], label[:, 0], label[:, -1]]))
    holes = (mask < 0.5) & (size[label] < area) & ~np.isin(label, rim)
    assert ((areas.filling(mask, grid, area) > 0) == holes).all()


def test_drift_follows_the_slope():
    """On a plane that falls to the east a spot moves east by the metres given, and back uphill."""
    grid = Grid(60, 90, 2.0, 2.0)
    heights = np.tile(100 - np.arange(90, dtype=np.float32), (60, 1))
    mask = np.zeros(grid.shape, np.float32)
    mask[28:33, 40:45] = 1
    way = breakup.downhill(heights, 2.0, 2.0)
    for metres in (30.0, -30.0):
        back = breakup.drift_way(way, np.full(grid.shape, metres, np.float32), (0.5, 0.5), (0, 0))
        out = breakup.displaced(mask, back[0], back[1], 0.0, (0.5, 0.5), (0, 0))
        rows, cols = (np.average(index, weights=out) for index in np.indices(grid.shape))
        assert (rows, cols) == pytest.approx((30, 42 + metres / 2), abs=0.01)


def test_trickle_runs_down_and_fades(tmp_path):
    grid = Grid(40, 40, 5.0, 5.0)
    heights = np.tile(200 - 2 * np.arange(40, dtype=np.float32)[:, None], (1, 40))
    mask = np.zeros(grid.shape, np.float32)
    mask[5, 20] = 1
    out = breakup.trickled(mask, directions(heights, grid), 5.0, 5.0, 100.0)
    assert out[5:26, 20] == pytest.approx(1 - 5 * np.arange(21) / 100, abs=1e-5)
    out[5:26, 20] = 0
    assert not out.any()


def test_fraying_moves_the_edge_and_keeps_the_cover(tmp_path):
    plain, frayed = made(tmp_path), made(tmp_path, {"verb": "fray", "reach": 20, "size": 60})
    assert np.abs(plain - frayed).mean() > 0.02
    assert frayed.mean() == pytest.approx(plain.mean(), abs=0.02)
    assert (frayed == made(tmp_path, {"verb": "fray", "reach": 20, "size": 60})).all()
    assert (frayed != made(tmp_path, {"verb": "fray", "reach": 20, "size": 60, "seed": 2})).any()


def test_drawn_lines_are_as_wide_as_they_say_and_sharp_at_every_size():
    points = np.array([[0.0, 50.0], [100.0, 50.0]])
    for cells in (51, 101, 801):
        grid = Grid(cells, cells, 100 / (cells - 1), 100 / (cells - 1))
        mask = shape_mask(points, grid, grid.whole, width=20, fade=10, closed=False, smooth=False)
        y = np.abs(np.arange(cells) * grid.dy - 50)
        assert mask[:, cells // 2] == pytest.approx(np.clip(1 - (y - 10) / 10, 0, 1), abs=1e-6)
    square = np.array([[20.0, 20.0], [80.0, 20.0], [80.0, 80.0], [20.0, 80.0]])
    filled = shape_mask(square, grid, grid.whole, width=0, fade=0, closed=True, smooth=False)
    assert filled.mean() == pytest.approx(0.36, abs=0.003)


def test_strokes_add_take_away_and_stay_sharp(tmp_path):
    spot = {"size": 60, "fade": 0, "points": [[250, 250, 1]]}
    start = {"verb": "multiply", "source": {"kind": "plain", "value": 0.5}}
    for size in (None, (505, 505)):
        up = made(tmp_path, start, {"verb": "touch_up", "asset": STROKES}, grid=size, strokes=[{"mode": "add", **spot}])
        read_strokes.cache_clear()
        down = made(
            tmp_path, start, {"verb": "touch_up", "asset": STROKES}, grid=size, strokes=[{"mode": "take_away", **spot}]
        )
        read_strokes.cache_clear()
        plain = made(tmp_path, start, grid=size)
        ground = math.pi * 30**2 / (630 * 504)
        assert ((up == 1) & (plain < 1)).mean() == pytest.approx(ground, rel=0.1)
        assert ((down != plain) | (plain == 0))[up == 1].all()
        assert (down[up == 1] == 0).all()
    strokes = parse_strokes(STROKE_LIST)
    assert parse_strokes(json.loads(strokes_as_bytes(strokes))) == strokes


@pytest.mark.parametrize(
    ("data", "error"),
    [
        ([{"mode": "smear", "size": 3, "points": [[0, 0, 1]]}], BadFile),
        ([{"mode": "add", "size": -3, "points": [[0, 0, 1]]}], BadFile),
        ([{"mode": "add", "size": 3, "points": []}], BadFile),
        ([{"mode": "add", "size": 3, "points": [[0, float("nan"), 1]]}], BadFile),
        ([{"mode": "add", "size": 3, "points": [[0, 0, 1]]}] * 5001, TooLarge),
        ("strokes", BadFile),
    ],
)
def test_strokes_that_cannot_be(data, error):
    with pytest.raises(error):
        parse_strokes(data)


def test_a_piece_takes_its_users_numbers(tmp_path):
    as_lines = [{"verb": "fray", "reach": 8, "size": 60}, {"verb": "contrast", "contrast": 0.3}]
    assert (made(tmp_path, *as_lines) == made(tmp_path, EVERY[-1])).all()
    other = {"verb": "piece", "piece": "worn", "how": "keep_within", "numbers": {"reach": 8}, "strength": 0.5}
    # Put to what is there, a piece starts by itself: one that only frays starts from all of the ground.
    assert made(tmp_path, other) == pytest.approx(made(tmp_path), abs=1e-6)


@pytest.mark.parametrize(("how", "value"), [("follow", 0.3), ("take", 0.3), ("add", 0.3), ("keep_within", 0.3)])
def test_a_recipe_that_begins_with_a_piece_starts_as_the_piece_does(tmp_path, how, value):
    data = recipe()
    cuts = [{"id": "p", "verb": "multiply", "source": {"kind": "plain", "value": 0.3}}]
    data["pieces"] = [{**PIECE, "lines": cuts, "exposed": []}]
    data["masks"][-1]["lines"] = [{"id": "a", "verb": "piece", "piece": "worn", "how": how}]
    assert evaluated(tmp_path, data).map("mask:made") == pytest.approx(value)


@pytest.mark.parametrize(
    ("line", "error", "words"),
    [
        ({"verb": "smudge"}, BadDocument, r"masks\.2\.lines\.1"),
        ({"verb": "blur", "radius": 1e9}, BadDocument, "radius"),
        ({"verb": "take", "source": {"kind": "mask", "mask": "gone"}}, NotFound, "Line 2 of Made"),
        ({"verb": "take", "source": {"kind": "mask", "mask": "made"}}, Cycle, "Made → Made"),
        ({"verb": "take", "source": {"kind": "mask", "mask": "wet", "band": 2}}, NotFound, "not cut into bands"),
        ({"verb": "take", "source": {"kind": "feature", "feature": "gone"}}, NotFound, "drawn line"),
        ({"verb": "multiply", "source": {**MAPPED, "white": 5}}, BadNumber, "Line 2 of Made: black and white"),
        ({"verb": "cut", "count": 3, "how": "own", "edges": [0.5]}, BadNumber, "need 2 inner edges"),
        ({"verb": "cut", "count": 3, "how": "own", "edges": [0.5, 0.2]}, BadNumber, "above the one before"),
        ({"verb": "bend", "points": [[0.5, 0], [0.2, 1]]}, BadNumber, "left to right"),
        ({"verb": "piece", "piece": "gone"}, NotFound, "piece that is not there"),
        ({"verb": "piece", "piece": "worn", "numbers": {"size": 3}}, BadNumber, "no number called size"),
        ({"verb": "piece", "piece": "worn", "numbers": {"reach": -3}}, BadNumber, "reach"),
    ],
)
def test_lines_that_do_not_hold_together_say_where(line, error, words):
    with pytest.raises(error, match=words):
        parse_project(recipe(line))


def test_ten_thousand_lines_are_refused():
    with pytest.raises(BadDocument, match="at most 200 lines in one recipe; this would make 10001"):
        parse_project(recipe(*[{"verb": "turn_over"}] * 10_000))


LONG = {
    "sample by sample": [{"verb": "levels", "middle": 1.01}] * 199,
    "with a look around": [{"verb": "blur", "radius": 10 + k / 10} for k in range(150)],
    "over whole-ground runs": [{"verb": "trickle", "by": 90 + k} for k in range(90)],
}


@pytest.mark.parametrize("keep", [True, False])
@pytest.mark.parametrize("kind", LONG)
def test_recipes_as_long_as_they_may_be_are_made(tmp_path, kind, keep):
    """One operation asks for the next: hundreds of them must not nest as deep as they are long."""
    ev = evaluated(tmp_path, recipe(*LONG[kind]))
    mask = ev.engine.evaluation(ev.project, keep=keep).map("mask:made", ev.home.resized(90, 90))
    assert 0 <= mask.min() <= mask.max() <= 1
    # What was made for an unsaved state is not there for the saved one: only then is anything long left to do.
    assert ev.is_quick(ev.graph.mask("made")) is (keep or kind != "over whole-ground runs")


def test_masks_upon_masks_are_followed_so_far():
    def chain(count):
        data = document(layers=[], sheets=[])
        data["masks"] = [
            {
                "id": f"m{k}",
                "name": f"M{k}",
                "lines": [
                    {
                        "id": "a",
                        "verb": "take",
                        "source": {"kind": "mask", "mask": f"m{k + 1}"}
                        if k < count - 1
                        else {"kind": "plain", "value": 1},
                    }
                ],
            }
            for k in range(count)
        ]
        return data

    assert len(parse_project(chain(60)).masks) == 60
    with pytest.raises(BadDocument, match="at most 60"):
        parse_project(chain(61))
    with pytest.raises(BadDocument, match="at most 60"):
        parse_project(chain(200))


def test_a_circle_through_masks_and_pieces_is_named():
    data = recipe({"verb": "piece", "piece": "worn"})
    data["pieces"] = [
        {**PIECE, "lines": [{"id": "p", "verb": "take", "source": {"kind": "mask", "mask": "made"}}], "exposed": []}
    ]
    with pytest.raises(Cycle, match="Made → Made"):
        parse_project(data)


def test_a_change_upstream_leaves_the_noise_of_fraying_alone(tmp_path):
    """While a band is dragged, what does not hang on it is not computed again."""
    ev = evaluated(tmp_path, recipe({"verb": "fray"}, {"verb": "drift"}))
    ev.map("mask:made")
    before = set(ev.engine.cache._held)
    data = recipe({"verb": "fray"}, {"verb": "drift"})
    data["masks"][-1]["lines"][0]["source"]["low"] = 40
    ev.engine.evaluation(parse_project(data)).map("mask:made")
    assert len(set(ev.engine.cache._held) - before) == 3
