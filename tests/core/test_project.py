"""The document: operations, names, circles, the open project file."""

from __future__ import annotations

import hashlib
import io
import zipfile

import pytest

from tests.support.ground import band, document, hills, png16
from zigzag_meadow.core.errors import BadDocument, BadNumber, Cycle, MeadowError, NameTaken, NotFound, WrongFormat
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.edits.operations import apply_operations, parse_operations
from zigzag_meadow.core.project.travel.archive import archive_pieces, open_archive


def change(project, *operations):
    return apply_operations(project, parse_operations(list(operations)))


def take(low=25, fade=8, **more):
    return {"id": "a", "verb": "take", "source": band("slope", low, 90, fade_low=fade), **more}


@pytest.mark.parametrize(
    ("operation", "label"),
    [
        ({"op": "set_line", "mask": "steep", "line": take(fade=6)}, "lower fade to 6°"),
        ({"op": "set_line", "mask": "steep", "line": take(low=31.5)}, "lower edge to 31.5°"),
        ({"op": "set_line", "mask": "steep", "line": take(muted=True)}, "mute take"),
        ({"op": "set_line", "mask": "steep", "line": take(strength=0.4)}, "strength to 40 %"),
        ({"op": "rename_mask", "mask": "wet", "name": "Runnels"}, "rename to Runnels"),
        ({"op": "move_line", "mask": "steep", "line": "b", "to": 0}, "move a line"),
        ({"op": "delete_layer", "layer": "mud"}, "delete Mud"),
        ({"op": "set_ground", "water": 55}, "change water level"),
    ],
)
def test_edits_name_themselves(operation, label):
    before = parse_project(document())
    after, name = change(before, operation)
    assert name == label
    assert after != before
    assert before == parse_project(document())


def test_a_deleted_layer_frees_its_channels_and_proposals_hold_every_weight():
    project, _ = change(parse_project(document()), {"op": "delete_layer", "layer": "mud"})
    assert project.sheets[0].g is None
    layers = [
        {"op": "add_layer", "layer": {"id": f"l{i}", "name": f"L{i}", "mask": "wet", "colour": "#123456"}}
        for i in range(5)
    ]
    project, _ = change(project, *layers, {"op": "propose_sheets"})
    carried = [s.source(c) for s in project.sheets for c in s.channels if s.id.startswith("splat")]
    assert [c.kind for c in carried if c] == ["weight"] * 6 + ["base"]
    assert [s.id for s in project.sheets] == ["splat_a", "splat_b", "data"]


@pytest.mark.parametrize(
    ("operations", "error", "words"),
    [
        ([{"op": "rename_mask", "mask": "wet", "name": "STEEP"}], NameTaken, "already a mask"),
        ([{"op": "delete_mask", "mask": "wet"}], BadDocument, "the mask Steep, the layer Mud, channel B"),
        ([{"op": "set_line", "mask": "steep", "line": take(low=95)}], BadNumber, "must not be above"),
        ([{"op": "set_ground", "low": 400}], BadNumber, "above the lowest"),
        ([{"op": "set_line", "mask": "gone", "line": take()}], NotFound, "no longer there"),
        (
            [
                {
                    "op": "add_line",
                    "mask": "wet",
                    "line": {"id": "z", "verb": "take", "source": {"kind": "mask", "mask": "steep"}},
                }
            ],
            Cycle,
            "Steep → Wet → Steep",
        ),
        ([{"op": "add_line", "mask": "wet", "line": take(low=float("nan"))}], BadDocument, "finite"),
        ([{"op": "explode"}], BadDocument, "wrong at 0"),
    ],
)
def test_edits_that_do_not_hold_together_are_refused(operations, error, words):
    with pytest.raises(error, match=words):
        change(parse_project(document()), *operations)


def packed(folder, data=None):
    path = folder / "hills.png"
    path.write_bytes(png16(hills(127, 127)))

    digest = hashlib.sha256(path.read_bytes()).hexdigest()
    project = parse_project(data or document())
    project = project.model_copy(update={"ground": project.ground.model_copy(update={"asset": digest})})
    return project, io.BytesIO(b"".join(archive_pieces(project, lambda _: path)))


def test_a_project_file_comes_back_and_is_the_same_every_time(tmp_path):
    project, out = packed(tmp_path)
    assert out.getvalue() == packed(tmp_path)[1].getvalue()
    opened = open_archive(out, tmp_path, "a.meadow.zip")
    assert opened.project == project
    assert opened.assets[0].read_bytes() == (tmp_path / "hills.png").read_bytes()


def rezipped(out, change_entry):
    new = io.BytesIO()
    with zipfile.ZipFile(out) as old, zipfile.ZipFile(new, "w") as archive:
        for info in old.infolist():
            name, data = change_entry(info.filename, old.read(info))
            if name:
                archive.writestr(name, data)
    return new


@pytest.mark.parametrize(
    "change_entry",
    [
        lambda name, data: (name, data[:-9]),
        lambda name, data: ("../../" + name, data),
        lambda name, data: ("" if name.startswith("assets") else name, data),
        lambda name, data: (name, b"{" if name == "project.json" else data),
        lambda name, data: (
            name,
            data.replace(b'"version":7', b'"version":9').replace(b'"version": 7', b'"version": 9'),
        ),
    ],
)
def test_project_files_that_were_tampered_with(tmp_path, change_entry):
    out = rezipped(packed(tmp_path)[1], change_entry)
    place = tmp_path / "in"
    place.mkdir()
    with pytest.raises(MeadowError):
        open_archive(out, place, "a.meadow.zip")
    assert not [path for path in tmp_path.rglob("*") if path.name not in ("hills.png", "in")]


def test_other_files_are_no_project_files(tmp_path):
    with pytest.raises(WrongFormat, match="not a project file"):
        open_archive(io.BytesIO(b"hello"), tmp_path, "a.zip")
