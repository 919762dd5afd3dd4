"""Preparation: findings, steps, where they act, and what the document says of them."""

from __future__ import annotations

import imagecodecs
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.support.ground import band, document, evaluation, hills, lay, limited
from zigzag_meadow.core.delivery.plan import make_plan
from zigzag_meadow.core.errors import BadDocument, BadNumber, MeadowError, NotFound
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.ground.edges import mended_edges
from zigzag_meadow.core.ground.findings import find_all
from zigzag_meadow.core.ground.shaping import flattened, refined, smoothed, softened, turned
from zigzag_meadow.core.ground.terraces import un_terraced
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.readings.picture import picture, read_channel
from zigzag_meadow.core.readings.slope import slope
from zigzag_meadow.core.reports.profile import profile_line
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.core.voids import fill_voids

ONE = Stripes(1)
GRID = Grid(160, 180, 4.0, 5.0)


def smooth_hill() -> np.ndarray:
    y, x = np.mgrid[0 : GRID.rows, 0 : GRID.cols]
    z = 60 * np.exp(-(((y - 80) / 45) ** 2 + ((x - 90) / 60) ** 2)) + 0.1 * x + 3 * np.sin(y / 17)
    return z.astype(np.float32)


def codes(z: np.ndarray) -> set[str]:
    return {finding.code for finding in find_all(z.astype(np.float32), GRID, ONE)}


def with_steps(*steps, **ground):
    base = document()["ground"]
    numbered = [{"id": f"s{i}", **step} for i, step in enumerate(steps)]
    return document(ground={**base, **ground, "steps": numbered})


def test_each_mistake_is_found_and_a_clean_ground_has_none():
    z = smooth_hill()
    assert codes(z) == set()
    assert "stairs" in codes(np.floor(z / 2) * 2)
    gappy = z.copy()
    gappy[4:9, 5] = np.nan
    assert codes(gappy) == {"voids"}
    spiked = z.copy()
    spiked[0] += 25
    assert codes(spiked) == {"spikes"}
    assert "clipped-top" in codes(np.minimum(z, 40))
    assert "noise" in codes(z + np.random.default_rng(1).normal(0, 1, z.shape))
    assert "slanted" in codes(z.ravel()[: 160 * 174].reshape(160, 174))
    assert codes(np.random.default_rng(1).random(z.shape) * 90) == {"scrambled"}
    gappy[50, 60] = -3.4e38
    assert codes(gappy) == {"impossible"}


def test_what_mends_a_finding_takes_it_away():
    z = smooth_hill()
    stairs = (np.floor(z / 2) * 2 + 1).astype(np.float32)
    clean = un_terraced(stairs, GRID, 2.0)
    assert "stairs" not in codes(clean)
    assert np.abs(clean - stairs).max() <= 1 + 1e-4
    rms = [float(np.sqrt(np.mean((slope(a, GRID) - slope(z, GRID)) ** 2))) for a in (stairs, clean)]
    assert rms[1] < 0.3 * rms[0]
    spiked = z.copy()
    spiked[0] += 25
    assert "spikes" not in codes(mended_edges(spiked, 1))
    assert mended_edges(z, 3)[10:-10, 10:-10] == pytest.approx(z[10:-10, 10:-10])


def test_every_finding_with_a_place_has_a_map(tmp_path):
    _, ev = evaluation(tmp_path, document(rows=160, cols=180))
    z = smooth_hill()
    z[80:] += 60
    lay(ev, ev.graph.stage().ground, z)
    found = {f.code: f for f in find_all(z, ev.home, ONE)}
    assert found["row-jumps"].where is not None
    shown = ev.map("finding:row-jumps")
    assert (shown[79:81] == 1).all()
    assert shown.sum() == 2 * 180


def test_un_terracing_keeps_a_cliff():
    z = smooth_hill()
    z[:, 120:] += 40
    clean = un_terraced((np.floor(z / 2) * 2).astype(np.float32), GRID, 2.0)
    assert float(np.median(clean[:, 120] - clean[:, 119])) > 36


def test_gaps_in_a_plane_are_filled_with_the_plane():
    plane = (np.arange(60)[None, :] * 0.5 + np.arange(50)[:, None]).astype(np.float32)
    gappy = plane.copy()
    gappy[10:22, 12:30] = np.nan
    filled = fill_voids(gappy)
    assert np.abs(filled - plane).max() < 0.4
    there = ~np.isnan(gappy)
    assert (filled[there] == gappy[there]).all()


def test_softening_reaches_its_angle_and_leaves_gentle_ground():
    z = smooth_hill()
    z[:, 120:] += 60
    soft = softened(z, GRID, 40, ONE)
    assert slope(z, GRID).max() > 80
    assert slope(soft, GRID).max() < 46
    assert soft[:, :80] == pytest.approx(z[:, :80], abs=0.05)


def test_smoothing_keeps_edges_only_when_told():
    z = smooth_hill()
    z[:, 120:] += 60
    noisy = z + np.random.default_rng(2).normal(0, 0.5, z.shape).astype(np.float32)
    kept, blurred = smoothed(noisy, GRID, 12, 3.0, ONE), smoothed(noisy, GRID, 12, None, ONE)
    step = [float(np.median(a[:, 120] - a[:, 119])) for a in (kept, blurred)]
    assert step[0] > 50 > step[1]
    assert np.abs(kept - z)[:, :100].mean() < 0.6 * np.abs(noisy - z)[:, :100].mean()


def test_refining_gives_detail_without_moving_the_ground():
    z = smooth_hill()
    fine = GRID.resized(2 * GRID.rows - 1, 2 * GRID.cols - 1)
    plain = refined(z, GRID, fine, 0, 1, ONE)
    rough = refined(z, GRID, fine, 2.0, 1, ONE)
    assert plain[::2, ::2] == pytest.approx(z, abs=0.6)
    assert 0.01 < np.abs(rough - plain).mean() < 1
    assert np.abs(rough - plain).max() <= 1.01


@given(st.floats(-30, 30), st.floats(0, 10))
def test_flattening_is_exact_outside_its_blend(height, blend):
    z = np.linspace(-60, 60, 400).astype(np.float32)
    flat = flattened(z, "below", height, blend)
    assert flat.min() >= height - 1e-3
    clear = z > height + blend + 1e-3
    assert flat[clear] == pytest.approx(z[clear], abs=1e-3)
    assert (np.diff(flat) >= -1e-4).all()
    assert flattened(z, "above", height, blend).max() <= height + 1e-3


@pytest.mark.parametrize("how", ["right", "half", "left", "north_south", "east_west", "transpose"])
def test_turning_moves_samples_and_swaps_spacing(tmp_path, how):
    a = np.array([[1, 2, 3], [4, 5, 6]], np.float32)
    expected = {
        "north_south": [[4, 5, 6], [1, 2, 3]],
        "transpose": [[1, 4], [2, 5], [3, 6]],
        "right": [[4, 1], [5, 2], [6, 3]],
        "half": [[6, 5, 4], [3, 2, 1]],
        "left": [[3, 6], [2, 5], [1, 4]],
        "east_west": [[3, 2, 1], [6, 5, 4]],
    }
    assert (turned(a, how) == expected[how]).all()
    project = parse_project(with_steps({"kind": "turn", "how": how}, cols=130))
    swapped = how in ("right", "left", "transpose")
    assert (project.ground.home.rows, project.ground.home.dx) == ((130, 4.0) if swapped else (127, 5.0))


STEPS = [
    {"kind": "smooth", "radius": 12, "keep": 3},
    {"kind": "soften", "angle": 30},
    {"kind": "slump", "angle": 35},
    {"kind": "erode", "rain": 0.3},
    {"kind": "flatten", "height": 200, "blend": 4},
    {"kind": "raise", "by": 7},
    {"kind": "multiply", "factor": 1.5, "about": 20},
    {"kind": "un_terrace", "step": 3.0},
    {"kind": "mend_edges", "samples": 2},
    {"kind": "bed", "thickness": 30, "hardness": 1},
    {"kind": "carve", "threshold": 500, "depth": 5},
]


@pytest.mark.parametrize("step", STEPS, ids=lambda step: step["kind"])
def test_a_step_acts_only_where_it_is_told(tmp_path, step):
    where = limited(band("height", 150, 400, fade_low=0))
    _, ev = evaluation(tmp_path, with_steps({**step, "where": where}))
    before, after = ev.map("at:0:height"), ev.map("reading:height")
    outside = before < 150
    assert (after[outside] == before[outside]).all()
    if step["kind"] != "mend_edges":
        assert (after != before).any()


def test_steps_go_in_order_and_muted_ones_do_nothing(tmp_path):
    raise_, double = {"kind": "raise", "by": 100}, {"kind": "multiply", "factor": 2, "about": 0}
    _, ev = evaluation(tmp_path, with_steps(raise_, double))
    plain = ev.map("at:0:height")
    assert ev.map("reading:height") == pytest.approx((plain + 100) * 2)
    assert ev.ends() == pytest.approx((240, 840))
    _, other = evaluation(tmp_path, with_steps(double, raise_))
    assert other.map("reading:height") == pytest.approx(plain * 2 + 100)
    _, muted = evaluation(tmp_path, with_steps({**raise_, "muted": True}, double))
    assert muted.map("reading:height") == pytest.approx(plain * 2)
    # The delivery's coding follows the prepared ground.
    assert make_plan(ev.project, ev.heights()).ends == pytest.approx((240, 840))


def test_crop_resample_and_refine_change_the_grid_and_nothing_else(tmp_path):
    crop = {"kind": "crop", "west": 100, "north": 80, "width": 250, "length": 200}
    project, ev = evaluation(tmp_path, with_steps(crop))
    home = project.ground.home
    assert (home.rows, home.cols, home.width, home.length) == (51, 51, 250, 200)
    whole = ev.map("at:0:height", ev.graph.home_of("at:0:height"))
    assert (ev.map("reading:height") == whole[20:71, 20:71]).all()
    steep = ev.map("at:0:slope", ev.graph.home_of("at:0:slope"))[20:71, 20:71]
    assert ev.map("reading:slope")[1:-1, 1:-1] == pytest.approx(steep[1:-1, 1:-1], abs=1e-4)
    project, ev = evaluation(tmp_path, with_steps({"kind": "resample", "rows": 64, "cols": 64}, {"kind": "refine"}))
    assert project.ground.home.shape == (127, 127)
    assert project.ground.home.width == pytest.approx(630)


def test_a_ground_with_gaps_is_not_delivered_until_they_are_filled():
    gappy = parse_project(with_steps(voids=5))
    with pytest.raises(BadDocument, match="without a height"):
        make_plan(gappy)
    some = {"kind": "fill_voids", "where": limited(band("slope", 30, 90))}
    with pytest.raises(BadDocument, match="without a height"):
        make_plan(parse_project(with_steps(some, voids=5)))
    make_plan(parse_project(with_steps({"kind": "fill_voids"}, voids=5)))


@pytest.mark.parametrize(
    ("steps", "words"),
    [
        ([{"kind": "crop", "width": 9, "length": 9, "where": limited(band("slope", 1, 2))}], "all of the ground"),
        ([{"kind": "raise", "where": limited(band("slope", 9, 2))}], "must not be above"),
        ([{"kind": "raise", "where": limited(band("nothing", 1, 2))}], "no reading called"),
        ([{"kind": "dance"}], "steps"),
        ([{"kind": "multiply", "factor": 0}], "factor"),
        ([{"kind": "resample", "rows": 9000, "cols": 10}], "rows"),
    ],
)
def test_steps_that_make_no_sense_are_refused(steps, words):
    with pytest.raises(MeadowError, match=words):
        parse_project(with_steps(*steps))


def test_known_points_fix_all_heights(tmp_path):
    ends = hills(127, 127)
    first = {"row": 0, "col": 0, "stored": 0.0, "metres": 10}
    second = {"row": 9, "col": 9, "stored": 32767.5, "metres": 110}
    data = with_steps(heights="points", points={"first": first, "second": second})
    _, ev = evaluation(tmp_path, data)
    assert ev.ends() == pytest.approx((10, 210))
    row, col = np.argwhere(ends == 0)[0]
    assert ev.map("reading:height")[row, col] == pytest.approx(10)
    with pytest.raises(BadNumber, match="Two known points"):
        parse_project(with_steps(heights="points"))


def test_a_draft_is_quick_to_know_of_and_like_the_real_thing(tmp_path):
    _, ev = evaluation(tmp_path, with_steps({"kind": "erode"}))
    scour = ev.graph.reading("scour")
    assert not ev.is_quick(scour)
    # Begun as one: what its water and its heights need is part of it.
    assert [node.op.name for node in ev.undone(scour)] == ["erosion"]
    rough = ev.as_draft()
    assert rough.map("reading:height", ev.home) == pytest.approx(ev.map("reading:height"), abs=30)
    assert ev.is_quick(ev.graph.reading("height"))
    ev.map("reading:scour")
    assert ev.is_quick(scour)


def test_long_work_is_on_the_board_and_can_be_stopped(tmp_path):
    project, ev = evaluation(tmp_path, with_steps())
    board = ev.engine.board
    seen: list[str] = []

    def stop() -> bool:
        for task, _ in board.of("me"):
            seen.append(task.title)
            board.stop("me", task.key)
        return False

    mine = ev.engine.evaluation(project, cancel=stop, owner="me")
    with pytest.raises(MeadowError, match="Stopped as asked"):
        mine.map("reading:scour")
    assert seen[0] == "Erosion run"
    assert board.of("me") == []
    assert mine.engine.evaluation(project).map("reading:scour").max() > 0


def test_values_along_a_line(tmp_path):
    _, ev = evaluation(tmp_path, with_steps())
    line = profile_line(ev, "reading:slope", (10, 10), (10, 60))
    assert line["along"][-1] == 50 * 5
    assert line["heights"] == pytest.approx(ev.map("reading:height")[10, 10:61])
    assert line["values"] == pytest.approx(ev.map("reading:slope")[10, 10:61])
    with pytest.raises(BadNumber, match="not on it"):
        profile_line(ev, "reading:slope", (0, 0), (500, 0))
    with pytest.raises(NotFound, match="steps of preparation"):
        ev.map("at:3:height")


@settings(max_examples=15)
@given(st.integers(0, 3), st.floats(-40, 40))
def test_a_picture_lies_where_it_is_put(tmp_path_factory, quarter, east):
    path = tmp_path_factory.mktemp("pictures") / "p.png"
    grid = Grid(41, 41, 5.0, 5.0)
    pixels = np.zeros((41, 41), np.uint16)
    pixels[5, 30] = 65535
    path.write_bytes(imagecodecs.png_encode(pixels))
    laid = read_channel(path, "luma")
    plain = picture(laid, grid, grid, grid.whole)
    assert plain == pytest.approx(pixels / 65535)
    turned_ = picture(laid, grid, grid, grid.whole, turn=90.0 * quarter)
    assert turned_ == pytest.approx(np.rot90(pixels, -quarter) / 65535, abs=1e-3)
    moved = picture(laid, grid, grid, grid.whole, east=5.0 * round(east / 5))
    shift = round(east / 5)
    assert moved[5, 30 + shift] == pytest.approx(1, abs=1e-4) if 0 <= 30 + shift < 41 else moved.max() < 1e-4
