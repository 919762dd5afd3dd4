"""What would be written, at which sizes, and what has become outdated."""

from __future__ import annotations

import json
import os
import socket
import subprocess
import sys

import pytest

from tests.support.api import low
from tests.support.server import outdated, run_all
from tests.support.site import ROOT, free_port
from zigzag_meadow.core.targets.catalogue import built_in, target


def planned(plan):
    return [item for group in plan["groups"] for item in group["items"]]


def test_the_plan_carries_the_numbers_of_the_note(api, project):
    pid = project["id"]
    plan = api.get(f"/projects/{pid}/plan")
    assert plan["refused"] is None
    assert [item["name"] for item in planned(plan)] == [
        "test_moor_height.png",
        "test_moor_splat.png",
        "test_moor_data.png",
    ]
    assert [len(item["channels"]) for item in planned(plan)] == [1, 4, 3]
    assert planned(plan)[0]["ends"] == "black 20 m, white 320 m"
    api.post(f"/projects/{pid}/deliveries", status=202)
    run_all()
    answer = api.client.get(f"/api/projects/{pid}/deliveries/1/files/import_note.txt")
    note = b"".join(answer.streaming_content).decode()
    for row in plan["numbers"]:
        assert f"{row['title']:<28} {row['value']}" in note, row
    assert plan["files"] == 3
    (delivery,) = api.get(f"/projects/{pid}/deliveries")
    assert delivery["maps"] == 3


def test_what_can_be_typed_of_a_file_is_what_is_taken(api, project):
    pid = project["id"]
    state = api.edit(pid, project["revision"], {"op": "choose_target", "target": "plain-files"})
    one = {"deliver": True, "form": "png16"}
    items = [{"of": "reading:flow", **one}, {"of": "reading:slope", **one}, {"of": "strongest", "deliver": True}]
    state = api.edit(pid, state["revision"], {"op": "set_items", "items": items})
    found = {item["of"]: item for item in planned(api.get(f"/projects/{pid}/plan"))}
    ends = {"black": 0, "white": 90, "unit": "°", "log": False, "by": "extremes", "as_is": False}
    assert found["height"]["typed"] == {
        "black": 20,
        "white": 320,
        "unit": "m",
        "log": False,
        "by": "codes",
        "as_is": False,
    }
    assert found["reading:slope"]["typed"] == ends
    flow = found["reading:flow"]["typed"]
    assert flow["log"]
    assert 0 < flow["black"] < flow["white"]
    assert found["strongest"]["typed"] is None
    assert {of for of, item in found.items() if item["sharpens"]} == {"reading:flow", "reading:slope"}
    wrong = {"op": "set_items", "items": [{**items[0], "black": 0, "white": 1e6}]}
    body = {"base": state["revision"], "tab": "t", "operations": [wrong]}
    assert "above 0" in api.call("POST", f"/projects/{pid}/edits", body, status=422)["detail"]
    typed = {"op": "set_items", "items": [{**items[0], "black": 100, "white": 1e6}]}
    state = api.edit(pid, state["revision"], typed)
    found = {item["of"]: item for item in planned(api.get(f"/projects/{pid}/plan"))}
    assert (found["reading:flow"]["typed"]["black"], found["reading:flow"]["typed"]["white"]) == (100, 1e6)
    # What is typed too narrow cuts off: how many and where is said before anything is written.
    assert (api.get(f"/projects/{pid}/plan")["beyond"], api.get(f"/projects/{pid}/beyond")) == (None, None)
    cut = {"op": "set_items", "items": [{"of": "height", "black": 20, "white": 250}]}
    state = api.edit(pid, state["revision"], cut)
    assert api.get(f"/projects/{pid}/plan")["beyond"] == pytest.approx([20, 250])
    beyond = api.get(f"/projects/{pid}/beyond")
    assert (beyond["below"], beyond["samples"]) == (0, 127 * 127)
    assert 0 < beyond["above"] < 127 * 127
    assert beyond["places"][0]["by"] == pytest.approx(70, abs=0.01)
    # Where the target fixes its steps there is nothing to type.
    api.edit(pid, state["revision"], {"op": "choose_target", "target": "raw-pair"})
    height = planned(api.get(f"/projects/{pid}/plan"))[0]
    assert height["typed"] is None


def test_sizes_offered_are_sizes_accepted(api, project):
    pid = project["id"]
    targets = api.get(f"/projects/{pid}/targets")
    assert [item["id"] for item in targets] == [item.id for item in built_in()]
    assert not any(item["own"] for item in targets)
    sizes = api.get(f"/projects/{pid}/sizes")
    assert sizes[0]["own"]
    assert sizes[0]["spacing_y"] == 4
    revision = project["revision"]
    for size in (sizes[0], sizes[len(sizes) // 2], sizes[-1]):
        wanted = {**project["document"]["delivery"], "rows": size["rows"], "cols": size["cols"]}
        revision = api.edit(pid, revision, {"op": "set_delivery", "delivery": wanted})["revision"]
        assert api.get(f"/projects/{pid}/plan")["refused"] is None
        assert target("block-grid").sizes.legal(size["rows"])


def test_another_target_is_told_chosen_copied_and_checked(api, project):
    pid = project["id"]
    told = api.get(f"/projects/{pid}/target-change?target=raw-pair")["sentences"]
    assert any("128 × 128" in line for line in told)
    state = api.edit(pid, project["revision"], {"op": "choose_target", "target": "raw-pair"})
    assert state["document"]["delivery"]["rows"] == 128
    assert {item["form"] for item in planned(api.get(f"/projects/{pid}/plan"))} == {"raw16", "raw8"}
    own = {**api.get(f"/projects/{pid}/targets")[2]["rules"], "id": "mine", "title": "Our own"}
    told = api.post(f"/projects/{pid}/targets/check", own)
    assert told["trouble"] is None
    assert "128 × 128" in told["sizes"]
    assert "height.r16" in told["names"]
    bad = api.post(f"/projects/{pid}/targets/check", {**own, "sizes": {"kind": "blocks", "cells": [0], "most": 1}})
    assert "cells" in bad["trouble"]
    state = api.edit(pid, state["revision"], {"op": "set_target", "target": own})
    state = api.edit(pid, state["revision"], {"op": "choose_target", "target": "mine"})
    assert json.loads(api.client.get(f"/api/projects/{pid}/targets/mine/file").content)["title"] == "Our own"
    assert api.get("/target-rules")["places"]["sizes"][0]["kind"] == "blocks"


def test_height_only_and_a_second_run_that_writes_only_what_changed(api, project):
    pid = project["id"]
    assert "Which tiles" in api.post(f"/projects/{pid}/deliveries", {"again": True}, status=422)["detail"]
    api.post(f"/projects/{pid}/deliveries", {"only": ["height"]}, status=202)
    run_all()
    (first,) = api.get(f"/projects/{pid}/deliveries")
    assert (first["maps"], first["only"]) == (1, ["height"])
    api.post(f"/projects/{pid}/deliveries", status=202)
    run_all()
    api.edit(pid, project["revision"], low(61))
    api.post(f"/projects/{pid}/deliveries", status=202)
    run_all()
    third, second, _ = api.get(f"/projects/{pid}/deliveries")
    assert second["job"]["message"].startswith("3 files, 1 of them unchanged")
    assert third["job"]["message"].startswith("3 files, 2 of them unchanged")
    assert api.post(f"/projects/{pid}/deliveries/3/fit", status=202)
    run_all()
    assert api.get(f"/projects/{pid}/deliveries")[0]["fit"]["fits"]


@pytest.mark.parametrize(
    ("operation", "files"),
    [
        (low(61), {"test_moor_splat.png"}),
        ({"op": "set_ground", "high": 333}, {"test_moor_height.png", "test_moor_splat.png", "test_moor_data.png"}),
        ({"op": "set_ground", "water": 44}, set()),
        ({"op": "rename_mask", "mask": "wet", "name": "Sikes"}, set()),
        ({"op": "delete_sheet", "sheet": "data"}, {"test_moor_data.png"}),
        ({"op": "rename_project", "name": "Elsewhere"}, set()),
    ],
)
def test_outdated_is_a_comparison_of_content(api, project, operation, files):
    pid = project["id"]
    api.post(f"/projects/{pid}/deliveries", status=202)
    run_all()
    api.edit(pid, project["revision"], operation)
    assert outdated(api, pid) == files
    api.step("undo", pid)
    assert outdated(api, pid) == set()


def test_cautions_follow_the_document(api, project):
    pid = project["id"]
    assert project["cautions"] == []
    sheet = {**project["document"]["sheets"][0], "b": None}
    state = api.edit(pid, project["revision"], {"op": "set_sheet", "sheet": sheet})
    said = [item["message"] for item in state["cautions"]]
    assert said == [
        "Channel B of splat is empty: whoever reads it finds black.",
        "The base, Base, is in no channel: the target must imply it.",
    ]
    assert {item["waypoint"] for item in state["cautions"]} == {"packing"}


def test_a_taken_port_is_said_and_ends_everything(tmp_path):
    """Serving where something else serves: an exit code scripts can trust, and no process left behind."""

    with socket.socket() as other:
        other.bind(("127.0.0.1", free_port()))
        other.listen()
        command = [sys.executable, "-m", "zigzag_meadow.cli", "serve", "--port", str(other.getsockname()[1])]
        environment = {**os.environ, "ZIGZAG_DATA": str(tmp_path)}
        ended = subprocess.run(command, cwd=ROOT, env=environment, capture_output=True, text=True, timeout=120)
    assert ended.returncode == 2
    assert "is taken by another program" in ended.stderr
