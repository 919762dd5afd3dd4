"""The demo grounds are what they are said to be, and nobody waits for the compiler after set-up."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest

import zigzag_meadow
from zigzag_meadow.core.delivery.cautions import cautions
from zigzag_meadow.core.delivery.plan import make_plan
from zigzag_meadow.core.evaluate.cache import TileCache
from zigzag_meadow.core.evaluate.engine import Engine
from zigzag_meadow.core.formats.reading.png import read_png
from zigzag_meadow.core.ground.diagnose import inspect_file
from zigzag_meadow.core.kernels import kernel_folder, sweep_kernels
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.core.warm import warm_once
from zigzag_meadow.demo import FOLDER, demos, lantern_moor, skerry_sound

MOOR = FOLDER / "lantern_moor.png"


@pytest.fixture(scope="module")
def moor():
    return Engine(Stripes(2), TileCache(), lambda _: MOOR).evaluation(lantern_moor())


def test_sizes_heights_and_water():
    for project, file, shape, ends, width in (
        (lantern_moor(), "lantern_moor.png", (1009, 1009), (38, 458, 61), 4032),
        (skerry_sound(), "skerry_sound.png", (505, 1025), (-40, 180, 0), 3072),
    ):
        found = inspect_file(FOLDER / file)
        assert (found.rows, found.columns) == shape
        assert found.depth == "16"
        assert found.findings == ()
        assert found.levels > 30000
        ground = project.ground
        assert (ground.low, ground.high, ground.water) == ends
        assert ground.home.width == width
        assert (FOLDER / file).stat().st_size < 4 * 2**20


def test_demos_are_ready_to_deliver():
    for demo in demos():
        assert {item.short for item in cautions(demo.project)} <= {"ends nowhere"}
        assert len(make_plan(demo.project).items) >= 2
        assert parse_project(demo.project.model_dump(mode="json")) == demo.project


def test_the_land_looks_like_land(moor):
    """Water gathers in few long channels, hollows hold tarns, faces are steep and plains are not."""
    flow = moor.map("reading:flow")
    slope = moor.map("reading:slope")
    height = moor.map("reading:height")
    assert 0.005 < float((flow > 50_000).mean()) < 0.03
    assert flow.max() > 2_000_000
    assert 0.05 < float((slope > 35).mean()) < 0.25
    assert 0.1 < float((slope < 5).mean()) < 0.5
    assert moor.map("reading:standing_water").max() > 1
    wet = height < 61
    assert 0.03 < float(wet.mean()) < 0.15
    # Neighbours differ little: it is ground, not noise.
    rough = np.abs(np.diff(height, axis=1)).mean() / height.std()
    assert rough < 0.03


def test_every_layer_shows_and_they_share_all_of_the_ground(moor):
    shares = {name: float(moor.map(f"weight:{name}").mean()) for name in ("base", "peat", "heather", "scree", "wet")}
    assert sum(shares.values()) == pytest.approx(1, abs=1e-6)
    assert all(0.02 < share < 0.5 for share in shares.values()), shares


def test_the_moor_uses_every_bit_of_its_file():
    values = read_png(MOOR, MOOR.name)
    assert values.dtype == np.uint16
    assert (values.min(), values.max()) == (0, 65535)


PROGRAM = """
import sys
from pathlib import Path
kernels = Path(sys.argv[1])
before = {p.name for p in kernels.rglob("*.nbc")}
from zigzag_meadow.core.delivery.plan import make_plan
from zigzag_meadow.core.delivery.run import deliver
from zigzag_meadow.core.evaluate.cache import TileCache
from zigzag_meadow.core.evaluate.engine import Engine
from zigzag_meadow.core.fit.foreign.align import align
from zigzag_meadow.core.grid import Window
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.core.warm import warm_once
from zigzag_meadow.demo import FOLDER, skerry_sound
project = skerry_sound()
project = project.model_copy(update={"delivery": project.delivery.model_copy(update={"rows": 127, "cols": 253})})
ev = Engine(Stripes(2), TileCache(), lambda _: FOLDER / "skerry_sound.png").evaluation(project)
readings = [f"reading:{n}" for n in ("slope", "flow", "shade", "relative_height", "mean_curvature")]
for name in (*readings, "mask:rock", "weight:base", "sheet:splat_a"):
    ev.map(name)
    ev.map(name, ev.home.resized(90, 180))
    ev.map(name, ev.home.resized(800, 1600), Window(3, 90, 500, 530))
align(ev.map("reading:height", ev.home.resized(90, 180)), ev.map("mask:rock", ev.home.resized(90, 180)))
out = Path(sys.argv[2])
deliver(ev, make_plan(project), out, Stripes(2), lambda share, text: None)
after = {p.name for p in kernels.rglob("*.nbc")}
print(len(before), *sorted(after - before))
"""


def test_after_the_warm_up_nothing_is_compiled_any_more(warm_kernels, tmp_path):
    """Maps on finer, coarser and windowed grids and a whole delivery find every kernel ready."""
    environment = {**os.environ, "ZIGZAG_KERNELS": str(warm_kernels)}
    (tmp_path / "out").mkdir()
    use = [sys.executable, "-c", PROGRAM, str(warm_kernels), str(tmp_path / "out")]
    done = subprocess.run(use, env=environment, check=True, capture_output=True, text=True)
    ready, *compiled = done.stdout.split()
    assert int(ready) >= 20
    assert compiled == []
    assert Path(tmp_path / "out" / "manifest.json").is_file()


def test_kernels_are_made_ready_once_and_again_after_a_bad_moment(tmp_path):
    done: list[str] = []

    def cut_off() -> None:
        raise KeyboardInterrupt

    with pytest.raises(KeyboardInterrupt):
        warm_once(tmp_path / "kernels", cut_off)
    assert [warm_once(tmp_path / "kernels", lambda: done.append("ready")) for _ in range(3)] == [True, False, False]
    (tmp_path / "kernels" / "warm.txt").write_bytes(b"\xff of other sources")
    assert warm_once(tmp_path / "kernels", lambda: done.append("ready"))
    assert done == ["ready", "ready"]


BORDERS = """
from zigzag_meadow.core.ground.beds import _border
print([_border(bed, 0.5, 7) for bed in range(9)])
"""


def test_a_changed_function_in_another_file_changes_what_calls_it(tmp_path):
    """The compiler's own check sees the file of a kernel alone: results of earlier sources lie in another folder."""
    tree = tmp_path / "src" / "zigzag_meadow"
    shutil.copytree(Path(zigzag_meadow.__file__).parent, tree, ignore=shutil.ignore_patterns("__pycache__"))
    kept = tmp_path / "kernels"

    def made(kernels: Path) -> bytes:
        more = {"PYTHONPATH": str(tree.parent), "ZIGZAG_KERNELS": str(kernels)}
        environment = {**os.environ, **more}
        done = subprocess.run([sys.executable, "-c", BORDERS], env=environment, capture_output=True, check=True)
        return done.stdout

    before = made(kept)
    lattice = tree / "core" / "terrain" / "lattice.py"
    lattice.write_text(lattice.read_text().replace("0x85EBCA77", "0x85EBCA79"))
    after = made(kept)
    assert before.count(b",") == 8
    assert after != before
    folders = sorted(path.name for path in kept.iterdir())
    assert len(folders) == 2
    now = kernel_folder(kept, tree / "core")
    (kept / "moor_0123").mkdir()
    assert sweep_kernels(now) == [name for name in folders if name != now.name]
    assert sorted(path.name for path in kept.iterdir()) == sorted([now.name, "moor_0123"])
