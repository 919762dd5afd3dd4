"""Ground whose samples are cells: what is measured, cut and placed on it lies where it lies on the ground."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.ground import document, lay
from zigzag_meadow.core.evaluate.cache import TileCache
from zigzag_meadow.core.evaluate.engine import Engine
from zigzag_meadow.core.evaluate.scattered import scatter_points
from zigzag_meadow.core.grid import Grid, reference_grid, whole_ground_grid
from zigzag_meadow.core.ground.steps.crop import Crop
from zigzag_meadow.core.ground.steps.refine import Refine
from zigzag_meadow.core.ground.steps.resampling import Resample
from zigzag_meadow.core.ground.steps.turn import Turn
from zigzag_meadow.core.map_name import MaskName, ReadingName
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.reports.finals import check_final
from zigzag_meadow.core.reports.height_change import height_change
from zigzag_meadow.core.reports.profile import profile_line
from zigzag_meadow.core.reports.traced import traced
from zigzag_meadow.core.stripes import Stripes

ROWS, COLS, DY, DX = 96, 128, 4.0, 5.0
GRID = Grid(ROWS, COLS, DY, DX, "area")


def plane(grid: Grid) -> np.ndarray:
    """z = 100 + 0.3 east + 0.2 south, at the middles of cells or at vertices, worked out apart."""
    half = 0.5 if grid.registration == "area" else 0.0
    y, x = np.mgrid[0 : grid.rows, 0 : grid.cols] + half
    return (100 + 0.3 * x * grid.dx + 0.2 * y * grid.dy).astype(np.float32)


def on_plane(**more):
    """A project of cells whose file is :func:`plane`."""
    data = document(ROWS, COLS, delivery={"rows": 128, "cols": 128, "target": "equal-maps"})
    data["ground"] |= {"samples": "cells", "heights": "stored", "stored_low": 100, "stored_high": 400, "water": None}
    data = {**data, "masks": [], "layers": [], "sheets": [], **more}
    project = parse_project(data)
    ev = Engine(Stripes(2), TileCache(), lambda _: None).evaluation(project)
    lay(ev, ev.graph.stage(0).ground, plane(GRID))
    return ev


@pytest.mark.parametrize(
    ("step", "shape", "corner"),
    [
        (Refine(id="r", times=2), (192, 256), (0, 0)),
        (Resample(id="r", rows=48, cols=64), (48, 64), (0, 0)),
        (Crop(id="c", west=50, north=40, width=320, length=200), (50, 64), (50, 40)),
    ],
)
def test_steps_make_cells_of_cells(step, shape, corner):
    grid = step.after(GRID)
    assert (grid.shape, grid.registration) == (shape, "area")
    if isinstance(step, Crop):
        assert (grid.width, grid.length) == (320, 200)
    else:
        assert (grid.width, grid.length) == pytest.approx((GRID.width, GRID.length))
    assert step.back(0, 0, GRID) == corner
    ev = on_plane()
    project = ev.project.model_copy(update={"ground": ev.project.ground.model_copy(update={"steps": (step,)})})
    after = ev.engine.evaluation(project)
    assert after.home == grid
    made = after.whole(after.graph.stage().ground)
    meant = plane(grid) + 0.3 * corner[0] + 0.2 * corner[1]
    np.testing.assert_allclose(made[3:-3, 3:-3], meant[3:-3, 3:-3], atol=2e-4)


def test_grids_to_measure_on_are_cells_of_the_same_extent():
    assert Turn(id="t", how="right").after(GRID) == Grid(COLS, ROWS, DX, DY, "area")
    large = Grid(4096, 8192, 0.5, 0.5, "area")
    for grid, shape in ((reference_grid(large), (512, 1024)), (whole_ground_grid(large), (2048, 4096))):
        assert (grid.shape, grid.registration, grid.width, grid.length) == (shape, "area", 4096, 2048)
    for side in (1024, 64):
        small = Grid(side, side, 1.0, 1.0, "area")
        assert reference_grid(small) == small == whole_ground_grid(small)
    assert reference_grid(Grid(1025, 1025, 1.0, 1.0, "area")).shape == (1024, 1024)


def test_readings_of_a_plane_of_cells_are_those_of_the_plane():
    ev = on_plane()
    slope = ev.map(ReadingName("slope"), ev.home)
    np.testing.assert_allclose(slope, np.degrees(np.arctan(np.hypot(0.3, 0.2))), atol=2e-3)
    height = ev.map(ReadingName("height"), ev.project.final)
    # At its corners heights are held to the ground's own.
    np.testing.assert_allclose(height[1:-1, 1:-1], plane(ev.project.final)[1:-1, 1:-1], atol=2e-3)
    relative = ev.map(ReadingName("relative_height"), ev.home)
    np.testing.assert_allclose(relative[30:-30, 30:-30], 0, atol=2e-3)


def test_all_water_of_cells_leaves_the_ground():
    flow = on_plane().map(ReadingName("flow"), GRID)
    # All of it falls to the north-west corner: what arrives there is all that fell.
    assert flow[0, 0] == flow.max() == pytest.approx(GRID.width * GRID.length, rel=1e-6)


def test_places_lie_in_the_middle_of_cells():
    assert GRID.place_of(0, 0) == (2.5, 2.0)
    assert GRID.nearest_to(2.4, 5.9) == (1, 0)
    ev = on_plane()
    start, metres = (300.0, 200.0), 150.0
    points, _ = traced(ev, "contour", start, metres)
    level = [100 + 0.3 * east + 0.2 * south for east, south in points]
    np.testing.assert_allclose(level, 100 + 0.3 * 300 + 0.2 * 200, atol=0.02)
    first = traced(ev, "flow", start, metres)[0][0]
    assert np.abs(np.subtract(first, start)).max() <= 2.5
    assert first[0] % DX == 2.5
    assert first[1] % DY == 2.0
    line = profile_line(ev, ReadingName("slope"), (0, 0), (ROWS - 1, 0))
    assert line["along"][-1] == pytest.approx((ROWS - 1) * DY)
    np.testing.assert_allclose(line["heights"][[0, -1]], [101.15, 101.15 + 0.2 * (ROWS - 1) * DY], atol=1e-3)


def test_what_is_scattered_stands_on_the_ground_of_its_place():
    ev = on_plane(scatters=[{"id": "stones", "name": "Stones", "density": 0.2, "distance": 4.0}])
    east, south, height = scatter_points(ev, "stones").points[:, :3].T
    inside = (east > 5) & (east < GRID.width - 5) & (south > 5) & (south < GRID.length - 5)
    assert inside.sum() > 50
    np.testing.assert_allclose(height[inside], (100 + 0.3 * east + 0.2 * south)[inside], atol=1e-2)


def test_the_final_of_cells_is_checked_on_its_cells():
    line = {"id": "a", "verb": "take", "source": {"kind": "band", "reading": "height", "low": 150, "high": 200}}
    ev = on_plane(masks=[{"id": "m", "name": "M", "lines": [line]}])
    found = check_final(ev, "m")
    final = ev.project.final
    there = ev.map(MaskName("m"), final)
    assert (found.rows, found.cols) == final.shape == there.shape
    assert found.worst >= 0.5
    assert {place.east % DX for place in found.places} == {2.5}


def test_another_file_of_vertices_is_compared_over_the_same_ground():
    before = on_plane()
    ground = before.project.ground.model_copy(update={"samples": "border", "rows": ROWS + 1, "cols": COLS + 1})
    after = before.engine.evaluation(before.project.model_copy(update={"ground": ground}))
    lay(after, after.graph.stage(0).ground, plane(Grid(ROWS + 1, COLS + 1, DY, DX)))
    assert height_change(before, after).largest < 1e-3
