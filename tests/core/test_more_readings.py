"""Relief, light, water, erosion and breakup against analytic ground, other programs and conservation."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import ndimage

from tests.support.ground import document, evaluation, hills, lay
from zigzag_meadow.core.blur import blur
from zigzag_meadow.core.errors import BadNumber, Cancelled
from zigzag_meadow.core.evaluate.cache import TileCache
from zigzag_meadow.core.evaluate.engine import Engine
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.masks.algebra import wrapped_band
from zigzag_meadow.core.readings.catalogue import READINGS
from zigzag_meadow.core.readings.channels import channel_shape, height_above
from zigzag_meadow.core.readings.curvature import CURVATURES, curvature_padded
from zigzag_meadow.core.readings.differences import extended, offsets
from zigzag_meadow.core.readings.disc import disc_margin, relative_padded
from zigzag_meadow.core.readings.horizon import horizon_margin, horizon_padded
from zigzag_meadow.core.readings.noise import NOISE_KINDS, noise
from zigzag_meadow.core.readings.ruggedness import ruggedness_padded
from zigzag_meadow.core.readings.slope import aspect_padded
from zigzag_meadow.core.readings.spreading import spreading, wetness
from zigzag_meadow.core.readings.statistics import summary
from zigzag_meadow.core.readings.sun import sunlit
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.core.terrain.distance import FAR, distance_to, nearest
from zigzag_meadow.core.terrain.erosion import erode
from zigzag_meadow.core.terrain.filling import fill_depressions
from zigzag_meadow.core.terrain.flow import OUT, directions
from zigzag_meadow.core.terrain.slumping import slump
from zigzag_meadow.demo import FOLDER, lantern_moor

ONE = Stripes(1)
GRID = Grid(41, 57, 2.0, 3.0)
Y = (np.arange(GRID.rows) * GRID.dy)[:, None]
X = (np.arange(GRID.cols) * GRID.dx)[None, :]


def padded(z, grid, width):
    off = offsets(grid, width)
    return extended(z.astype(np.float32), grid.whole, grid.whole.grown(*off.margin)), off


def dome(sign: float = 1.0):
    grid = Grid(41, 41, 10.0, 10.0)
    offset = (np.arange(41) - 20) * 10.0
    z = sign * (100 - (offset[:, None] ** 2 + offset[None, :] ** 2) / 200)
    return z.astype(np.float32), grid


def test_the_dome_and_the_bowl_have_the_published_numbers():
    for sign, aspect, profile, tangential in ((1, 90, 0.0071554, 0.0089443), (-1, 270, -0.0071554, -0.0089443)):
        z, grid = dome(sign)
        p, off = padded(z, grid, 10.0)
        assert aspect_padded(p, off, ONE)[20, 25] == pytest.approx(aspect, abs=1e-3)
        assert curvature_padded(p, off, "profile", ONE)[20, 25] == pytest.approx(profile, abs=2e-6)
        assert curvature_padded(p, off, "tangential", ONE)[20, 25] == pytest.approx(tangential, abs=2e-6)
        margin = disc_margin(grid, 14.2)
        wide = extended(z, grid.whole, grid.whole.grown(*margin))
        assert relative_padded(wide, grid, 14.2, ONE)[20, 25] == pytest.approx(sign * 0.75, abs=1e-4)
        # Level at the top: no fall line, so what bends is the surface.
        assert curvature_padded(p, off, "plan", ONE)[20, 20] == pytest.approx(sign * 0.01, abs=1e-5)


def test_a_ridge_bends_along_its_fall_line_only():
    z = -(X**2) / 200 + 0 * Y
    p, off = padded(z, GRID, 3.0)
    assert np.abs(curvature_padded(p, off, "tangential", ONE)[:, 5:-5]).max() < 1e-6
    assert curvature_padded(p, off, "profile", ONE)[20, 25] > 0.0009


@pytest.mark.parametrize(
    ("z", "aspect"), [(X + 0 * Y, 270), (-X + 0 * Y, 90), (-Y + 0 * X, 180), (Y + 0 * X, 0), (-3 * X - 4 * Y, 143.1301)]
)
@pytest.mark.parametrize("width", [3.0, 5.0, 7.5])
def test_planes_have_one_aspect_no_curvature_and_no_occlusion(z, aspect, width):
    p, off = padded(z, GRID, width)
    turned = (aspect_padded(p, off, ONE) - aspect + 180) % 360 - 180
    assert np.abs(turned).max() < 1e-3
    for kind in CURVATURES:
        assert np.abs(curvature_padded(p, off, kind, ONE)).max() < 2e-5
    margin = horizon_margin(GRID, 20.0)
    open_ = np.pad(z.astype(np.float32), [(m, m) for m in margin], constant_values=-np.inf)
    assert np.abs(horizon_padded(open_, GRID, 20.0, "occlusion", ONE)).max() < 1e-5


def test_level_ground_has_no_aspect_and_sees_all_of_the_sky():
    z = np.full(GRID.shape, 7, np.float32)
    p, off = padded(z, GRID, 3.0)
    assert np.isnan(aspect_padded(p, off, ONE)).all()
    assert ruggedness_padded(p, off, ONE).max() == 0
    margin = horizon_margin(GRID, 15.0)
    open_ = np.pad(z, [(m, m) for m in margin], constant_values=-np.inf)
    assert (horizon_padded(open_, GRID, 15.0, "sky", ONE) == 1).all()
    with pytest.raises(BadNumber, match="at least the spacing"):
        horizon_padded(open_, GRID, 1.0, "sky", ONE)


def test_the_sky_over_a_round_pit_is_a_cap():
    """In the middle of a round pit with walls of 45° half of the sky's light is left: cos² 45°."""
    grid = Grid(201, 201, 1.0, 1.0)
    r = np.hypot(*(np.mgrid[0:201, 0:201] - 100.0))
    z = np.clip(r, 0, 60).astype(np.float32)
    margin = horizon_margin(grid, 60.0)
    open_ = np.pad(z, [(m, m) for m in margin], constant_values=-np.inf)
    sky = horizon_padded(open_, grid, 60.0, "sky", ONE)[100, 100]
    occluded = horizon_padded(open_, grid, 60.0, "occlusion", ONE)[100, 100]
    assert sky == pytest.approx(0.5, abs=0.02)
    assert occluded == pytest.approx(np.sin(np.pi / 4), abs=0.02)


def test_a_wall_casts_a_shadow_as_long_as_it_should_be():
    grid = Grid(61, 91, 2.0, 3.0)
    z = np.zeros(grid.shape, np.float32)
    z[:, 60] = 30
    lit = sunlit(z, grid, 90, 45)
    shadow = np.nonzero(lit[30] < 0.5)[0]
    # 30 m high and the sun 45° in the east: 30 m of shadow to the west, ten samples of 3 m.
    assert (shadow.min(), shadow.max()) in ((50, 59), (51, 59))
    from_north = np.zeros(grid.shape, np.float32)
    from_north[10] = 24
    lit = sunlit(from_north, grid, 0, 45)
    assert np.nonzero(lit[:, 40] < 0.5)[0].max() in (21, 22)
    assert (sunlit(z, grid, 270, 80)[:, :60] == 1).all()


@settings(max_examples=25)
@given(st.integers(6, 30), st.integers(6, 30), st.integers(0, 10**6))
def test_spreading_water_loses_none_and_distances_are_exact(rows, cols, seed):
    rng = np.random.default_rng(seed)
    z = rng.integers(-9, 9, (rows, cols)).astype(np.float32)
    grid = Grid(rows, cols, 2.0, 3.0)
    filled = fill_depressions(z)
    code = directions(filled, grid)
    area = spreading(filled, code, grid)
    leaves = np.zeros(z.shape, bool)
    lower = np.zeros(z.shape, bool)
    p = np.pad(filled, 1, constant_values=np.inf)
    for dr in (-1, 0, 1):
        for dc in (-1, 0, 1):
            lower |= p[1 + dr : 1 + dr + rows, 1 + dc : 1 + dc + cols] < filled
    leaves = (code == OUT) & ~lower
    assert area[leaves].sum() == pytest.approx(z.size * 6, rel=1e-5)
    marked = rng.random(z.shape) < 0.05
    metres, at = nearest(marked, grid)
    if marked.any():
        assert metres == pytest.approx(ndimage.distance_transform_edt(~marked, sampling=(2, 3)), abs=1e-3)
        assert marked.ravel()[at].all()
    else:
        assert (metres == FAR).all()


def test_water_measures_on_a_valley():
    """A V-shaped valley running south: everything drains to its middle line."""
    grid = Grid(60, 41, 2.0, 3.0)
    z = (np.abs(np.arange(41) - 20) * 3.0 + 0 * np.arange(60)[:, None] - np.arange(60)[:, None] * 0.2).astype(
        np.float32
    )
    filled = fill_depressions(z)
    code = directions(filled, grid)
    wet = np.zeros(grid.shape, bool)
    wet[:, 20] = True
    over = height_above(z, code, wet)
    assert over[30, 20] == 0
    assert over[30, 25] == pytest.approx(15, abs=1.5)
    assert distance_to(wet, grid)[7, 12] == 24
    area = np.where(wet, 1e6, 1).astype(np.float32)
    depth, width = channel_shape(area, grid, 1e5, 12.0, 2.0)
    assert depth[30, 20] == 2
    assert depth[30, 21] == pytest.approx(2 * (1 - 0.25), abs=1e-5)
    assert (depth[30, 22], width[30, 22], width[30, 21]) == (0, 0, 12)
    assert wetness(np.float32([100.0]), np.float32([45.0]), 1.0)[0] == pytest.approx(np.log(100), abs=1e-5)


def test_erosion_keeps_all_earth_and_does_not_depend_on_who_runs_it():
    grid = Grid(90, 110, 4.0, 5.0)
    z = (hills(90, 110) / 200).astype(np.float32)
    before = z.copy()
    told: list[float] = []
    run = erode(z, grid, rain=0.5, strength=0.6, seed=4, tell=told.append)
    again = erode(z, grid, rain=0.5, strength=0.6, seed=4)
    assert (z == before).all()
    assert run.error < 1e-3
    assert run.ground.tobytes() == again.ground.tobytes()
    moved = float((run.ground - z).sum(dtype=np.float64))
    gone = float(run.scour.sum(dtype=np.float64)) * run.left
    assert abs(moved + gone) < 1e-3 * float(run.scour.sum())
    assert (run.ground - z) == pytest.approx(run.deposition - run.scour, abs=2e-3)
    assert told == sorted(told)
    hard = erode(z, grid, rain=0.5, strength=0.6, seed=4, hardness=np.ones(z.shape, np.float32))
    assert hard.scour.max() == 0
    with pytest.raises(Cancelled):
        erode(z, grid, rain=0.5, strength=0.6, seed=4, cancel=lambda: True)


def test_slumping_stops_at_its_angle_and_keeps_all_earth():
    grid = Grid(60, 60, 2.0, 3.0)
    z = np.zeros(grid.shape, np.float32)
    z[20:40, 20:40] = 30
    after = slump(z, grid, 35)
    assert after.sum(dtype=np.float64) == pytest.approx(z.sum(), rel=1e-6)
    down = np.abs(np.diff(after, axis=0)).max() / 2
    across = np.abs(np.diff(after, axis=1)).max() / 3
    assert max(down, across) < np.tan(np.radians(36))
    assert (slump(z, grid, 35, stripes=Stripes(2)) == after).all()


@pytest.mark.parametrize("kind", NOISE_KINDS)
def test_noise_is_the_same_place_for_place_on_every_grid(kind):
    home = Grid(65, 97, 4.0, 4.0)
    fine = home.resized(129, 193)
    numbers = {"kind": kind, "size": 120.0, "octaves": 3, "seed": 9}
    a, b = (noise(g, g.whole, **numbers) for g in (home, fine))
    assert np.abs(b[::2, ::2] - a).max() < 1e-4
    part = Window(10, 30, 5, 60)
    assert (noise(home, part, **numbers) == a[10:30, 5:60]).all()
    assert (noise(home, home.whole, **numbers, stripes=Stripes(2)) == a).all()
    assert 0 <= a.min() <= a.max() <= 1
    assert (noise(home, home.whole, **{**numbers, "seed": 10}) != a).mean() > 0.9


@pytest.mark.parametrize("kind", NOISE_KINDS)
def test_noise_along_an_axis_is_the_noise_of_every_other_direction(kind):
    """Rows along an axis are made in another way than single places: a hair's breadth turned they are those."""
    grid = Grid(60, 70, 3.0, 2.0)
    numbers = {"kind": kind, "size": 70.0, "octaves": 4.5, "seed": 9, "stretch": 2.0}
    for direction in (0, 90, 180, 270):
        rows, places = (noise(grid, grid.whole, **numbers, direction=direction + by) for by in (0, 1e-7))
        assert np.abs(rows - places).max() < 2e-5
    # Features smaller than a sample: their mean, not a lattice as large as memory.
    assert noise(grid, grid.whole, **{**numbers, "size": 1e-4}).std() < 0.4


def test_fine_octaves_fade_where_samples_are_too_far_apart():
    coarse = Grid(33, 33, 32.0, 32.0)
    z = noise(coarse, coarse.whole, kind="gradient", size=40.0, octaves=8, seed=1)
    assert z.std() < 0.05


@pytest.mark.parametrize("sigma", [1.5, 6.0, 25.0])
def test_blur_agrees_with_a_gaussian_and_keeps_planes(sigma):
    grid = Grid(240, 260, 2.0, 2.0)
    z = np.random.default_rng(3).random(grid.shape, np.float32)
    ours, theirs = blur(z, grid, 2 * sigma), ndimage.gaussian_filter(z, sigma)
    inner = slice(100, 140)
    assert np.abs(ours - theirs)[inner, inner].max() < 0.06 * theirs[inner, inner].std() + 1e-4
    plane = (np.arange(260)[None, :] * 0.5 - np.arange(240)[:, None]).astype(np.float32)
    assert np.abs(blur(plane, grid, 2 * sigma) - plane).max() < 2e-3


def test_a_band_of_directions_runs_through_north():
    v = np.array([[350, 10, 30, 90, 180, 300, 320, np.nan]], np.float32)
    band = wrapped_band(v, 330, 30, 20, 20, False)
    assert band[0] == pytest.approx([1, 1, 1, 0, 0, 0, 0.5, 0], abs=1e-6)
    assert (wrapped_band(v, 0, 360, 0, 0, False)[0, :7] == 1).all()


def test_a_summary_leaves_out_what_has_no_value():
    found = summary(np.array([[1, 3, np.nan]], np.float32))
    assert (found.low, found.high, found.mean) == (1, 3, 2)
    assert sum(found.counts) == pytest.approx(1)


@pytest.mark.parametrize("kind", READINGS, ids=lambda kind: kind.name)
def test_every_reading_keeps_its_contract(tmp_path, kind):
    """Type, range, gaps in and out, the same from any window and any number of threads."""
    ground = {**document(rows=90, cols=120)["ground"], "voids": 12}
    data = document(rows=90, cols=120, ground=ground)
    maps = []
    for threads in (1, 2):
        _, ev = evaluation(tmp_path, data, threads)
        gappy = (hills(90, 120) / 100).astype(np.float32)
        gappy[40:44, 50:53] = np.nan
        source = ev.graph.stage(0).ground
        lay(ev, source, gappy)
        maps.append(ev.map(f"reading:{kind.name}"))
        part = Window(30, 60, 40, 77)
        fresh = ev.map(f"reading:{kind.name}", ev.home, part)
        assert np.array_equal(fresh, maps[-1][30:60, 40:77], equal_nan=True)
    values = maps[0]
    assert values.dtype == np.float32
    assert np.array_equal(maps[0], maps[1], equal_nan=True)
    gaps = np.isnan(values)
    assert gaps[40:44, 50:53].all()
    if kind.name != "aspect":
        assert gaps.sum() == 12
    there = values[~gaps]
    assert kind.low is None or there.min() >= kind.low - 1e-4
    assert kind.high is None or there.max() <= kind.high + 1e-3


MOOR = FOLDER / "lantern_moor.png"
BOUNDS = {
    "slope": 0.6,
    "relative_height": 0.5,
    "ruggedness": 0.5,
    "texture_stretch": 0.04,
    "occlusion_mid": 0.012,
    "occlusion_far": 0.012,
    "sky_share": 0.012,
    "mean_curvature": 0.0006,
    "altitude": 0.001,
    "strata": 0.03,
}


@pytest.fixture(scope="module")
def moor():
    return Engine(Stripes(2), TileCache(), lambda _: Path(MOOR)).evaluation(lantern_moor())


@pytest.mark.parametrize("name", BOUNDS)
def test_the_same_reading_agrees_at_half_and_double_size(moor, name):
    """Mean difference on the demo between 1009² and the samples it shares with 505² and 2017²."""
    home = moor.map(f"reading:{name}")
    half = moor.map(f"reading:{name}", moor.home.resized(505, 505))
    double = moor.map(f"reading:{name}", moor.home.resized(2017, 2017))
    assert np.abs(double[::2, ::2] - home).mean() < BOUNDS[name]
    assert abs(float(half.mean(dtype=np.float64)) - float(home.mean(dtype=np.float64))) < BOUNDS[name]


def test_whole_ground_readings_are_sampled_from_the_home_grid(moor):
    for name in ("flow", "standing_water", "distance_to_water"):
        home = moor.map(f"reading:{name}")
        double = moor.map(f"reading:{name}", moor.home.resized(2017, 2017))
        np.testing.assert_allclose(double[::2, ::2], home, rtol=1e-4, atol=1e-4)
