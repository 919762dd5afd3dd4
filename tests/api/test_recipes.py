"""Recipes through HTTP: lines, strokes, judging, pointing, drawing, scatter, out and back, kits."""

from __future__ import annotations

import json

import numpy as np
import pytest

from tests.support.ground import band
from zigzag_meadow.core.masks.lines.catalogue import LINES


def add(api, state, *lines, mask="steep"):
    ops = [{"op": "add_line", "mask": mask, "line": {"id": f"x{n}", **line}} for n, line in enumerate(lines)]
    return api.edit(state["id"], state["revision"], *ops)


def pixels(api, pid, name):
    response = api.get(f"/projects/{pid}/maps/{name}")
    shape = json.loads(response["X-Map-Shape"])
    return np.frombuffer(response.content, np.uint8).reshape(shape["rows"], shape["cols"])


def sent_out(api, pid, mask, query=""):
    return api.client.get(f"/api/projects/{pid}/send-out/{mask}{query}")


def test_every_line_of_the_catalogue_can_be_added_as_offered(api, project):
    """What the catalogue offers is what the document takes: a new line of each kind, with its first numbers."""
    pid = project["id"]
    kinds = api.get(f"/projects/{pid}/lines")
    assert [kind["verb"] for kind in kinds] == [line.model_fields["verb"].default for line in LINES]
    assert next(s["value"] for k in kinds if k["verb"] == "blur" for s in k["slots"]) == 10
    state = project
    for kind in kinds:
        numbers = [slot for slot in kind["slots"] if slot["kind"] == "number"]
        assert all(slot["low"] <= slot["value"] <= slot["high"] for slot in numbers), kind
        if any(slot["kind"] == "piece" for slot in kind["slots"]) or not kind["offered"]:
            continue
        sources = {slot["name"] for slot in kind["slots"] if slot["start"]}
        line = {"id": kind["verb"], **kind["fresh"], **{name: {"kind": "mask", "mask": "wet"} for name in sources}}
        state = api.edit(pid, state["revision"], {"op": "add_line", "mask": "steep", "line": line})
        assert state["undo"] == f"add {kind['title'].lower()}"
    # The last of them, touch up, has no strokes: what is there is what the one before it left.
    assert (pixels(api, pid, "mask:steep") == pixels(api, pid, f"mask:steep:{len(kinds)}")).all()


def test_every_step_of_the_catalogue_can_be_added_as_offered(api, project):
    pid, state = project["id"], project
    for kind in api.get(f"/projects/{pid}/steps"):
        step = {"id": kind["kind"], **kind["fresh"]}
        if kind["tool"] == "heightmap":
            step |= {name: state["document"]["ground"][name] for name in ("asset", "file_name", "rows", "cols")}
        state = api.edit(pid, state["revision"], {"op": "add_step", "step": step})
        assert state["undo"] == kind["title"].lower()
        made = state["document"]["ground"]["steps"][-1]
        assert {name: made[name] for name in kind["fresh"]} == kind["fresh"]
        state = api.edit(pid, state["revision"], {"op": "delete_step", "step": kind["kind"]})


def test_strokes_are_kept_and_taken_back(api, project):
    pid = project["id"]
    stroke = {"mode": "add", "size": 80, "fade": 10, "points": [[300, 250, 1]]}
    one = api.post(f"/projects/{pid}/strokes", {"strokes": [stroke]})
    two = api.post(f"/projects/{pid}/strokes", {"asset": one["asset"], "strokes": [{**stroke, "mode": "soften"}]})
    assert (one["count"], two["count"]) == (1, 2)
    assert api.post(f"/projects/{pid}/strokes", {"asset": two["asset"], "keep": 1})["asset"] == one["asset"]
    before = pixels(api, pid, "mask:steep")
    state = add(api, project, {"verb": "touch_up", "asset": one["asset"], "count": 1})
    after = pixels(api, pid, "mask:steep")
    changed = before != after
    assert changed.any()
    assert changed.mean() < 0.05
    assert (after[62, 60]) == 255
    # A project file carries its strokes.
    saved = api.saved_out(pid)
    back = api.upload("/projects/bring-in", "moor.meadow.zip", saved, status=201)
    assert (pixels(api, back["id"], "mask:steep") == after).all()
    assert api.step("undo", pid)["revision"] == state["revision"] + 1
    for wrong in ({**stroke, "size": 0}, {**stroke, "points": []}, {**stroke, "mode": "smear"}):
        api.post(f"/projects/{pid}/strokes", {"strokes": [wrong]}, status=422)
    api.post(f"/projects/{pid}/strokes", {"asset": "e" * 64, "strokes": [stroke]}, status=404)


def test_masks_cut_into_bands_have_maps_shares_and_uses(api, project):
    pid = project["id"]
    state = add(api, project, {"verb": "cut", "count": 5, "how": "even"}, mask="wet")
    found = api.get(f"/projects/{pid}/bands/wet")
    assert found["edges"] == pytest.approx([0.2, 0.4, 0.6, 0.8])
    assert sum(found["shares"]) == pytest.approx(1)
    bands = [pixels(api, pid, f"band:wet:{k}") for k in range(5)]
    assert (sum(b.astype(int) for b in bands) == 255).all()
    assert [float((b == 255).mean()) for b in bands] == pytest.approx(found["shares"])
    use = {"id": "u", "verb": "take", "source": {"kind": "mask", "mask": "wet", "band": 4}}
    state = api.edit(pid, state["revision"], {"op": "add_line", "mask": "steep", "line": use})
    fewer = {"id": "x0", "verb": "cut", "count": 3}
    said = api.edit(pid, state["revision"], {"op": "set_line", "mask": "wet", "line": fewer}, status=404)
    assert "band 5 of Wet, which is cut into 3" in said["detail"]
    api.call("GET", f"/projects/{pid}/bands/steep", status=404)
    api.call("GET", f"/projects/{pid}/maps/band:wet:9", status=404)


def test_what_has_no_shape_says_why(api, project):
    pid = project["id"]
    lines = [
        ({"verb": "take", "source": band("slope", 89.5, 90)}, "Slope goes from"),
        ({"verb": "take", "source": band("height", -500, 9000)}, "holds all of that"),
        ({"verb": "multiply", "source": {"kind": "plain", "value": 0}}, "from line 3"),
    ]
    for line, words in lines:
        add(api, project, line)
        assert words in api.get(f"/projects/{pid}/stats?name=mask:steep")["why"]
        project = api.step("undo", pid)
    assert api.get(f"/projects/{pid}/stats?name=mask:steep")["why"] is None


def test_draft_and_final_are_compared_and_explained(api, project):
    pid = project["id"]
    same = api.post(f"/projects/{pid}/finals/steep")
    assert same["worst"] < 1e-6
    delivery = {**project["document"]["delivery"], "rows": 253, "cols": 253}
    crisp = {"id": "a", "verb": "take", "source": band("slope", 45, 90)}
    state = api.edit(
        pid,
        project["revision"],
        {"op": "set_delivery", "delivery": delivery},
        {"op": "set_line", "mask": "steep", "line": crisp},
    )
    found = api.post(f"/projects/{pid}/finals/steep")
    assert (found["rows"], found["cols"], found["line"]) == (253, 253, 1)
    assert found["worst"] > 0.3
    assert 0 < found["share"] < 0.5
    assert found["reason"]
    gap = pixels(api, pid, "final:steep")
    row, col = np.unravel_index(gap.argmax(), gap.shape)
    assert (found["south"], found["east"]) == (row * 4.0, col * 5.0)
    working = api.get(f"/projects/{pid}/working")
    assert working == []
    fading = {**crisp, "source": band("slope", 45, 90, fade_low=30)}
    api.edit(pid, state["revision"], {"op": "set_line", "mask": "steep", "line": fading})
    assert api.post(f"/projects/{pid}/finals/steep")["share"] < found["share"]


def test_overlap_and_gaps_add_up(api, project):
    pid = project["id"]
    found = api.get(f"/projects/{pid}/together?masks=steep,wet")
    assert sum(found.values()) == pytest.approx(1)
    strong = (pixels(api, pid, "mask:steep") > 127).astype(int) + (pixels(api, pid, "mask:wet") > 127)
    assert found["more"] == pytest.approx(float((strong == 2).mean()), abs=0.002)
    assert (pixels(api, pid, "count:steep+wet") == strong).mean() > 0.998
    api.call("GET", f"/projects/{pid}/together?masks=steep", status=422)
    api.call("GET", f"/projects/{pid}/together?masks=steep,gone", status=404)


def test_pointing_finds_the_reading_that_tells_places_apart(api, project):
    """Marks chosen by slope alone: the first proposal holds those in and not those out, as a recipe that works."""
    pid = project["id"]
    steep = pixels(api, pid, "mask:steep")
    rng = np.random.default_rng(4)
    cells = rng.integers(8, 118, (400, 2))
    values = {tuple(c): api_value for c, api_value in zip(cells.tolist(), steep[cells[:, 0], cells[:, 1]], strict=True)}
    inside = [c for c, v in values.items() if v > 150][:4]
    outside = [c for c, v in values.items() if v == 0][:4]
    marks = {"inside": [[c * 5.0, r * 4.0] for r, c in inside], "outside": [[c * 5.0, r * 4.0] for r, c in outside]}
    found = api.post(f"/projects/{pid}/point", marks)
    assert 1 <= len(found) <= 3
    assert all(1 <= len(p["lines"]) <= 3 for p in found)
    best = found[0]
    assert best["wrong_in"] == best["wrong_out"] == []
    mask = {"id": "pointed", "name": "Pointed", "lines": best["lines"]}
    api.edit(pid, project["revision"], {"op": "add_mask", "mask": mask})
    made = pixels(api, pid, "mask:pointed")
    assert min(made[r, c] for r, c in inside) > max(made[r, c] for r, c in outside)
    same = {"inside": [[100, 100]], "outside": [[100, 100]]}
    honest = api.post(f"/projects/{pid}/point", same)
    assert all(len(p["wrong_in"]) + len(p["wrong_out"]) == 1 for p in honest)
    api.post(f"/projects/{pid}/point", {"inside": [[1, 1]], "outside": []}, status=422)
    api.post(f"/projects/{pid}/point", {"inside": [[-4, 1]], "outside": [[5, 5]]}, status=422)


def test_lines_follow_the_ground_and_travel_as_geojson(api, project):
    pid = project["id"]
    start = {"east": 300.0, "south": 240.0}
    flow = api.post(f"/projects/{pid}/trace", {"way": "flow", **start, "length": 400})
    height = [
        api.get(f"/projects/{pid}/probe?row={round(y / 4)}&col={round(x / 5)}&names=reading:height")["values"]
        for x, y in (flow["points"][0], flow["points"][-1])
    ]
    assert height[1]["reading:height"] < height[0]["reading:height"]
    api.post(f"/projects/{pid}/trace", {"way": "flow", "east": -5, "south": 2, "length": 40}, status=422)
    feature = {"id": "burn", "name": "Burn", "kind": "path", "points": flow["points"]}
    state = api.edit(pid, project["revision"], {"op": "add_feature", "feature": feature})
    use = {"verb": "add", "source": {"kind": "feature", "feature": "burn", "width": 12, "fade": 6}}
    state = add(api, state, use)
    text = api.client.get(f"/api/projects/{pid}/features.geojson").content
    assert json.loads(text)["features"][0]["properties"] == {"name": "Burn", "kind": "path"}
    again = api.upload(f"/projects/{pid}/features", "drawn.geojson", text)["features"]
    assert again[0]["name"] == "Burn 2"
    assert again[0]["points"] == pytest.approx(np.array(flow["points"]), abs=1e-3)
    said = api.edit(pid, state["revision"], {"op": "delete_feature", "feature": "burn"}, status=422)
    assert "used by the mask Steep" in said["detail"]
    far = {"type": "LineString", "coordinates": [[-3.2, 55.1], [-3.3, 55.2]]}
    for data in (
        b"nothing",
        b"[]",
        b'{"type": "Point", "coordinates": [1, 2]}',
        json.dumps(far).encode(),
        b'{"type": "LineString", "coordinates": [["a", 1], [2, 3]]}',
    ):
        assert api.upload(f"/projects/{pid}/features", "bad.geojson", data, status=422)["detail"]


def test_scattered_things_stand_in_their_mask_and_keep_their_distance(api, project):
    pid = project["id"]
    stones = {"id": "stones", "name": "Stones", "mask": "steep", "density": 2, "distance": 4, "keep_out": ["wet"]}
    state = api.edit(pid, project["revision"], {"op": "add_scatter", "scatter": stones})
    response = api.get(f"/projects/{pid}/scatters/stones/points")
    points = np.frombuffer(response.content, np.float32).reshape(-1, 5)
    assert response["X-Points"] == str(len(points))
    assert len(points) > 300
    density = pixels(api, pid, "scatter:stones") / 255
    area = 126 * 5.0 * 126 * 4.0
    assert len(points) == pytest.approx(2 * area / 100 * density.mean(), rel=0.1)
    rows, cols = np.round(points[:, 1] / 4).astype(int), np.round(points[:, 0] / 5).astype(int)
    assert (density[rows, cols] > 0).mean() > 0.97
    lines = api.client.get(f"/api/projects/{pid}/scatters/stones/points?form=csv").content.decode().splitlines()
    assert lines[0] == "east,north,height,size,turn"
    assert len(lines) == len(points) + 1
    ply = api.client.get(f"/api/projects/{pid}/scatters/stones/points?form=ply").content
    assert ply.startswith(b"ply\nformat binary_little_endian")
    sheet = {**state["document"]["sheets"][1], "b": {"kind": "scatter", "scatter": "stones"}}
    api.edit(pid, state["revision"], {"op": "set_sheet", "sheet": sheet})
    assert (pixels(api, pid, "channel:data:b") == pixels(api, pid, "scatter:stones")).all()
    groups = api.get(f"/projects/{pid}/plan")["groups"]
    plan = {item["name"]: item["kind"] for group in groups for item in group["items"]}
    assert list(plan.values()).count("density") == 1
    assert list(plan.values()).count("points") == 1
    crowd = {**stones, "density": 900, "distance": 0}
    state = api.get(f"/projects/{pid}")
    api.edit(pid, state["revision"], {"op": "set_scatter", "scatter": crowd})
    assert "Lower the density" in api.call("GET", f"/projects/{pid}/scatters/stones/points", status=413)["detail"]


def test_kits_carry_recipes_to_another_ground(api, project):
    pid = project["id"]
    kits = {kit["id"]: kit for kit in api.get("/kits")}
    assert {"moor", "coast", "high-alp"} <= set(kits)
    assert "Hanging breakup" in kits["moor"]["pieces"]
    plan = api.get(f"/projects/{pid}/kits/high-alp/plan")
    assert (plan["low"], plan["high"]) == (20, 320)
    assert plan["changes"][0]["before"].startswith("Height")
    state = project
    for kit in ("moor", "moor", "coast", "high-alp"):
        state = api.post(f"/projects/{pid}/kits/{kit}", {"base": state["revision"], "tab": "t", "rescale": True})
    names = [mask["name"] for mask in state["document"]["masks"]]
    assert names.count("Scree") == 1
    assert "Scree 2" in names
    for mask in state["document"]["masks"][-5:]:
        assert pixels(api, pid, f"mask:{mask['id']}").shape == (127, 127)
    firn = next(m for m in state["document"]["masks"] if m["name"] == "Firn")
    assert 200 < firn["lines"][0]["source"]["low"] < 320
    wanted = {"project": pid, "name": "Mine", "masks": [firn["id"], "steep"], "pieces": []}
    saved = api.post("/kits", wanted, status=201)
    # What a mask reads comes along.
    assert saved["kit"]["masks"] == ["Firn", "Steep", "Wet"]
    file = api.client.get(f"/api/kits/{saved['kit']['id']}/file").content
    brought = api.upload("/kits/bring-in", "mine.kit.json", file, status=201)
    assert brought["masks"] == saved["kit"]["masks"]
    api.call("DELETE", f"/kits/{brought['id']}", status=204)
    api.call("DELETE", "/kits/moor", status=409)
    api.call("GET", "/kits/gone/file", status=404)
    for data in (b"no json", b"[]", b'{"kit": 7}', json.dumps({**json.loads(file), "masks": [{"id": "a"}]}).encode()):
        api.upload("/kits/bring-in", "bad.json", data, status=422)


def test_a_kit_that_is_not_whole_is_refused(api, project):
    use = {"id": "a", "verb": "take", "source": {"kind": "mask", "mask": "elsewhere"}}
    kit = {
        "kit": 1,
        "name": "Part",
        "heights": {"low": 0, "high": 1},
        "masks": [{"id": "m", "name": "M", "lines": [use]}],
    }
    brought = api.upload("/kits/bring-in", "part.json", json.dumps(kit).encode(), status=201)
    body = {"base": project["revision"], "tab": "t"}
    said = api.post(f"/projects/{project['id']}/kits/{brought['id']}", body, status=422)
    assert "not whole" in said["detail"]
