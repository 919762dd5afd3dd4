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
from zigzag_meadow.core.targets.rules import target


def test_the_plan_carries_the_numbers_of_the_note(api, project):
    pid = project["id"]
    plan = api.get(f"/projects/{pid}/plan")
    assert plan["refused"] is None
    assert [item["file"] for item in plan["items"]] == [
        "test_moor_height.png",
        "test_moor_splat.png",
        "test_moor_data.png",
    ]
    assert [item["channels"] for item in plan["items"]] == [1, 4, 3]
    assert plan["step"] == pytest.approx(300 / 65535)
    api.post(f"/projects/{pid}/deliveries", status=202)
    run_all()
    answer = api.client.get(f"/api/projects/{pid}/deliveries/1/files/import_note.json")
    note = json.loads(b"".join(answer.streaming_content))
    assert note["height"]["vertical_scale"] == plan["vertical_scale"]
    assert note["height"]["vertical_position"] == plan["vertical_position"]
    assert note["terrain"]["patch_cells"] == plan["patch_cells"]
    assert note["terrain"]["blocks_x"] == plan["blocks_x"]
    assert [entry["file"] for entry in note["files"]] == [item["file"] for item in plan["items"]]


def test_sizes_offered_are_sizes_accepted(api, project):
    pid = project["id"]
    (grid,) = api.get(f"/projects/{pid}/targets")
    assert grid["id"] == "block-grid"
    assert len(grid["sizes"]) > 100
    assert all(len(row) == 3 for row in grid["neutral"])
    revision = project["revision"]
    for size in (grid["sizes"][0], grid["sizes"][57], grid["sizes"][-1]):
        wanted = {**project["document"]["delivery"], "rows": size["rows"], "cols": size["columns"]}
        revision = api.edit(pid, revision, {"op": "set_delivery", "delivery": wanted})["revision"]
        assert api.get(f"/projects/{pid}/plan")["refused"] is None
        assert target("block-grid").is_legal(size["rows"])


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
