"""A part of the ground delivered first: legal, on the samples of the whole, and the same values as the whole has."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.delivery import checked, made
from tests.support.ground import document
from tests.support.injuries import read as stored
from zigzag_meadow.core.delivery.trial import trial_extent, window_over
from zigzag_meadow.core.fit.rehearsal import Rehearsal
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.edits.operations import apply_operations, parse_operations

PART = {"east": 130.0, "south": 90.0, "width": 300.0, "length": 240.0}


def _aimed(target_id, size, region):
    operations = [{"op": "choose_target", "target": target_id}]
    project, _ = apply_operations(parse_project(document()), parse_operations(operations))
    data = project.model_dump(mode="json")
    data["delivery"] |= {"rows": size, "cols": size, "region": region}
    return data


@pytest.mark.parametrize(
    ("target_id", "size", "part", "masks"),
    [
        ("block-grid", 127, (61, 61), (61, 61)),
        ("raw-pair", 256, (128, 128), (64, 64)),
        ("scene-renderer", 127, (61, 61), (61, 61)),
        ("plain-files", 254, (121, 121), (121, 121)),
    ],
)
def test_a_part_holds_what_the_whole_has_there(tmp_path, target_id, size, part, masks):
    whole_ev, whole = made(tmp_path, _aimed(target_id, size, None), "whole")
    ev, out = made(tmp_path, _aimed(target_id, size, PART), "part")
    window = trial_extent(ev.project, ev.project.final)
    assert (window.rows, window.cols) == part
    all_of_it, only = Rehearsal(whole), Rehearsal(out)
    assert only.note.height is not None
    assert all_of_it.note.height is not None
    # The same steps, so that a part and the whole can lie in one scene.
    assert only.note.height.stored == all_of_it.note.height.stored
    named = {file.of: file for file in all_of_it.note.files}
    for file in only.note.files:
        ours, theirs = stored(out, file), stored(whole, named[file.of])
        assert ours.shape[:2] == (part if file.kind == "height" else masks)
        over = theirs.shape[0] / size
        row, col = round(window.row0 * over), round(window.col0 * over)
        there = theirs[row : row + ours.shape[0], col : col + ours.shape[1]]
        if file.kind == "height":
            assert np.array_equal(ours, there)
        else:
            assert np.abs(ours.astype(float) - there.astype(float)).max() <= 1
    assert "Only a part" in (out / "import_note.txt").read_text("utf-8")
    report = checked(ev, out)
    assert report.fits, report.findings
    assert whole_ev.project.delivery.region is None


@given(
    region=st.fixed_dictionaries(
        {
            "east": st.floats(0, 1e6),
            "south": st.floats(0, 1e6),
            "width": st.floats(1e-3, 1e6),
            "length": st.floats(1e-3, 1e6),
        }
    ),
    target=st.sampled_from([("block-grid", 127), ("raw-pair", 256), ("equal-maps", 256), ("plain-files", 200)]),
)
def test_any_region_becomes_a_part_within_the_ground(region, target):
    project = parse_project(_aimed(*target, region))
    grid = project.final
    window = trial_extent(project, grid)
    assert 0 <= window.row0 < window.row1 <= grid.rows
    assert 0 <= window.col0 < window.col1 <= grid.cols
    legal = project.target.sizes
    smallest = min(legal.lengths(), default=8)
    assert legal.fits(window.rows, window.cols) or min(window.rows, window.cols) < smallest <= grid.rows


def test_samples_over_a_part_on_other_grids():
    height = Grid(257, 257, 4, 4)
    part = Window(64, 129, 0, 65)
    assert window_over(height, height, part) == part
    assert window_over(Grid(129, 129, 8, 8), height, part) == Window(32, 65, 0, 33)
    cells = Grid(128, 128, 8, 8, "area")
    assert window_over(cells, height, part) == Window(32, 64, 0, 32)
    # Where samples do not meet, those around the part come along.
    assert window_over(Grid(101, 101, 10.24, 10.24), height, part) == Window(25, 51, 0, 26)
