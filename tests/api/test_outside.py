"""Masks that go out, are worked on elsewhere, and come back."""

from __future__ import annotations

import json
import re

import imagecodecs
import numpy as np
import pytest
import tifffile
from django.core.files.uploadedfile import SimpleUploadedFile

from tests.support.ground import band, png16
from zigzag_meadow.core.formats.write import mask_forms


def add(api, state, *lines, mask="steep"):
    ops = [{"op": "add_line", "mask": mask, "line": {"id": f"x{n}", **line}} for n, line in enumerate(lines)]
    return api.edit(state["id"], state["revision"], *ops)


def pixels(api, pid, name):
    response = api.get(f"/projects/{pid}/maps/{name}")
    shape = json.loads(response["X-Map-Shape"])
    return np.frombuffer(response.content, np.uint8).reshape(shape["rows"], shape["cols"])


def sent_out(api, pid, mask, query=""):
    return api.client.get(f"/api/projects/{pid}/send-out/{mask}{query}")


@pytest.mark.parametrize("form", ["png8", "png16", "tiff16"])
def test_a_mask_goes_out_and_comes_back(api, project, form):
    pid = project["id"]
    response = sent_out(api, pid, "steep", f"?form={form}")
    data = response.content
    image = tifffile.imread(__import__("io").BytesIO(data)) if form == "tiff16" else imagecodecs.png_decode(data)
    assert image.dtype == (np.uint8 if form == "png8" else np.uint16)
    same = api.upload(f"/projects/{pid}/take-back/steep", "steep.png", data)
    assert same["sized"]
    assert same["alike"] > 0.999
    assert (same["turn"], same["flip"], same["changed"]) == (0, "none", 0)
    painted = image.copy()
    painted[20:60, 30:70] = 0
    edited = api.upload(f"/projects/{pid}/take-back/steep", "steep.png", bytes(imagecodecs.png_encode(painted)))
    assert 0.02 < edited["changed"] < 0.13
    setting = {"id": "back", "kind": "picture", "name": "Steep, edited", "numbers": {"asset": edited["asset"]}}
    use = {"kind": "reading", "reading": "back", "black": 0, "white": 1}
    state = api.edit(pid, project["revision"], {"op": "add_reading", "setting": setting})
    add(api, state, {"verb": "take", "source": use})
    steps = 255 / np.iinfo(painted.dtype).max
    assert np.abs(pixels(api, pid, "mask:steep") - painted * steps).max() <= 0.51


@pytest.mark.parametrize("form", [one.id for one in mask_forms()])
def test_every_form_comes_back_as_it_went_out(api, project, form):
    """Over ground that is not square, as it is and as it is delivered: raw samples have no header to tell by."""
    pid = project["id"]
    crop = {"id": "c", "kind": "crop", "west": 0, "north": 0, "width": 400, "length": 304}
    api.edit(pid, project["revision"], {"op": "add_step", "step": crop})
    for size in ("home", "final"):
        response = sent_out(api, pid, "wet", f"?form={form}&size={size}")
        assert response.status_code == 200, response.content
        name = re.search(r'filename="([^"]+)"', response["Content-Disposition"]).group(1)
        back = api.upload(f"/projects/{pid}/take-back/wet", name, response.content)
        assert (back["sized"], back["turn"], back["flip"]) == (True, 0, "none")
        assert back["alike"] > 0.9
        if size == "home":
            assert (back["changed"], back["mean"]) == (0, pytest.approx(0, abs=1 / 255))


def test_only_what_was_changed_outside_is_laid_over_a_recipe_that_stays_alive(api, project):
    pid = project["id"]
    response = sent_out(api, pid, "steep", "?form=png8")
    name = re.search(r'filename="([^"]+)"', response["Content-Disposition"]).group(1)
    assert name.endswith(f"_r{project['revision']}.png")
    sent = imagecodecs.png_decode(response.content)
    painted = sent.copy()
    painted[20:60, 30:70], painted[80:110, 60:100] = 0, 255
    # The recipe goes on while the file is away.
    line = {**project["document"]["masks"][0]["lines"][0], "source": band("slope", 12, 90, fade_low=5)}
    state = api.edit(pid, project["revision"], {"op": "set_line", "mask": "steep", "line": line})
    now = pixels(api, pid, "mask:steep").astype(int)
    assert np.abs(now - sent).max() > 40
    back = api.upload(f"/projects/{pid}/take-back/steep", name, bytes(imagecodecs.png_encode(painted)))
    assert (back["since"], back["turn"]) == (project["revision"], 0)
    told = {key: back[key] for key in ("asset", "name", "turn", "flip", "samples")}
    part = api.post(f"/projects/{pid}/take-back/steep/changed", told)
    assert part["since"] == project["revision"]
    state = add(api, state, {"verb": "lay_over", "asset": part["asset"]})
    made = pixels(api, pid, "mask:steep").astype(int)
    changed = np.abs(painted.astype(int) - sent) > 8
    assert changed[20:60, 30:70].sum() > 50
    assert (made == painted)[changed].all()
    # Where the file came back as it went out, nobody said anything: there the recipe holds.
    untouched = painted == sent
    assert np.abs(made - now)[untouched].max() <= 1
    same = {**told, "asset": api.upload(f"/projects/{pid}/take-back/steep", name, response.content)["asset"]}
    assert "Nothing was changed" in api.post(f"/projects/{pid}/take-back/steep/changed", same, status=422)["detail"]
    other = {**told, "asset": "a" * 64}
    api.post(f"/projects/{pid}/take-back/steep/changed", other, status=404)


def test_flipped_turned_and_foreign_files_are_told(api, project):
    pid = project["id"]
    image = imagecodecs.png_decode(sent_out(api, pid, "steep").content)

    def back(values):
        data = bytes(imagecodecs.png_encode(np.ascontiguousarray(values)))
        return api.upload(f"/projects/{pid}/take-back/steep", "m.png", data)

    assert back(image[:, ::-1])["flip"] == "east_west"
    assert back(image[::-1])["flip"] == "north_south"
    assert back(image[::-1, ::-1])["turn"] == 180
    assert "resampled" in back(image[::2, ::2])["says"]
    assert "stretched" in back(image[:64])["says"]
    assert "right file" in back(np.random.default_rng(1).integers(0, 65535, (127, 127), np.uint16))["says"]
    api.upload(f"/projects/{pid}/take-back/steep", "m.png", b"\x89PNG\r\n\x1a\nbroken", status=422)
    api.upload(f"/projects/{pid}/take-back/gone", "m.png", bytes(imagecodecs.png_encode(image)), status=404)


def test_a_folder_of_finished_masks_is_matched_by_name(api, project):
    pid = project["id"]
    image = png16(np.full((127, 127), 40000, np.uint16))
    files = {"test_moor_Steep.png": image, "wet-final.png": image, "gravel_pit.png": image, "note.png": b"no picture"}
    response = api.client.post(
        f"/api/projects/{pid}/finished", {"files": [SimpleUploadedFile(n, d) for n, d in files.items()]}
    )
    found = {entry["file"]: entry for entry in json.loads(response.content)}
    assert found["test_moor_Steep.png"]["mask"] == "steep"
    assert found["gravel_pit.png"]["title"] == "Gravel pit"
    assert found["gravel_pit.png"]["mask"] is None
    assert found["note.png"]["problem"].endswith(".")
    level = api.post("/flat-projects", {"name": "Yard", "width": 400, "length": 200, "samples": 401}, status=201)
    assert (level["home"]["width"], level["home"]["length"]) == (400, 200)
    picture = api.upload(f"/projects/{level['id']}/pictures", "gravel_pit.png", image)
    setting = {"id": "pit", "kind": "picture", "numbers": {"asset": picture["asset"]}}
    use = {"id": "a", "verb": "take", "source": {"kind": "reading", "reading": "pit", "black": 0, "white": 1}}
    mask = {"id": "pit", "name": "Gravel pit", "lines": [use]}
    api.edit(
        level["id"], level["revision"], {"op": "add_reading", "setting": setting}, {"op": "add_mask", "mask": mask}
    )
    assert (pixels(api, level["id"], "mask:pit") == round(40000 / 257)).all()
    assert api.get(f"/projects/{level['id']}/plan")["refused"] is None
    api.post("/flat-projects", {"name": "Yard", "width": -4, "length": 200}, status=422)
