"""Evaluation: keys made of content, one computation a key, caches with limits, windows that are parts of a whole."""

from __future__ import annotations

import threading
import time

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.support.ground import band, document, evaluation
from zigzag_meadow.core.errors import BadNumber, Cancelled, MeadowError, NotFound
from zigzag_meadow.core.evaluate.cache import DiskStore, TileCache
from zigzag_meadow.core.evaluate.graph import Graph
from zigzag_meadow.core.grid import Window
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.edits.operations import apply_operations, parse_operations
from zigzag_meadow.core.readings.catalogue import READINGS
from zigzag_meadow.core.stripes import Stripes


def keys(data, *names):
    graph = Graph(parse_project(data))
    return [graph.named(name).key for name in names]


WIDER_SLOPE = {"op": "set_reading", "setting": {"id": "slope", "kind": "slope", "numbers": {"width": 9}}}
ALL = ("reading:slope", "mask:steep", "mask:wet", "weight:rock", "sheet:splat", "sheet:data")


def test_names_and_ids_are_not_content():
    data = document()
    renamed = document()
    renamed["name"] = "Other"
    renamed["masks"][0]["name"] = "Rough"
    renamed["layers"][0]["colour"] = "#010203"
    renamed["sheets"][0]["name"] = "first"
    renamed["ground"]["water"] = 99
    renamed["masks"][0]["lines"][0]["id"] = "zz"
    assert keys(data, *ALL) == keys(renamed, *ALL)
    twin = document()
    twin["masks"].append({**twin["masks"][1], "id": "twin", "name": "Twin"})
    assert keys(twin, "mask:twin") == keys(twin, "mask:wet")


@pytest.mark.parametrize(
    ("operation", "changed"),
    [
        ({"op": "set_ground", "high": 321}, set(ALL)),
        (WIDER_SLOPE, set(ALL) - {"mask:wet"}),
        ({"op": "set_ground", "water": 10}, set()),
        ({"op": "move_layer", "layer": "rock", "to": 1}, {"weight:rock", "sheet:splat"}),
        ({"op": "delete_line", "mask": "wet", "line": "d"}, set(ALL) - {"reading:slope"}),
        (
            {
                "op": "set_layer",
                "layer": {"id": "mud", "name": "Mud", "mask": "wet", "colour": "#443322", "muted": True},
            },
            {"weight:rock", "sheet:splat"},
        ),
    ],
)
def test_only_what_depends_on_a_change_gets_a_new_key(operation, changed):
    before = parse_project(document())
    after, _ = apply_operations(before, parse_operations([operation]))
    old, new = Graph(before), Graph(after)
    assert {name for name in ALL if old.named(name).key != new.named(name).key} == changed


def test_a_line_that_changes_leaves_the_lines_before_it_alone(tmp_path):
    _, ev = evaluation(tmp_path, document())
    ev.map("mask:steep")
    before = set(ev.engine.cache._held)
    data = document()
    data["masks"][0]["lines"][1]["strength"] = 0.2
    ev.engine.evaluation(parse_project(data)).map("mask:steep")
    assert len(set(ev.engine.cache._held) - before) == 1


@settings(max_examples=25)
@given(st.data())
def test_windows_of_any_map_are_parts_of_the_whole(tmp_path_factory, data):
    name = data.draw(st.sampled_from([*ALL, *(f"reading:{r.name}" for r in READINGS), "weight:base", "channel:data:g"]))
    size = data.draw(st.sampled_from([(127, 127), (253, 253), (64, 64)]))
    r0, c0 = data.draw(st.integers(0, 60)), data.draw(st.integers(0, 60))
    window = Window(r0, data.draw(st.integers(r0 + 1, 64)), c0, data.draw(st.integers(c0 + 1, 64)))
    _, whole = evaluation(tmp_path_factory.mktemp("w"), document())
    grid = whole.home.resized(*size)
    full = whole.map(name, grid)
    _, part = evaluation(tmp_path_factory.mktemp("w"), document())
    assert (part.map(name, grid, window) == full[window.row0 : window.row1, window.col0 : window.col1]).all()


@pytest.mark.parametrize("reading", [r.name for r in READINGS])
def test_every_reading_keeps_the_contract(tmp_path, reading):
    """float32, the grid's shape, no NaN, inside its declared range, read-only, on finer and coarser grids."""
    _, ev = evaluation(tmp_path, document())
    declared = next(r for r in READINGS if r.name == reading)
    assert declared.sentence.endswith(".")
    assert declared.good_for.endswith(".")
    for size in ((127, 127), (253, 200), (50, 61)):
        values = ev.map(f"reading:{reading}", ev.home.resized(*size))
        assert values.dtype == np.float32
        assert values.shape == size
        assert np.isfinite(values).all()
        assert declared.low is None or values.min() >= declared.low - 1e-4
        assert declared.high is None or values.max() <= declared.high + 1e-4
        if declared.scale == "log":
            assert values.min() > 0


def test_impossible_maps_and_windows(tmp_path):
    _, ev = evaluation(tmp_path, document())
    for name in ("mask:none", "reading:none", "nothing", "mask:", "sheet:none", "channel:data:a", "weight:none"):
        with pytest.raises(NotFound):
            ev.map(name)
    with pytest.raises(BadNumber, match="inside the grid"):
        ev.map("mask:steep", ev.home, Window(0, 500, 0, 5))
    (tmp_path / "hills.png").write_bytes(b"gone wrong")
    with pytest.raises(MeadowError):
        evaluation_on_broken_file(ev)


def evaluation_on_broken_file(ev):
    ev.engine.cache._held.clear()
    return ev.map("reading:height")


def test_a_muted_layer_weighs_nothing_and_the_rest_still_adds_up(tmp_path):
    data = document()
    data["layers"][1]["muted"] = True
    _, ev = evaluation(tmp_path, data)
    assert not ev.map("weight:mud").any()
    assert (ev.map("sheet:splat")[:, :, 1] == 0).all()
    assert (ev.map("sheet:splat")[:, :, [0, 2]].sum(axis=2, dtype=int) == 255).all()


def test_rest_of_a_sheet_fills_it_up(tmp_path):
    data = document()
    data["sheets"][0] |= {"layout": "rgb", "a": None, "b": {"kind": "rest"}}
    _, ev = evaluation(tmp_path, data)
    assert (ev.map("sheet:splat").sum(axis=2, dtype=int) == 255).all()


class Slow:
    """A computation that counts how often it is run and waits until it is let go."""

    def __init__(self) -> None:
        self.runs = 0
        self.go = threading.Event()

    def __call__(self) -> np.ndarray:
        self.runs += 1
        assert self.go.wait(5)
        return np.ones((4, 4), np.float32)


def test_concurrent_requests_for_one_key_share_one_computation():
    cache, slow, got = TileCache(), Slow(), []
    threads = [threading.Thread(target=lambda: got.append(cache.get("k", slow))) for _ in range(6)]
    for thread in threads:
        thread.start()
    slow.go.set()
    for thread in threads:
        thread.join(5)
    assert slow.runs == 1
    assert all(value is got[0] for value in got)
    assert not got[0].flags.writeable


def test_another_caller_takes_over_when_the_first_is_stopped():
    cache, started, release = TileCache(), threading.Event(), threading.Event()

    def stopped() -> np.ndarray:
        started.set()
        release.wait(5)
        raise Cancelled()

    failed: list[BaseException] = []

    def first() -> None:
        try:
            cache.get("k", stopped)
        except Cancelled as error:
            failed.append(error)

    one = threading.Thread(target=first)
    one.start()
    assert started.wait(5)
    got: list[np.ndarray] = []
    two = threading.Thread(target=lambda: got.append(cache.get("k", lambda: np.zeros(3, np.float32))))
    two.start()
    release.set()
    one.join(5)
    two.join(5)
    assert len(failed) == 1
    assert got[0].shape == (3,)


def test_the_cache_keeps_to_its_limit_and_forgets_the_longest_unused():
    cache = TileCache(limit=3 * 400)
    for key in "abc":
        cache.get(key, lambda: np.zeros(100, np.float32))
    cache.get("a", lambda: pytest.fail("a is held"))
    cache.get("d", lambda: np.zeros(100, np.float32))
    assert [cache.peek(key) is not None for key in "abcd"] == [True, False, True, True]


def test_the_disk_store_survives_damage_and_keeps_to_its_limit(tmp_path):
    store = DiskStore(tmp_path / "maps", limit=3000)
    for i in range(5):
        store.save(f"k{i}", np.full(200, i, np.float32))
        time.sleep(0.01)
    assert store.load("k0") is None
    assert (store.load("k4") == 4).all()
    (tmp_path / "maps" / "k4.npy").write_bytes(b"\x93NUMPY damaged")
    assert store.load("k4") is None
    assert not list((tmp_path / "maps").glob("*.part"))


def test_previews_do_not_reach_the_disk_and_leave_the_saved_maps_alone(tmp_path):
    project, ev = evaluation(tmp_path, document())
    store = DiskStore(tmp_path / "maps")
    engine = type(ev.engine)(ev.engine.stripes, TileCache(), ev.engine.asset_path, store)
    unsaved = engine.evaluation(project, keep=False)
    unsaved.map("mask:wet")
    assert list((tmp_path / "maps").iterdir()) == []
    engine.evaluation(project).map("mask:wet")
    # The run for flow leaves all that it found.
    assert len(list((tmp_path / "maps").glob("*.npy"))) == 3
    again = type(engine)(engine.stripes, TileCache(), engine.asset_path, store).evaluation(project)
    assert (again.map("reading:flow") == ev.map("reading:flow")).all()


def test_stripes_cover_every_row_once_and_carry_errors_and_cancel():
    for threads in (1, 2, 3):
        pool = Stripes(threads)
        seen = np.zeros(1000, int)

        def mark(first: int, end: int, seen=seen) -> None:
            seen[first:end] += 1

        pool.run(1000, 2000, mark)
        assert (seen == 1).all()

        def broken(index: int) -> None:
            raise MeadowError(f"piece {index}")

        with pytest.raises(MeadowError, match="piece"):
            pool.each(8, broken)
        with pytest.raises(Cancelled):
            pool.run(1000, 2000, mark, lambda: True)
        pool.run(1000, 2000, mark)
        pool.close()
        assert (seen >= 2).all()


def test_many_threads_on_one_engine_agree(tmp_path):
    """Concurrent requests must neither crash the numeric threads nor change a byte."""
    _, ev = evaluation(tmp_path, document(rows=253, cols=253), threads=2)
    _, alone = evaluation(tmp_path, document(rows=253, cols=253))
    expected = {name: alone.map(name).tobytes() for name in ALL}
    wrong: list[str] = []

    def work(seed: int) -> None:
        for name in np.random.default_rng(seed).permutation(ALL):
            if ev.map(str(name)).tobytes() != expected[str(name)]:
                wrong.append(str(name))

    threads = [threading.Thread(target=work, args=(seed,)) for seed in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(60)
    assert wrong == []


def test_a_recipe_step_by_step(tmp_path):
    """What each line does to the same sample, worked out by hand."""
    data = document()
    take = band("height", 100, 300, fade_low=50)
    data["masks"][1]["lines"] = [
        {"id": "a", "verb": "take", "source": take},
        {"id": "b", "verb": "keep_within", "source": band("height", 0, 200, fade_high=100), "strength": 0.5},
        {"id": "c", "verb": "levels", "in_low": 0, "in_high": 0.5, "out_high": 0.8},
        {"id": "d", "verb": "turn_over"},
    ]
    _, ev = evaluation(tmp_path, data)
    height = ev.map("reading:height").astype(np.float64)
    a = np.clip((height - 50) / 50, 0, 1) * (height <= 300)
    inside = np.clip((300 - height) / 100, 0, 1)
    b = 0.5 * a + 0.5 * a * inside
    c = np.clip(b / 0.5, 0, 1) * 0.8
    for lines, expected in ((1, a), (2, b), (3, c), (4, 1 - c)):
        assert ev.map(f"mask:wet:{lines}") == pytest.approx(expected, abs=1e-5)
    assert (ev.map("mask:wet:4") == ev.map("mask:wet")).all()
    assert not ev.map("mask:wet:0").any()
