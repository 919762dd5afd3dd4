"""Readings, preparation, diagnosis, profiles, tiles, pictures and the survey desk through HTTP."""

from __future__ import annotations

import json
from dataclasses import replace

import imagecodecs
import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from tests.support.ground import hills, png16
from zigzag_meadow.core.evaluate.board import WorkBoard
from zigzag_meadow.server.api import diagnosis
from zigzag_meadow.server.engine import engine


def setting(reading_id, **numbers):
    return {"op": "set_reading", "setting": {"id": reading_id, "kind": reading_id, "numbers": numbers}}


def test_readings_come_with_the_project_and_follow_its_numbers(api, project):
    pid = project["id"]
    by_name = {r["name"]: r for r in project["readings"]}
    assert by_name["deposition"]["numbers_of"] == "scour"
    assert "picture" not in by_name
    state = api.edit(pid, project["revision"], setting("relative_height", radius=50))
    after = {r["name"]: r for r in state["readings"]}
    changed = {name for name in by_name if by_name[name]["key"] != after[name]["key"]}
    assert changed == {"relative_height"}
    assert next(p["value"] for p in after["relative_height"]["params"]) == 50
    said = api.edit(pid, state["revision"], setting("relative_height", radius=1e9), status=422)
    assert said["field"] == "radius"


@pytest.mark.parametrize("name", ["aspect", "sun", "scour", "talus", "noise", "channel_depth", "occlusion"])
def test_every_family_has_maps_numbers_and_probes(api, project, name):
    pid = project["id"]
    response = api.get(f"/projects/{pid}/maps/reading:{name}?size=64")
    assert json.loads(response["X-Map-Shape"])["rows"] == 64
    values = np.frombuffer(api.get(f"/projects/{pid}/maps/reading:{name}").content, np.float32).reshape(127, 127)
    there = values[np.isfinite(values)].astype(np.float64)
    stats = api.get(f"/projects/{pid}/stats?name=reading:{name}")
    assert (stats["low"], stats["high"]) == (there.min(), there.max())
    assert stats["mean"] == pytest.approx(there.mean(), rel=1e-6)
    inside = (there >= stats["bin_low"]) & (there <= stats["bin_high"])
    assert sum(stats["counts"]) == pytest.approx(inside.mean(), abs=1e-6)
    value = api.get(f"/projects/{pid}/probe?row=5&col=9&names=reading:{name}")["values"][f"reading:{name}"]
    assert value == (float(values[5, 9]) if np.isfinite(values[5, 9]) else None)


def test_a_draft_comes_first_and_says_so(api, project, data_folder):
    # What an earlier run of the tests left behind would be ready at once.
    for stored in (data_folder / "maps").glob("*.npy"):
        stored.unlink()
    api.edit(project["id"], project["revision"], setting("scour", seed=7701))
    url = f"/projects/{project['id']}/maps/reading:scour?draft=true"
    assert api.get(url)["X-Map-Draft"] == "1"
    real = api.get(f"/projects/{project['id']}/maps/reading:scour")
    assert "X-Map-Draft" not in real
    again = api.get(url)
    assert "X-Map-Draft" not in again
    assert again.content == real.content


def step(plan):
    """Metres a step, as the plan tells it."""
    return float(next(row["value"] for row in plan["numbers"] if row["title"] == "Metres a step").split()[0])


def test_steps_change_what_is_found_measured_and_planned(api, project):
    pid = project["id"]
    plain = api.get(f"/projects/{pid}/diagnosis")
    planned = api.get(f"/projects/{pid}/plan")
    assert (plain["low"], plain["high"], plain["steps"]) == (20, 320, [])
    assert plain["legal"][0]["legal"]
    steps = [
        {"op": "add_step", "step": {"id": "a", "kind": "soften", "angle": 35}},
        {"op": "add_step", "step": {"id": "b", "kind": "raise", "by": 50}},
    ]
    state = api.edit(pid, project["revision"], *steps)
    found = api.get(f"/projects/{pid}/diagnosis")
    assert found["low"] > plain["low"] + 40
    assert found["steps"][0]["stretched_before"] > found["steps"][0]["stretched_after"]
    # The delivery's step follows the heights that the ground now has.
    assert step(api.get(f"/projects/{pid}/plan")) < step(planned)
    before = api.get(f"/projects/{pid}/stats?name=at:0:height")
    after = api.get(f"/projects/{pid}/stats?name=reading:height")
    assert after["mean"] == pytest.approx(before["mean"] + 50, abs=3)
    assert api.step("undo", pid)["document"]["ground"]["steps"] == []
    api.edit(pid, state["revision"] + 1, {"op": "delete_step", "step": "zz"}, status=404)
    api.get(f"/projects/{pid}/stats?name=at:9:height", status=404)


def test_an_eight_bit_ground_is_found_out_and_mended(api):
    y, x = np.mgrid[0:120, 0:150]
    z = 90 * np.exp(-(((y - 60) / 40) ** 2 + ((x - 75) / 50) ** 2)) + 0.1 * x
    found = api.upload("/heightmaps", "a.png", bytes(imagecodecs.png_encode(np.round(z).astype(np.uint8))))
    new = {
        "name": "Old",
        "source": {"asset": found["asset"], "name": "a.png"},
        "heights": "range",
        "low": 0,
        "high": 200,
        "spacing_x": 4,
        "spacing_y": 4,
    }
    state = api.post("/projects", new, status=201)
    finding = api.get(f"/projects/{state['id']}/diagnosis")["findings"][0]
    assert finding["code"] == "stairs"
    where = api.get(f"/projects/{state['id']}/maps/finding:stairs")
    # Edges of stairs are lines: marked or not, on some of the ground.
    marked = np.frombuffer(where.content, np.uint8)
    assert set(np.unique(marked)) <= {0, 255}
    assert 0.03 < (marked == 255).mean() < 0.2
    state = api.edit(state["id"], 1, {"op": "add_step", "step": {"id": "m", **finding["mend"]}})
    codes = [f["code"] for f in api.get(f"/projects/{state['id']}/diagnosis")["findings"]]
    assert "stairs" not in codes


def test_profiles_run_over_the_ground(api, project):
    url = f"/projects/{project['id']}/profile?name=reading:slope&row0=4&col0=4&row1=4&col1=44"
    line = api.get(url)
    assert line["along"] == pytest.approx(np.arange(41) * 5)
    along = np.frombuffer(api.get(f"/projects/{project['id']}/maps/reading:slope").content, np.float32)
    assert line["values"] == pytest.approx(along.reshape(127, 127)[4, 4:45].tolist(), rel=1e-6)
    said = api.get(url.replace("col1=44", "col1=900"), status=422)
    assert "not on it" in said["detail"]


def test_tiles_become_one_heightmap(api):
    whole = hills(33, 65)
    files = [
        SimpleUploadedFile(f"moor_x{c}_y{r}.png", png16(whole[r * 16 : r * 16 + 17, c * 16 : c * 16 + 17]))
        for r in range(2)
        for c in range(4)
    ]
    response = api.client.post("/api/heightmaps/tiles", {"files": files})
    found = json.loads(response.content)
    assert (response.status_code, found["rows"], found["columns"], found["depth"]) == (200, 33, 65, "16")
    bad = api.client.post("/api/heightmaps/tiles", {"files": [SimpleUploadedFile("a.png", png16(whole))]})
    assert (bad.status_code, json.loads(bad.content)["code"]) == (422, "bad-file")


def test_a_picture_is_laid_over_the_ground_and_travels_with_the_project(api, project, data_folder):
    pid = project["id"]
    pixels = np.zeros((50, 70, 3), np.uint8)
    pixels[:25] = 255
    found = api.upload(f"/projects/{pid}/pictures", "aerial.png", bytes(imagecodecs.png_encode(pixels)))
    assert (found["rows"], found["columns"], found["channels"]) == (50, 70, 3)
    numbers = {"asset": found["asset"], "flip": "north_south"}
    added = {"op": "add_reading", "setting": {"id": "air", "kind": "picture", "name": "Aerial", "numbers": numbers}}
    state = api.edit(pid, project["revision"], added)
    values = np.frombuffer(api.get(f"/projects/{pid}/maps/reading:air").content, np.float32).reshape(127, 127)
    assert values[-1].mean() > 0.99 > 0.01 > values[0].mean()
    saved = api.saved_out(pid)
    copy = api.upload("/projects/bring-in", "copy.meadow.zip", saved, status=201)
    assert copy["document"]["readings"] == state["document"]["readings"]
    from zigzag_meadow.server.assets import sweep

    assert sweep(older_than_seconds=-1) == 0
    said = api.upload(f"/projects/{pid}/pictures", "a.jpg", b"\xff\xd8\xff broken", status=422)
    assert "damaged" in said["detail"]


def test_replacing_the_heightmap_keeps_the_masks(api, project):
    found = api.upload("/heightmaps", "other.png", png16(hills(90, 90, seed=8)))
    source = {"asset": found["asset"], "name": "other.png"}
    body = {"base": project["revision"], "tab": "t", "source": source}
    state = api.post(f"/projects/{project['id']}/replace", body)
    assert state["undo"] == "replace the heightmap by other.png"
    assert (state["home"]["rows"], round(state["home"]["width"], 6)) == (90, 630)
    assert len(state["document"]["masks"]) == 2
    assert api.post(f"/projects/{project['id']}/replace", body, status=409)["code"] == "stale-edit"


def test_the_survey_desk_serves_tiles_and_squares(api):
    tile = api.client.get("/api/survey/tiles/3/2/5")
    assert imagecodecs.png_decode(tile.content).shape == (256, 256, 3)
    api.get("/survey/tiles/3/99/0", status=404)
    wanted = {"tab": "t", "west": 52000, "north": 61000, "side": 4000, "samples": 65}
    found = api.post("/survey/squares", wanted)
    assert (found["heights"], found["spacing"], found["inspection"]["rows"]) == ("range", 62.5, 65)
    assert found["low"] < found["high"]
    assert api.post("/survey/squares", {**wanted, "weather": "closed"}, status=409)["code"] == "survey-refused"
    assert api.post("/survey/squares", {**wanted, "side": 10}, status=422)["field"] == "side"


def test_what_is_working_says_how_long_it_will_take_once_it_can_tell(api, project, monkeypatch):
    now = [100.0]
    board = WorkBoard(lambda: now[0])
    monkeypatch.setattr(diagnosis, "engine", lambda: replace(engine(), board=board))
    pid = project["id"]
    with board.task("k1", pid, "Water", None, need=5) as (one, _), board.task("k2", "another", "Else", None):
        now[0] = 100.29
        assert api.get(f"/projects/{pid}/working") == []
        now[0] = 106.0
        one.tell(0.03)
        [told] = api.get(f"/projects/{pid}/working")
        wanted = {"key": "k1", "title": "Water", "share": 0.03, "seconds": 6.0, "bytes": 5, "seconds_left": None}
        assert told == pytest.approx(wanted)
        one.tell(0.25)
        assert api.get(f"/projects/{pid}/working")[0]["seconds_left"] == pytest.approx(18.0)


def test_nothing_is_working_when_nothing_is(api, project):
    assert api.get(f"/projects/{project['id']}/working") == []
    api.post(f"/projects/{project['id']}/working/abc/stop", status=404)
