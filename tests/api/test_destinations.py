"""Files that also go into a folder of this machine: allowed ones only, nothing of others replaced unasked."""

from __future__ import annotations

import io
import os
import shutil
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from tests.support.api import low
from tests.support.server import run_all
from zigzag_meadow.server import clearing, destinations
from zigzag_meadow.server.jobs import request_delivery
from zigzag_meadow.server.models import Destination


@pytest.fixture
def game(tmp_path, settings):
    root = tmp_path / "game"
    (root / "levels" / "moor").mkdir(parents=True)
    (root / ".hidden").mkdir()
    settings.MEADOW_FOLDERS = [str(root.resolve())]
    return root


def deliver(api, pid):
    api.post(f"/projects/{pid}/deliveries", status=202)
    run_all()
    return api.get(f"/projects/{pid}/deliveries")[0]


def test_each_run_replaces_the_files_there(api, project, game):
    pid = project["id"]
    told = api.get(f"/projects/{pid}/destination")
    assert told["allowed"]
    assert told["chosen"] is None
    assert [place["name"] for place in told["places"]] == ["", "levels", "levels/moor"]
    assert deliver(api, pid)["placed"] is None
    told = api.post(f"/projects/{pid}/destination", {"folder": 0, "name": "levels/moor"})
    assert told["chosen"] == {"folder": 0, "name": "levels/moor"}
    placed = deliver(api, pid)["placed"]
    there = game / "levels" / "moor"
    assert placed["folder"] == "game / levels / moor"
    assert placed["trouble"] is None
    before = (there / "test_moor_splat.png").read_bytes()
    assert placed["written"] == len(list(there.iterdir()))
    api.edit(pid, api.get(f"/projects/{pid}")["revision"], low(90))
    placed = deliver(api, pid)["placed"]
    assert (there / "test_moor_splat.png").read_bytes() != before
    assert placed["same"] >= 2
    # No path of this machine is in the project.
    assert str(game) not in str(api.get(f"/projects/{pid}")["document"])


def test_what_is_not_ours_is_asked_about_and_kept_until_answered(api, project, game):
    pid = project["id"]
    api.post(f"/projects/{pid}/destination", {"folder": 0, "name": ""})
    (game / "test_moor_height.png").write_text("theirs")
    done = deliver(api, pid)
    assert done["job"]["state"] == "done"
    assert done["placed"]["way"] == ["test_moor_height.png"]
    assert "did not come from here" in done["placed"]["trouble"]
    assert (game / "test_moor_height.png").read_text() == "theirs"
    assert not (game / "manifest.json").exists()
    told = api.post(f"/projects/{pid}/deliveries/1/place", {"over": done["placed"]["way"]})
    assert told["trouble"] is None
    assert (game / "test_moor_height.png").read_bytes().startswith(b"\x89PNG")
    assert api.get(f"/projects/{pid}/deliveries")[0]["placed"]["trouble"] is None


def test_a_folder_that_is_gone_or_forbidden_loses_no_delivery(api, project, game, settings, tmp_path):
    pid = project["id"]
    for folder, name in ((0, "../secret"), (0, "nowhere"), (1, ""), (0, "a\0b")):
        assert api.call("POST", f"/projects/{pid}/destination", {"folder": folder, "name": name}, status=404)["detail"]
    (tmp_path / "secret").mkdir()
    (game / "way_out").symlink_to(tmp_path / "secret")
    api.call("POST", f"/projects/{pid}/destination", {"folder": 0, "name": "way_out"}, status=404)
    api.post(f"/projects/{pid}/destination", {"folder": 0, "name": "levels"})
    shutil.rmtree(game / "levels")
    done = deliver(api, pid)
    assert done["job"]["state"] == "done"
    assert "There is no folder levels in that folder any more" in done["placed"]["trouble"]
    assert not (game / "levels").exists()
    settings.MEADOW_FOLDERS = []
    assert "--folder" in api.post(f"/projects/{pid}/deliveries/1/place", {})["trouble"]
    assert api.call("DELETE", f"/projects/{pid}/destination")["chosen"] is None
    assert api.call("POST", f"/projects/{pid}/deliveries/1/place", {}, status=404)["detail"]


def test_a_disk_that_is_full_is_a_sentence(api, project, game, monkeypatch):
    pid = project["id"]
    api.post(f"/projects/{pid}/destination", {"folder": 0, "name": ""})

    def full(*_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("zigzag_meadow.core.delivery.placing.shutil.copyfileobj", full)
    done = deliver(api, pid)
    assert done["job"]["state"] == "done"
    assert done["placed"]["trouble"]
    assert list(game.glob("*.png")) == []
    assert list(game.glob(".*.part")) == []


def test_names_that_are_no_text_and_links_in_a_circle_are_answered(api, project, game):
    pid = project["id"]
    (game / os.fsdecode(b"caf\xe9")).mkdir()
    (game / os.fsdecode(b"peak\xff.png")).write_bytes(b"x")
    (game / "round").symlink_to(game / "round")
    future = game / "later.png"
    future.write_bytes(b"x")
    os.utime(future, (4e9, 4e9))
    assert [item["name"] for item in api.get("/folder-files")] == ["later.png"]
    assert all(place["name"].isascii() for place in api.get(f"/projects/{pid}/destination")["places"])
    for name, status in (("round", 404), ("a" * 300, 404), ("caf\udce9", 422), ("\ud800", 422)):
        api.call("POST", f"/projects/{pid}/destination", {"folder": 0, "name": name}, status=status)
        api.call("POST", "/folder-files/look", {"folder": 0, "name": name}, status=status)


def test_a_choice_that_is_changed_while_files_are_put_stays_and_folders_stay_known(api, project, game, monkeypatch):
    pid = project["id"]
    api.post(f"/projects/{pid}/destination", {"folder": 0, "name": "levels/moor"})
    real = destinations.place

    def slow(*given):
        made = real(*given)
        api.post(f"/projects/{pid}/destination", {"folder": 0, "name": "levels"})
        return made

    monkeypatch.setattr(destinations, "place", slow)
    assert deliver(api, pid)["placed"]["trouble"] is None
    monkeypatch.undo()
    assert api.get(f"/projects/{pid}/destination")["chosen"]["name"] == "levels"
    # Back again: what was put there is ours still.
    api.edit(pid, api.get(f"/projects/{pid}")["revision"], low(90))
    api.post(f"/projects/{pid}/destination", {"folder": 0, "name": "levels/moor"})
    assert deliver(api, pid)["placed"]["trouble"] is None


def test_what_was_cut_off_is_taken_up_at_the_next_start(api, project, game, monkeypatch):
    pid = project["id"]
    api.post(f"/projects/{pid}/destination", {"folder": 0, "name": "levels"})

    def ends(*_):
        raise SystemExit

    monkeypatch.setattr(destinations, "place", ends)
    with pytest.raises(SystemExit):
        deliver(api, pid)
    monkeypatch.undo()
    assert not (game / "levels" / "manifest.json").exists()
    destinations.take_up()
    assert (game / "levels" / "manifest.json").is_file()
    assert api.get(f"/projects/{pid}/deliveries")[0]["placed"]["trouble"] is None
    assert not Destination.objects.exclude(putting=None).exists()


def test_deliveries_are_kept_by_a_rule_deleted_and_named(api, project, game):
    pid = project["id"]
    api.post(f"/projects/{pid}/destination", {"folder": 0, "name": "levels"})
    deliver(api, pid)
    api.call("DELETE", f"/projects/{pid}/destination")
    for _ in range(2):
        deliver(api, pid)
    api.post(f"/projects/{pid}/deliveries/2/name", {"name": "For the studio"}, status=204)
    document = api.get(f"/projects/{pid}")
    api.edit(pid, document["revision"], {"op": "choose_target", "target": "plain-files"})
    for _ in range(11):
        made = deliver(api, pid)
    assert made["number"] == 14
    told = {item["number"]: (item["name"], item["kept"]) for item in api.get(f"/projects/{pid}/deliveries")}
    assert sorted(told) == [1, 2, 3, *range(5, 15)]
    assert told[1] == ("", "a folder holds it")
    assert told[2] == ("For the studio", "it has a name")
    assert told[3] == ("", "the last for its target")
    folder = Path(made["folder"]).parent
    api.call("DELETE", f"/projects/{pid}/deliveries/14", status=204)
    assert not folder.exists()
    assert not (folder.parent / "0004").exists()
    api.call("DELETE", f"/projects/{pid}/deliveries/14", status=404)
    api.post(f"/projects/{pid}/deliveries", status=202)
    number = api.get(f"/projects/{pid}/deliveries")[0]["number"]
    assert "Stop that first" in api.call("DELETE", f"/projects/{pid}/deliveries/{number}", status=409)["detail"]


def test_what_is_asked_for_while_old_ones_are_cleared_stays(api, project, monkeypatch):
    """Seen once in a hundred ended processes: it was newer than what is kept, and older than what is cleared."""
    pid = project["id"]
    deliver(api, pid)
    look, asked = clearing.kept_because, []

    def meanwhile(*seen):
        kept = look(*seen)
        asked.append(request_delivery(pid).id)
        return kept

    monkeypatch.setattr(clearing, "kept_because", meanwhile)
    assert clearing.clear_old(pid) == []
    monkeypatch.undo()
    assert [row["job"]["id"] for row in api.get(f"/projects/{pid}/deliveries")][:1] == asked


def test_an_image_is_taken_apart_into_masks(api, project, tmp_path):
    pid = project["id"]
    pixels = np.random.default_rng(2).integers(0, 256, (127, 127, 4), np.uint8)
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "PNG")
    told = api.upload(f"/projects/{pid}/take-apart", "old.png", out.getvalue())
    assert [c["channel"] for c in told["channels"]] == list("rgba")
    assert told["samples"] == "border"
    numbers = {"asset": told["asset"], "channel": "a", "samples": "border"}
    source = {"kind": "reading", "reading": "p", "black": 0, "white": 1}
    line = {"id": "t", "verb": "take", "source": source}
    state = api.edit(
        pid,
        project["revision"],
        {"op": "add_reading", "setting": {"id": "p", "kind": "picture", "name": "Old A", "numbers": numbers}},
        {"op": "add_mask", "mask": {"id": "old", "name": "Old", "lines": [line]}},
    )
    response = api.client.get(f"/api/projects/{pid}/maps/mask:old")
    assert np.array_equal(np.frombuffer(response.content, np.uint8).reshape(127, 127), pixels[..., 3])
    assert any(item["short"] == "ends nowhere" for item in state["cautions"])
    assert api.upload(f"/projects/{pid}/take-apart", "old.png", out.getvalue()[:900], status=422)["detail"]
