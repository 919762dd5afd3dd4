"""Maps, previews, jobs and fit checks through HTTP."""

from __future__ import annotations

import io
import json
import zipfile

import imagecodecs
import numpy as np
import pytest

from tests.support.api import low
from tests.support.delivery import rewrite
from tests.support.ground import band
from tests.support.server import claim, outdated, run_all
from zigzag_meadow.core.errors import Cancelled
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.server import work
from zigzag_meadow.server.assets import asset_path
from zigzag_meadow.server.engine import engine, latest
from zigzag_meadow.server.jobs import Claims, delivery_folder
from zigzag_meadow.server.models import Delivery, Job
from zigzag_meadow.server.projects import at_revision
from zigzag_meadow.server.work import run_claim


def samples(response):
    shape = json.loads(response["X-Map-Shape"])
    kind = {"f32": np.float32, "u8": np.uint8}[response["X-Map-Type"]]
    return np.frombuffer(response.content, kind).reshape(shape["rows"], shape["cols"], shape["channels"])


def test_a_map_from_elsewhere_is_lined_up_and_laid(api, project):
    pid = project["id"]
    made = samples(api.get(f"/projects/{pid}/maps/reading:slope"))[:, :, 0]
    grey = np.round(made / made.max() * 255).astype(np.uint8)
    found = api.upload(f"/projects/{pid}/align", "slope.png", bytes(imagecodecs.png_encode(grey[::-1, ::-1].copy())))
    assert (found["orientation"], found["belong"], found["own"]) == ("turned_180", True, True)
    assert found["ground"].startswith("data:image/png;base64,")
    lies = {name: found[name] for name in ("asset", "name", "orientation", "top", "left", "down", "across")}
    laid = api.post(f"/projects/{pid}/align/lay", lies)
    assert laid["exact"]
    assert np.array_equal(imagecodecs.png_decode(asset_path(laid["asset"]).read_bytes()), grey)
    numbers = {"asset": laid["asset"], "samples": laid["samples"]}
    setting = {"id": "p1", "kind": laid["kind"], "name": "Slope there", "numbers": numbers}
    api.edit(pid, project["revision"], {"op": "add_reading", "setting": setting})
    noise = np.random.default_rng(1).integers(0, 256, (90, 90)).astype(np.uint8)
    assert not api.upload(f"/projects/{pid}/align", "x.png", bytes(imagecodecs.png_encode(noise)))["belong"]
    flat = bytes(imagecodecs.png_encode(np.zeros((64, 64), np.uint8)))
    assert "same everywhere" in api.upload(f"/projects/{pid}/align", "x.png", flat, status=422)["detail"]
    api.upload(f"/projects/{pid}/align", "x.png", b"nothing", status=422)
    api.post(f"/projects/{pid}/align/lay", {**lies, "orientation": "sideways"}, status=422)
    api.post(f"/projects/{pid}/align/lay", {**lies, "asset": "0" * 64}, status=404)
    far = {"top": 10, "left": -10, "down": 0.05, "across": 20}
    api.post(f"/projects/{pid}/align/lay", {**lies, **far})


def test_what_moves_is_as_large_as_it_is_seen_and_has_no_name(api, project):
    pid = project["id"]
    ask = {
        "tab": "moving",
        "slot": "view",
        "sequence": 1,
        "map": "mask:steep",
        "shown": 65,
        "operations": [
            {
                "op": "set_line",
                "mask": "steep",
                "line": {"id": "a", "verb": "take", "source": band("slope", 10, 90, fade_low=8)},
            }
        ],
    }
    whole = api.post(f"/projects/{pid}/preview", ask)
    assert samples(whole).shape == (65, 65, 1)
    assert json.loads(whole["X-Map-Window"]) == [0, 65, 0, 65]
    assert float(whole["X-Map-Mean"]) == pytest.approx(samples(whole).mean() / 255, abs=0.003)
    assert "dur=" in whole["Server-Timing"]
    part = api.post(f"/projects/{pid}/preview", {**ask, "sequence": 2, "part": [0.25, 0.5, 0.75, 1]})
    row0, row1, col0, col1 = json.loads(part["X-Map-Window"])
    assert (samples(part) == samples(whole)[row0:row1, col0:col1]).all()
    # No cache may take what is nearly right for what is.
    assert whole["ETag"] != part["ETag"] != api.get(f"/projects/{pid}/maps/mask:steep")["ETag"]
    for shown in (15, 1026):
        api.post(f"/projects/{pid}/preview", {**ask, "sequence": 3, "shown": shown}, status=422)


def test_what_is_stopped_in_its_last_moment_is_not_published(api, project):
    job = api.post(f"/projects/{project['id']}/deliveries", status=202)
    mine = claim()
    with mine:
        api.post(f"/jobs/{job['id']}/cancel")
        with pytest.raises(Cancelled):
            mine.publish(lambda: pytest.fail("published"), "2 files")
        mine.stopped()
    assert Job.objects.get(id=job["id"]).state == "cancelled"


@pytest.mark.parametrize(
    ("name", "kind", "channels"),
    [
        ("reading:height", "f32", 1),
        ("reading:flow", "f32", 1),
        ("reading:shade", "u8", 1),
        ("mask:steep", "u8", 1),
        ("mask:steep:1", "u8", 1),
        ("weight:base", "u8", 1),
        ("sheet:splat", "u8", 4),
        ("channel:data:g", "u8", 1),
    ],
)
def test_maps_travel_as_typed_bytes(api, project, name, kind, channels):
    path = f"/projects/{project['id']}/maps/{name}"
    response = api.get(path)
    assert response["X-Map-Type"] == kind
    assert samples(response).shape == (127, 127, channels)
    again = api.client.get(f"/api{path}", headers={"If-None-Match": response["ETag"]})
    assert (again.status_code, again.content) == (304, b"")
    assert samples(api.get(f"{path}?window=3,9,120,200")).shape == (6, 7, channels)
    assert (samples(api.get(f"{path}?window=3,9,120,200")) == samples(response)[3:9, 120:]).all()


@pytest.mark.parametrize(
    ("path", "status"),
    [
        ("maps/mask:gone", 404),
        ("maps/reading:glow", 404),
        ("maps/mask:", 404),
        ("maps/nonsense", 404),
        ("maps/mask:steep:²", 404),
        ("maps/mask:steep:-1", 404),
        ("maps/at:²:slope", 404),
        ("maps/at:1:slope", 404),
        (f"maps/at:{'9' * 5000}:slope", 404),
        (f"maps/band:steep:{'9' * 5000}", 404),
        ("maps/band:steep:", 404),
        ("stats?name=mask:steep:²", 404),
        ("maps/channel:splat:x", 404),
        ("maps/mask:steep?window=1,2,3", 422),
        ("maps/mask:steep?window=5,5,0,9", 422),
        ("maps/mask:steep?size=9", 422),
        ("stats?name=sheet:splat", 422),
        ("probe?row=500&col=0&names=mask:steep", 422),
        ("probe?row=0&col=0&names=mask:no", 404),
        ("deliveries/7/zip", 404),
        ("deliveries/7/files/..%2f..%2fsecret", 404),
    ],
)
def test_impossible_maps_are_refused(api, project, path, status):
    api.get(f"/projects/{project['id']}/{path}", status=status)


def test_previews_show_unsaved_positions_and_old_ones_stop(api, project):
    pid = project["id"]
    ask = {"tab": "t", "slot": "s", "map": "mask:steep", "operations": [low(10)]}
    saved = samples(api.get(f"/projects/{pid}/maps/mask:steep"))
    response = api.post(f"/projects/{pid}/preview", {**ask, "sequence": 5})
    part = api.post(f"/projects/{pid}/preview", {**ask, "slot": "t", "sequence": 5, "part": [0.5, 0, 1, 0.25]})
    assert (samples(part) == samples(response)[:32, 63:]).all()
    corner = api.post(f"/projects/{pid}/preview", {**ask, "slot": "t", "sequence": 6, "part": [1, 1, 0, 0]})
    assert (samples(corner) == samples(response)[-1:, -1:]).all()
    api.post(f"/projects/{pid}/preview", {**ask, "slot": "t", "sequence": 7, "part": [0, 0, 1.1, 1]}, status=422)
    assert samples(response).mean() > saved.mean()
    assert float(response["X-Map-Mean"]) == pytest.approx(samples(response).mean() / 255, abs=2e-3)
    assert api.get(f"/projects/{pid}")["revision"] == project["revision"]
    latest.enter("t", "s", 9)
    assert api.post(f"/projects/{pid}/preview", {**ask, "sequence": 8}, status=409)["code"] == "cancelled"
    api.edit(pid, project["revision"], low(10))
    assert (samples(api.get(f"/projects/{pid}/maps/mask:steep")) == samples(response)).all()


def test_numbers_come_from_the_arrays(api, project):
    pid = project["id"]
    stats = api.get(f"/projects/{pid}/stats?name=mask:steep")
    values = engine().evaluation(at_revision(pid, project["revision"])).map("mask:steep")
    assert stats["mean"] == pytest.approx(float(values.mean()), abs=1e-6)
    assert sum(stats["counts"]) == pytest.approx(1)
    probe = api.get(f"/projects/{pid}/probe?row=40&col=77&names=mask:steep,weight:base,reading:height")
    assert probe["values"]["mask:steep"] == float(values[40, 77])
    assert (probe["east"], probe["north"]) == (77 * 5, (126 - 40) * 4)
    shares = [api.get(f"/projects/{pid}/stats?name=weight:{w}")["mean"] for w in ("base", "rock", "mud")]
    assert sum(shares) == pytest.approx(1, abs=1e-6)


def test_deliver_then_check_then_damage_then_check(api, project):
    pid = project["id"]
    job = api.post(f"/projects/{pid}/deliveries", status=202)
    assert job["state"] == "waiting"
    assert api.post(f"/projects/{pid}/deliveries/1/fit", status=409)["code"] == "conflict"
    run_all()
    assert api.get(f"/jobs/{job['id']}")["state"] == "done"
    (made,) = api.get(f"/projects/{pid}/deliveries")
    assert outdated(api, pid) == set()
    zipped = b"".join(api.get(f"/projects/{pid}/deliveries/1/zip").streaming_content)
    with zipfile.ZipFile(io.BytesIO(zipped)) as archive:
        assert set(archive.namelist()) == {file["file"] for file in made["files"]}
        assert archive.testzip() is None
    note = api.get(f"/projects/{pid}/deliveries/1/files/import_note.html")
    assert "default-src 'none'" in note["Content-Security-Policy"]
    api.post(f"/projects/{pid}/deliveries/1/fit", status=202)
    run_all()
    (made,) = api.get(f"/projects/{pid}/deliveries")
    assert made["fit"]["fits"]
    base = f"/projects/{pid}/deliveries/1/fit"
    assert np.abs(samples(api.get(f"{base}/maps/0-difference"))).max() < made["fit"]["height_step"]
    sheet = next(item for item in made["fit"]["maps"] if item["kind"] == "sheet")
    assert np.array_equal(*(samples(api.get(f"{base}/maps/{sheet['shown']}-{part}")) for part in ("rebuilt", "meant")))
    assert "Everything fits: 3 of 3 maps" in api.get(f"{base}/report.html").content.decode()
    assert api.get(f"{base}/report.json")["fits"]
    for wrong in ("maps/9-rebuilt", "maps/..-meant", "report.exe"):
        api.get(f"{base}/{wrong}", status=404)
    rewrite(delivery_folder(Delivery.objects.get(number=1)) / "files" / "test_moor_splat.png", lambda a: a[::-1])
    api.post(f"/projects/{pid}/deliveries/1/fit", status=202)
    run_all()
    (made,) = api.get(f"/projects/{pid}/deliveries")
    assert [item["kind"] for item in made["fit"]["findings"]] == ["orientation"]
    asked = {item["name"]: item["value"] for item in api.get(f"/projects/{pid}/deliveries/1/typed")["numbers"]}
    api.post(base, {"typed": {"numbers": {"multiplier": asked["multiplier"] * 2}}}, status=202)
    api.post(f"/projects/{pid}/deliveries", {"then_fit": True}, status=202)
    run_all()
    mended, harmed = api.get(f"/projects/{pid}/deliveries")
    assert {item["kind"] for item in harmed["fit"]["findings"]} == {"orientation", "typed-scale"}
    assert mended["fit"]["fits"]
    api.edit(pid, project["revision"], low(60))
    assert outdated(api, pid) == {"test_moor_splat.png"}


def test_a_check_is_asked_for_in_one_go_with_the_delivery_it_follows(api, project, monkeypatch):
    """Whoever sees the delivery done sees its check waiting; a worker that ends while files are put loses none."""
    pid = project["id"]
    api.post(f"/projects/{pid}/deliveries", {"then_fit": True}, status=202)
    seen = []

    def cut_off(*_):
        (made,) = api.get(f"/projects/{pid}/deliveries")
        seen.append((made["job"]["state"], made["check"]["state"]))
        raise SystemExit

    monkeypatch.setattr(work, "put_into_place", cut_off)
    with pytest.raises(SystemExit):
        run_claim(claim())
    assert seen == [("done", "waiting")]
    run_all()
    assert api.get(f"/projects/{pid}/deliveries")[0]["fit"]["fits"]


def test_illegal_deliveries_never_run(api, project):
    pid = project["id"]
    wrong = {**project["document"]["delivery"], "cols": 130}
    api.edit(pid, project["revision"], {"op": "set_delivery", "delivery": wrong})
    assert api.post(f"/projects/{pid}/deliveries", status=422)["code"] == "illegal-size"
    assert "130 columns" in api.get(f"/projects/{pid}/plan")["refused"]
    assert Job.objects.count() == 0


def test_jobs_can_be_stopped_before_and_while_they_run(api, project):
    pid = project["id"]
    job = api.post(f"/projects/{pid}/deliveries", status=202)
    assert api.post(f"/jobs/{job['id']}/cancel")["state"] == "cancelled"
    running = api.post(f"/projects/{pid}/deliveries", status=202)
    taken = claim()
    assert api.post(f"/jobs/{running['id']}/cancel")["cancel"] is True
    taken.cancelled = lambda: Job.objects.get(id=running["id"]).cancel
    run_claim(taken)
    assert api.get(f"/jobs/{running['id']}")["state"] == "cancelled"
    assert not delivery_folder(Delivery.objects.get(number=2)).exists()
    assert not taken.staging.exists()
    api.post("/jobs/none/cancel", status=404)


def test_only_the_newest_attempt_publishes(api, project):
    """A worker that fell silent comes back: its job has been taken over and it must not publish."""
    job = api.post(f"/projects/{project['id']}/deliveries", status=202)
    silent = claim()
    now = [0.0]
    other = Claims(clock=lambda: now[0])
    assert other.next() is None
    now[0] = 60.0
    taken = other.next()
    assert (silent.attempt, taken.attempt) == (1, 2)
    moved = []
    assert silent.publish(lambda: moved.append("old"), "late") is False
    run_claim(taken)
    assert moved == []
    assert api.get(f"/jobs/{job['id']}")["state"] == "done"


def test_unknown_addresses_are_problems(api, db):
    api.get("/nothing", status=404)
    api.get("/projects/none", status=404)
    api.get("/jobs/none", status=404)
    api.post("/projects/none/deliveries", status=404)


def final_size(api, pid, state, side):
    delivery = {**state["document"]["delivery"], "rows": side, "cols": side}
    return api.edit(pid, state["revision"], {"op": "set_delivery", "delivery": delivery})


def test_draft_and_final_of_every_mask_are_compared_as_a_job(api, project):
    pid = project["id"]
    thin = {"id": "thin", "verb": "take", "source": band("mean_curvature", 0.02, 9, fade_low=0)}
    state = api.edit(pid, project["revision"], {"op": "add_mask", "mask": {"id": "t", "name": "T", "lines": [thin]}})
    state = final_size(api, pid, state, 505)
    assert api.get(f"/projects/{pid}/finals") == {"least": 0.1, "revision": None, "masks": [], "job": None}
    job = api.post(f"/projects/{pid}/finals", {"least": 0.2}, status=202)
    assert api.post(f"/projects/{pid}/finals", {"least": 0.2}, status=202)["id"] == job["id"]
    assert api.get(f"/projects/{pid}/finals")["job"]["id"] == job["id"]
    # Another question stops the one that waits.
    again = api.post(f"/projects/{pid}/finals", {"least": 0.3}, status=202)
    assert api.get(f"/jobs/{job['id']}")["state"] == "cancelled"
    run_all()
    assert api.get(f"/jobs/{again['id']}")["message"].endswith("masks differ")
    found = api.get(f"/projects/{pid}/finals")
    assert (found["job"], found["least"], found["revision"]) == (None, 0.3, state["revision"])
    assert {entry["mask"]: entry["key"] for entry in found["masks"]} == state["mask_keys"]
    entry = next(entry for entry in found["masks"] if entry["mask"] == "t")
    assert entry["places"]
    gap = api.get(f"/projects/{pid}/maps/final:t")
    gap = np.frombuffer(gap.content, np.uint8).reshape(127, 127)
    for place in entry["places"]:
        assert place["by"] > 0.3
        assert gap[round(place["south"] / 4), round(place["east"] / 5)] == pytest.approx(place["by"] * 255, abs=1)
    assert entry["places"][0]["by"] == pytest.approx(entry["worst"])
    # Another size, and what was found is of no use.
    final_size(api, pid, state, 1009)
    assert api.get(f"/projects/{pid}/finals")["masks"] == []
    for wrong in (0, 1.01):
        api.post(f"/projects/{pid}/finals", {"least": wrong}, status=422)


def test_a_window_of_the_final_is_what_is_delivered(api, project):
    pid = project["id"]
    state = final_size(api, pid, project, 505)
    evaluation = engine().evaluation(parse_project(state["document"]))
    whole = evaluation.map("mask:steep", evaluation.project.final)
    response = api.get(f"/projects/{pid}/maps/mask:steep?final=true&window=100,300,40,505")
    part = np.frombuffer(response.content, np.uint8).reshape(200, 465)
    assert np.abs(part / 255 - whole[100:300, 40:505]).max() <= 0.51 / 255
    home = api.get(f"/projects/{pid}/maps/mask:steep?window=0,127,0,127")
    assert json.loads(home["X-Map-Grid"])["cols"] == 127
    api.get(f"/projects/{pid}/maps/mask:steep?final=true&window=600,700,0,9", status=422)


def test_a_seed_is_tried_small_and_an_erosion_on_a_smaller_ground(api, project):
    pid = project["id"]
    noise = {"id": "noise", "kind": "noise", "numbers": {"seed": 5}}
    body = {"tab": "t", "slot": "try0", "sequence": 1, "map": "reading:noise", "size": 65}
    shown = api.post(f"/projects/{pid}/preview", {**body, "operations": [{"op": "set_reading", "setting": noise}]})
    grid = json.loads(shown["X-Map-Shape"])
    assert (grid["rows"], grid["cols"]) == (65, 65)
    saved = api.edit(pid, project["revision"], {"op": "set_reading", "setting": noise})
    ev = engine().evaluation(parse_project(saved["document"]))
    at = np.linspace(0, 126, 65).round().astype(int)
    whole = ev.map("reading:noise")[np.ix_(at, at)]
    small = np.frombuffer(shown.content, np.float32).reshape(65, 65)
    # The same pattern, seen on a coarser grid.
    assert np.corrcoef(whole.ravel(), small.ravel())[0, 1] > 0.8
    rain = {"op": "add_step", "step": {"kind": "erode", "id": "e", "seed": 9}}
    tried = {**body, "sequence": 2, "map": "at:1:scour-of-e", "draft": True, "operations": [rain]}
    assert json.loads(api.post(f"/projects/{pid}/preview", tried)["X-Map-Shape"])["rows"] == 65
