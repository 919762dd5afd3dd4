"""Recipes: a band dragged under eight lines, whole and windowed final sizes, areas, pointing, scatter."""

from __future__ import annotations

import time
from typing import Any

import numpy as np
from scipy import ndimage

from measure import Row, median_ms, ratio
from zigzag_meadow.core.crew import Crew
from zigzag_meadow.core.evaluate.as_shown import Shown
from zigzag_meadow.core.evaluate.cache import TileCache
from zigzag_meadow.core.evaluate.engine import Engine, Evaluation
from zigzag_meadow.core.grid import Grid, Window, reference_grid
from zigzag_meadow.core.layers.scatter import throw
from zigzag_meadow.core.masks import areas
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.reports.pointed import proposals
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.demo import FOLDER, lantern_moor

FINAL = 4081


def _band(reading: str, low: float, high: float, fade_low: float = 0, fade_high: float = 0) -> dict[str, Any]:
    return {
        "kind": "band",
        "reading": reading,
        "low": low,
        "high": high,
        "fade_low": fade_low,
        "fade_high": fade_high,
    }


COMBINED: list[dict[str, Any]] = [
    {"verb": "leave_out", "source": _band("height", 38, 62, 0, 3)},
    {"verb": "keep_within", "source": _band("height", 60, 400, 10, 40)},
    {"verb": "add", "source": _band("flow", 16000, 1e9, 2)},
    {"verb": "leave_out", "source": {"kind": "mask", "mask": "peat"}},
    {"verb": "strongest", "source": _band("mean_curvature", 0.01, 1, 0.01)},
    {"verb": "levels", "in_low": 0.05, "middle": 1.2},
    {"verb": "weakest", "source": {"kind": "plain", "value": 0.9}},
]
BROKEN = [
    *COMBINED[:3],
    {"verb": "fray"},
    {"verb": "levels", "in_low": 0.1},
    {"verb": "drift"},
    COMBINED[3],
]


def eight_lines(rest: list[dict[str, Any]], low: float, rows: int = 1009, final: int = 1009) -> Project:
    """The demo ground with a mask ``eight``: a band of slope from ``low`` degrees, and the lines of ``rest``."""
    data = lantern_moor().model_dump(mode="json")
    lines = [{"verb": "take", "source": _band("slope", low, 90, 6)}, *rest]
    data["masks"].append(
        {"id": "eight", "name": "Eight lines", "lines": [{"id": f"l{k}", **line} for k, line in enumerate(lines)]}
    )
    if rows != 1009:
        data["ground"]["steps"] = [{"id": "r", "kind": "resample", "rows": rows, "cols": rows}]
    data["delivery"] |= {"rows": final, "cols": final}
    return parse_project(data)


def engine_of(stripes: Stripes) -> Engine:
    crew = Crew(stripes.threads - 1)
    return Engine(stripes, TileCache(), lambda _: FOLDER / "lantern_moor.png", crew=crew)


def _drag(stripes: Stripes, rest: list[dict[str, Any]], rows: int) -> float:
    """Median milliseconds from an unsaved band to the mask."""
    engine = engine_of(stripes)
    first = engine.evaluation(eight_lines(rest, 30, rows))
    first.map("mask:eight", reference_grid(first.home))
    moved = iter([eight_lines(rest, 31 + k / 4, rows) for k in range(20)])

    def one() -> None:
        ev = engine.evaluation(next(moved), keep=False)
        ev.map("mask:eight", reference_grid(ev.home))

    return median_ms(one, 15)


SHOWN = 641
"""Samples that a view of 1280 × 800 shows of the ground's longer side."""


def _moving(stripes: Stripes, line: dict[str, Any]) -> Row:
    """A band dragged below a line that hangs on the whole ground, as large as the screen shows it."""
    engine = engine_of(stripes)
    first = engine.evaluation(eight_lines([line], 30))
    full = reference_grid(first.home)
    first.map("mask:eight", full)
    small = full.resized(SHOWN, SHOWN)
    moved = iter([eight_lines([line], 31 + k / 4) for k in range(20)])

    def one() -> None:
        Shown(engine.evaluation(next(moved), keep=False), small).map("mask:eight", small.whole)

    taken = median_ms(one, 15)
    name = line["verb"].replace("_", " ")
    return Row(f"{name} under a moving hand, 1009² seen at {SHOWN}²", f"{taken:.0f} ms", "<= 60 ms", taken <= 60)


def _final(stripes: Stripes) -> list[Row]:
    ev = engine_of(stripes).evaluation(eight_lines(COMBINED, 30, final=FINAL))
    start = time.perf_counter()
    for row in range(0, FINAL, 512):
        ev.map("mask:eight", ev.project.final, Window(row, min(row + 512, FINAL), 0, FINAL))
    cold = time.perf_counter() - start
    ev = engine_of(stripes).evaluation(eight_lines(COMBINED, 30, final=FINAL))
    ev.map("mask:eight", ev.project.final, Window(0, 512, 0, 512))
    windows = iter(
        Window(512 + 1024 * i, 1536 + 1024 * i, 1024 * j, 1024 * j + 1024) for i in range(3) for j in range(3)
    )
    one = median_ms(lambda: ev.map("mask:eight", ev.project.final, next(windows)), 7)
    return [
        Row(f"recipe of eight lines at {FINAL}², cold", f"{cold:.2f} s", "<= 3 s", cold <= 3),
        Row("the same, a window of 1024²", f"{one:.0f} ms", "<= 300 ms", one <= 300),
    ]


def _areas(stripes: Stripes) -> list[Row]:
    grid = Grid(2048, 2048, 1.0, 1.0)
    rng = np.random.default_rng(3)
    mask = (ndimage.gaussian_filter(rng.random(grid.shape, np.float32), 3) > 0.5).astype(np.float32)

    def widened(by: float) -> float:
        return median_ms(lambda: areas.widened(mask, areas.rim_distance(mask, grid, False, stripes), by, 4), 5)

    near, far = widened(5), widened(500)

    def labelled() -> None:
        label, count = ndimage.label(mask >= 0.5, np.ones((3, 3)))
        size = np.bincount(label.ravel(), minlength=count + 1)
        away, (row, col) = ndimage.distance_transform_edt(label == 0, return_indices=True)
        mask * ((size >= 400)[label[row, col]] | (away > 11.3))

    return [
        Row("widen by 500 m against by 5 m at 2048²", f"{far / near:.2f}x as long", "<= 1.3x", far <= 1.3 * near),
        ratio(
            "distance to the rim at 2048²",
            lambda: areas.rim_distance(mask, grid, False, stripes),
            lambda: ndimage.distance_transform_edt(mask < 0.5),
            3,
        ),
        ratio("specks at 2048², their rims too", lambda: areas.keeping(mask, grid, 400, stripes), labelled, 2),
    ]


def _pointing(ev: Evaluation) -> Row:
    inside = [(1400.0, 800.0), (1900.0, 1300.0), (1200.0, 1100.0)]
    outside = [(2100.0, 2900.0), (2500.0, 2800.0), (3200.0, 800.0)]
    start = time.perf_counter()
    proposals(ev, inside, outside)
    taken = time.perf_counter() - start
    return Row("pointing with 3 + 3 marks at 1009², nothing measured yet", f"{taken:.2f} s", "<= 1 s", taken <= 1)


def rows() -> list[Row]:
    stripes = Stripes()
    plain, broken, large = _drag(stripes, COMBINED, 1009), _drag(stripes, BROKEN, 1009), _drag(stripes, COMBINED, 2017)
    start = time.perf_counter()
    many = len(throw(2000, 2000, 5, 2.0, 1).east)
    thrown = time.perf_counter() - start
    return [
        Row("band drag under eight lines at 1009²: server", f"{plain:.0f} ms", "<= 30 ms", plain <= 30),
        Row("the same with fray and drift below it", f"{broken:.0f} ms", "<= 100 ms", broken <= 100),
        Row("band drag under eight lines at 2017²", f"{1000 / large:.0f} a second", ">= 10 a second", large <= 100),
        *(
            _moving(stripes, line)
            for line in (
                {"verb": "remove_specks", "area": 900},
                {"verb": "fill_holes", "area": 900},
                {"verb": "trickle", "by": 200},
            )
        ),
        *_final(stripes),
        *_areas(stripes),
        _pointing(engine_of(stripes).evaluation(lantern_moor())),
        Row(f"{many} points thrown 2 m apart", f"{thrown:.2f} s", "<= 2 s", thrown <= 2),
    ]
