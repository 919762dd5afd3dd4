"""How much memory kernels and whole-ground runs need beyond their inputs and results, each in a process of its own.

A first process compiles; the one that is measured finds its kernels made, runs them once on a small ground, forgets its
highest mark and only then begins. A wasteful version is measured in the same way: were it let pass, so would be others.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys

from measure import Row

SIDE = 4097
LOCAL = ("slope", "aspect", "curvature", "occlusion", "noise", "blur", "height of 1025² raised")
WHOLE = ("erosion", "flow", "spreading flow", "shadows", "channels", "distance to water", "trickle", "specks", "rim")
MOST_LOCAL = 8
"""Bytes a sample beyond inputs and results: two arrays of float32, such as a margin and one between."""
MOST_WHOLE = 24

PROGRAM = """
import json, sys
import numpy as np
from zigzag_meadow.core.blur import blur
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.ground.heights import in_metres
from zigzag_meadow.core.formats.reading.png import read_png
from zigzag_meadow.core.masks.lines.specks import KEPT
from zigzag_meadow.core.masks.lines.trickle import TRICKLE
from zigzag_meadow.core.masks.lines.widen import RIM
from zigzag_meadow.core.nodes.operation import Here
from zigzag_meadow.core.readings.channels import CHANNELS, WATER
from zigzag_meadow.core.readings.curvature import curvature_padded
from zigzag_meadow.core.readings.differences import extended, offsets
from zigzag_meadow.core.readings.flow import DRAIN
from zigzag_meadow.core.readings.horizon import horizon_margin, horizon_padded
from zigzag_meadow.core.readings.noise import noise
from zigzag_meadow.core.readings.scour import EROSION
from zigzag_meadow.core.readings.slope import aspect_padded, slope
from zigzag_meadow.core.readings.spreading import SPREAD
from zigzag_meadow.core.readings.sun import LIT
from zigzag_meadow.core.resample import resample
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.demo import FOLDER

pool = Stripes(2)
moor = in_metres(read_png(FOLDER / "lantern_moor.png", "lantern_moor.png"), 38, 458)

def status(name):
    for line in open("/proc/self/status"):
        if line.startswith(name):
            return int(line.split()[1]) * 1024

def inputs(what, grid, z, here):
    if what == "occlusion":
        margin = horizon_margin(grid, 32.0)
        return (np.pad(z, [(m, m) for m in margin], constant_values=-np.inf),)
    if what in ("aspect", "curvature"):
        return (extended(z, grid.whole, grid.whole.grown(1, 1)),)
    if what in ("spreading flow", "channels", "distance to water", "trickle"):
        drain = DRAIN.make(here, {}, z, None)
        needed = {"spreading flow": (z, None, drain["standing"], drain["code"]), "channels": (drain["area"], None),
                  "distance to water": (z, None, drain["area"], drain["standing"], drain["code"]),
                  "trickle": ((z > 300).astype(np.float32), drain["code"])}
        return needed[what]
    if what in ("specks", "rim"):
        return (noise(grid, grid.whole, kind="gradient", size=60.0, octaves=3, seed=1),)
    if what.startswith("height"):
        return (z[: grid.rows // 4 + 1, : grid.cols // 4 + 1].copy(),)
    return (z,)

def run(what, grid, here, z, *more):
    off = offsets(grid, grid.dx)
    if what == "slope":
        return slope(z, grid, stripes=pool)
    if what == "aspect":
        return aspect_padded(z, off, pool)
    if what == "curvature":
        return curvature_padded(z, off, "mean", pool)
    if what == "occlusion":
        return horizon_padded(z, grid, 32.0, "occlusion", pool)
    if what == "noise":
        return noise(grid, grid.whole, kind="gradient", size=200, octaves=6, seed=1, stripes=pool)
    if what == "blur":
        return blur(z, grid, 40.0, pool)
    if what.startswith("height"):
        return resample(z, grid.resized(*z.shape), grid, stripes=pool)
    if what == "erosion":
        return EROSION.make(here, {"rain": 0.05, "strength": 0.5, "seed": 1}, z, None)
    if what == "flow":
        return DRAIN.make(here, {}, z, None)
    if what == "spreading flow":
        return SPREAD.make(here, {}, z, *more)
    if what == "shadows":
        return LIT.make(here, {"azimuth": 300.0, "altitude": 30.0}, z, None)
    if what == "channels":
        return CHANNELS.make(here, {"threshold": 20000.0, "width": 6.0, "depth": 1.2}, z, *more)
    if what == "distance to water":
        return WATER.make(here, {"threshold": 20000.0, "level": None}, z, *more)
    if what == "trickle":
        return TRICKLE.make(here, {"by": 120.0}, z, *more)
    if what == "specks":
        return KEPT.make(here, {"area": 400.0}, z)
    if what == "rim":
        return RIM.make(here, {"inside": False}, z)
    # A version that holds every step of its work.
    steps = [z]
    for _ in range(8):
        steps.append(steps[-1] * np.float32(0.5))
    return steps[-1]

def measured(what, side):
    home = Grid(*moor.shape, 4.0, 4.0)
    grid = home.resized(side, side)
    here = Here(grid, grid.whole, grid, pool)
    given = inputs(what, grid, resample(moor, home, grid), here)
    before = status("VmRSS")
    open("/proc/self/clear_refs", "w").write("5")
    made = run(what, grid, here, *given)
    peak = status("VmHWM")
    parts = made.values() if isinstance(made, dict) else [made]
    return (peak - before - sum(part.nbytes for part in parts)) / (side * side)

measured(sys.argv[1], 193)
print(json.dumps(measured(sys.argv[1], int(sys.argv[2]))))
"""


def _measured(what: str, side: int) -> float:
    command = [sys.executable, "-c", PROGRAM, what, str(side)]
    # What is given back goes back to the system at once: else it would hide what is taken next.
    plain = {**os.environ, "MALLOC_MMAP_THRESHOLD_": "65536"}
    done = subprocess.run(command, check=True, capture_output=True, text=True, env=plain)
    return float(json.loads(done.stdout))


def _row(what: str, most: int) -> Row:
    _measured(what, 193)
    found = _measured(what, SIDE)
    return Row(f"memory of {what} at {SIDE}²", f"{found:.1f} bytes a sample", f"<= {most}", found <= most)


def rows() -> list[Row]:
    wasteful = _row("a wasteful version", MOST_LOCAL)
    caught = Row("a wasteful version does not pass", wasteful.figure.strip(), f"> {MOST_LOCAL}", not wasteful.holds)
    return [*(_row(what, MOST_LOCAL) for what in LOCAL), *(_row(what, MOST_WHOLE) for what in WHOLE), caught]
