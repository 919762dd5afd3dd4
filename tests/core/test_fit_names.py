"""What was done to delivered files is found and rightly named: with the project, and by the manifest alone."""

from __future__ import annotations

import re

import numpy as np
import pytest
from scipy import ndimage

from tests.core.test_targets import ALL, aimed
from tests.support.delivery import checked, made
from tests.support.ground import document
from tests.support.injured_parts import renumbered, stored
from tests.support.injuries import INJURIES, TWO, counts, read, write
from zigzag_meadow.core.fit.check import check_delivery
from zigzag_meadow.core.fit.rehearsal import Rehearsal


@pytest.fixture(scope="module")
def delivered(tmp_path_factory, warm):
    """A delivery for every target, with more maps than it takes by default."""
    made_for = {}
    for name in ALL:
        data = aimed(name, rows=189, cols=189)
        have = {item["of"] for item in data["delivery"]["items"]}
        more = [of for of in ("colour", "surface:occlusion", "reading:slope", "mask:wet") if of not in have]
        data["delivery"]["items"] += [{"of": of, "deliver": True} for of in more]
        made_for[name] = made(tmp_path_factory.mktemp(name), data)
    # One with a sheet whose alpha holds data.
    made_for["alpha"] = made(tmp_path_factory.mktemp("alpha"), document(rows=187, cols=187))
    return made_for


@pytest.mark.parametrize("name", ALL)
def test_what_is_clean_raises_no_alarm(delivered, name):
    ev, out = delivered[name]
    for report in (checked(ev, out), check_delivery(out)):
        assert not report.findings
        assert all(item.state in ("exact", "unchanged") for item in report.maps)


@pytest.mark.parametrize("injury", INJURIES, ids=lambda injury: injury.name)
def test_every_kind_of_fault_is_named(delivered, injury):
    """On maps and targets drawn at random: one with the project, where it must be named, and one without, where it
    must be found. (What is said of one that is always the same is kept: ``tests/core/test_kept_values.py``.)"""
    rng = np.random.default_rng(sum(map(ord, injury.name)))
    named, tried = [], 0
    while len(named) < 2 and tried < 300:
        tried += 1
        ev, out = delivered[str(rng.choice(list(delivered)))]
        files = [f for f in Rehearsal(out).note.images if f.kind != "classes"]
        file = files[rng.integers(len(files))]
        before = read(out, file)
        harmed = injury.harm(before, rng) if injury.takes(before) else None
        if harmed is None or harmed.shape != before.shape or not counts(before, harmed, injury.always):
            continue
        path = out / file.file
        kept = path.read_bytes()
        try:
            write(out, file, harmed)
            in_full = not named
            report = checked(ev, out) if in_full else check_delivery(out)
        finally:
            path.write_bytes(kept)
        found = next(item for item in report.findings if item.file == file.file)
        assert found.fix
        right = injury.is_named_by(found) if in_full else not injury.is_wrong_in(found)
        named.append((right, file.file, found.kind, found.message))
    assert tried < 300
    assert not [item for item in named if not item[0]]


@pytest.mark.parametrize("injury", TWO, ids=lambda injury: injury.name)
def test_two_faults_of_one_file_are_both_named_with_their_shares(delivered, injury):
    rng = np.random.default_rng(5)
    wanted, told = next(iter(injury.kinds)).split("+"), 0
    for _ in range(200):
        ev, out = delivered[str(rng.choice(["block-grid", "plain-files", "powers-and-one"]))]
        file = next(f for f in Rehearsal(out).note.images if f.kind == "height")
        before = read(out, file)
        harmed = injury.harm(before, rng) if injury.takes(before) else None
        if harmed is None or not counts(before, harmed, injury.always):
            continue
        kept = (out / file.file).read_bytes()
        try:
            write(out, file, harmed)
            report = checked(ev, out)
        finally:
            (out / file.file).write_bytes(kept)
        found = [item for item in report.findings if item.file == file.file]
        assert [item.kind for item in found] == wanted, [item.message for item in found]
        assert found[0].share <= found[1].share
        assert found[1].share > 0.9
        told += 1
        if told == 2:
            return
    raise AssertionError("it was tried too seldom")


def test_exchanged_numbers_of_layers_are_named(tmp_path):
    data = aimed("plain-files", rows=189, cols=189)
    data["delivery"]["items"] += [{"of": "strongest", "deliver": True}]
    ev, out = made(tmp_path, data)
    file = next(f for f in Rehearsal(out).note.images if f.kind == "classes")
    before = read(out, file)
    write(out, file, renumbered(before, np.random.default_rng(2)))
    found = next(item for item in checked(ev, out).findings if item.file == file.file)
    assert found.kind == "classes"
    assert re.search(r"0 became \d, \d became 0|1 became 2, 2 became 1", found.message)


def _blended(v, full):
    return (v + v[::-1]) / 2


def _grown(v, full):
    return ndimage.grey_dilation(v, 5)


def _darker_outside(v, full):
    y, x = np.mgrid[-1 : 1 : v.shape[0] * 1j, -1 : 1 : v.shape[1] * 1j]
    return v * (1 - 0.2 * (x * x + y * y))


def _scattered(v, full):
    """Every sample from somewhere near: rough, but no noise."""
    at = np.random.default_rng(1).integers(-3, 4, (2, *v.shape)) + np.indices(v.shape)
    return v[tuple(np.clip(at, 0, np.array(v.shape)[:, None, None] - 1))]


def _waved(v, full):
    y, x = np.indices(v.shape).astype(float)
    return ndimage.map_coordinates(v, [y + 2 * np.sin(x / 5), x], order=1, mode="nearest")


@pytest.mark.parametrize("harm", [_blended, _grown, _darker_outside, _scattered, _waved])
@pytest.mark.parametrize(("target", "of"), [("plain-files", "height"), ("powers-and-one", "mask:wet")])
def test_what_is_none_of_ours_gets_no_name(delivered, harm, target, of):
    """A wrong name sends somebody looking in the wrong place."""
    ev, out = delivered[target]
    file = next(f for f in Rehearsal(out).note.images if f.of == of)
    before = read(out, file)
    full = float(np.iinfo(before.dtype).max)
    kept = (out / file.file).read_bytes()
    try:
        write(out, file, stored(harm(before[:, :, 0].astype(float), full)[:, :, None], before))
        found = [item for item in checked(ev, out).findings if item.file == file.file]
    finally:
        (out / file.file).write_bytes(kept)
    assert [item.kind for item in found] == ["changed"], found[0].message


def test_another_map_of_other_channels_under_a_name_is_told(delivered):
    """A mask saved over a sheet, and a sheet over a mask: neither can be what it is called."""
    ev, out = delivered["plain-files"]
    files = {f.of: f for f in Rehearsal(out).note.images}
    sheet, mask = next(f for of, f in files.items() if of.startswith("sheet:")), files["mask:wet"]
    for name, holds in ((sheet, mask), (mask, sheet)):
        kept = (out / name.file).read_bytes()
        (out / name.file).write_bytes((out / holds.file).read_bytes())
        for report in (checked(ev, out), check_delivery(out)):
            found = next(item for item in report.findings if item.file == name.file)
            assert (found.kind, holds.file in found.message) == ("swapped", True), found.message
        (out / name.file).write_bytes(kept)
