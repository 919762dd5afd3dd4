"""Layers, looks and colour through HTTP: what is offered, textures in, colour maps out, and what is refused."""

from __future__ import annotations

import io
import json

import numpy as np
import pytest
import tifffile
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from tests.support.painting import aerial
from tests.support.server import run_all
from zigzag_meadow.core.colour.coats.catalogue import COATS


def edit(api, pid, *operations, **more):
    return api.edit(pid, api.get(f"/projects/{pid}")["revision"], *operations, **more)


def shown(api, pid, name, query=""):
    response = api.client.get(f"/api/projects/{pid}/maps/{name}{query}")
    assert response.status_code == 200, response.content[:300]
    shape = json.loads(response["X-Map-Shape"])
    return np.frombuffer(response.content, np.uint8).reshape(shape["rows"], shape["cols"], shape["channels"])


def picture(pixels: np.ndarray, form: str = "PNG") -> bytes:
    file = io.BytesIO()
    Image.fromarray(pixels).save(file, form)
    return file.getvalue()


def body(response) -> bytes:
    return b"".join(response.streaming_content)


def bring(api, pid, files: dict[str, bytes]):
    sent = [SimpleUploadedFile(name.rpartition("/")[2], data) for name, data in files.items()]
    response = api.client.post(f"/api/projects/{pid}/textures", {"files": sent, "paths": "\n".join(files)})
    assert response.status_code == 200, response.content[:500]
    return json.loads(response.content)


def test_every_coat_of_the_catalogue_can_be_added_as_offered_and_is_seen_at_once(api, project):
    pid, state = project["id"], project
    found = api.upload(f"/projects/{pid}/pictures", "aerial.png", aerial())
    setting = {"id": "aerial", "kind": "picture", "name": "Aerial", "numbers": {"asset": found["asset"]}}
    state = api.edit(pid, state["revision"], {"op": "add_reading", "setting": setting})
    kinds = api.get(f"/projects/{pid}/painting")["coats"]
    assert [kind["kind"] for kind in kinds] == [coat.model_fields["kind"].default for coat in COATS]
    for kind in kinds:
        numbers = [slot for slot in kind["slots"] if slot["kind"] == "number"]
        assert all(slot["low"] <= slot["value"] <= slot["high"] for slot in numbers), kind
        if kind["kind"] == "piece":
            continue
        coat = {**kind["fresh"], "id": kind["kind"].replace("_", "-")}
        state = api.edit(pid, state["revision"], {"op": "add_coat", "coat": coat})
        assert state["undo"] == f"add {kind['title'].lower()}"
    assert shown(api, pid, "colour").shape == (127, 127, 3)
    assert api.get(f"/projects/{pid}/painting")["troubles"] == []
    beside = api.client.get(f"/api/projects/{pid}/coats/image/beside?row=60&col=60")
    assert float(beside["X-Picture-Sample"]) == pytest.approx(504 / 89)
    api.get(f"/projects/{pid}/coats/plain/beside?row=60&col=60", status=404)
    api.get(f"/projects/{pid}/coats/image/beside?row=127&col=60", status=422)
    water = {"op": "set_ground", "no_water": True}
    edit(api, pid, water)
    assert [t["id"] for t in api.get(f"/projects/{pid}/painting")["troubles"]] == ["water"]


def test_a_coat_is_previewed_before_it_is_saved(api, project):
    pid = project["id"]
    edit(api, pid, {"op": "add_coat", "coat": {"kind": "plain", "id": "p", "colour": "#102030"}})
    before = shown(api, pid, "colour")
    wanted = {"op": "set_coat", "coat": {"kind": "plain", "id": "p", "colour": "#ffffff"}}
    body = {"tab": "t", "slot": "view", "sequence": 1, "operations": [wanted], "map": "colour"}
    answer = api.post(f"/projects/{pid}/preview", body)
    assert set(answer.content) == {255}
    assert (shown(api, pid, "colour") == before).all()
    edit(api, pid, wanted)
    assert shown(api, pid, "colour").min() == 255
    api.step("undo", pid)
    assert (shown(api, pid, "colour") == before).all()


def test_layers_are_proposed_reported_and_explained(api, project):
    pid = project["id"]
    masks = [{"kind": "mask", "mask": "steep"}, {"kind": "mask", "mask": "wet"}]
    found = api.post(f"/projects/{pid}/layers/propose", {"masks": masks})
    assert [layer["name"] for layer in found["layers"]] == ["Steep", "Wet"]
    assert not found["adds_up"]
    assert "do not add up" in found["says"]
    state = edit(api, pid, {"op": "add_layers", "layers": found["layers"], "sharing": None})
    assert state["undo"] == "2 new layers"
    report = api.get(f"/projects/{pid}/layers/report")
    assert report["total"] == 5
    assert sum(layer["after"] for layer in report["layers"]) == pytest.approx(1, abs=1e-6)
    why = api.get(f"/projects/{pid}/why?row=60&col=60")
    assert sum(layer["share"] for layer in why["layers"]) == pytest.approx(1, abs=1e-5)
    assert all(layer["says"].endswith(".") for layer in why["layers"])
    api.get(f"/projects/{pid}/why?row=127&col=0", status=422)
    api.post(f"/projects/{pid}/layers/propose", {"masks": [{"kind": "mask", "mask": "no"}]}, status=404)
    api.post(f"/projects/{pid}/layers/propose", {"masks": []}, status=422)


def test_a_folder_of_textures_becomes_looks_that_layers_wear(api, project):
    pid = project["id"]
    stone = np.full((64, 64, 3), (90, 100, 110), np.uint8)
    flat = np.full((64, 64, 3), (128, 128, 255), np.uint8)
    sets = bring(
        api,
        pid,
        {
            "lib/rock/Rock_BaseColor.png": picture(stone),
            "lib/rock/Rock_Normal.png": picture(flat),
            "lib/rock/Rock_Rough.jpg": picture(stone[..., 0], "JPEG"),
            "lib/bog/albedo.png": picture(stone[:32]),
            "lib/bad.png": b"\x89PNG\r\n\x1a\nnothing",
            "lib/notes.png": b"",
        },
    )
    by_name = {made["name"]: made for made in sets}
    rock = by_name["Rock"]
    assert {file["kind"] for file in rock["files"]} == {"albedo", "normal", "roughness"}
    assert rock["layer"] == "rock"
    assert rock["look"]["mean"] == "#5a646e"
    assert "not square" in by_name["Bog"]["files"][0]["told"][0]
    assert by_name["Bog"]["files"][0]["mean"] == "#5a646e"
    problems = [file["problem"] for made in sets for file in made["files"] if file["problem"]]
    assert len(problems) == 2
    assert all(text.endswith((".", "?")) for text in problems)
    layer = project["document"]["layers"][0]
    worn = {"op": "set_layer", "layer": {**layer, "dressing": {"look": rock["look"]["id"]}}}
    edit(
        api,
        pid,
        {"op": "add_look", "look": rock["look"]},
        worn,
        {"op": "add_coat", "coat": {"kind": "layers", "id": "l", "how": "mean"}},
    )
    weights = shown(api, pid, "weight:rock")[..., 0]
    assert shown(api, pid, "colour")[weights == 255][:1].tolist() in ([[90, 100, 110]], [])
    own = api.get(f"/projects/{pid}/painting")["looks"][0]
    assert (own["own"], own["maps"], own["missing"]) == (True, ["albedo", "normal", "roughness"], False)
    response = api.client.get(f"/api/projects/{pid}/looks/{own['id']}/albedo?side=16")
    assert set(response.content) == {90, 100, 110}
    etag = response["ETag"]
    again = api.client.get(f"/api/projects/{pid}/looks/{own['id']}/albedo?side=16", HTTP_IF_NONE_MATCH=etag)
    assert again.status_code == 304
    refused = edit(api, pid, {"op": "delete_look", "look": own["id"]}, status=422)
    assert "is worn by the layer Rock" in refused["detail"]
    state = edit(api, pid, {"op": "delete_look", "look": own["id"], "take_off": True})
    assert state["document"]["layers"][0]["dressing"]["look"] is None


def test_more_textures_than_come_in_at_once_are_refused_with_the_number(api, project):
    sent = [SimpleUploadedFile(f"{n}.png", b"no") for n in range(201)]
    response = api.client.post(f"/api/projects/{project['id']}/textures", {"files": sent})
    assert (response.status_code, "At most 200 textures" in response.json()["detail"]) == (413, True)


def test_a_look_that_is_not_there_any_more_keeps_its_place_and_says_so(api, project):
    pid = project["id"]
    layer = project["document"]["layers"][0]
    edit(
        api,
        pid,
        {"op": "set_layer", "layer": {**layer, "dressing": {"look": "long-gone"}}},
        {"op": "add_coat", "coat": {"kind": "layers", "id": "l"}},
    )
    troubles = api.get(f"/projects/{pid}/painting")["troubles"]
    assert [(item["id"], "its plain colour stands in" in item["text"]) for item in troubles] == [("rock", True)]
    weights = shown(api, pid, "weight:rock")[..., 0]
    full = shown(api, pid, "colour")[weights == 255]
    assert (full == 0x88).all()
    api.get(f"/projects/{pid}/looks/long-gone/albedo", status=404)


def test_textures_of_another_project_are_out_of_reach(api, project):
    pid = project["id"]
    other = api.post(f"/projects/{pid}/duplicate", status=201)["id"]
    sets = bring(api, pid, {"stone_albedo.png": picture(np.full((16, 16, 3), 90, np.uint8))})
    refused = edit(api, other, {"op": "add_look", "look": sets[0]["look"]}, status=404)
    assert "was not brought into this project" in refused["detail"]


def test_colour_maps_come_as_files_at_any_size_over_the_ground(api, project):
    pid = project["id"]
    edit(api, pid, {"op": "begin_colour"})
    sizes = api.get(f"/projects/{pid}/painting")["sizes"]
    assert {"rows": 505, "cols": 505, "registration": "vertex", "title": "on vertices, 4 times as fine"} in sizes
    assert sizes[1]["rows"] == (127 - 1) // 4 + 1

    def written(name, **query):
        asked = "&".join(f"{key}={value}" for key, value in query.items())
        response = api.client.get(f"/api/projects/{pid}/painted/{name}?{asked}")
        assert response.status_code == 200
        return response

    png = written("colour", rows=505, cols=505)
    assert "test_moor_colour_505x505.png" in png["Content-Disposition"]
    image = Image.open(io.BytesIO(body(png)))
    assert (image.size, image.info["srgb"]) == ((505, 505), 0)
    home = shown(api, pid, "colour")
    off = np.abs(np.asarray(image)[::4, ::4].astype(int) - home)
    # What is measured on the ground agrees at the samples that both have; noise is finer.
    assert np.median(off) <= 6
    exact = tifffile.imread(io.BytesIO(body(written("colour", rows=127, cols=127, depth="float"))))
    assert (exact.dtype, exact.shape) == (np.dtype("float32"), (127, 127, 3))
    cells = body(written("surface:normal", rows=64, cols=64, registration="area"))
    assert "srgb" not in Image.open(io.BytesIO(cells)).info
    for query in ("rows=4&cols=127", "rows=127&cols=9000", "rows=127", "rows=127&cols=127&depth=12"):
        api.get(f"/projects/{pid}/painted/colour?{query}", status=422)
    api.get(f"/projects/{pid}/painted/mask:steep?rows=127&cols=127", status=404)


def test_detail_and_stops_are_told(api, project):
    pid = project["id"]
    edit(api, pid, {"op": "begin_colour"})
    response = api.get(f"/projects/{pid}/detail?name=colour&row=60&col=60&finer=4")
    shape = json.loads(response["X-Map-Shape"])
    assert (shape["cols"], shape["channels"]) == (2 * shape["rows"], 3)
    stops = api.post(f"/projects/{pid}/stops", {"count": 4})
    assert [stop["at"] for stop in stops] == sorted(stop["at"] for stop in stops)
    line = api.post(f"/projects/{pid}/stops", {"line": [[10, 10], [400, 300]], "count": 3})
    assert len(line) == 3
    api.post(f"/projects/{pid}/stops", {"picture": "slope", "count": 3}, status=404)
    api.post(f"/projects/{pid}/stops", {"count": 99}, status=422)
    api.get(f"/projects/{pid}/detail?name=colour&row=-1&col=0", status=422)


def test_painted_maps_fill_channels_and_are_delivered_and_fit(api, project):
    pid = project["id"]
    parts = {c: {"kind": "painted", "map": "colour", "part": c} for c in "rgb"}
    edit(
        api,
        pid,
        {"op": "begin_colour"},
        {"op": "add_sheet", "sheet": {"id": "col", "name": "colour", "layout": "rgb", **parts}},
        {
            "op": "add_sheet",
            "sheet": {
                "id": "rough",
                "name": "rough",
                "layout": "grey",
                "r": {"kind": "painted", "map": "roughness", "part": "r"},
            },
        },
    )
    assert (shown(api, pid, "sheet:col") == shown(api, pid, "colour")).all()
    api.post(f"/projects/{pid}/deliveries", status=202)
    run_all()
    delivery = api.get(f"/projects/{pid}/deliveries")[0]
    assert delivery["job"]["state"] == "done"
    api.post(f"/projects/{pid}/deliveries/{delivery['number']}/fit", status=202)
    run_all()
    fit = api.get(f"/projects/{pid}/deliveries")[0]["fit"]
    assert fit["findings"] == []
    assert any("colour file is tagged sRGB" in fact["detail"] for fact in fit["facts"])


def test_a_kit_with_its_painting_is_saved_brought_in_and_used(api, project):
    pid = project["id"]
    edit(api, pid, {"op": "begin_colour"})
    body = {"project": pid, "name": "Painted", "layers": True, "coats": True, "sheets": True}
    saved = api.post("/kits", body, status=201)["kit"]
    assert (saved["layers"], len(saved["coats"]), saved["sheets"]) == (["Rock", "Mud"], 5, ["splat", "data"])
    file = api.client.get(f"/api/kits/{saved['id']}/file").content
    again = api.upload("/kits/bring-in", "painted.kit.json", file, status=201)
    revision = api.get(f"/projects/{pid}")["revision"]
    state = api.post(f"/projects/{pid}/kits/{again['id']}", {"base": revision, "tab": "t", "rescale": False})
    assert [layer["name"] for layer in state["document"]["layers"]] == ["Rock", "Mud", "Rock 2", "Mud 2"]
    assert len(state["document"]["coats"]) == 10
