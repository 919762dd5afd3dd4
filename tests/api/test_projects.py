"""Projects through HTTP: bring in, edit, undo, two tabs, project files."""

from __future__ import annotations

import pytest

from tests.support.api import low
from tests.support.ground import hills, png16
from tests.support.wrong_files import WRONG


@pytest.mark.parametrize("case", WRONG)
def test_wrong_heightmaps_leave_nothing_behind(api, data_folder, case):
    from zigzag_meadow.server.models import Asset

    before = sorted((data_folder / "assets").rglob("*")) if (data_folder / "assets").exists() else []
    name, data, _, _ = WRONG[case]
    said = api.upload("/heightmaps", name, data, status=413 if case == "over-large" else 422)
    assert name in said["detail"]
    assert Asset.objects.count() == 0
    left = [path for path in sorted((data_folder / "assets").rglob("*")) if path.is_file()]
    assert left == [path for path in before if path.is_file()]


def test_a_raw_heightmap_can_be_read_another_way(api):
    data = hills(40, 56).astype(">u2").tobytes()
    said = api.upload("/heightmaps", "moor.r16", data, status=422)
    assert said["field"] == "rows"
    assert "56 × 40" in said["detail"]
    found = api.upload("/heightmaps?rows=40&columns=56", "../moor\x00.r16", data)
    assert (found["name"], found["byte_order"]) == ("moor.r16", "big")
    again = {"asset": found["asset"], "name": "moor.r16", "rows": 56, "columns": 40, "byte_order": "little"}
    turned = api.post("/heightmaps/again", again)
    assert (turned["rows"], turned["byte_order"]) == (56, "little")


def test_new_projects_start_at_the_nearest_legal_size_and_refuse_nonsense(api):
    found = api.upload("/heightmaps", "hills.png", png16(hills(100, 130)))
    new = {
        "name": "Moor",
        "source": {"asset": found["asset"], "name": "hills.png"},
        "heights": "range",
        "low": 0,
        "high": 100,
        "spacing_x": 4,
        "spacing_y": 4,
    }
    state = api.post("/projects", new, status=201)
    assert abs(state["document"]["delivery"]["cols"] - 130) <= 3
    assert api.get(f"/projects/{state['id']}/plan")["refused"] is None
    assert api.post("/projects", {**new, "high": -5}, status=422)["field"] == "high"
    api.post("/projects", {**new, "spacing_x": 0}, status=422)
    api.post("/projects", {**new, "name": "a/b"}, status=422)
    api.post("/projects", {**new, "source": {"asset": "f" * 64, "name": "x"}}, status=404)


def test_edits_undo_and_redo(api, project):
    pid, base = project["id"], project["revision"]
    api.edit(pid, base, low(30))
    state = api.edit(pid, base + 1, low(35))
    assert (state["undo"], state["redo"]) == ("lower edge to 35°", None)
    state = api.step("undo", pid)
    assert (state["undo"], state["redo"]) == ("lower edge to 30°", "lower edge to 35°")
    assert state["document"]["masks"][0]["lines"][0]["source"]["low"] == 30
    state = api.step("undo", pid)
    assert state["document"] == project["document"]
    state = api.step("redo", pid)
    state = api.step("redo", pid)
    assert state["document"]["masks"][0]["lines"][0]["source"]["low"] == 35
    assert api.step("redo", pid, status=409)["code"] == "conflict"
    api.step("undo", pid)
    state = api.edit(pid, state["revision"] + 1, low(50))
    assert state["redo"] is None


def test_key_steps_on_one_token_undo_together(api, project):
    pid, base = project["id"], project["revision"]
    for i in range(4):
        state = api.edit(pid, base + i, low(30 + i), merge="a:low")
    state = api.edit(pid, state["revision"], low(60), merge="b:low")
    state = api.step("undo", pid)
    assert state["document"]["masks"][0]["lines"][0]["source"]["low"] == 33
    assert api.step("undo", pid)["document"] == project["document"]


def test_the_second_tab_is_told_and_nothing_is_overwritten(api, project):
    pid, base = project["id"], project["revision"]
    api.edit(pid, base, low(30))
    said = api.edit(pid, base, low(70), status=409)
    assert said["code"] == "stale-edit"
    assert said["since"] == ["lower edge to 30°"]
    assert said["current"] == base + 1
    assert said["both"] == ["the line take of the mask Steep"]
    apart = api.edit(pid, base, {"op": "rename_mask", "mask": "wet", "name": "Soaked"}, status=409)
    assert apart["both"] == []
    assert api.edit(pid, 99, low(70), status=409)["both"] is None
    assert api.get(f"/projects/{pid}")["document"]["masks"][0]["lines"][0]["source"]["low"] == 30


def test_an_edit_that_arrives_twice_is_made_once(api, project):
    """Its answer was lost, so it is sent again, by then on an old base; the same change under another id is another."""
    pid, base = project["id"], project["revision"]
    first = api.edit(pid, base, low(30), id="e-1")
    api.edit(pid, first["revision"], low(40), id="e-2")
    again = api.edit(pid, base, low(30), id="e-1")
    assert again["revision"] == base + 2
    assert again["document"]["masks"][0]["lines"][0]["source"]["low"] == 40
    assert api.edit(pid, base, low(30), id="e-3", status=409)["code"] == "stale-edit"
    copy = api.post(f"/projects/{pid}/duplicate", status=201)
    assert api.edit(copy["id"], copy["revision"], low(30), id="e-1")["revision"] == copy["revision"] + 1
    api.edit(pid, base + 2, low(30), id="../e", status=422)


def test_a_refused_edit_changes_nothing(api, project):
    pid, base = project["id"], project["revision"]
    api.edit(pid, base, low(30), {"op": "delete_mask", "mask": "wet"}, status=422)
    assert api.get(f"/projects/{pid}")["revision"] == base
    api.edit(pid, base, {"op": "set_ground", "spacing_x": -1}, status=422)
    api.post(f"/projects/{pid}/edits", {"base": base, "tab": "t", "operations": "x"}, status=422)
    api.post(f"/projects/{pid}/edits", {"base": base, "tab": "t", "operations": []}, status=422)


def test_shelf(api, project):
    pid = project["id"]
    copy = api.post(f"/projects/{pid}/duplicate", status=201)
    assert copy["document"]["name"] == "Test Moor copy"
    assert {card["name"] for card in api.get("/projects")} == {"Test Moor", "Test Moor copy"}
    api.call("DELETE", f"/projects/{pid}", status=204)
    api.get(f"/projects/{pid}", status=404)
    assert [card["name"] for card in api.get("/projects")] == ["Test Moor copy"]
    assert api.post(f"/projects/{pid}/restore")["document"] == project["document"]


def test_project_files_go_out_and_come_in(api, project):
    response = api.get(f"/projects/{project['id']}/save-out")
    assert "test_moor.meadow.zip" in response["Content-Disposition"]
    data = b"".join(response.streaming_content)
    back = api.upload("/projects/bring-in", "moor.zip", data, status=201)
    # The one it was saved from is still there: two of one name could not be told apart.
    assert back["document"] == {**project["document"], "name": "Test Moor 2"}
    assert back["id"] != project["id"]
    assert "not a project file" in api.upload("/projects/bring-in", "moor.zip", data[:-200], status=422)["detail"]
    api.upload("/projects/bring-in", "hills.png", png16(hills(20, 20)), status=422)
    assert len(api.get("/projects")) == 2


def test_changes_need_the_pages_token():
    from django.test import Client

    response = Client(enforce_csrf_checks=True).post("/api/projects/x/undo")
    assert response.status_code == 403
    assert response.json()["code"] == "wrong-page"
