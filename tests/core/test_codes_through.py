"""Heights that go through unchanged: cells as cells, codes as codes, for every target that can take them."""

from __future__ import annotations

import json

import imagecodecs
import numpy as np
import pytest
import tifffile

from tests.support.delivery import checked
from tests.support.ground import document
from zigzag_meadow.core.delivery.beyond import heights_beyond, storable
from zigzag_meadow.core.delivery.plan import make_plan
from zigzag_meadow.core.delivery.run import deliver
from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.evaluate.cache import TileCache
from zigzag_meadow.core.evaluate.engine import Engine
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.edits.operations import apply_operations
from zigzag_meadow.core.project.edits.ops_delivery import SetItems
from zigzag_meadow.core.project.edits.ops_ground import HeightmapFile, ReplaceHeightmap, SetGround
from zigzag_meadow.core.project.model.delivery import ItemChoice
from zigzag_meadow.core.stripes import Stripes


def apply(project, *operations):
    return apply_operations(project, operations)[0]


STEP = {"heights": "step"}
ENDS = {"heights": "ends", "at_black": -40, "at_white": 471.75}


def codes(rows, cols, low=0, high=65535):
    """Codes that hold what any 16-bit file may: every sample by itself."""
    rng = np.random.default_rng(rows * 7 + cols)
    found = rng.integers(low, high + 1, (rows, cols), dtype=np.uint16)
    found[0, 0], found[-1, -1] = low, high
    return found


def project_of(values, target, samples, ground):
    rows, cols = values.shape
    data = document(rows, cols, delivery={"rows": rows, "cols": cols, "target": target})
    data["ground"] |= {
        "file_name": "codes.raw",
        "file_format": "raw",
        "sample": "u16",
        "byte_order": "little",
        "stored_low": int(values.min()),
        "stored_high": int(values.max()),
        "samples": samples,
        "spacing_x": 1.0,
        "spacing_y": 1.0,
        "water": -12.25,
        **ground,
    }
    return parse_project({**data, "masks": [], "layers": [], "sheets": []})


def opened(folder, project, values):
    (folder / "codes.raw").write_bytes(values.tobytes())
    return Engine(Stripes(2), TileCache(), lambda _: folder / "codes.raw").evaluation(project)


def run(folder, ev, name="out"):
    out = folder / name
    out.mkdir()
    deliver(ev, make_plan(ev.project, ev.heights(), ["height"]), out, Stripes(2), lambda share, text: None)
    return out


def whole(out):
    """The height as files hold it, north up, by readers that know nothing of us."""
    note = json.loads((out / "import_note.json").read_text())
    files = [file for file in note["files"] if file["kind"] == "height"]
    first = files[0]
    made = None
    for file in files:
        data = (out / file["file"]).read_bytes()
        if file["reads"] == "raw":
            part = np.frombuffer(data, "<u2").reshape(file["rows"], file["columns"])
        elif file["reads"] == "png":
            part = imagecodecs.png_decode(data)
        else:
            part = tifffile.imread(out / file["file"])
        part = part[::-1] if file["first_row"] == "south" else part
        tile = file["tile"] or {"first_row": 0, "first_column": 0}
        if made is None:
            made = np.zeros((first["whole_rows"], first["whole_columns"]), part.dtype)
        r, c = tile["first_row"], tile["first_column"]
        made[r : r + part.shape[0], c : c + part.shape[1]] = part
    return made, note


THROUGH = {
    "block-grid": ((127, 253), "border", ENDS),
    "powers-and-one": ((129, 129), "border", ENDS),
    "raw-pair": ((128, 256), "cells", {**STEP, "metres_a_step": 1 / 32, "at_zero": -512}),
    "equal-maps": ((256, 256), "cells", ENDS),
    "rgb-over-base": ((256, 512), "cells", ENDS),
    "whole-metres": ((256, 512), "cells", {**STEP, "metres_a_step": 1, "at_zero": -1000}),
    "plain-files": ((101, 87), "border", ENDS),
}


@pytest.mark.parametrize("target", THROUGH)
@pytest.mark.parametrize(("low", "high"), [(0, 65535), (311, 60011)])
def test_codes_go_through_unchanged(tmp_path, target, low, high):
    shape, samples, ground = THROUGH[target]
    values = codes(*shape, low, high)
    ev = opened(tmp_path, project_of(values, target, samples, ground), values)
    out = run(tmp_path, ev)
    there, note = whole(out)
    np.testing.assert_array_equal(there, values)
    wide = shape[1] if samples == "cells" else shape[1] - 1
    assert note["ground"]["extent"]["width"] == pytest.approx(wide, abs=1e-9)
    assert note["ground"]["registration"] == ("area" if samples == "cells" else "vertex")
    assert "on the samples of the ground" in {file["resampled"] for file in note["files"]}
    stored = note["height"]["stored"]
    zero = note["ground"]["zero"]
    black, white = (ground["at_black"], ground["at_white"]) if "at_black" in ground else (ground["at_zero"], None)
    assert stored["at_zero"] + zero == pytest.approx(black, abs=1e-9)
    assert white is None or stored["at_full"] + zero == pytest.approx(white, abs=1e-9)
    report = checked(ev, out)
    assert {found.kind for found in report.findings} <= {"required"}, report.findings
    assert {fact.title: fact.result for fact in report.facts}.get("Resampling", "none") == "none"


@pytest.mark.parametrize(
    ("stored", "meant"),
    [
        ({}, lambda z: z),
        ({"black": -40, "white": 471.75}, lambda z: (z + 40) / 511.75),
        ({"stored": "unit"}, lambda z: (z + 40) / 511.75),
        ({"stored": "unit", "black": 0, "white": 100}, lambda z: z / 100),
        ({"stored": "signed", "black": 100, "white": 300}, lambda z: (z - 200) / 100),
        ({"stored": "mean"}, lambda z: z - z.mean()),
    ],
)
def test_floats_are_stored_as_is_chosen(tmp_path, stored, meant):
    """What is between two ends, about their middle or about the mean, worked out from the codes alone; and read back by
    what the note says."""
    values = codes(101, 87)
    project = project_of(values, "scene-renderer", "border", ENDS)
    choice = ItemChoice.model_validate({"of": "height", "form": "tiff32f", **stored})
    ev = opened(tmp_path, apply(project, SetItems(items=(choice,))), values)
    out = run(tmp_path, ev)
    there, note = whole(out)
    metres = values * (511.75 / 65535) - 40
    np.testing.assert_allclose(there, meant(metres), rtol=0, atol=3e-5)
    report = checked(ev, out)
    assert report.fits, report.findings
    told = note["height"]["stored"]
    assert (told is None) == (not stored)
    if told is not None:
        np.testing.assert_allclose(told["at_zero"] + there.astype(float) * told["step"], metres, atol=1e-3)
        assert told["at_full"] == pytest.approx(told["at_zero"] + told["step"])
    text = (out / "import_note.txt").read_text()
    assert ("Range of the displacement: from the metres" in text) == bool(stored)


@pytest.mark.parametrize(
    ("target", "choice", "words"),
    [
        ("scene-renderer", {"black": 5}, "both be given, and differ"),
        ("scene-renderer", {"black": 5, "white": 5}, "both be given, and differ"),
        ("scene-renderer", {"black": 9, "white": 5}, "above the lowest"),
        ("scene-renderer", {"stored": "mean", "black": 1, "white": 5}, "have no black and white"),
        ("plain-files", {"stored": "signed"}, "Choose a form of floats"),
        ("raw-pair", {"black": 1, "white": 5}, "fixes its steps"),
    ],
)
def test_ends_that_make_no_sense_are_refused(target, choice, words):
    shape = (128, 128) if target == "raw-pair" else (101, 87)
    project = project_of(codes(*shape), target, "border", ENDS)
    chosen = SetItems(items=(ItemChoice.model_validate({"of": "height", **choice}),))
    with pytest.raises(BadNumber, match=words):
        make_plan(apply(project, chosen), only=["height"])


@pytest.mark.parametrize("ground", [ENDS, {**STEP, "metres_a_step": 0.02, "at_zero": 7}, {"low": 20, "high": 320}])
def test_a_new_peak_moves_nothing_else(tmp_path, ground):
    before = codes(127, 127, 900, 50000)
    after = before.copy()
    after[40, 50] = 64000
    project = project_of(before, "block-grid", "border", ground)
    first, _ = whole(run(tmp_path, opened(tmp_path, project, before), "first"))
    file = {name: getattr(project.ground, name) for name in HeightmapFile.model_fields}
    taken = HeightmapFile.model_validate({**file, "stored_high": 64000})
    there, _ = whole(run(tmp_path, opened(tmp_path, apply(project, ReplaceHeightmap(file=taken)), after), "second"))
    assert np.argwhere(there != first).tolist() == [[40, 50]]
    # Held to its ends, the highest sample is the highest height again and all others sink.
    stretched = apply(project, ReplaceHeightmap(file=taken, hold="ends"))
    assert stretched.ground.file_ends == pytest.approx(project.ground.file_ends)
    there, note = whole(run(tmp_path, opened(tmp_path, stretched, after), "third"))
    assert (there != first).mean() > 0.9
    assert note["height"]["scale_by"] == "extremes"


def test_cells_of_before_keep_their_bytes_until_they_are_taken_as_cells(tmp_path):
    values = codes(256, 256)
    old = json.loads(project_of(values, "equal-maps", "cells", {"low": -40, "high": 471.75}).model_dump_json())
    for name in ("on_replace", "cells_reach", "metres_a_step", "at_zero", "at_black", "at_white"):
        del old["ground"][name]
    project = parse_project({**old, "version": 5})
    assert (project.ground.home.registration, project.ground.home.width) == ("vertex", 255)
    resampled, note = whole(run(tmp_path, opened(tmp_path, project, values), "old"))
    assert note["ground"]["extent"]["width"] == pytest.approx(255)
    assert np.abs(resampled.astype(int) - values).mean() > 50
    taken = apply(project, SetGround(cells_reach=True))
    there, note = whole(run(tmp_path, opened(tmp_path, taken, values), "new"))
    np.testing.assert_array_equal(there, values)
    assert note["ground"]["extent"]["width"] == pytest.approx(256)


@pytest.mark.parametrize(("low", "high"), [(0.0, 400.0), (-40.0, 471.75), (-100.0, 300.0)])
def test_what_is_cut_off_is_counted_before_and_said_where(tmp_path, low, high):
    """As many as lie beyond what black and white are typed to be, by more than rounds to them."""
    values = codes(64, 96)
    chosen = SetItems(items=(ItemChoice(of="height", form="png16", black=low, white=high),))
    ev = opened(tmp_path, apply(project_of(values, "plain-files", "border", ENDS), chosen), values)
    plan = make_plan(ev.project, ev.heights())
    found = heights_beyond(ev, plan)
    metres = -40 + values / 65535 * 511.75
    half = (high - low) / 65535 / 2
    above, below = np.count_nonzero(metres > high + half), np.count_nonzero(metres < low - half)
    assert (storable(plan) is None) == (above + below == 0)
    note = json.loads((run(tmp_path, ev) / "import_note.json").read_text())
    assert note["height"]["clipped"] == above + below
    if found is None:
        assert above + below == 0
        return
    assert (found.above, found.below, found.samples) == (above, below, values.size)
    assert (found.low, found.high) == pytest.approx((low, high))
    worst = max(float(metres.max()) - high, low - float(metres.min()))
    place = found.places[0]
    assert (place.east, place.south) == ((95, 63) if metres.max() - high == worst else (0, 0))
    assert abs(place.by) == pytest.approx(worst, abs=1e-3)
    assert (place.by < 0) == (low - metres.min() == worst)
