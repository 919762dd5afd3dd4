"""Files that also go into a folder of this machine: allowed ones only, nothing of others replaced unasked."""

from __future__ import annotations

import io
import shutil

import numpy as np
import pytest
from PIL import Image

from tests.support.api import low
from tests.support.server import run_all
from zigzag_meadow.server import destinations


@pytest.fixture
def game(tmp_path, settings):
    root = tmp_path / "game"
    (root / "levels" / "moor").mkdir(parents=True)
    (root / ".hidden").mkdir()
    settings.MEADOW_FOLDERS = [str(root.resolve())]
    (settings.MEADOW_DATA / "destinations.json").unlink(missing_ok=True)
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
    assert "There is no folder levels there any more" in done["placed"]["trouble"]
    assert not (game / "levels").exists()
    settings.MEADOW_FOLDERS = []
    assert "--folder" in api.post(f"/projects/{pid}/deliveries/1/place", {})["trouble"]
    (settings.MEADOW_DATA / "destinations.json").write_text("{broken")
    assert destinations.destination(pid) is None
    assert api.call("POST", f"/projects/{pid}/deliveries/1/place", {}, status=404)["detail"]
    assert api.call("DELETE", f"/projects/{pid}/destination")["chosen"] is None


def test_a_disk_that_is_full_is_a_sentence(api, project, game, monkeypatch):
    pid = project["id"]
    api.post(f"/projects/{pid}/destination", {"folder": 0, "name": ""})

    def full(*_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("zigzag_meadow.core.delivery.placing.shutil.copyfile", full)
    done = deliver(api, pid)
    assert done["job"]["state"] == "done"
    assert done["placed"]["trouble"]
    assert list(game.glob("*.png")) == []
    assert list(game.glob(".*.part")) == []


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
