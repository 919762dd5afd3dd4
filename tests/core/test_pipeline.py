"""The library and the command line: maps with their grid, deliveries, targets from files, files that are watched."""

from __future__ import annotations

import json
import os
import re
from contextlib import ExitStack
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from typer.testing import CliRunner

import zigzag_meadow
from tests.support.ground import hills, png16
from zigzag_meadow import open_project
from zigzag_meadow.cli import load
from zigzag_meadow.core.errors import BadNumber, Conflict, NotFound
from zigzag_meadow.core.targets.catalogue import built_in, target
from zigzag_meadow.core.targets.sizes import size_pairs
from zigzag_meadow.demo import write_demos
from zigzag_meadow.watching import Watched

RUN = CliRunner()
README = Path(zigzag_meadow.__file__).parents[2] / "README.md"


@pytest.fixture(scope="module")
def demos(tmp_path_factory):
    return write_demos(tmp_path_factory.mktemp("demos"))


@pytest.fixture(scope="module")
def skerry(demos):
    return next(path for path in demos if "skerry" in path.name)


def test_maps_come_with_their_grid(skerry):
    with open_project(skerry) as sound:
        slope = sound.reading("slope", size=505)
        assert slope.values.shape == slope.grid.shape == (249, 505)
        assert slope.grid.width == sound.project.ground.home.width
        mask = sound.mask("Rock")
        assert mask.values.dtype == np.float32
        assert 0 <= mask.values.min() <= mask.values.max() <= 1
        with pytest.raises(NotFound, match="There are:"):
            sound.mask("Nothing")
        with pytest.raises(BadNumber, match="8 to 8193"):
            sound.reading("slope", size=3)


def test_a_delivery_takes_the_place_of_an_earlier_one_at_once(skerry, tmp_path):
    with open_project(skerry) as sound:
        out = tmp_path / "out"
        names = sound.deliver(out, target="raw-pair")
        assert {"height.r16", "import_note.html"} <= set(names)
        assert sound.fit(out).fits
        inode = (out / "height.r16").stat().st_mtime_ns
        sound.deliver(out, only=["height"])
        assert not (out / "splat_a.r8").exists()
        # It is the same, so it is let be.
        assert (out / "height.r16").stat().st_mtime_ns == inode
        assert sorted(path.name for path in tmp_path.iterdir()) == ["out"]
        (out / "mine.txt").write_text("x")
        sound.deliver(out)
        assert (out / "mine.txt").read_text() == "x"
        # A retouched file of the same size is somebody's.
        splat = out / "splat_a.r8"
        theirs = bytes([splat.read_bytes()[0] ^ 1]) + splat.read_bytes()[1:]
        splat.write_bytes(theirs)
        before = sound.project
        with pytest.raises(Conflict, match=r"holds splat_a\.r8.*--overwrite"):
            sound.deliver(out, size=512)
        assert sound.project is before
        assert splat.read_bytes() == theirs
        sound.deliver(out, overwrite=True)
        assert splat.read_bytes() != theirs
        (tmp_path / "link").symlink_to(out)
        sound.deliver(tmp_path / "link", only=["height"])
        assert sorted(path.name for path in tmp_path.iterdir()) == ["link", "out"]
        for name in ("a" * 300, "x\0y"):
            with pytest.raises(BadNumber, match="cannot be a folder"):
                sound.deliver(tmp_path / name)


def test_another_heightmap_under_the_same_project(skerry, tmp_path):
    path = tmp_path / "other.png"
    path.write_bytes(png16(hills(505, 1025, seed=2)))
    with open_project(skerry) as sound:
        before = sound.reading("height").values
        sound.replace_heightmap(path)
        after = sound.reading("height").values
        assert after.shape == before.shape
        assert np.abs(after - before).mean() > 1
        with pytest.raises(NotFound, match="lays a picture"):
            sound.replace_picture("Aerial", path)


def test_the_examples_of_the_readme_run(skerry, tmp_path, monkeypatch):
    (code,) = re.findall(r"```python\n(.*?)```", README.read_text("utf-8"), re.S)
    monkeypatch.chdir(tmp_path)
    (tmp_path / "skerry_sound.meadow.zip").write_bytes(skerry.read_bytes())
    exec(compile(code, "README.md", "exec"), {})
    assert (tmp_path / "game" / "terrain" / "manifest.json").is_file()


def call(*words, code=0):
    done = RUN.invoke(load(), [str(word) for word in words])
    assert done.exit_code == code, done.output + str(done.exception)
    return done


def test_targets_are_listed_and_checked(tmp_path):
    told = json.loads(call("targets", "--json").stdout)
    assert [item["id"] for item in told["targets"]][:2] == ["block-grid", "powers-and-one"]
    assert "| Raw pair | `raw-pair` |" in call("targets").stdout
    assert "| PNG 16 | `png16` |" in call("targets", "--formats").stdout
    own = {**json.loads(target("raw-pair").model_dump_json()), "id": "mine", "title": "Mine"}
    path = tmp_path / "mine.json"
    path.write_text(json.dumps(own))
    assert "It holds together." in call("targets", "--check", path).stdout
    path.write_text(json.dumps({**own, "names": "x"}))
    assert "need {map}" in call("targets", "--check", path, code=2).stderr
    path.write_text("{")
    assert "no JSON" in call("targets", "--check", path, code=2).stderr
    path.write_text(" " * 300_000)
    assert "256 KiB" in call("targets", "--check", path, code=2).stderr


def test_a_delivery_by_an_own_target_and_another_heightmap(skerry, tmp_path):
    own = {**json.loads(target("raw-pair").model_dump_json()), "id": "mine", "title": "Mine", "names": "x_{map}"}
    (tmp_path / "mine.json").write_text(json.dumps(own))
    (tmp_path / "h.png").write_bytes(png16(hills(505, 1025, seed=7)))
    told = json.loads(
        call(
            "deliver",
            skerry,
            "--out",
            tmp_path / "out",
            "--target-file",
            tmp_path / "mine.json",
            "--heightmap",
            tmp_path / "h.png",
            "--only",
            "height",
            "--json",
        ).stdout
    )
    assert "x_height.r16" in told["files"]
    assert not any("splat" in name for name in told["files"])
    call("deliver", skerry, "--out", tmp_path / "o2", "--picture", "nonsense", code=2)


def aged(path, seconds):
    stat = path.stat()
    os.utime(path, ns=(stat.st_atime_ns, stat.st_mtime_ns - int(seconds * 1e9)))


def test_files_that_are_watched_are_taken_when_they_rest(tmp_path, monkeypatch):
    one, two = tmp_path / "one.png", tmp_path / "two.png"
    Image.new("L", (4, 4)).save(one)
    Image.new("L", (4, 4)).save(two)
    now = [100.0]
    monkeypatch.setattr("zigzag_meadow.watching.time.monotonic", lambda: now[0])
    watched = Watched([one, two])
    assert not watched.changed()
    one.write_bytes(one.read_bytes() + b"x")
    aged(one, -3600)
    assert not watched.changed(), "it may still be written to"
    now[0] += 2
    assert watched.changed(), "a time in the future is waited for by nobody"
    assert not watched.changed()
    two.unlink()
    now[0] += 2
    assert not watched.changed(), "a file that is gone is waited for"
    Image.new("L", (5, 5)).save(two)
    aged(two, 3)
    assert not watched.changed()
    now[0] += 2
    assert watched.changed()


def test_watching_delivers_again_and_survives_a_broken_file(skerry, tmp_path, monkeypatch):
    height = tmp_path / "h.png"
    height.write_bytes(png16(hills(505, 1025, seed=7)))
    aged(height, 60)
    seen, states = [], []

    def sleep(seconds):
        out = tmp_path / "out" / "skerry_sound_height.png"
        states.append(out.read_bytes())
        if len(states) == 1:
            height.write_bytes(b"broken")
        elif len(states) == 2:
            height.write_bytes(png16(hills(505, 1025, seed=8)))
        else:
            raise KeyboardInterrupt
        aged(height, 30 * len(states))
        seen.append(seconds)

    monkeypatch.setattr("zigzag_meadow.cli_deliver.time.sleep", sleep)
    done = call("deliver", skerry, "--out", tmp_path / "out", "--heightmap", height, "--only", "height", "--watch")
    assert len(states) == 3
    assert states[0] == states[1] != states[2]
    assert "zigzag:" in done.stderr


@pytest.fixture(scope="module")
def open_twice(demos):
    """By name, once to deliver for any target and once to stay as it is; what either made is there for the next."""
    with ExitStack() as stack:
        yield {path.name.partition(".")[0]: [stack.enter_context(open_project(path)) for _ in "12"] for path in demos}


@pytest.mark.parametrize("demo", ["lantern_moor", "skerry_sound"])
@pytest.mark.parametrize("target", [item.id for item in built_in()])
def test_a_delivery_for_any_target_fits_the_project_whichever_target_that_has(open_twice, tmp_path, demo, target):
    """What is delivered is packed as its target wants, and is compared as it was packed."""
    project, as_it_is = open_twice[demo]
    sides = size_pairs(next(item for item in built_in() if item.id == target).sizes, project.project.ground.home)
    size = min((max(pair) for pair in sides if max(pair) >= 250), default=None)
    project.deliver(tmp_path / "out", target=target, size=size)
    report = as_it_is.fit(tmp_path / "out")
    assert as_it_is.project.delivery.target != target or target in ("block-grid", "plain-files")
    assert report.fits, [finding.message for finding in report.findings]
    assert report.findings == []
