"""Two heightmaps as one ground: the higher, the lower, added, or one in the place of the other where a recipe says."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.ground import band, document, hills, limited, png16
from zigzag_meadow.core.errors import MeadowError
from zigzag_meadow.core.evaluate.cache import TileCache
from zigzag_meadow.core.evaluate.engine import Engine
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.model.uses import words_for
from zigzag_meadow.core.stripes import Stripes

OTHER = "1" * 64
STEP = {"id": "c", "kind": "combine", "asset": OTHER, "file_name": "more.png", "rows": 127, "cols": 127}


def ground(folder, step, values, samples="border", **more):
    """Heights before and after a step that reads ``values`` as a second file; 10 m at stored 0, 4 mm a step."""
    data = document(127, 127, masks=[], layers=[], sheets=[])
    told = {"metres_a_step": 0.004, "at_zero": 10.0, "rows": values.shape[0], "cols": values.shape[1]}
    data["ground"] |= {"samples": samples, "steps": [{**STEP, **told, **step}], **more}
    project = parse_project(data)
    for name, heights in (("a", hills(127, 127)), ("b", values)):
        (folder / f"{name}.png").write_bytes(png16(heights))
    ev = Engine(Stripes(2), TileCache(), lambda asset: folder / ("b.png" if asset == OTHER else "a.png")).evaluation(
        project
    )
    base = np.float64(project.ground.base)
    return ev, ev.whole(ev.graph.stage(0).ground) + base, ev.whole(ev.graph.stage(1).ground) + base


@pytest.mark.parametrize("samples", ["border", "cells"])
@pytest.mark.parametrize(
    ("how", "made"),
    [("higher", np.maximum), ("lower", np.minimum), ("add", np.add), ("instead", lambda before, other: other)],
)
@pytest.mark.parametrize("high", [0, 4000])
def test_heights_are_combined_sample_by_sample(tmp_path, how, made, samples, high):
    values = hills(127, 127, seed=9)
    ends = {"low": 20 + high, "high": 320 + high}
    at_zero = 10.0 + (high if how != "add" else 0)
    _, before, after = ground(tmp_path, {"how": how, "at_zero": at_zero}, values, samples, **ends)
    other = values * 0.004 + at_zero
    np.testing.assert_allclose(after, made(before, other), atol=1e-3)
    assert (after != before).mean() > 0.1


def test_a_file_of_another_size_is_laid_over_the_same_ground(tmp_path):
    y, x = np.mgrid[0:64, 0:64]
    tilted = (300 * x + 500 * y).astype(np.uint16)
    _, _, after = ground(tmp_path, {"how": "instead"}, tilted)
    y, x = np.mgrid[0:127, 0:127] / 2
    np.testing.assert_allclose(after, 10 + 0.004 * (300 * x + 500 * y), atol=0.01)


def test_gaps_of_the_other_leave_the_ground_and_a_recipe_says_where(tmp_path):
    values = hills(127, 127, seed=9)
    values[40:60, 30:50] = 7
    ev, before, after = ground(tmp_path, {"how": "instead", "nodata": 7}, values)
    np.testing.assert_array_equal(after[40:60, 30:50], before[40:60, 30:50])
    assert words_for(ev.project, f"file:{OTHER}") == ["preparation step 1"]
    assert OTHER in ev.project.assets
    where = limited(band("height", 200, 1000))
    _, before, limited_to = ground(tmp_path, {"how": "instead", "where": where}, hills(127, 127, seed=9))
    untouched = before < 200
    np.testing.assert_array_equal(limited_to[untouched], before[untouched])
    assert (limited_to[before > 201] != before[before > 201]).mean() > 0.9


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"metres_a_step": 0}, "greater than 0"),
        ({"rows": 4}, "greater than or equal to 8"),
        ({"asset": "../x"}, "pattern"),
    ],
)
def test_what_makes_no_sense_is_refused(tmp_path, change, words):
    data = document()
    data["ground"]["steps"] = [{**STEP, **change}]
    with pytest.raises(MeadowError, match=words):
        parse_project(data)
    with pytest.raises(MeadowError, match="no longer has the size"):
        ground(tmp_path, {"rows": 99}, hills(127, 127, seed=9))
