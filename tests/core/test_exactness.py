"""Readings against surfaces and numbers that are known beforehand."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.support.ground import band, document, evaluation, lay
from zigzag_meadow.core.blur import blur, mirrored
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.ground.heights import in_metres
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.model.kinds import line_kinds, step_kinds
from zigzag_meadow.core.readings.catalogue import READINGS
from zigzag_meadow.core.readings.curvature import curvature_padded
from zigzag_meadow.core.readings.differences import extended, offsets
from zigzag_meadow.core.readings.horizon import horizon_margin, horizon_padded
from zigzag_meadow.core.readings.slope import aspect_padded, slope, slope_padded
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.core.terrain.slumping import LEFT_LYING, slump, steepest_face

ONE = Stripes(1)


def padded(z: np.ndarray, grid: Grid, width: float, wide: bool = True):
    off = offsets(grid, width)
    margin = off.wide_margin if wide else off.margin
    return extended(z.astype(np.float32), grid.whole, grid.whole.grown(*margin)), off


def axes(grid: Grid) -> tuple[np.ndarray, np.ndarray]:
    """Metres south and east of the middle of a grid."""
    y, x = np.mgrid[0 : grid.rows, 0 : grid.cols].astype(np.float64)
    return (y - (grid.rows - 1) / 2) * grid.dy, (x - (grid.cols - 1) / 2) * grid.dx


# Curvature between samples -------------------------------------------------------------------------------------

WIDTHS = [1, 1.1, 1.25, 4 / 3, 1.5, 1.75, 2, 2.4, 2.9, 3, 3.3, 3.7, 4]


@pytest.mark.parametrize("width", WIDTHS)
@pytest.mark.parametrize("cells", [(1.0, 1.0), (0.8, 1.0)])
def test_a_dome_is_as_round_at_every_width(width, cells):
    """z = 40 − r²/400, a dome of radius 200 at its top: curvature 1/200 there, whatever the width in samples."""
    grid = Grid(81, 81, *cells)
    y, x = axes(grid)
    part, off = padded(40 - (x**2 + y**2) / 400, grid, width)
    made = curvature_padded(part, off, "mean", ONE)
    g = np.hypot(x, y) / 200
    # Mean curvature of a paraboloid of revolution: (2 + g²) / (2 R (1 + g²)^1.5).
    exact = (2 + g**2) / (2 * 200 * (1 + g**2) ** 1.5)
    inner = (slice(8, -8), slice(8, -8))
    assert np.abs(made / exact - 1)[inner].max() < 0.005


@pytest.mark.parametrize(("kind", "expected"), [("profile", 0.0071554), ("tangential", 0.0089443)])
@pytest.mark.parametrize("size", [121, 145, 181])
def test_curvature_does_not_hang_on_the_delivered_size(tmp_path, kind, expected, size):
    """The dome 100 − r²/200 at r = 100, on cells of 10 m, at sizes that do not divide each other."""
    data = document(121, 121)
    data["ground"] |= {"spacing_x": 10.0, "spacing_y": 10.0}
    data["readings"] = [{"id": f"{kind}_curvature", "kind": f"{kind}_curvature", "numbers": {"width": 10.0}}]
    _, ev = evaluation(tmp_path, data)
    y, x = axes(ev.home)
    lay(ev, ev.graph.stage(0).ground, (100 - (x**2 + y**2) / 200).astype(np.float32))
    made = ev.map(f"reading:{kind}_curvature", ev.home.resized(size, size))
    row, col = (size - 1) // 2, round((600 + 50) / 1200 * (size - 1))
    east = col / (size - 1) * 1200 - 600
    g = (east / 100) ** 2
    exact = 0.01 / (1 + g) ** 1.5 if kind == "profile" else 0.01 / math.sqrt(1 + g)
    assert made[row, col] == pytest.approx(exact, rel=0.005)
    if abs(east - 50) < 1e-9:
        assert exact == pytest.approx(expected, rel=1e-4)


# Slope of high ground ------------------------------------------------------------------------------------------


def horn(z: np.ndarray, dy: float, dx: float) -> np.ndarray:
    """Horn's slope in degrees with doubles, inside only."""
    n, s = z[:-2], z[2:]
    east = n[:, 2:] + 2 * z[1:-1, 2:] + s[:, 2:] - n[:, :-2] - 2 * z[1:-1, :-2] - s[:, :-2]
    south = s[:, :-2] + 2 * s[:, 1:-1] + s[:, 2:] - n[:, :-2] - 2 * n[:, 1:-1] - n[:, 2:]
    return np.degrees(np.arctan(np.hypot(east / (8 * dx), south / (8 * dy))))


@pytest.mark.parametrize("height", [0.0, 4000.0, 9000.0])
def test_high_ground_is_as_steep_as_low_ground(tmp_path, height):
    """16-bit samples over 20 m at 0.25 m, wherever they lie: at most 0.002° off what doubles give of the samples."""
    rng = np.random.default_rng(8)
    samples = (30000 + 9000 * np.sin(np.mgrid[0:90, 0:110][1] / 9) + 900 * rng.random((90, 110))).astype(np.uint16)
    samples.flat[:2] = 0, 65535
    data = document(90, 110)
    data["ground"] |= {"spacing_x": 0.25, "spacing_y": 0.3, "low": height, "high": height + 20, "water": None}
    project, ev = evaluation(tmp_path, data)
    true = height + samples.astype(np.float64) / 65535 * 20
    base = project.ground.base
    assert (base == 0) == (height == 0)
    lay(ev, ev.graph.stage(0).ground, in_metres(samples, height, height + 20, base))
    made = ev.map("reading:slope")
    assert np.abs(made[1:-1, 1:-1] - horn(true, 0.3, 0.25)).max() < 0.002
    assert np.abs(ev.map("reading:height") - true).max() < 0.0006
    assert ev.ends() == (pytest.approx(true.min(), abs=1e-5), pytest.approx(true.max(), abs=1e-5))


def test_rows_are_differenced_before_they_are_added():
    """The same stored floats, 9000 m up: no digit of their differences is lost."""
    y, x = np.mgrid[0:60, 0:70]
    z = (9000 + 3 * np.sin(x / 9) + 2 * np.cos(y / 7)).astype(np.float32)
    grid = Grid(60, 70, 0.25, 0.25)
    exact = horn(z.astype(np.float64), 0.25, 0.25)
    assert np.abs(slope(z, grid)[1:-1, 1:-1] - exact).max() < 1e-4
    part, off = padded(z, grid, 0.25, wide=False)
    assert np.abs(slope_padded(part, off, ONE)[1:-1, 1:-1] - exact).max() < 1e-4


def test_everything_above_a_base_is_what_it_is_above_zero(tmp_path):
    """Flatten, multiply, water and strata take heights above zero; the base is nobody's business."""
    steps = [
        {"id": "a", "kind": "flatten", "side": "below", "height": 2030.0},
        {"id": "b", "kind": "multiply", "factor": 2.0, "about": 2050.0},
        {"id": "c", "kind": "raise", "by": 7.0},
    ]
    data = document(64, 64)
    data["ground"] |= {"low": 2000, "high": 2100, "water": 2060.0, "steps": steps}
    _, ev = evaluation(tmp_path, data)
    assert ev.project.ground.base == 2050
    z = 2000 + np.linspace(0, 100, 64 * 64).reshape(64, 64)
    lay(ev, ev.graph.stage(0).ground, (z - 2050).astype(np.float32))
    expected = (np.maximum(z, 2030) - 2050) * 2 + 2050 + 7
    assert ev.map("reading:height") == pytest.approx(expected, abs=1e-3)
    assert ev.ends() == (pytest.approx(2017), pytest.approx(2157))
    over = ev.map("reading:height_over_water")
    assert (over[expected <= 2060] == 0).all()
    mask = {"id": "m", "name": "M", "lines": [{"id": "a", "verb": "take", "source": band("height", 2100, 2120)}]}
    ev.project = ev.project.model_validate({**ev.project.model_dump(), "masks": [mask], "layers": [], "sheets": []})
    ev.graph.project = ev.project
    inside = (expected > 2100.001) & (expected < 2119.999)
    assert (ev.map("mask:m")[inside] == 1).all()


@pytest.mark.parametrize("turn", range(8))
def test_a_plane_falls_the_same_way_in_all_eight_orientations(turn):
    """z = 0.6 x + 0.35 y on cells of 3 × 5 m: slope and aspect turn with the axes."""
    grid = Grid(40, 30, 5.0, 3.0)
    y, x = axes(grid)
    z = 0.6 * x - 0.35 * y
    aspect = math.degrees(math.atan2(-0.6, -0.35)) % 360
    if turn & 1:
        z, aspect = z[::-1], (180 - aspect) % 360
    if turn & 2:
        z, aspect = z[:, ::-1], (360 - aspect) % 360
    if turn & 4:
        z, aspect, grid = z.T, (270 - aspect) % 360, Grid(30, 40, 3.0, 5.0)
    part, off = padded(z, grid, 5.0, wide=False)
    steep = math.degrees(math.atan(math.hypot(0.6, 0.35)))
    assert slope_padded(part, off, ONE) == pytest.approx(np.full(grid.shape, steep), abs=1e-3)
    assert aspect_padded(part, off, ONE) == pytest.approx(np.full(grid.shape, aspect), abs=1e-2)


# Blur ----------------------------------------------------------------------------------------------------------


def mirrored_blur(mask: np.ndarray, sy: float, sx: float, registration: str) -> np.ndarray:
    """A Gaussian blur written without the code under test: dense matrices over mirrored indices, in doubles."""

    def matrix(n: int, sigma: float) -> np.ndarray:
        reach = int(6 * sigma) + 2
        weights = np.exp(-0.5 * (np.arange(-reach, reach + 1) / sigma) ** 2)
        weights /= weights.sum()
        period = 2 * n - 2 if registration == "vertex" else 2 * n
        out = np.zeros((n, n))
        for i in range(n):
            for k, w in zip(range(i - reach, i + reach + 1), weights, strict=True):
                j = k % period
                out[i, j if j < n else period - j - (registration == "area")] += w
        return out

    rows, cols = mask.shape
    return matrix(rows, sy) @ mask.astype(np.float64) @ matrix(cols, sx).T


def blurred(mask: np.ndarray, grid: Grid, sigma: float) -> np.ndarray:
    margin = (math.ceil(5 * sigma / grid.dy), math.ceil(5 * sigma / grid.dx))
    wide = grid.whole.grown(*(m // 8 * 8 + 8 for m in margin))
    whole = blur(mirrored(mask, grid.whole, wide, grid.registration), grid, sigma, ONE)
    return whole[-wide.row0 : -wide.row0 + grid.rows, -wide.col0 : -wide.col0 + grid.cols]


@pytest.mark.parametrize("registration", ["vertex", "area"])
@pytest.mark.parametrize("sigma", [3.0, 9.0])
def test_a_blur_mirrors_masks_about_the_border(registration, sigma):
    grid = Grid(60, 70, 4.0, 5.0, registration)
    rows = np.zeros(grid.shape, np.float32)
    rows[:4] = 1
    noise = np.random.default_rng(2).random(grid.shape).astype(np.float32)
    for mask in (rows, noise):
        made = blurred(mask, grid, sigma)
        assert np.abs(made - mirrored_blur(mask, sigma / 4, sigma / 5, registration)).max() < 4e-3
    assert sigma < 4 or blurred(rows, grid, sigma)[0, 35] < 0.97
    assert blurred(np.full(grid.shape, 0.37, np.float32), grid, sigma) == pytest.approx(0.37, abs=1e-6)


@pytest.mark.parametrize("sigma", [2.0, 8.0, 25.0, 50.0])
def test_a_blur_keeps_the_mean_over_the_ground(sigma):
    """Area samples each stand for the same ground; vertex samples on the border for half as much."""
    mask = np.random.default_rng(5).random((64, 80)).astype(np.float32)
    area = Grid(64, 80, 4.0, 4.0, "area")
    assert blurred(mask, area, sigma).mean(dtype=np.float64) == pytest.approx(mask.mean(dtype=np.float64), abs=1e-5)
    vertex = Grid(65, 81, 4.0, 4.0, "vertex")
    weight = np.ones(vertex.shape)
    for edge in (weight[0], weight[-1], weight[:, 0], weight[:, -1]):
        edge *= 0.5
    some = np.random.default_rng(6).random(vertex.shape).astype(np.float32)
    made = blurred(some, vertex, sigma)
    assert np.average(made, weights=weight) == pytest.approx(np.average(some, weights=weight), abs=1e-5)


@pytest.mark.parametrize("verb", ["blur", "sharpen"])
def test_lines_of_recipes_blur_up_to_the_border_from_any_window(tmp_path, verb):
    data = document(127, 127)
    north = {"id": "n", "verb": "take", "source": band("height", 100, 1000)}
    data["masks"] = [{"id": "m", "name": "M", "lines": [north, {"id": "b", "verb": verb, "radius": 60}]}]
    data |= {"layers": [], "sheets": []}
    _, ev = evaluation(tmp_path, data)
    z = np.zeros((127, 127), np.float32)
    z[:4] = 200
    lay(ev, ev.graph.stage(0).ground, z)
    whole = ev.map("mask:m")
    exact = mirrored_blur((z > 100).astype(np.float64), 30 / 4, 30 / 5, "vertex")
    if verb == "blur":
        assert np.abs(whole - exact).max() < 4e-3
        assert whole[0, 60] == pytest.approx(exact[0, 60], abs=2e-3)
        assert whole[0, 60] < 0.6
    part = Window(0, 40, 10, 127)
    assert np.array_equal(ev.map("mask:m", ev.home, part), whole[0:40, 10:127])


# Occlusion on oblong cells -------------------------------------------------------------------------------------


def surface(y: np.ndarray, x: np.ndarray) -> np.ndarray:
    return 40 * np.sin(x / 170) * np.cos(y / 210) + 25 * np.sin((x + y) / 130)


def reference_occlusion(y: np.ndarray, x: np.ndarray, radius: float) -> np.ndarray:
    """By brute force on the surface itself: 64 directions in metres, a look every 15 m."""
    here, tiny = surface(y, x), 1e-3
    gx = (surface(y, x + tiny) - surface(y, x - tiny)) / (2 * tiny)
    gy = (surface(y + tiny, x) - surface(y - tiny, x)) / (2 * tiny)
    total = np.zeros(y.shape)
    for angle in np.arange(64) * 2 * np.pi / 64:
        dy, dx = np.sin(angle), np.cos(angle)
        own = gx * dx + gy * dy
        horizon = own.copy()
        for s in np.arange(15.0, radius + 1, 15.0):
            horizon = np.maximum(horizon, (surface(y + dy * s, x + dx * s) - here) / s)
        total += (horizon / np.hypot(1, horizon) - own / np.hypot(1, own)) / 64
    return np.clip(total, 0, 1)


@pytest.mark.parametrize("cells", [(30.0, 30.0), (30.0, 90.0), (90.0, 30.0), (30.0, 52.0)])
def test_occlusion_looks_in_metres_not_in_cells(cells):
    dy, dx = cells
    grid = Grid(int(1500 / dy), int(1800 / dx), dy, dx)
    my, mx = horizon_margin(grid, 400.0)
    rows, cols = np.mgrid[-my : grid.rows + my, -mx : grid.cols + mx].astype(np.float64)
    y, x = rows * dy, cols * dx
    inner = (slice(my, -my), slice(mx, -mx))
    made = horizon_padded(surface(y, x).astype(np.float32), grid, 400.0, "occlusion", ONE)
    exact = reference_occlusion(y[inner], x[inner], 400.0)
    assert np.abs(made - exact).max() < 0.025
    assert np.abs(made - exact).mean() < 0.008
    plane = horizon_padded((0.3 * x + 0.2 * y).astype(np.float32), grid, 400.0, "occlusion", ONE)
    assert plane.max() < 1e-5


# Talus ---------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("angle", [28.0, 35.0, 45.0])
@pytest.mark.parametrize("cells", [(2.0, 2.0), (2.0, 3.0)])
def test_slumped_ground_rests_at_the_angle_that_was_asked_for(angle, cells):
    grid = Grid(61, 61, *cells)
    y, x = axes(grid)
    cliff = np.where(x + 0.3 * y > 0, 30.0, 0.0) + 5 * np.exp(-(x**2 + y**2) / 90)
    after = slump(cliff.astype(np.float32), grid, angle)
    assert angle - 3 < steepest_face(after, grid) <= angle + 0.3
    assert LEFT_LYING <= 0.3
    assert after.sum(dtype=np.float64) == pytest.approx(cliff.astype(np.float32).sum(dtype=np.float64), rel=1e-6)


# Defaults ------------------------------------------------------------------------------------------------------


@settings(max_examples=60)
@given(
    st.integers(8, 8193),
    st.integers(8, 8193),
    st.floats(1e-3, 10000, allow_subnormal=False),
    st.floats(1e-3, 10000, allow_subnormal=False),
)
def test_defaults_obey_their_own_bounds_on_any_ground(rows, cols, dy, dx):
    """Also of a ground 120 km wide, where a share of its side was more than the most."""
    home = Grid(rows, cols, dy, dx)
    for reading in READINGS:
        for param in reading.params:
            default = param.default_on(home)
            assert param.checked(default, home, reading.title) == default
    for kind in (*line_kinds(home), *step_kinds(home, 120.0)):
        for slot in kind.slots:
            if slot.kind in ("number", "optional"):
                assert slot.low <= float(slot.value) <= slot.high, (kind.title, slot)


def test_a_reading_is_made_with_its_defaults_on_a_very_wide_ground(tmp_path):
    data = document(121, 121)
    data["ground"] |= {"spacing_x": 1000.0, "spacing_y": 1000.0, "high": 4000, "low": 0}
    _, ev = evaluation(tmp_path, {**data, "masks": [], "layers": [], "sheets": []})
    assert np.isfinite(ev.map("reading:relative_height")).all()
    parse_project({**data, "masks": [], "layers": [], "sheets": []})
