"""Deliver for real, then read the files back and find what was done to them."""

from __future__ import annotations

import dataclasses
import io
import shutil
import zipfile

import numpy as np
import orjson
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.delivery import checked, made, rewrite
from tests.support.ground import document, evaluation
from zigzag_meadow.core.delivery.plan import block_layout, cautions, make_plan
from zigzag_meadow.core.delivery.run import deliver, delivery_pieces
from zigzag_meadow.core.delivery.sizes import legal_pairs, nearest_pair
from zigzag_meadow.core.errors import BadDocument, BadNumber, Cancelled, IllegalSize, NotFound, WrongFormat
from zigzag_meadow.core.fit.alignment import ORIENTATIONS, best_orientation
from zigzag_meadow.core.fit.check import check_delivery
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.project.check import parse_project
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.core.targets.encode import signed_step
from zigzag_meadow.core.targets.rules import target

GRID = target("block-grid")


def test_legal_sizes_of_the_block_grid():
    legal = GRID.legal_sizes()
    assert {505, 1009, 1017, 2017, 2033, 4033, 4065, 4081, 8129, 8161} <= set(legal)
    assert not {33, 513, 1025, 2049, 4097} & set(legal)
    assert {(lay.patch, lay.patches, lay.blocks) for lay in GRID.layouts(1009)} == {(63, 1, 16), (63, 2, 8)}
    assert [GRID.nearest_sizes(n, 1)[0] for n in (1024, 2048, 4096)] == [1021, 2041, 4081]


@pytest.mark.parametrize(("rows", "cols"), [(505, 1009), (1009, 1009), (700, 1000), (90, 800), (4097, 4097)])
def test_a_ground_of_any_shape_gets_legal_sizes(rows, cols):
    home = Grid(rows, cols, 3, 3)
    for pair in legal_pairs(GRID, home):
        block_layout(GRID, *pair)
    found = nearest_pair(GRID, home)
    assert found == (rows, cols) or not GRID.is_legal(cols)
    assert abs((found[0] - 1) / (found[1] - 1) / ((rows - 1) / (cols - 1)) - 1) < 0.12


@given(st.floats(-5000, 5000), st.floats(0.5, 9000))
def test_signed_steps_use_the_whole_range(low, height):
    coding = signed_step(low, low + height, 1 / 128)
    values, clipped = coding.encode(np.array([low, low + height], np.float64))
    assert values.tolist() == [0, 65535]
    assert clipped == 0
    assert coding.position == pytest.approx(low + 32768 * coding.step)


def test_signed_step_numbers():
    assert signed_step(0, 1000, 1 / 128).scale == pytest.approx(1.9531548, abs=1e-7)
    fixed = type(signed_step(0, 1, 1))(1 / 128, 1.0, 0.0)
    values, clipped = fixed.encode(np.array([0, 2, 255.9921875, 300], np.float32))
    assert values.tolist() == [32768, 33024, 65535, 65535]
    assert clipped == 1


@pytest.mark.parametrize("height_format", ["png16", "raw16"])
@pytest.mark.parametrize(("rows", "cols"), [(127, 127), (253, 253), (127, 253)])
def test_what_is_delivered_fits(tmp_path, height_format, rows, cols):
    data = document(rows=127, cols=127, delivery={"rows": rows, "cols": cols, "height_format": height_format})
    ev, out = made(tmp_path, data)
    report, pictures = checked(ev, out)
    assert report.fits, report.findings
    assert report.height_error_steps <= 0.5 + 1e-3
    assert pictures.rebuilt.shape == (rows, cols)
    assert {fact.title: fact.result for fact in report.facts}["Weights"] == "exact"
    assert check_delivery(out)[0].fits
    assert sorted(p.suffix for p in out.iterdir() if "note" in p.name) == [".html", ".json", ".txt"]
    assert "Rock, weight" in (out / "import_note.txt").read_text()
    assert (out / "import_note.html").read_text().count("data:image/png;base64") == 7


def swap(out, a, b):
    shutil.move(out / a, out / "x")
    shutil.move(out / b, out / a)
    shutil.move(out / "x", out / b)


H, S, D = "test_moor_height.png", "test_moor_splat.png", "test_moor_data.png"
DAMAGE = {
    "flipped": (lambda out: rewrite(out / S, lambda a: a[::-1]), S, "orientation", "flipped north–south"),
    "mirrored": (lambda out: rewrite(out / D, lambda a: a[:, ::-1]), D, "orientation", "mirrored east–west"),
    "transposed": (lambda out: rewrite(out / H, lambda a: a.T), H, "orientation", "transposed"),
    "turned": (lambda out: rewrite(out / H, lambda a: a[::-1, ::-1]), H, "orientation", "180°"),
    "resized": (lambda out: rewrite(out / S, lambda a: a[::2, ::2]), S, "wrong-size", "64 × 64"),
    "one less": (lambda out: rewrite(out / H, lambda a: a[:-1, :-1]), H, "wrong-size", "does not even take"),
    "swapped": (lambda out: swap(out, S, D), S, "channels", "3 channels"),
    "missing": (lambda out: (out / D).unlink(), D, "missing-file", "missing"),
    "no alpha": (lambda out: rewrite(out / S, lambda a: a[:, :, :3]), S, "channels", "Missing: A"),
    "eight bits": (lambda out: rewrite(out / H, lambda a: (a >> 8).astype(np.uint8)), H, "depth", "8 bits"),
    "cut": (lambda out: (out / S).write_bytes((out / S).read_bytes()[:-50]), S, "unreadable", "cut short"),
}


@pytest.mark.parametrize("case", DAMAGE)
@pytest.mark.parametrize("in_full", [True, False])
def test_damage_is_named(tmp_path, case, in_full):
    ev, out = made(tmp_path)
    harm, file, kind, words = DAMAGE[case]
    harm(out)
    report, _ = checked(ev, out) if in_full else check_delivery(out)
    found = {(item.file, item.kind): item for item in report.findings}
    assert not report.fits
    assert words in found[file, kind].message
    assert found[file, kind].fix


def premultiply(a):
    alpha = a[:, :, 3:].astype(np.uint16)
    return np.concatenate([(a[:, :, :3] * alpha // 255).astype(np.uint8), a[:, :, 3:]], axis=2)


@pytest.mark.parametrize(
    ("harm", "file", "kind"),
    [
        (lambda a: np.roll(a, (2, -1), (0, 1)), H, "shifted"),
        (lambda a: np.roll(a, 1, 1), S, "shifted"),
        (premultiply, S, "premultiplied"),
        (lambda a: (a * 0.9).astype(a.dtype), H, "height-off"),
        (lambda a: np.where(a > 250, 249, a).astype(a.dtype), D, "values-off"),
    ],
)
def test_subtle_damage_is_named_in_full(tmp_path, harm, file, kind):
    ev, out = made(tmp_path)
    rewrite(out / file, harm)
    assert kind in {item.kind for item in checked(ev, out)[0].findings if item.file == file}


def test_two_sheets_with_each_others_names(tmp_path):
    data = document()
    data["sheets"][1]["layout"] = "rgba"
    ev, out = made(tmp_path, data)
    swap(out, S, D)
    report, _ = checked(ev, out)
    assert {(item.file, item.kind) for item in report.findings} >= {(S, "swapped"), (D, "swapped")}


def test_colour_tags_on_data_are_found(tmp_path):
    from PIL import Image, PngImagePlugin

    _, out = made(tmp_path)
    tags = PngImagePlugin.PngInfo()
    tags.add(b"gAMA", (45455).to_bytes(4, "big"))
    Image.open(out / S).save(out / S, pnginfo=tags)
    assert "gamma" in {item.kind for item in check_delivery(out)[0].findings}


def test_all_orientations_are_told_apart():
    a = np.random.default_rng(4).random((24, 24))
    for happened, _, mend in ORIENTATIONS:
        undo = {"turned by 90° clockwise": lambda b: np.rot90(b, -1), "turned by 90° counter-clockwise": np.rot90}
        harmed = undo.get(happened, mend)(a)
        found = best_orientation(harmed, a)
        assert found.happened == happened
        assert found.likeness == pytest.approx(1)


def test_same_project_same_bytes(tmp_path):
    first = made(tmp_path)[1]
    second = made(tmp_path, name="again")[1]
    for path in first.iterdir():
        assert path.read_bytes() == (second / path.name).read_bytes()
    zips = [b"".join(delivery_pieces(folder)) for folder in (first, second)]
    assert zips[0] == zips[1]
    with zipfile.ZipFile(io.BytesIO(zips[0])) as archive:
        assert archive.testzip() is None
        held = {entry.filename: archive.read(entry) for entry in archive.infolist()}
    assert held == {path.name: path.read_bytes() for path in first.iterdir()}
    note = orjson.loads((first / "import_note.json").read_bytes())
    assert note["terrain"]["width"] == 126 * 5
    assert note["height"]["clipped_samples"] == 0


def test_plans_that_cannot_work_are_refused(monkeypatch):
    with pytest.raises(IllegalSize, match="does not take 130 columns"):
        make_plan(parse_project(document(delivery={"rows": 127, "cols": 130})))
    with pytest.raises(IllegalSize, match="no patch size serves both"):
        make_plan(parse_project(document(delivery={"rows": 127, "cols": 1017})))
    with pytest.raises(BadNumber, match=r"Put \{map\} into"):
        make_plan(parse_project(document(delivery={"rows": 127, "cols": 127, "pattern": "{project}"})))
    raw_only = dataclasses.replace(GRID, height_formats=("raw16",))
    monkeypatch.setattr("zigzag_meadow.core.delivery.plan.target", lambda _: raw_only)
    with pytest.raises(WrongFormat, match=r"does not take png16\. It takes: raw16"):
        make_plan(parse_project(document()))
    monkeypatch.undo()
    data = document()
    data["sheets"][0]["r"] = None
    said = " ".join(item.message for item in cautions(parse_project(data)))
    assert "Channel R of splat is empty" in said
    assert "weight of Rock is in no channel" in said


def test_cancel_and_wrong_folders(tmp_path):
    project, ev = evaluation(tmp_path, document())
    (tmp_path / "out").mkdir()
    stopped = ev.engine.evaluation(project, cancel=lambda: True)
    with pytest.raises(Cancelled):
        deliver(stopped, make_plan(project), tmp_path / "out", Stripes(1), lambda share, text: None)
    with pytest.raises(NotFound, match="import_note"):
        check_delivery(tmp_path)
    _, out = made(tmp_path, name="good")
    data = document()
    data["ground"]["spacing_x"] = 7.0
    _, other = evaluation(tmp_path, data)
    with pytest.raises(BadDocument, match="another ground"):
        checked(other, out)
