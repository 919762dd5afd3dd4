"""Whole deliveries: seconds and peak memory at 4081², against a plain script, a second run, and encoders."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
from pathlib import Path

import cv2
import imagecodecs
import numpy as np

from delivery_project import HIGH, LOW, SPACING, heights
from measure import Row, _once
from plain import shares, slope
from plain_delivery import shared
from zigzag_meadow.core.formats.writing.png_stream import PngWriter
from zigzag_meadow.core.stripes import Stripes

SMALL = 2041
MOOR = """
import json, sys, time
from pathlib import Path
from zigzag_meadow.core.crew import Crew
from zigzag_meadow.core.delivery.plan import make_plan
from zigzag_meadow.core.delivery.run import deliver
from zigzag_meadow.core.evaluate.cache import TileCache
from zigzag_meadow.core.evaluate.engine import Engine
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.demo import FOLDER, lantern_moor
data = lantern_moor().model_dump(mode="json")
data["delivery"] |= {"rows": 4081, "cols": 4081}
project = parse_project(data)
stripes = Stripes()

def run(name):
    # As much as the worker holds.
    crew, file = Crew(stripes.threads - 1), FOLDER / "lantern_moor.png"
    engine = Engine(stripes, TileCache(384 * 2**20), lambda _: file, crew=crew)
    ev = engine.evaluation(project)
    out = Path(sys.argv[1]) / name
    out.mkdir()
    start, work = time.perf_counter(), time.process_time()
    deliver(ev, make_plan(project, ev.heights()), out, stripes, lambda share, text: None)
    taken = time.perf_counter() - start
    return taken, (time.process_time() - work) / taken

run("kernels")
print(json.dumps(run("measured")))
"""
PROGRAM = """
import json, sys, time
from pathlib import Path
sys.path.insert(0, sys.argv[1])
from delivery_project import document
from measure import highest_bytes
from zigzag_meadow.core.crew import Crew
from zigzag_meadow.core.delivery.earlier import Earlier
from zigzag_meadow.core.delivery.plan import make_plan
from zigzag_meadow.core.delivery.run import deliver
from zigzag_meadow.core.evaluate.cache import TileCache
from zigzag_meadow.core.evaluate.engine import Engine
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.stripes import Stripes
side, file, place = int(sys.argv[2]), Path(sys.argv[3]), Path(sys.argv[4])
data = document("0" * 64, side)

def run(name, earlier):
    stripes = Stripes()
    engine = Engine(stripes, TileCache(), lambda _: file, crew=Crew(stripes.threads - 1))
    project = parse_project(data)
    ev = engine.evaluation(project)
    out = place / name
    out.mkdir()
    start = time.perf_counter()
    old = None if earlier is None else Earlier(place / earlier)
    deliver(ev, make_plan(project, ev.heights()), out, stripes, lambda share, text: None, old)
    return time.perf_counter() - start, 0 if old is None else old.taken

first, _ = run("first", None)
peak = highest_bytes()
second, kept = 0.0, 0
if len(sys.argv) > 5:
    data["masks"][6]["lines"][0]["source"]["low"] = 45.0
    second, kept = run("second", "first")
print(json.dumps({"first": first, "second": second, "kept": kept, "peak": peak}))
"""


def _ours(side: int, place: Path, *more: str) -> dict[str, float]:
    file = place / f"{side}.png"
    file.write_bytes(imagecodecs.png_encode(heights(side)))
    command = [sys.executable, "-c", PROGRAM, str(Path(__file__).parent), str(side), str(file), str(place), *more]
    done = subprocess.run(command, check=True, capture_output=True, text=True)
    told: dict[str, float] = json.loads(done.stdout)
    return told


def _against_plain() -> Row:
    with tempfile.TemporaryDirectory() as folder:
        place = Path(folder)
        ours = _ours(SMALL, place)["first"]
        out = place / "plain"
        out.mkdir()
        command = [sys.executable, str(Path(__file__).parent / "plain_delivery.py"), str(SMALL), str(out)]
        plain = float(subprocess.run(command, check=True, capture_output=True, text=True).stdout)
    figure = f"{plain / ours:.1f}x  ({ours:.1f} s against {plain:.0f} s)"
    return Row(f"seven files at {SMALL}² against a plain script", figure, ">= 8x", plain / ours >= 8)


def _large() -> list[Row]:
    with tempfile.TemporaryDirectory() as folder:
        told = _ours(4081, Path(folder), "again")
    gib, share = told["peak"] / 2**30, told["second"] / told["first"]
    return [
        Row("seven files at 4081², cold", f"{told['first']:.1f} s", "<= 20 s", told["first"] <= 20),
        Row("its peak memory", f"{gib:.2f} GiB", "<= 2.5 GiB", gib <= 2.5),
        Row(
            "again with one layer changed",
            f"{share:.0%} of the time, {told['kept']:.0f} files kept",
            "<= 60 %, 3 kept",
            share <= 0.6 and told["kept"] >= 3,
        ),
    ]


def _moor() -> list[Row]:
    with tempfile.TemporaryDirectory() as folder:
        command = [sys.executable, "-c", MOOR, folder]
        taken, busy = json.loads(subprocess.run(command, check=True, capture_output=True, text=True).stdout)
    return [
        Row("Lantern Moor at 4081²", f"{taken:.1f} s", "<= 6 s", taken <= 6),
        Row("of two cores it keeps busy", f"{busy:.2f}", ">= 1.7", busy >= 1.7),
    ]


def _encoder(what: str, pixels: np.ndarray, cv: np.ndarray) -> list[Row]:
    rows, cols = pixels.shape[:2]
    channels = 1 if pixels.ndim == 2 else pixels.shape[2]
    stripes = Stripes()
    with tempfile.TemporaryDirectory() as folder:
        ours, theirs = Path(folder) / "a.png", Path(folder) / "b.png"

        def write() -> None:
            with PngWriter(ours, rows, cols, channels, pixels.dtype.itemsize * 8, stripes) as png:
                png.write(pixels)

        def other() -> None:
            cv2.imwrite(str(theirs), cv)

        write()
        pairs = [(_once(write), _once(other)) for _ in range(5)]
        a, b = (sorted(column)[2] for column in zip(*pairs, strict=True))
        size = ours.stat().st_size / theirs.stat().st_size
    figure = f"{b / a:.1f}x  ({a:.0f} ms against {b:.0f} ms), {size:.2f} of its bytes"
    return [Row(f"PNG of {what} at 4096² against OpenCV", figure, ">= 4x, <= 1.1", b / a >= 4 and size <= 1.1)]


def _splat(stored: np.ndarray) -> np.ndarray:
    """Four weights of the measured project, as a sheet has them."""
    z = (stored / 65535 * (HIGH - LOW) + LOW).astype(np.float32)
    whole = shares(shared(z, slope(z, SPACING, SPACING)))
    return np.ascontiguousarray(np.stack([whole[k] for k in (1, 2, 3, 4)], axis=2))


def rows() -> list[Row]:
    grey = heights(4096)
    rgba = _splat(grey)
    return [
        *_encoder("grey 16", grey, grey),
        *_encoder("RGBA 8", rgba, np.ascontiguousarray(rgba[..., [2, 1, 0, 3]])),
        *_moor(),
        *_large(),
        _against_plain(),
    ]


if __name__ == "__main__":
    for row in rows():
        print(row, flush=True)
