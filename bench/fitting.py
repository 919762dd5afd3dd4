"""The fit check: seconds and peak memory at 4081², faults that are rightly named, and maps from elsewhere lined up."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
import time
from collections import Counter
from pathlib import Path

import imagecodecs
import numpy as np

from delivery_project import heights
from measure import Row

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))
from tests.core.test_targets import ALL, aimed
from tests.support.delivery import checked, made
from tests.support.ground import document
from tests.support.injuries import INJURIES, counts, read, write
from tests.support.pairs import KINDS, demo, off_by, pair, pairs

from zigzag_meadow.core.fit.check import check_delivery
from zigzag_meadow.core.fit.foreign.align import align
from zigzag_meadow.core.fit.rehearsal import Rehearsal
from zigzag_meadow.core.stripes import Stripes

CASES = 1000
CLEAN = 100
PAIRS = 200
PROGRAM = """
import json, sys, time
from pathlib import Path
sys.path.insert(0, sys.argv[1])
import zigzag_meadow
from delivery_project import document
from measure import highest_bytes
from zigzag_meadow.core.crew import Crew
from zigzag_meadow.core.delivery.plan import make_plan
from zigzag_meadow.core.delivery.run import deliver
from zigzag_meadow.core.evaluate.cache import TileCache
from zigzag_meadow.core.evaluate.engine import Engine
from zigzag_meadow.core.fit.check import check_delivery
from zigzag_meadow.core.fit.rehearsal import Rehearsal
from zigzag_meadow.core.fit.truth import ProjectTruth
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.stripes import Stripes
what, side, file, out = sys.argv[2], int(sys.argv[3]), Path(sys.argv[4]), Path(sys.argv[5])
stripes = Stripes()
cache = TileCache() if what == "deliver" else TileCache(256 * 2**20)
engine = Engine(stripes, cache, lambda _: file, crew=Crew(stripes.threads - 1))
project = parse_project(document("0" * 64, side))
ev = engine.evaluation(project)
told = []
start = time.perf_counter()
if what == "deliver":
    out.mkdir()
    deliver(ev, make_plan(project, ev.heights()), out, stripes, lambda share, text: None)
else:
    rehearsal = Rehearsal(out)
    report = check_delivery(out, ProjectTruth(ev, rehearsal), progress=lambda s, t: told.append(s), rehearsal=rehearsal)
    assert report.fits, report.findings
seconds = time.perf_counter() - start
peak = highest_bytes()
print(json.dumps({"seconds": seconds, "peak": peak, "told": len(told)}))
"""


def _run(what: str, side: int, file: Path, out: Path) -> dict[str, float]:
    command = [sys.executable, "-c", PROGRAM, str(Path(__file__).parent), what, str(side), str(file), str(out)]
    told: dict[str, float] = json.loads(subprocess.run(command, check=True, capture_output=True, text=True).stdout)
    return told


def large(side: int = 4081) -> list[Row]:
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "ground.png"
        file.write_bytes(imagecodecs.png_encode(heights(side)))
        _run("deliver", side, file, Path(folder) / "out")
        told = _run("fit", side, file, Path(folder) / "out")
    gib = told["peak"] / 2**30
    return [
        Row(f"fit check of {side}²", f"{told['seconds']:.1f} s", "<= 20 s", told["seconds"] <= 20),
        Row("its peak memory", f"{gib:.2f} GiB", "<= 1 GiB", gib <= 1),
        Row("it tells how far it is", f"{told['told']:.0f} times", ">= 20", told["told"] >= 20),
    ]


def faults(cases: int = CASES) -> list[Row]:
    """Every kind of fault in deliveries of every target, and deliveries that have none."""
    rng = np.random.default_rng(14)
    right: Counter[str] = Counter()
    alarms = 0
    with tempfile.TemporaryDirectory() as folder:
        every = []
        for name in (*ALL, "alpha"):
            data = document(rows=253, cols=253) if name == "alpha" else aimed(name, rows=253, cols=253)
            have = {item["of"] for item in data["delivery"].get("items", [])}
            more = [of for of in ("colour", "surface:occlusion", "reading:slope", "mask:wet") if of not in have]
            data["delivery"].setdefault("items", []).extend({"of": of, "deliver": True} for of in more)
            place = Path(folder) / name
            place.mkdir()
            every.append(made(place, data))
        for k in range(CLEAN):
            ev, out = every[k % len(every)]
            alarms += len((checked(ev, out) if k % 2 else check_delivery(out)).findings)
        done = 0
        while done < cases:
            ev, out = every[rng.integers(len(every))]
            files = [f for f in Rehearsal(out).note.images if f.kind not in ("classes", "look")]
            file, injury = files[rng.integers(len(files))], INJURIES[rng.integers(len(INJURIES))]
            before = read(out, file)
            after = injury.harm(before, rng) if injury.takes(before) else None
            if after is None or after.shape != before.shape or not counts(before, after, injury.always):
                continue
            kept = (out / file.file).read_bytes()
            write(out, file, after)
            for how in ("full", "brief"):
                report = checked(ev, out) if how == "full" else check_delivery(out)
                first = next((item for item in report.findings if item.file == file.file), None)
                right[f"{how} found"] += first is not None
                right[how] += first is not None and injury.is_named_by(first)
                right[f"{how} wrongly"] += first is not None and injury.is_wrong_in(first)
            (out / file.file).write_bytes(kept)
            done += 1
    return [
        Row(
            f"{cases} faults named, with the project",
            f"{right['full'] / cases:.1%}",
            ">= 95 %",
            right["full"] >= 0.95 * cases,
        ),
        Row("named wrongly with it", str(right["full wrongly"]), "0", right["full wrongly"] == 0),
        Row("found without the project", f"{right['brief found'] / cases:.1%}", "100 %", right["brief found"] == cases),
        Row(
            "named wrongly without it",
            f"{right['brief wrongly'] / cases:.1%}",
            "<= 2 %",
            right["brief wrongly"] <= 0.02 * cases,
        ),
        Row(f"alarms on {CLEAN} clean deliveries", str(alarms), "0", alarms == 0),
    ]


def foreign(count: int = PAIRS) -> list[Row]:
    turned = placed = related = refused = others = 0
    stripes = Stripes()
    for item in pairs(count, 5):
        found = align(item.height, item.map.astype(np.float64), stripes=stripes)
        if item.part is None:
            others += 1
            refused += not found.belong
            continue
        related += 1
        same = found.orientation == item.orientation
        turned += same
        placed += same and off_by((found.top, found.left, found.down, found.across), item) <= 1
    z, rng = demo("lantern_moor.png"), np.random.default_rng(1)
    item = pair("speed", z[:1009, :1009], KINDS["colour"](z, rng)[:1009, :1009], rng)
    align(item.height, item.map.astype(np.float64))
    start = time.perf_counter()
    align(z[:1009, :1009], KINDS["colour"](z, rng)[:1009, :1009] * 255, stripes=stripes)
    seconds = time.perf_counter() - start
    return [
        Row(
            f"orientation of {related} maps from elsewhere",
            f"{turned / related:.1%}",
            ">= 98 %",
            turned >= 0.98 * related,
        ),
        Row("within a sample of the coarser", f"{placed / related:.1%}", ">= 98 %", placed >= 0.98 * related),
        Row(f"{others} unrelated ones refused", f"{refused / others:.1%}", ">= 95 %", refused >= 0.95 * others),
        Row("lining up two of 1009²", f"{seconds:.1f} s", "<= 3 s", seconds <= 3),
    ]


def rows() -> list[Row]:
    return [*large(), *foreign(), *faults()]


if __name__ == "__main__":
    for row in rows():
        print(row, flush=True)
