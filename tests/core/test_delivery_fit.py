"""Deliver for real, then read the files back and find what was done to them."""

from __future__ import annotations

import io
import shutil
import threading
import time
import zipfile

import numpy as np
import orjson
import pytest
from PIL import Image

from tests.support.delivery import checked, made, rewrite
from tests.support.ground import document, evaluation
from zigzag_meadow.core.delivery.cautions import cautions
from zigzag_meadow.core.delivery.plan import make_plan
from zigzag_meadow.core.delivery.run import deliver, delivery_pieces
from zigzag_meadow.core.errors import BadDocument, BadNumber, Cancelled, IllegalSize, NotFound, WrongFormat
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.fit.check import check_delivery
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.stripes import Stripes


@pytest.mark.parametrize("form", ["png16", "raw16"])
@pytest.mark.parametrize(("rows", "cols"), [(127, 127), (253, 253), (127, 253)])
def test_what_is_delivered_fits(tmp_path, form, rows, cols):
    items = [{"of": "height", "form": form}]
    data = document(rows=127, cols=127, delivery={"rows": rows, "cols": cols, "items": items})
    ev, out = made(tmp_path, data)
    pictures = {}
    report = checked(ev, out, keep=pictures.__setitem__)
    assert report.fits, report.findings
    assert report.height_error_steps <= 0.5 + 1e-3
    assert pictures["0-rebuilt"].shape == (rows, cols, 1)
    assert {fact.title: fact.result for fact in report.facts}["Weights"] == "exact"
    assert check_delivery(out).fits
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
    "one less": (lambda out: rewrite(out / H, lambda a: a[:-1, :-1]), H, "wrong-size", "126 × 126"),
    "swapped": (lambda out: swap(out, S, D), S, "swapped", "holds what belongs in test_moor_data.png"),
    "missing": (lambda out: (out / D).unlink(), D, "missing-file", "missing"),
    "no alpha": (lambda out: rewrite(out / S, lambda a: a[:, :, :3]), S, "alpha-lost", "Missing: A"),
    "eight bits": (lambda out: rewrite(out / H, lambda a: (a >> 8).astype(np.uint8)), H, "depth", "8 bits"),
    "cut": (lambda out: (out / S).write_bytes((out / S).read_bytes()[:-50]), S, "unreadable", "cut short"),
}


@pytest.mark.parametrize("case", DAMAGE)
@pytest.mark.parametrize("in_full", [True, False])
def test_damage_is_named(tmp_path, case, in_full):
    ev, out = made(tmp_path)
    harm, file, kind, words = DAMAGE[case]
    harm(out)
    report = checked(ev, out) if in_full else check_delivery(out)
    found = {(item.file, item.kind): item for item in report.findings}
    assert not report.fits
    assert words in found[file, kind].message
    assert found[file, kind].fix


@pytest.mark.parametrize("in_full", [False, True])
def test_what_is_not_compared_by_samples_is_known_by_its_checksum(tmp_path, in_full):
    """Textures, what came back otherwise from its format, and points."""
    data = document(
        delivery={
            "target": "plain-files",
            "rows": 127,
            "cols": 127,
            "items": [
                {"of": "look:scree:albedo", "deliver": True},
                {"of": "colour", "deliver": True, "form": "jpeg"},
                {"of": "sheet:splat", "deliver": False},
                {"of": "sheet:data", "deliver": False},
            ],
        },
        base={"dressing": {"look": "scree"}},
        scatters=[
            {"id": "stones", "name": "Stones", "mask": "steep", "deliver": True, "points_format": "csv", "density": 2}
        ],
    )
    ev, out = made(tmp_path, data)
    check = (lambda: checked(ev, out)) if in_full else (lambda: check_delivery(out))
    assert check().fits, check().findings
    names = {"test_moor_scree_albedo.png", "test_moor_colour.jpg", "test_moor_stones_points.csv"}
    for name in names:
        path = out / name
        if name.endswith("csv"):
            path.write_text(path.read_text().replace("1", "2", 1))
        else:
            picture = Image.open(path).convert("RGB")
            picture.paste((200, 30, 40), (10, 10, 60, 60))
            picture.save(path, icc_profile=Image.open(path).info.get("icc_profile"))
    first = {f.file: f.kind for f in reversed(check().findings)}
    assert first == dict.fromkeys(names, "patched") | {"test_moor_stones_points.csv": "changed"}


def test_two_sheets_with_each_others_names(tmp_path):
    data = document()
    data["sheets"][1]["layout"] = "rgba"
    ev, out = made(tmp_path, data)
    swap(out, S, D)
    report = checked(ev, out)
    assert {(item.file, item.kind) for item in report.findings} >= {(S, "swapped"), (D, "swapped")}


def test_colour_tags_on_data_are_found(tmp_path):
    from PIL import Image, PngImagePlugin

    _, out = made(tmp_path)
    tags = PngImagePlugin.PngInfo()
    tags.add(b"gAMA", (45455).to_bytes(4, "big"))
    Image.open(out / S).save(out / S, pnginfo=tags)
    assert "gamma" in {item.kind for item in check_delivery(out).findings}


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
    assert note["ground"]["extent"]["width"] == 126 * 5
    assert note["height"]["clipped"] == 0


def test_plans_that_cannot_work_are_refused():
    with pytest.raises(IllegalSize, match="does not take 130 columns"):
        make_plan(parse_project(document(delivery={"rows": 127, "cols": 130})))
    with pytest.raises(IllegalSize, match="but not together"):
        make_plan(parse_project(document(delivery={"rows": 127, "cols": 1017})))
    with pytest.raises(BadNumber, match=r"Height and splat would both be called test_moor\.png"):
        make_plan(parse_project(document(delivery={"rows": 127, "cols": 127, "pattern": "{project}"})))
    wrong = {"rows": 127, "cols": 127, "items": [{"of": "height", "form": "jpeg"}]}
    with pytest.raises(WrongFormat, match=r"does not take Height as JPEG\. It takes: PNG 16, raw 16"):
        make_plan(parse_project(document(delivery=wrong)))
    data = document()
    data["sheets"][0]["r"] = None
    said = " ".join(item.message for item in cautions(parse_project(data)))
    assert "Channel R of splat is empty" in said
    assert "weight of Rock is in no channel" in said


def test_what_fails_does_not_wait_for_long_work(tmp_path, monkeypatch):
    told, begun, given_up, whole = threading.get_ident(), threading.Event(), threading.Event(), Evaluation.whole

    def long(self, node, plane=None):
        if threading.get_ident() == told:
            return whole(self, node, plane)
        begun.set()
        for _ in range(500):
            if self.cancel():
                given_up.set()
                break
            time.sleep(0.01)
        raise Cancelled()

    def full(share, text):
        begun.wait(5)
        raise OSError("full")

    ground = {**document()["ground"], "steps": [{"id": "rain", "kind": "erode"}]}
    project, ev = evaluation(tmp_path, document(ground=ground))
    (tmp_path / "out").mkdir()
    monkeypatch.setattr(Evaluation, "whole", long)
    with pytest.raises(OSError, match="full"):
        deliver(ev, make_plan(project), tmp_path / "out", Stripes(1), full)
    assert given_up.is_set()


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
