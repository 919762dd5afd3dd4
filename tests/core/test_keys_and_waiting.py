"""What is held is held under a key that names everything; who waits can stop waiting; memory is said beforehand."""

from __future__ import annotations

import contextlib
import itertools
import json
import os
import subprocess
import sys
import threading
import time
from typing import Any

import numpy as np
import pytest

from tests.support.ground import band, document, evaluation
from zigzag_meadow.core.errors import Cancelled, TooLarge
from zigzag_meadow.core.evaluate.cache import TileCache
from zigzag_meadow.core.evaluate.engine import Engine
from zigzag_meadow.core.evaluate.room import WorkRoom
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.ground.prepare import PREPARE, SOURCE
from zigzag_meadow.core.ground.steps.catalogue import STEPS
from zigzag_meadow.core.looks.texture import MADE
from zigzag_meadow.core.masks.sources import constant
from zigzag_meadow.core.nodes.node import Node, Operation, held_key
from zigzag_meadow.core.nodes.operation import WholeGround
from zigzag_meadow.core.project.edits.operations import apply_operations, parse_operations
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.reports.finals import check_final

TAKE = {"id": "a", "verb": "take", "source": band("slope", 12, 40, fade_low=5)}
DRAWN = {"id": "a", "verb": "take", "source": {"kind": "feature", "feature": "f", "width": 60, "fade": 20}}
PLAIN = {"id": "a", "verb": "take", "source": {"kind": "plain", "value": 0.4}}
RECIPES: dict[str, list[dict[str, Any]]] = {
    "a drawn line": [DRAWN],
    "a number": [PLAIN, {"id": "b", "verb": "leave_out", "source": DRAWN["source"]}],
    "a gate of areas": [DRAWN, {"id": "b", "verb": "remove_specks", "area": 900}],
    "holes filled": [TAKE, {"id": "b", "verb": "fill_holes", "area": 900}],
    "stretch ends": [TAKE, {"id": "b", "verb": "stretch", "clip": 0.05}],
    "an equalising curve": [TAKE, {"id": "b", "verb": "equalise"}],
    "cut edges": [TAKE, {"id": "b", "verb": "cut", "count": 4, "how": "quantiles"}],
    "a wide rim": [DRAWN, {"id": "b", "verb": "widen", "by": 900, "fade": 300}],
    "trickle": [DRAWN, {"id": "b", "verb": "trickle", "by": 60}],
    "drift and fray": [DRAWN, {"id": "b", "verb": "drift", "by": 30}, {"id": "c", "verb": "fray", "reach": 20}],
}
CROP = {"op": "add_step", "step": {"id": "c", "kind": "crop", "west": 60, "north": 80, "width": 300, "length": 250}}
SIZE = {"op": "add_step", "step": {"id": "r", "kind": "resample", "rows": 90, "cols": 70}}
TURN = {"op": "add_step", "step": {"id": "t", "kind": "turn", "how": "right"}}


def with_mask(lines: list[dict[str, Any]]) -> dict[str, Any]:
    feature = {"id": "f", "name": "F", "points": [[80, 90], [300, 200], [420, 330]]}
    data = document(127, 140, layers=[], sheets=[], features=[feature])
    return {**data, "masks": [{"id": "m", "name": "M", "lines": lines}]}


def changed(project: Project, *operations: dict[str, Any]) -> Project:
    return apply_operations(project, parse_operations(list(operations)))[0]


@pytest.mark.parametrize("steps", [[CROP], [SIZE], [TURN], [CROP, SIZE]], ids=["crop", "resample", "turn", "both"])
@pytest.mark.parametrize("what", RECIPES)
def test_after_a_step_that_changes_the_size_nothing_held_is_stale(tmp_path, what, steps):
    """The engine that has made the mask before the step gives what a fresh one gives."""
    project, before = evaluation(tmp_path, with_mask(RECIPES[what]))
    before.map("mask:m")
    check_final(before, "m")
    after = changed(project, *steps)
    held = before.engine.evaluation(after)
    _, fresh = evaluation(tmp_path, after.model_dump(mode="json"))
    for name in ("mask:m", "final:m"):
        assert np.array_equal(held.map(name), fresh.map(name)), name
    assert check_final(held, "m") == check_final(fresh, "m")
    # And back again: what was held for the ground before is still right for it.
    assert np.array_equal(before.engine.evaluation(project).map("mask:m"), before.map("mask:m"))


def test_bands_and_points_follow_the_ground(tmp_path):
    data = with_mask([TAKE, {"id": "b", "verb": "cut", "count": 3, "how": "quantiles"}])
    data["scatters"] = [{"id": "s", "name": "S", "mask": "m", "density": 0.4, "size_by": "reading:slope"}]
    project, ev = evaluation(tmp_path, data)
    from zigzag_meadow.core.evaluate.scattered import points_key, scatter_points

    first = scatter_points(ev, "s").points
    bands = ev.map("band:m:1")
    held = ev.engine.evaluation(changed(project, CROP))
    _, fresh = evaluation(tmp_path, changed(project, CROP).model_dump(mode="json"))
    assert np.array_equal(held.map("band:m:1"), fresh.map("band:m:1"))
    assert np.array_equal(scatter_points(held, "s").points, scatter_points(fresh, "s").points)
    assert points_key(held, "s") != points_key(ev, "s")
    assert held.map("band:m:1").shape != bands.shape
    assert np.array_equal(scatter_points(ev, "s").points, first)


def test_a_key_names_the_ground_the_grid_and_the_part():
    here, there = Grid(20, 30, 4.0, 5.0), Grid(20, 30, 4.0, 5.5)
    node = constant(0.5, here)
    assert node.key != constant(0.5, there).key
    assert node.key == constant(0.5, here).key
    keys = {held_key(node, grid, part) for grid in (here, there, here.resized(40, 60)) for part in ("whole", "ends")}
    assert len(keys) == 6
    assert all("/" not in key and ":" not in key for key in keys)


# Waiting -------------------------------------------------------------------------------------------------------


def slow_holder(release: threading.Event, begun: threading.Event):
    def compute() -> np.ndarray:
        begun.set()
        assert release.wait(20)
        return np.ones((2, 2), np.float32)

    return compute


def test_who_waits_for_another_ones_work_can_stop_waiting():
    cache, release, begun = TileCache(), threading.Event(), threading.Event()
    owner = threading.Thread(target=cache.get, args=("k", slow_holder(release, begun)))
    owner.start()
    assert begun.wait(5)
    asked = itertools.count()
    with pytest.raises(Cancelled):
        cache.get("k", lambda: np.zeros(1), lambda: next(asked) > 2)
    assert owner.is_alive()
    release.set()
    owner.join(5)
    assert cache.get("k", lambda: np.zeros(1)).sum() == 4


def test_one_that_is_stopped_hands_over_to_one_that_waits():
    cache, stop, begun = TileCache(), threading.Event(), threading.Event()

    def stopped() -> np.ndarray:
        begun.set()
        stop.wait(20)
        raise Cancelled

    def ask() -> None:
        with contextlib.suppress(Cancelled):
            cache.get("k", stopped)

    first = threading.Thread(target=ask)
    first.start()
    assert begun.wait(5)
    found: list[np.ndarray] = []
    second = threading.Thread(target=lambda: found.append(cache.get("k", lambda: np.full(3, 7.0))))
    second.start()
    stop.set()
    first.join(5)
    second.join(5)
    assert found[0].tolist() == [7, 7, 7]


def test_a_run_that_somebody_else_makes_can_be_waited_for_or_not(tmp_path):
    """Two pages ask for the same erosion: one gives up, the other gets it."""
    _, ev = evaluation(tmp_path, document(127, 127))
    asked = threading.Event()
    locked = ev.engine.locks.hold(held_key(node := ev.graph.reading("scour").inputs[0], node.grid, "run"), None)
    with locked:
        gone = ev.engine.evaluation(ev.project, cancel=lambda: asked.is_set())
        threading.Timer(0.2, asked.set).start()
        with pytest.raises(Cancelled):
            gone.map("reading:scour")
    assert ev.map("reading:scour").max() > 0


# Memory --------------------------------------------------------------------------------------------------------


def test_room_is_shared_waited_for_and_refused_in_a_sentence():
    room, inside, order = WorkRoom(100), threading.Event(), []

    def work(name: str) -> None:
        with room.take(60, "Erosion run", None):
            order.append(name)
            inside.set()
            time.sleep(0.15)
            order.append(f"{name} done")

    threads = [threading.Thread(target=work, args=(name,)) for name in ("a", "b")]
    threads[0].start()
    assert inside.wait(5)
    threads[1].start()
    with pytest.raises(Cancelled), room.take(60, "Slumping", lambda: True):
        pytest.fail("there was no room")
    with room.take(40, "Small", lambda: True):
        pass
    for thread in threads:
        thread.join(5)
    assert order == ["a", "a done", "b", "b done"]
    said = r"Erosion run would need .* GiB of memory on this ground; at most"
    with pytest.raises(TooLarge, match=said), room.take(101, "Erosion run", None):
        pass


def operations() -> list[Operation]:
    """Every operation of every module that is there."""
    modules = [module for name, module in sys.modules.items() if name.startswith("zigzag_meadow.core.")]
    found = {id(v): v for module in modules for v in vars(module).values() if isinstance(v, Operation)}
    return list(found.values())


def test_every_operation_has_a_name_of_its_own():
    names = [operation.name for operation in operations()]
    assert {"height", "drain", "picture", "pixels", "erosion", "cut", "blur"} <= set(names)
    assert sorted(set(names)) == sorted(names)


def test_no_long_work_needs_more_than_is_there_on_the_largest_ground():
    largest = Grid(8193, 8193, 1.0, 1.0)
    asked = [
        Node(op, {}, home=largest) for op in operations() if isinstance(op, WholeGround) and op not in (PREPARE, MADE)
    ]
    base = Node(SOURCE, {}, home=largest)
    kinds = [kind.model_fields["kind"].default for kind in STEPS]
    asked = [node for node in asked if node.op.name not in ("mean_height", "rim")]
    asked += [Node(PREPARE, {"kind": kind}, (base,), home=largest) for kind in kinds]
    named = [(f"step {node.params['kind']}" if node.params else node.op.name, node) for node in asked]
    costs = {name: node.op.cost(node, node.op.grid(node)) for name, node in named}
    long = {name: cost for name, cost in costs.items() if cost.long}
    assert {
        "drain",
        "erosion",
        "slump",
        "carried",
        "spread",
        "water",
        "step smooth",
        "step bed",
        "step un_terrace",
    } <= long.keys()
    assert not {"step crop", "step turn", "step flatten", "step exaggerate"} & long.keys()
    for cost in long.values():
        with WorkRoom().take(cost.bytes, cost.title, None):
            pass


def test_what_needs_too_much_is_refused_before_it_begins(tmp_path):
    project, ev = evaluation(tmp_path, document(127, 127))
    small = Engine(ev.engine.stripes, TileCache(), ev.engine.asset_path, room=WorkRoom(127 * 127 * 20))
    with pytest.raises(TooLarge, match="Following the water would need"):
        small.evaluation(project).map("reading:flow")
    steep = {"op": "add_step", "step": {"id": "e", "kind": "erode"}}
    with pytest.raises(TooLarge, match="Eroding the ground would need"):
        small.evaluation(changed(project, steep)).map("reading:height")
    assert small.evaluation(project).map("reading:slope").max() > 0


def test_a_step_on_a_very_large_ground_is_made_on_a_smaller_one(tmp_path, monkeypatch):
    """Beyond the cap the change that erosion makes is laid over the finer ground."""
    monkeypatch.setattr("zigzag_meadow.core.grid.WHOLE_GROUND_LONG_SIDE", 64)
    erode = {"id": "e", "kind": "erode", "rain": 0.3}
    data = document(127, 127)
    data["ground"]["steps"] = [erode]
    _, ev = evaluation(tmp_path, data)
    after, before = ev.whole(ev.graph.stage().ground), ev.whole(ev.graph.stage(0).ground)
    change = after - before
    assert np.abs(change).max() > 0.1
    # The change is as smooth as the smaller ground: between its samples it is linear.
    assert np.abs(change[::2, ::2][:, 1:-1][1:-1]).max() > 0.1
    assert change.dtype == np.float32


PROGRAM = """
import json, sys
import numpy as np
from pathlib import Path
from tests.support.ground import document, evaluation
from zigzag_meadow.core.nodes.operation import WholeGround

size, folder = 450, Path(sys.argv[1])

def status(line):
    text = Path("/proc/self/status").read_text()
    return int(next(l for l in text.splitlines() if l.startswith(line)).split()[1]) * 1024

def used(work):
    Path("/proc/self/clear_refs").write_text("5")
    before = status("VmRSS")
    work()
    return status("VmHWM") - before

def said(node):
    return node.op.cost(node, node.op.grid(node)).bytes

def reading(name, size):
    _, ev = evaluation(folder, document(size, size))
    node = ev.graph.reading(name)
    while not isinstance(node.op, WholeGround):
        node = node.inputs[0]
    for below in node.inputs:
        if len(below.op.planes) > 1:
            ev.whole(below, "area")
    ev.whole(ev.graph.stage().ground)
    return used(lambda: ev.whole(node)), said(node)

def stepped(step, size):
    data = document(size, size)
    data["ground"]["steps"] = [{"id": "s", **step}]
    _, ev = evaluation(folder, data)
    ev.whole(ev.graph.stage(0).ground)
    node, planes = ev.graph.stage().ground, ()
    if len(node.inputs) > 1:
        # A step that leaves maps works in a run of its own.
        node, planes = node.inputs[1], ("change",)
    return used(lambda: ev.whole(node, *planes)), said(node)

found = {}
for measured, what in [(reading, name) for name in json.loads(sys.argv[2])] + [
    (stepped, step) for step in json.loads(sys.argv[3])
]:
    # On a small ground first: loading a kernel takes memory that does not grow with the ground.
    measured(what, 65)
    found[what if measured is reading else what["kind"]] = measured(what, size)
print(json.dumps(found))
"""


def test_work_needs_no_more_memory_than_it_says(tmp_path):
    """Measured as the peak of a whole process, one that has the kernels already."""
    names = ["flow", "spreading_flow", "distance_to_water", "channel_depth", "scour", "talus"]
    steps = [
        {"kind": "smooth", "radius": 20, "keep": 4},
        {"kind": "soften", "angle": 12},
        {"kind": "un_terrace", "step": 2},
        {"kind": "erode", "rain": 0.02},
        {"kind": "slump", "angle": 60},
        {"kind": "refine", "times": 2, "detail": 2},
        {"kind": "carve"},
    ]
    program = [sys.executable, "-c", PROGRAM, str(tmp_path), json.dumps(names), json.dumps(steps)]
    # What is given back goes back at once: kept by the allocator, it would hide what is taken next.
    plain = {**os.environ, "MALLOC_MMAP_THRESHOLD_": "65536"}
    done = subprocess.run(program, check=True, capture_output=True, text=True, env=plain)
    wrong = {}
    for name, (used, said) in json.loads(done.stdout).items():
        # What caches of the allocator and threads add does not grow with the ground.
        if not said / 8 < used <= said + 12 * 2**20:
            wrong[name] = f"{used / 2**20:.0f} MiB used, {said / 2**20:.0f} said"
    assert wrong == {}
