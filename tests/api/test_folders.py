"""Heightmaps watched in folders that were allowed at the start: nothing leads out of them, nothing is taken unasked."""

from __future__ import annotations

import os

import numpy as np
import pytest
from typer.testing import CliRunner

from tests.support.api import moor
from tests.support.ground import hills, png16
from zigzag_meadow.cli import load
from zigzag_meadow.server import folders


@pytest.fixture
def allowed(tmp_path, settings):
    folder = tmp_path / "maps"
    (folder / "deep").mkdir(parents=True)
    (folder / "moor.png").write_bytes(png16(hills(127, 127)))
    (folder / "deep" / "other.png").write_bytes(png16(hills(127, 127, seed=9)))
    (tmp_path / "secret.png").write_bytes(png16(hills(127, 127)))
    (folder / "link.png").symlink_to(tmp_path / "secret.png")
    (folder / ".hidden.png").write_bytes(b"x")
    settings.MEADOW_FOLDERS = [str(folder.resolve())]
    (settings.MEADOW_DATA / "watched.json").unlink(missing_ok=True)
    return folder


def rewritten(path, data, ago=5.0):
    path.write_bytes(data)
    stat = path.stat()
    os.utime(path, ns=(stat.st_atime_ns, stat.st_mtime_ns - int(ago * 1e9) + stat.st_size))


def test_a_watched_heightmap_is_told_of_and_taken_only_when_asked(api, allowed):
    state = moor(api)
    pid = state["id"]
    assert api.get(f"/projects/{pid}/watch") == {"allowed": True, "file": None, "state": None}
    names = {entry["name"] for entry in api.get("/folder-files")}
    assert names == {"moor.png", os.path.join("deep", "other.png")}
    told = api.post(f"/projects/{pid}/watch", {"folder": 0, "name": "moor.png"})
    assert (told["file"]["name"], told["state"]) == ("moor.png", "same")
    higher = hills(127, 127)
    higher[40:60, 40:60] = 65535
    rewritten(allowed / "moor.png", png16(higher), ago=0)
    assert api.get(f"/projects/{pid}/watch")["state"] == "writing"
    rewritten(allowed / "moor.png", png16(higher))
    assert api.get(f"/projects/{pid}/watch")["state"] == "changed"
    found = api.post("/folder-files/look", {"folder": 0, "name": "moor.png"})
    source = {"asset": found["asset"], "name": found["name"]}
    change = api.post(f"/projects/{pid}/height-change", {"source": source, "keep": "extent"})
    assert change["share"] == pytest.approx(400 / 127**2, rel=0.1)
    assert 190 <= change["east"] <= 300
    assert change["largest"] > 20
    assert api.get(f"/projects/{pid}")["revision"] == state["revision"]
    assert api.post(f"/projects/{pid}/watch/seen")["state"] == "same"
    (allowed / "moor.png").unlink()
    assert api.get(f"/projects/{pid}/watch")["state"] == "gone"
    api.client.delete(f"/api/projects/{pid}/watch")
    assert api.get(f"/projects/{pid}/watch")["file"] is None


@pytest.mark.parametrize(
    "name", ["../secret.png", "link.png", "/etc/passwd", "deep", "nothing.png", "a\0b", "deep/../../secret.png"]
)
def test_nothing_leads_out_of_a_folder(api, allowed, name):
    pid = moor(api)["id"]
    api.post(f"/projects/{pid}/watch", {"folder": 0, "name": name}, status=404)
    api.post("/folder-files/look", {"folder": 0, "name": name}, status=404)
    assert api.get(f"/projects/{pid}/watch")["file"] is None


def test_without_folders_nothing_can_be_watched_and_no_document_holds_a_path(api, allowed, settings):
    pid = moor(api)["id"]
    api.post(f"/projects/{pid}/watch", {"folder": 0, "name": "moor.png"})
    kept = b"".join(api.get(f"/projects/{pid}/save-out").streaming_content)
    assert str(allowed).encode() not in kept
    settings.MEADOW_FOLDERS = []
    assert api.get(f"/projects/{pid}/watch")["state"] == "gone"
    assert api.get("/folder-files") == []
    api.post(f"/projects/{pid}/watch", {"folder": 0, "name": "moor.png"}, status=404)
    (settings.MEADOW_DATA / "watched.json").write_bytes(b"{damaged")
    assert api.get(f"/projects/{pid}/watch")["file"] is None


def test_a_file_that_is_no_heightmap_or_is_being_written_is_refused(api, allowed, monkeypatch):
    (allowed / "notes.png").write_bytes(b"\x89PNG\r\n\x1a\nbroken")
    api.post("/folder-files/look", {"folder": 0, "name": "notes.png"}, status=422)

    def slow(size, name):
        """Somebody writes to it between the first look and the second."""
        rewritten(allowed / name, png16(np.roll(hills(127, 127), 3, 0)))

    monkeypatch.setattr(folders, "check_bytes", slow)
    assert "being written" in api.post("/folder-files/look", {"folder": 0, "name": "moor.png"}, status=409)["detail"]


def test_serving_refuses_a_folder_that_is_not_there(tmp_path):
    done = CliRunner().invoke(load(), ["serve", "--folder", str(tmp_path / "nowhere")])
    assert done.exit_code == 2
    assert "no folder nowhere" in done.output + (done.stderr or "")
