"""Limits and ties, at the limit and one beyond it."""

from __future__ import annotations

import os

import numpy as np
import pytest

from zigzag_meadow.core.delivery.earlier import Earlier
from zigzag_meadow.core.delivery.manifest import Entry, Manifest, checksum
from zigzag_meadow.core.evaluate.cache import DiskStore
from zigzag_meadow.core.fit import naming
from zigzag_meadow.core.fit.faults.base import Explained, Fault
from zigzag_meadow.core.formats.reading.asc import read_asc
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.targets.sizes import AnySize, BlockSizes, PowersOfTwo, nearest_pair


@pytest.mark.parametrize(
    ("west", "south", "registration"),
    [("xllcorner", "yllcorner", "area"), ("xllcenter", "yllcenter", "vertex"), ("xllcenter", "yllcorner", "vertex")],
)
def test_an_ascii_grid_says_whether_its_numbers_are_cells_or_points(tmp_path, west, south, registration):
    rows = "\n".join(" ".join(str(r * 9 + c) for c in range(9)) for r in range(8))
    (tmp_path / "a.asc").write_text(f"ncols 9\nnrows 8\n{west} 0\n{south} 0\ncellsize 2.5\n{rows}\n")
    found = read_asc(tmp_path / "a.asc", "a.asc").placement
    assert (found.registration, found.spacing_x, found.spacing_y) == (registration, 2.5, 2.5)


def test_the_disk_lets_the_longest_unused_go_and_never_what_it_was_just_given(tmp_path):
    each = 128 + 8 * 100
    store = DiskStore(tmp_path, limit=2 * each)
    for at, name in enumerate("abc"):
        store.save(name, np.zeros(100))
        os.utime(tmp_path / f"{name}.npy", (at, at)) if name != "c" else None
    assert [store.has(name) for name in "abc"] == [False, True, True]
    small = DiskStore(tmp_path / "small", limit=1)
    small.save("only", np.zeros(100))
    assert small.has("only")
    small.save("next", np.zeros(100))
    assert [small.has(name) for name in ("only", "next")] == [False, True]


def test_what_was_read_lately_is_kept_longer(tmp_path):
    store = DiskStore(tmp_path, limit=2 * (128 + 800))
    for at, name in enumerate("ab"):
        store.save(name, np.zeros(100))
        os.utime(tmp_path / f"{name}.npy", (at + 1, at + 1))
    assert store.load("a") is not None
    store.save("c", np.zeros(100))
    assert [store.has(name) for name in "abc"] == [True, False, True]


@pytest.mark.parametrize(("now", "taken"), [(b"as it was", True), (b"as it wAs", False), (b"as it was!", False)])
def test_a_file_of_an_earlier_delivery_is_taken_by_its_bytes(tmp_path, monkeypatch, now, taken):
    file = tmp_path / "height.png"
    file.write_bytes(b"as it was")
    entry = Entry(file=file.name, bytes=9, sha256=checksum(file), key="k", of="height")
    manifest = Manifest.model_construct(files=(entry,))
    monkeypatch.setattr("zigzag_meadow.core.delivery.earlier.read_manifest", lambda folder: manifest)
    earlier = Earlier(tmp_path)
    file.write_bytes(now)
    made = earlier.take("k", tmp_path / "again.png")
    assert (made is not None) is taken
    assert (tmp_path / "again.png").exists() is taken


@pytest.mark.parametrize(
    ("rule", "side", "nearest"),
    [
        (BlockSizes(cells=(10,), most=9), 16, [11, 21]),
        (BlockSizes(cells=(10,), most=9), 17, [21, 11]),
        (PowersOfTwo(), 97, [65, 129]),
        (PowersOfTwo(), 98, [129, 65]),
    ],
)
def test_of_two_sizes_that_are_as_near_the_smaller_comes_first(rule, side, nearest):
    assert rule.nearest(side, 2) == nearest


def test_of_two_pairs_that_are_as_near_the_smaller_is_taken():
    assert nearest_pair(BlockSizes(cells=(10,), most=9), Grid(76, 76, 1, 1)) == (71, 71)
    assert nearest_pair(AnySize(), Grid(37, 41, 1, 1)) == (37, 41)


@pytest.mark.parametrize(
    ("share", "in_full", "is_named"),
    [(0.9, True, True), (0.899, True, False), (0.75, False, True), (0.749, False, False)],
)
def test_a_fault_must_explain_nearly_all_of_what_is_wrong(monkeypatch, share, in_full, is_named):
    class Made(Fault):
        kind, title, cost = "made", "Made up", 1.0

        def explain(self, case):
            return Explained(share, "It was made up.", "Do it again.")

    class Case:
        file, whole = "a.png", None

    case = Case()
    case.in_full = in_full
    monkeypatch.setattr(naming, "FAULTS", (Made(),))
    monkeypatch.setattr(naming, "both_faults", lambda case: None)
    monkeypatch.setattr(naming, "box_of", lambda whole: None)
    assert naming.named(case).kind == ("made" if is_named else "changed")
