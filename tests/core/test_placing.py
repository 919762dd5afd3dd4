"""Files put into folders of others, second runs that keep what is the same, and disks that say no."""

from __future__ import annotations

import hashlib
import os
import shutil
import subprocess
import sys

import orjson
import pytest

from tests.support.delivery import made
from tests.support.ground import document, evaluation
from zigzag_meadow.core.delivery import placing
from zigzag_meadow.core.delivery.earlier import Earlier
from zigzag_meadow.core.delivery.manifest import read_manifest
from zigzag_meadow.core.delivery.placing import in_the_way, place
from zigzag_meadow.core.delivery.plan import make_plan
from zigzag_meadow.core.delivery.run import deliver
from zigzag_meadow.core.errors import BadFile, Conflict, NoRoom
from zigzag_meadow.core.fit.rehearsal import Rehearsal
from zigzag_meadow.core.formats.names import PUTTING
from zigzag_meadow.core.stripes import Stripes


@pytest.fixture
def there(tmp_path):
    folder = tmp_path / "game"
    folder.mkdir()
    (folder / "level.dat").write_text("theirs")
    return folder


def test_files_take_their_place_whole_and_touch_nothing_else(tmp_path, there):
    _, out = made(tmp_path)
    placed = place(out, there, {})
    assert placed.written == len(list(out.iterdir()))
    for path in out.iterdir():
        assert (there / path.name).read_bytes() == path.read_bytes()
    assert (there / "level.dat").read_text() == "theirs"
    again = place(out, there, placed.put)
    assert (again.written, again.same) == (0, placed.written)
    assert not list(there.glob(".*"))


def test_what_somebody_else_wrote_or_changed_is_asked_about(tmp_path, there):
    _, out = made(tmp_path)
    (there / "manifest.json").write_text("of another program")
    with pytest.raises(Conflict, match=r"manifest\.json in that folder did not come from here"):
        place(out, there, {})
    assert sorted(path.name for path in there.iterdir()) == ["level.dat", "manifest.json"]
    placed = place(out, there, {}, over=["manifest.json"])
    height = there / "test_moor_height.png"
    height.write_bytes(height.read_bytes() + b"x")
    data = document()
    data["ground"]["high"] = 330
    _, other = made(tmp_path, data, "other")
    with pytest.raises(Conflict, match="test_moor_height"):
        place(other, there, placed.put)
    place(other, there, placed.put, over=["test_moor_height.png"])
    assert height.read_bytes() == (other / height.name).read_bytes()


def test_links_and_folders_under_our_names_are_left_alone(tmp_path, there):
    _, out = made(tmp_path)
    secret = tmp_path / "secret"
    secret.write_text("keep")
    (there / "test_moor_height.png").symlink_to(secret)
    with pytest.raises(Conflict):
        place(out, there, {})
    with pytest.raises(Conflict, match="no plain file"):
        place(out, there, {}, over=["test_moor_height.png"])
    assert secret.read_text() == "keep"


@pytest.mark.parametrize("trouble", [OSError(28, "No space left on device"), PermissionError(13, "read-only")])
def test_a_disk_that_says_no_leaves_every_file_whole(tmp_path, there, monkeypatch, trouble):
    _, out = made(tmp_path)
    before = place(out, there, {}).put
    data = document()
    data["ground"]["high"] = 330
    _, other = made(tmp_path, data, "other")
    copied, real = [], placing.shutil.copyfileobj

    def copy(source, to, *more):
        if len(copied) == 2:
            to.write(source.read(50))
            raise trouble
        copied.append(to)
        return real(source, to, *more)

    monkeypatch.setattr(placing.shutil, "copyfileobj", copy)
    with pytest.raises(OSError):  # noqa: PT011
        place(other, there, before)
    # All of it is taken back: the folder holds the one delivery or the other, never a part of both.
    for path in out.iterdir():
        assert (there / path.name).read_bytes() == path.read_bytes()
    assert not list(there.glob(".*"))
    monkeypatch.undo()
    assert place(other, there, before).written > 0


STEPS = [("_copied", 2), ("_into_place", 1), ("_into_place", 3), ("_settle", 1)]


@pytest.mark.parametrize(("where", "at"), STEPS)
def test_who_was_cut_off_in_the_middle_locks_nobody_out(tmp_path, there, where, at):
    """A process that ends while files are put: the folder says so, is called whole by nobody, and takes the next."""
    _, out = made(tmp_path)
    put = place(out, there, {}).put
    data = document()
    data["ground"]["high"] = 330
    _, other = made(tmp_path, data, "other")
    program = f"""
import os, sys
from pathlib import Path
from zigzag_meadow.core.delivery import placing
real, seen = placing.{where}, []
def ends(*given):
    seen.append(given)
    if len(seen) == {at}:
        os._exit(9)
    return real(*given)
placing.{where} = ends
placing.place(Path(sys.argv[1]), Path(sys.argv[2]), {put!r})
"""
    done = subprocess.run([sys.executable, "-c", program, str(other), str(there)], check=False)
    assert done.returncode == 9
    assert (there / PUTTING).is_file()
    with pytest.raises(BadFile, match="cut off"):
        Rehearsal(there)
    assert in_the_way(there, put, put) == []
    theirs = there / "test_moor_data.png"
    kept = theirs.read_bytes()
    theirs.write_bytes(b"somebody's")
    with pytest.raises(Conflict, match="test_moor_data"):
        place(other, there, put)
    theirs.write_bytes(kept)
    third = place(other, there, put)
    assert {name: hashlib.sha256((there / name).read_bytes()).hexdigest() for name in third.put} == third.put
    assert (there / "level.dat").read_text() == "theirs"
    assert not list(there.glob(".*"))


@pytest.mark.parametrize("name", ["test_moor_splat.png", "test_moor_height.png"])
def test_what_somebody_saves_meanwhile_is_theirs(tmp_path, there, monkeypatch, name):
    """A file that would have been replaced, and one that would have stayed as it was."""
    _, out = made(tmp_path)
    put = place(out, there, {}).put
    data = document()
    data["ground"]["high"] = 330
    _, other = made(tmp_path, data, "other")
    real = placing._copied
    saved = there / name

    def copied(source, part):
        real(source, part)
        if source.name == "import_note.txt":
            saved.write_bytes(b"retouched")

    monkeypatch.setattr(placing, "_copied", copied)
    with pytest.raises(Conflict, match=name):
        place(other, there, put)
    assert saved.read_bytes() == b"retouched"
    for name in ("import_note.txt", "import_note.json", "manifest.json"):
        assert (there / name).read_bytes() == (out / name).read_bytes()


def test_nothing_is_written_through_a_link_that_lies_in_the_way(tmp_path, there, monkeypatch):
    _, out = made(tmp_path)
    secret = tmp_path / "secret"
    secret.write_text("keep")
    monkeypatch.setattr(placing.secrets, "token_hex", lambda _: "guessed")
    for number in ("list", *range(12)):
        (there / f".zigzag-guessed-{number}.part").symlink_to(secret)
    with pytest.raises(FileExistsError):
        place(out, there, {})
    (there / PUTTING).symlink_to(secret)
    monkeypatch.undo()
    place(out, there, {})
    assert secret.read_text() == "keep"


def test_a_folder_without_room_is_told_before_anything_is_touched(tmp_path, there, monkeypatch):
    _, out = made(tmp_path)
    room = shutil.disk_usage(there)._replace(free=1000)
    monkeypatch.setattr(placing.shutil, "disk_usage", lambda _: room)
    with pytest.raises(NoRoom, match="MiB are free there"):
        place(out, there, {})
    assert sorted(path.name for path in there.iterdir()) == ["level.dat"]


def test_a_folder_that_vanishes_is_an_error_and_no_new_folder(tmp_path):
    _, out = made(tmp_path)
    with pytest.raises(FileNotFoundError):
        place(out, tmp_path / "gone", {})
    assert not (tmp_path / "gone").exists()


def again(folder, data, earlier, name):
    project, ev = evaluation(folder, data)
    out = folder / name
    out.mkdir()
    old = Earlier(earlier)
    deliver(ev, make_plan(project, ev.heights()), out, Stripes(1), lambda share, text: None, old)
    return out, old.taken


def changed(part, **numbers):
    data = document()
    if part == "mask":
        data["masks"][1]["lines"][0]["source"]["low"] = 3000
    elif part == "name":
        data["name"] = "Other Moor"
    else:
        data[part] |= numbers
    return data


@pytest.mark.parametrize(
    ("part", "numbers", "kept"),
    [
        ("name", {}, 3),
        ("mask", {}, 1),
        ("ground", {"high": 333}, 0),
        ("ground", {"spacing_x": 6}, 0),
        ("ground", {"water": 50}, 3),
        ("delivery", {"rows": 253, "cols": 253}, 0),
        ("delivery", {"items": [{"of": "sheet:data", "turn": "both"}]}, 2),
        ("delivery", {"items": [{"of": "sheet:data", "form": "tga"}, {"of": "height", "form": "raw16"}]}, 1),
    ],
)
def test_only_what_changed_is_written_again(tmp_path, part, numbers, kept):
    _, first = made(tmp_path)
    data = changed(part, **numbers)
    out, taken = again(tmp_path, data, first, "again")
    assert taken == kept
    fresh = tmp_path / "fresh"
    fresh.mkdir()
    _, whole = made(fresh, data)
    for path in whole.iterdir():
        assert (out / path.name).read_bytes() == path.read_bytes(), path.name


def _looked(green, *of):
    """Single maps to plain files; two masks hold the same, and the base wears a texture."""
    items = [{"of": name, "deliver": True} for name in of] + [
        {"of": f"sheet:{name}", "deliver": False} for name in ("splat", "data")
    ]
    data = document(delivery={"target": "plain-files", "rows": 127, "cols": 127, "items": items})
    data["masks"].append({**data["masks"][1], "id": "twin", "name": "Twin"})
    data["base"] = {"dressing": {"look": "scree"}}
    return data | {"surface": {"green": green}}


def test_what_a_file_goes_by_and_which_map_it_is_of_are_known_from_fresh(tmp_path):
    _, first = made(tmp_path, _looked("up", "look:scree:normal", "look:scree:roughness", "mask:wet"))
    data = _looked("down", "look:scree:normal", "look:scree:roughness", "mask:twin")
    out, taken = again(tmp_path, data, first, "again")
    assert taken == 3  # height, roughness and the twin's samples; directions turned their green
    fresh = tmp_path / "fresh"
    fresh.mkdir()
    _, whole = made(fresh, data)
    for path in whole.iterdir():
        assert (out / path.name).read_bytes() == path.read_bytes(), path.name


def test_files_that_were_changed_in_an_earlier_delivery_are_made_anew(tmp_path):
    _, first = made(tmp_path)
    path = first / "test_moor_splat.png"
    path.write_bytes(path.read_bytes()[:-30] + bytes(30))
    out, taken = again(tmp_path, document(), first, "again")
    assert taken == 2
    assert (out / path.name).read_bytes() != path.read_bytes()
    (first / "manifest.json").write_text("{")
    assert again(tmp_path, document(), first, "third")[1] == 0


def test_the_manifest_lists_every_file_with_its_checksum(tmp_path):
    _, out = made(tmp_path)
    manifest = read_manifest(out)
    assert {entry.file for entry in manifest.files} == {p.name for p in out.iterdir()} - {"manifest.json"}
    for entry in manifest.files:
        assert hashlib.sha256((out / entry.file).read_bytes()).hexdigest() == entry.sha256
    assert len(manifest.document) == 64
    told = orjson.loads((out / "manifest.json").read_bytes())
    assert not any(os.sep in name for name in (entry["file"] for entry in told["files"]))
    (out / "manifest.json").unlink()
    with pytest.raises(BadFile, match="There is no manifest"):
        read_manifest(out)
