"""Nothing reads beyond an array where the last tile is one or two rows or columns: everything there is, once."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from tests.support.ground import hills, png16
from zigzag_meadow.core.delivery.plan import make_plan
from zigzag_meadow.core.delivery.run import deliver
from zigzag_meadow.core.evaluate.cache import TileCache
from zigzag_meadow.core.evaluate.engine import Engine, Evaluation
from zigzag_meadow.core.fit.check import check_delivery
from zigzag_meadow.core.fit.rehearsal import Rehearsal
from zigzag_meadow.core.fit.truth import ProjectTruth
from zigzag_meadow.core.formats.catalogue import forms
from zigzag_meadow.core.grid import TILE, Grid
from zigzag_meadow.core.project.model.delivery import ItemChoice
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.items import deliverables
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.core.targets.catalogue import built_in
from zigzag_meadow.core.warm_project import HEIGHTS, STROKES, every_stroke, project_of_every_kind

# Steps and lines in full on a ground that is small; what is left of them on final grids that end in a sliver.
SMALL = Grid(41, 33, 2.0, 3.0)
SLIVERS = [(TILE + 1, TILE + 2), (TILE + 2, TILE + 1)]


def stage(folder: Path, home: Grid, final: tuple[int, int]) -> tuple[Project, Evaluation]:
    project = project_of_every_kind(home, home.resized(*final))
    files = {HEIGHTS: folder / "heights.png", STROKES: folder / "strokes.json"}
    files[HEIGHTS].write_bytes(png16(hills(home.rows, home.cols)))
    files[STROKES].write_bytes(every_stroke())
    return project, Engine(Stripes(2), TileCache(), lambda asset: files[asset]).evaluation(project)


def maps_of(project: Project) -> list[str]:
    """Every map that can be delivered, and what is made of them to look at."""
    named = [item.of for item in deliverables(project) if not item.of.startswith(("height", "points:", "look:"))]
    return [*named, "layers", "sums", "mixed:sum", "mixed:chain", "final:m", "picture:picture"]


@pytest.mark.parametrize("shape", SLIVERS)
def test_every_map_ends_where_its_array_does(tmp_path, shape):
    project, ev = stage(tmp_path, SMALL, shape)
    for name in maps_of(project):
        made = ev.map(name, project.final)
        assert made.shape[:2] == shape, name


def test_every_reading_and_step_on_a_ground_that_ends_in_a_sliver(tmp_path):
    shape = SLIVERS[0]
    home = Grid(*shape, 2.0, 3.0)
    project, ev = stage(tmp_path, home, shape)
    small = project.model_copy(update={"masks": (), "layers": (), "coats": (), "scatters": (), "sheets": ()})
    for item in deliverables(small):
        if item.of.startswith("reading:"):
            ev.map(item.of)
    assert ev.map("mask:m").shape == shape
    assert np.isfinite(ev.map("colour")).all()


def test_every_form_and_what_reads_it_back(tmp_path):
    """Every form once: of one channel in one delivery, each of another map, all others one after the other."""
    project, ev = stage(tmp_path, SMALL, SLIVERS[0])
    target = next(item for item in built_in() if item.id == "plain-files")
    readings = (item.of for item in deliverables(project) if item.of.startswith("reading:"))
    single = [form for form in forms() if form.id in target.masks.forms and 1 in form.channels]
    together = [ItemChoice(of=next(readings), deliver=True, form=form.id) for form in single]
    alone = [
        ItemChoice(of="points:s" if form.takes == "points" else "colour", deliver=True, form=form.id)
        for form in forms()
        if form not in single
    ]
    for items in (tuple(together), *((item,) for item in alone)):
        chosen = project.delivery.model_copy(update={"target": target.id, "items": items})
        one = ev.engine.evaluation(project.model_copy(update={"delivery": chosen}))
        (folder := tmp_path / items[-1].form).mkdir()
        plan = make_plan(one.project, one.heights(), [choice.of for choice in items])
        deliver(one, plan, folder, one.engine.stripes, lambda share, text: None)
        rehearsal = Rehearsal(folder)
        report = check_delivery(folder, ProjectTruth(one, rehearsal), rehearsal=rehearsal)
        assert len(report.maps) == len(items)
        assert not [item for item in report.findings if item.severity == "error"]
