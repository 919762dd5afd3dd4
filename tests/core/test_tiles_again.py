"""Some tiles only: a part cut into regions, tiles of the target's own tiling, and single ones written again."""

from __future__ import annotations

import imagecodecs
import numpy as np
import pytest

from tests.support.delivery import checked
from tests.support.ground import document, evaluation
from zigzag_meadow.core.delivery.chosen_tiles import files_of_tiles, only_tiles, tiles_of
from zigzag_meadow.core.delivery.earlier import Earlier
from zigzag_meadow.core.delivery.plan import make_plan
from zigzag_meadow.core.delivery.run import deliver
from zigzag_meadow.core.errors import BadNumber, Conflict, IllegalSize
from zigzag_meadow.core.fit.check import check_delivery
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.edits.operations import apply_operations, parse_operations
from zigzag_meadow.core.project.edits.ops_ground import SetGround
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.core.targets.catalogue import target


def write(folder, ev, plan, name, **more):
    out = folder / name
    out.mkdir()
    deliver(ev, plan, out, Stripes(2), lambda share, text: None, **more)
    return out


def pixels(path):
    return imagecodecs.png_decode(path.read_bytes()).astype(int)


@pytest.mark.parametrize(("chosen", "into"), [("block-grid", 3), ("equal-maps", 2), ("plain-files", 4)])
def test_a_part_is_cut_into_regions_that_the_target_takes(tmp_path, chosen, into):
    side = 1024 if chosen == "equal-maps" else 505 if chosen == "block-grid" else 401
    region = {"east": 100, "south": 90, "width": 260, "length": 260, "into": into}
    delivery = {"rows": side, "cols": side, "target": chosen, "region": region}
    project, ev = evaluation(tmp_path, document(127, 127, delivery=delivery))
    plan = make_plan(project, ev.heights())
    height = plan.item("height")
    assert height is not None
    assert len(height.files) == into * into
    for file in height.files:
        assert plan.target.sizes.fits(*file.tile.window.shape)
    out = write(tmp_path, ev, plan, "out")
    report = checked(ev, out)
    assert {found.kind for found in report.findings} <= {"required"}, report.findings
    first, beside = (pixels(out / file.name) for file in height.files[:2])
    if height.grid.registration == "vertex":
        np.testing.assert_array_equal(first[:, -1], beside[:, 0])


def test_a_part_that_does_not_divide_is_refused():
    rules = {"sizes": {"kind": "any"}, "masks": {"registration": "area", "size": {"kind": "power"}, "forms": ["png8"]}}
    own = {**target("plain-files").model_dump(mode="json"), "id": "own", "title": "Own", **rules}
    region = {"east": 0, "south": 0, "width": 100, "length": 100, "into": 7}
    data = document(127, 127, targets=[own], delivery={"rows": 127, "cols": 127, "target": "own", "region": region})
    with pytest.raises(IllegalSize, match="Draw the part larger"):
        make_plan(parse_project(data))


def tiled(folder):
    """A project whose target wants 3 × 3 tiles that share their border, and masks of half as many cells."""
    rules = {
        "tiles": {"kind": "shared", "side": 65},
        "masks": {"registration": "area", "size": {"kind": "same"}, "forms": ["png8", "png16"]},
        "sizes": {"kind": "any"},
        "required": [],
    }
    own = {**target("powers-and-one").model_dump(mode="json"), "id": "own", "title": "Own", **rules}
    own["height"]["forms"] = ["png16"]
    data = document(127, 127, targets=[own], delivery={"rows": 193, "cols": 193, "target": "own"})
    return evaluation(folder, data)


def test_chosen_tiles_alone_are_a_trial(tmp_path):
    project, ev = tiled(tmp_path)
    plan = make_plan(project, ev.heights())
    assert tiles_of(plan) == (3, 3)
    some = only_tiles(plan, [(0, 0), (2, 1)])
    assert some.trial
    assert [len(item.files) for item in some.items] == [2, 2, 2]
    whole, out = write(tmp_path, ev, plan, "whole"), write(tmp_path, ev, some, "some")
    for path in out.glob("*.png"):
        assert path.read_bytes() == (whole / path.name).read_bytes()
    # Files begin in the south there: the north-west tile is counted last.
    assert (out / "height_193_x0_y2.png").is_file()
    assert checked(ev, out).fits
    assert "Only a part" in (out / "import_note.txt").read_text()
    for wrong, words in (([], "at least one"), ([(3, 0)], "none in column 3"), ([(0, -1)], "3 × 3 tiles")):
        with pytest.raises(BadNumber, match=words):
            files_of_tiles(plan, wrong)
    plain = project.delivery.model_copy(update={"target": "plain-files"})
    single = make_plan(project.model_copy(update={"delivery": plain}))
    with pytest.raises(BadNumber, match="one file"):
        files_of_tiles(single, [(0, 0)])


def test_a_tile_is_written_again_beside_all_others(tmp_path):
    project, ev = tiled(tmp_path)
    before = write(tmp_path, ev, make_plan(project, ev.heights()), "before")
    line = {"id": "z", "verb": "turn_over"}
    changed, _ = apply_operations(project, parse_operations([{"op": "add_line", "mask": "wet", "line": line}]))
    after = ev.engine.evaluation(changed)
    plan = make_plan(changed, after.heights())
    again = files_of_tiles(plan, [(1, 2)])
    assert len(again) == 3
    out = write(tmp_path, after, plan, "after", earlier=Earlier(before), again=again)
    full = write(tmp_path, after, plan, "full")
    for path in full.glob("*.png"):
        as_made = (out / path.name).read_bytes() == path.read_bytes()
        as_was = (out / path.name).read_bytes() == (before / path.name).read_bytes()
        assert as_made if path.name in again else as_was, path.name
    assert any((full / name).read_bytes() != (before / name).read_bytes() for name in again)
    # By the manifest everything is as it was written.
    assert check_delivery(out).fits
    # What lies there is damaged, or of another scale: nothing is mixed.
    (before / sorted(again)[0]).write_bytes(b"changed")
    (before / next(p.name for p in before.glob("height*.png") if p.name not in again)).write_bytes(b"x")
    for where, words in ((Earlier(before), "gone or was changed"), (None, "no delivery before")):
        with pytest.raises(Conflict, match=words):
            write(tmp_path, after, plan, f"again{where is None}", earlier=where, again=again)
    taller, _ = apply_operations(project, [SetGround(high=400)])
    higher = ev.engine.evaluation(taller)
    with pytest.raises(Conflict, match="another size, form or scale"):
        write(tmp_path, higher, make_plan(taller, higher.heights()), "taller", earlier=Earlier(full), again=again)
