"""A reading, line, step, coat, look, format or use is one file and one line of a catalogue: docs/adding.md, kept true.

A process of its own registers made-up ones before anything else is imported, and drives them to the API and the command
line as they are there: offered, explained, bounded, edited, named in undo, computed, drawn and written.
"""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[2]
PROGRAM = """
import tests.support.made_up, tests.support.made_up_target, tests.support.made_up_use

import json, os, sys
from pathlib import Path
os.environ["DJANGO_SETTINGS_MODULE"] = "zigzag_meadow.server.settings"
import django
django.setup()
from django.core.management import call_command
call_command("migrate", verbosity=0)
import numpy as np
from typer.testing import CliRunner
from tests.support.api import Api, moor
from zigzag_meadow.cli import load
from zigzag_meadow.core.formats.file_reader import at_once
from zigzag_meadow.server.helped_reader import HelpedReader

# The process that reads files has not what is made up here.
HelpedReader.__call__ = lambda self, work, *arguments, cancel=None: at_once(work, *arguments)
folder = Path(sys.argv[1])
api, told = Api(), {}
state = moor(api)
pid = state["id"]
told["reading"] = next(r for r in state["readings"] if r["name"] == "eastness")
told["line"] = next(k for k in api.get(f"/projects/{pid}/lines") if k["verb"] == "dim")
told["coat"] = next(k for k in api.get(f"/projects/{pid}/painting")["coats"] if k["kind"] == "negate")
told["look"] = next(k for k in api.get(f"/projects/{pid}/painting")["looks"] if k["id"] == "chequered")
told["step"] = next(k for k in api.get(f"/projects/{pid}/steps") if k["kind"] == "tip")

def edit(*operations, status=200):
    state = api.get(f"/projects/{pid}")
    return api.edit(pid, state["revision"], *operations, status=status)

def values(name, kind=np.uint8):
    response = api.client.get(f"/api/projects/{pid}/maps/{name}")
    shape = json.loads(response["X-Map-Shape"])
    return np.frombuffer(response.content, kind).reshape(shape["rows"], shape["cols"])

band = {"kind": "band", "reading": "eastness", "low": 2, "high": 8, "fade_low": 0}
take = {"id": "t", "verb": "take", "source": band}
made = edit({"op": "add_mask", "mask": {"id": "east", "name": "East", "lines": [take]}})
told["uses"] = [use for use in made["uses"] if use["used"] == "reading:eastness"]
told["users"] = [use for use in made["uses"] if use["used"] == "mask:east"]
told["map"] = [float(v) for v in values("reading:eastness", np.float32)[5, [0, 63, 126]]]
told["before"] = [int(v) for v in values("mask:east")[5, [0, 126]]]
new = {**told["line"]["fresh"], "id": "d"}
told["added"] = edit({"op": "add_line", "mask": "east", "line": new})["undo"]
told["set"] = edit({"op": "set_line", "mask": "east", "line": {**new, "by": 0.5}})["undo"]
told["refused"] = edit({"op": "set_line", "mask": "east", "line": {**new, "by": 2}}, status=422)["detail"]
told["after"] = [int(v) for v in values("mask:east")[5, [0, 126]]]
setting = {"id": "eastness", "kind": "eastness", "numbers": {"most": 8}}
told["numbers"] = edit({"op": "set_reading", "setting": setting})["undo"]
flat = values("reading:height", np.float32)
told["stepped"] = edit({"op": "add_step", "step": {**told["step"]["fresh"], "id": "s"}})["undo"]
tipped = values("reading:height", np.float32) - flat
told["tipped"] = [float(v) for v in (tipped[5, 0], tipped[5, 126])]
delete = {"op": "delete_mask", "mask": "east"}
told["kept"] = edit(delete, status=422)["detail"]
told["stuck"] = edit({**delete, "uses": "take_out"}, status=422)["detail"]
told["effect"] = api.get(f"/projects/{pid}/diagnosis")["steps"][0]["id"]
told["stats"] = api.get(f"/projects/{pid}/stats?name=reading:eastness")["bin_high"]

dressed = {"op": "set_base", "base": {"name": "Base", "colour": "#000000", "dressing": {"look": "chequered"}}}
edit(dressed, {"op": "add_coat", "coat": {"kind": "layers", "id": "under", "how": "mean"}})

def colour():
    pixels = np.frombuffer(api.client.get(f"/api/projects/{pid}/maps/colour").content, np.uint8)
    return [int(v) for v in pixels[-3:]]

edit(*({"op": "delete_layer", "layer": layer} for layer in ("rock", "mud")))
told["mean"] = colour()
new = {**told["coat"]["fresh"], "id": "n"}
told["coated"] = edit({"op": "add_coat", "coat": new})["undo"]
told["recoated"] = edit({"op": "set_coat", "coat": {**new, "most": 0.5}})["undo"]
told["negated"] = colour()
told["coat_refused"] = edit({"op": "set_coat", "coat": {**new, "most": 0.4}}, status=422)["detail"]
board = api.client.get(f"/api/projects/{pid}/looks/chequered/albedo?side=16")
told["board"] = sorted(set(board.content))

told["target"] = next(t for t in api.get(f"/projects/{pid}/targets") if t["id"] == "made-up")["sentence"]
edit({"op": "choose_target", "target": "made-up"})
from tests.support.server import run_all
api.post(f"/projects/{pid}/deliveries", status=202)
run_all()
api.post(f"/projects/{pid}/deliveries/1/fit", status=202)
run_all()
delivered = api.get(f"/projects/{pid}/deliveries")[0]
told["files"] = [item["file"] for item in delivered["files"]]
told["fit"] = [delivered["fit"]["fits"], *(fact["result"] for fact in delivered["fit"]["facts"][:2])]
note = api.client.get(f"/api/projects/{pid}/deliveries/1/files/import_note.txt")
told["note"] = b"".join(note.streaming_content).decode()

listed = api.client.get("/api/formats").json()["formats"]
told["formats"] = [(f["title"], f["endings"], f["uses"], f["exact"]) for f in listed if f["id"] == "hidden"]
saved = folder / "moor.meadow.zip"
saved.write_bytes(api.saved_out(pid))
run = CliRunner()
from zigzag_meadow.core.readings.table import readings_table
told["listed"] = "| Eastness | leagues | 0 to 8 | most |" in readings_table()
done = run.invoke(load(), ["map", str(saved), "mask:East", "--out", str(folder / "east.npy"), "--json"])
assert done.exit_code == 0, done.output
hidden = ["map", str(saved), "mask:East", "--out", str(folder / "east.hid")]
assert run.invoke(load(), hidden).exit_code == 0
told["hidden"] = json.loads(run.invoke(load(), ["inspect", hidden[-1], "--json"]).stdout)
data = (folder / "east.hid").read_bytes()
told["brought"] = api.upload(f"/projects/{pid}/pictures", "east.hid", data)["says"]
found = api.upload("/heightmaps", "east.hid", data)
measures = {"heights": "range", "spacing_x": 2, "spacing_y": 2}
new = {"name": "Hidden", "source": {"asset": found["asset"], "name": found["name"]}, **measures}
told["born"] = api.post("/projects", new, status=201)["document"]["ground"]["file_format"]
told["written"] = float(np.load(folder / "east.npy")[5, 126])
measured = ["reading", str(folder / "h.png"), "--name", "eastness", "--spacing", "4,4", "--set", "most=2"]
done = run.invoke(load(), [*measured, "--out", str(folder / "e.npy"), "--json"])
assert done.exit_code == 0, done.output
told["measured"] = float(np.load(folder / "e.npy").max())
print(json.dumps(told))
"""


@pytest.fixture(scope="module")
def told(tmp_path_factory):
    from tests.support.ground import hills, png16

    folder = tmp_path_factory.mktemp("adding")
    (folder / "h.png").write_bytes(png16(hills(40, 50)))
    env = {**os.environ, "ZIGZAG_DATA": str(folder / "data")}
    env.pop("DJANGO_SETTINGS_MODULE", None)
    done = subprocess.run(
        [sys.executable, "-c", PROGRAM, str(folder)], cwd=ROOT, env=env, capture_output=True, text=True, check=False
    )
    assert done.returncode == 0, done.stderr[-3000:]
    return json.loads(done.stdout.splitlines()[-1])


def test_a_reading_is_offered_explained_measured_and_edited(told):
    reading = told["reading"]
    assert (reading["title"], reading["unit"], reading["ramp"]) == ("Eastness", "leagues", "strength")
    assert [(p["title"], p["value"], p["low"], p["high"]) for p in reading["params"]] == [("Most", 4.0, 1, 8)]
    assert told["map"] == pytest.approx([0, 2, 4])
    assert told["stats"] == 8
    assert told["numbers"] == "most of eastness to 8 leagues"
    assert [(use["user"], use["words"]) for use in told["uses"]] == [("mask:east", "the mask East")]


def test_a_line_is_offered_bounded_named_and_computed(told):
    line = told["line"]
    assert (line["title"], line["family"], line["sentence"]) == ("Dim", "tone", "**Dim** to {by} of what is there")
    assert line["fresh"] == {"verb": "dim", "muted": False, "note": "", "by": 0.25}
    assert (told["added"], told["set"]) == ("add dim", "share left to 50 %")
    assert "less than or equal to 1" in told["refused"]
    assert (told["before"], told["after"]) == ([0, 255], [0, 128])


def test_a_step_is_offered_named_and_changes_the_ground(told):
    step = told["step"]
    assert (step["title"], step["fresh"]["by"]) == ("Tip", 30)
    assert {slot["name"]: slot["title"] for slot in step["slots"]}["by"] == "Raised in the east"
    assert told["stepped"] == "tip"
    assert told["tipped"] == pytest.approx([0, 30], abs=1e-3)
    assert told["effect"] == "s"


def test_a_coat_and_a_look_are_offered_named_bounded_and_seen(told):
    coat = told["coat"]
    assert (coat["title"], coat["family"], coat["fresh"]["most"]) == ("Negate", "change", 1.0)
    assert (told["coated"], told["recoated"]) == ("add negate", "negate: most to 50 %")
    assert "greater than or equal to 0.5" in told["coat_refused"]
    # Half black and half white is 188 in light; half of the light less that is none.
    assert (told["mean"], told["negated"]) == ([188] * 3, [0] * 3)
    assert (told["look"]["name"], told["look"]["size"], told["board"]) == ("Chequered", 2.0, [0, 255])


def test_a_use_keeps_what_it_uses(told):
    """What a newcomer uses cannot be removed under it, and is said by its words."""
    assert told["kept"] == "East is used by the legend of the map. Take it out there first."
    assert told["stuck"] == "East is still used by the legend of the map. Change that first."
    assert ("legend:made-up", "the legend of the map") in [(use["user"], use["words"]) for use in told["users"]]


def test_a_target_and_a_form_are_offered_written_noted_and_read_back(told):
    assert told["target"] == "A target that a test adds."
    assert "height_of_nowhere.hid" in told["files"]
    assert told["fit"] == [True, "exact", "right"]
    assert "Hidden 16, 127 × 127" in told["note"]
    assert "begins in the north-east" in told["note"]
    assert "Made-up smoothing: off" in told["note"]


def test_a_format_is_offered_brought_in_and_written_by_whoever_asks(told):
    assert told["formats"] == [["Hidden", [".hid"], ["heightmap", "picture", "mask"], True]]
    assert (told["hidden"]["format"], told["hidden"]["rows"], told["hidden"]["high"]) == ("hidden", 127, 32768)
    assert "127" in told["brought"]
    assert told["born"] == "hidden"


def test_the_command_line_has_all_of_them(told):
    assert told["listed"]
    assert told["written"] == pytest.approx(0.5)
    assert told["measured"] == pytest.approx(2)


def test_the_table_names_files_that_are_there():
    """Every path in docs/adding.md exists, and what is said to hold the only copy of a thing does hold it."""
    text = (ROOT / "docs" / "adding.md").read_text()
    paths = re.findall(r"`((?:src|tests|frontend|docs)/[A-Za-z0-9_./]+)`", text)
    assert len(paths) > 10
    assert [path for path in paths if not (ROOT / path).exists()] == []
