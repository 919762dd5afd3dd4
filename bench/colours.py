"""Colour: coats and layers dragged, a large colour map written, the coats against plain NumPy, and peak memory."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from measure import Row, median_ms, ratio
from zigzag_meadow.core.colour.blend import blended
from zigzag_meadow.core.colour.coats.adjust import adjusted
from zigzag_meadow.core.colour.coats.ramp import along_ramp
from zigzag_meadow.core.colour.coats.vary import varied
from zigzag_meadow.core.colour.coats.water import water_colours
from zigzag_meadow.core.colour.coats.wear import bleached
from zigzag_meadow.core.crew import Crew
from zigzag_meadow.core.evaluate.cache import TileCache
from zigzag_meadow.core.evaluate.engine import Engine
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.looks.texture import lay
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.readings.enlarged import enlarged
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.demo import FOLDER, lantern_moor

F32 = NDArray[np.float32]


def painted(strength: float = 0.5, scree: float = 1.0) -> Project:
    """Lantern Moor with six textured layers and eight coats."""
    data = lantern_moor().model_dump(mode="json")
    for layer in data["layers"]:
        layer["strength"] = scree if layer["id"] == "scree" else 1.0
    for name, mask, look in (("Reeds", "reeds", "reed"), ("Track", "track", "bare_soil")):
        data["layers"].append(
            {"id": name.lower(), "name": name, "mask": mask, "colour": "#887755", "dressing": {"look": look}}
        )
    data["coats"].append({"kind": "adjust", "id": "last", "saturation": 1.1, "contrast": 1.05})
    next(coat for coat in data["coats"] if coat["id"] == "soil")["strength"] = strength
    return parse_project(data)


def _engine(stripes: Stripes) -> Engine:
    return Engine(stripes, TileCache(), lambda _: FOLDER / "lantern_moor.png", crew=Crew(stripes.threads - 1))


def _drag(engine: Engine, moved: list[Project]) -> float:
    after = iter(moved)
    return median_ms(lambda: engine.evaluation(next(after), keep=False).map("colour"), len(moved) - 1)


IDLE_COPY = 9.5
"""Milliseconds of a plain copy of 4096² float32 on an idle machine: times are held against it, not against a clock."""


def _copy_ms() -> float:
    large = np.zeros((4096, 4096), np.float32)
    return median_ms(large.copy, 5)


def _timed(what: str, milliseconds: float, most: float) -> Row:
    """A time as it would be where a copy takes :data:`IDLE_COPY`."""
    copy = _copy_ms()
    idle = milliseconds * IDLE_COPY / copy
    return Row(
        what,
        f"{milliseconds:.0f} ms, {milliseconds / copy:.0f} copies",
        f"<= {most / IDLE_COPY:.0f} copies",
        idle <= most,
    )


def _dragged(stripes: Stripes) -> list[Row]:
    engine = _engine(stripes)
    engine.evaluation(painted()).map("colour")
    coat = _drag(engine, [painted(0.3 + k / 50) for k in range(10)])
    layer = _drag(engine, [painted(0.5, 0.7 + k / 50) for k in range(10)])
    return [
        _timed("a coat dragged, six layers, eight coats, 1009²", coat, 150),
        _timed("a layer dragged, the same", layer, 150),
    ]


# The coats against plain NumPy ------------------------------------------------------------------------------------

SIDE = 1024


def _inputs() -> dict[str, Any]:
    rng = np.random.default_rng(1)
    masks = [rng.random((SIDE, SIDE), np.float32) for _ in range(5)]
    weights = rng.random((7, SIDE, SIDE), np.float32)
    weights /= weights.sum(axis=0)
    textures = [rng.random((256, 256, 3), np.float32) for _ in range(7)]
    return {
        "masks": masks,
        "weights": weights,
        "textures": textures,
        "heights": rng.random((SIDE, SIDE), np.float32) * 90,
    }


STOPS = [(0.0, (0.1, 0.08, 0.05)), (0.5, (0.3, 0.28, 0.2)), (1.0, (0.6, 0.58, 0.5))]
DEEP = ((0.05, 0.12, 0.1), (0.005, 0.02, 0.04))


def _ours(told: dict[str, Any], stripes: Stripes) -> F32:
    """By halves, as the evaluator makes tiles."""
    parts: list[F32 | None] = [None, None]

    def half(at: int) -> None:
        parts[at] = _half(told, Window(at * SIDE // 2, (at + 1) * SIDE // 2, 0, SIDE))

    stripes.each(2, half)
    return np.concatenate([part for part in parts if part is not None])


def _half(told: dict[str, Any], window: Window) -> F32:
    grid = Grid(SIDE, SIDE, 1.0, 1.0)
    out = np.zeros((*window.shape, 3), np.float32)
    ones = np.ones(3, np.float32)
    rows = slice(window.row0, window.row1)
    for k, texture in enumerate(told["textures"]):
        numbers = {"turn": 10.0 * k, "shift": [0.0, 0.0], "size": 97.0, "samples": [256, 256]}
        lay(texture, numbers, grid, window, told["weights"][k][rows], ones, out)
    a, b, c, d, e = (mask[rows] for mask in told["masks"])
    out = varied(out, a, b, 7, 0.16)
    out = blended(out, along_ramp(c, STOPS), "soft_light", 0.35)
    out = blended(out, (0.03, 0.02, 0.015), "normal", 0.5, d)
    out = bleached(out, e, 0.25, 0.35)
    out = blended(out, water_colours(told["heights"][rows], 30.0, 20.0, 1.5, DEEP), "normal")
    out = blended(out, (0.2, 0.2, 0.1), "overlay", 0.3, a)
    return adjusted(out, saturation=1.1, contrast=1.05)


def _code(x: F32) -> F32:
    return np.where(x <= 0.0031308, 12.92 * x, 1.055 * np.maximum(x, 0) ** (1 / 2.4) - 0.055)


def _light(x: F32) -> F32:
    return np.where(x <= 0.04045, x / 12.92, ((x + 0.055) / 1.055) ** 2.4)


TO_LMS = np.array([[0.4122, 0.5363, 0.0514], [0.2119, 0.6807, 0.1074], [0.0883, 0.2817, 0.63]])
TO_LAB = np.array([[0.2105, 0.7936, -0.0041], [1.978, -2.4286, 0.4506], [0.0259, 0.7828, -0.8087]])


def _lab(rgb: F32) -> F32:
    return np.cbrt(rgb @ TO_LMS.T) @ TO_LAB.T


def _rgb(lab: F32) -> F32:
    return np.clip((lab @ np.linalg.inv(TO_LAB).T) ** 3 @ np.linalg.inv(TO_LMS).T, 0, 1)


def _plain(told: dict[str, Any]) -> F32:
    """The same coats the way one would write them at first, textures through a library's spline of order 1."""
    y, x = np.mgrid[0:SIDE, 0:SIDE].astype(np.float64)
    out = np.zeros((SIDE, SIDE, 3))
    for k, texture in enumerate(told["textures"]):
        s, t = np.sin(np.radians(10 * k)), np.cos(np.radians(10 * k))
        place = np.stack([(y * t - x * s) / 97 * 256 - 0.5, (x * t + y * s) / 97 * 256 - 0.5])
        for part in range(3):
            seen = ndimage.map_coordinates(texture[..., part], place, order=1, mode="grid-wrap")
            out[..., part] += told["weights"][k] * seen
    a, b, c, d, e = told["masks"]
    lab = _lab(out)
    turn = (a - 0.5) * 2 * np.radians(7)
    lab[..., 1], lab[..., 2] = (
        lab[..., 1] * np.cos(turn) - lab[..., 2] * np.sin(turn),
        lab[..., 1] * np.sin(turn) + lab[..., 2] * np.cos(turn),
    )
    lab[..., 0] *= 1 + (b - 0.5) * 0.32
    out = _rgb(lab)
    places, colours = [at for at, _ in STOPS], np.array([colour for _, colour in STOPS])
    top = np.stack([np.interp(c, places, colours[:, k]) for k in range(3)], axis=2)
    below, over = _code(out), _code(top)
    root = np.where(below <= 0.25, ((16 * below - 12) * below + 4) * below, np.sqrt(below))
    soft = np.where(over <= 0.5, below - (1 - 2 * over) * below * (1 - below), below + (2 * over - 1) * (root - below))
    out = _light(below + 0.35 * (soft - below))
    out += 0.5 * d[..., None] * (np.array([0.03, 0.02, 0.015]) - out)
    lab = _lab(out)
    lab[..., 0] += (1 - lab[..., 0]) * 0.25 * e
    lab[..., 1:] *= (1 - 0.35 * e)[..., None]
    out = _rgb(lab)
    depth = 30 - told["heights"]
    t = np.clip(depth / 20, 0, 1)[..., None]
    there = np.where(depth > 0, 0.4 + 0.6 * np.clip(depth / 1.5, 0, 1), 0.4 * np.clip(1 + depth / 1.5, 0, 1))
    out += there[..., None] * (np.array(DEEP[0]) * (1 - t) + np.array(DEEP[1]) * t - out)
    below, over = _code(out), _code(np.array([0.2, 0.2, 0.1]))
    made = np.where(below <= 0.5, 2 * below * over, 1 - 2 * (1 - below) * (1 - over))
    out = _light(below + 0.3 * a[..., None] * (made - below))
    lab = _lab(out)
    lab[..., 0] = 0.57 + (lab[..., 0] - 0.57) * 1.05
    lab[..., 1:] *= 1.1
    return _rgb(lab)


def _against_plain(stripes: Stripes) -> Row:
    told = _inputs()
    off = float(np.abs(_ours(told, stripes) - _plain(told)).mean())
    assert off < 0.02, f"the plain version makes something else: {off:.3f}"
    return ratio("a base, six textures and eight coats, 1024²", lambda: _ours(told, stripes), lambda: _plain(told), 10)


def _enlarged(stripes: Stripes) -> Row:
    """A picture of 512² samples at 2048² places, colours and cover, against four spline interpolations."""
    pixels = np.random.default_rng(7).random((512, 512, 4)).astype(np.float32)
    down, across = np.meshgrid(np.linspace(0, 511, 2048), np.linspace(0, 511, 2048), indexing="ij")
    inside = np.ones(down.shape, bool)

    def plain() -> list[F32]:
        return [ndimage.map_coordinates(pixels[..., k], [down, across], order=3, prefilter=False) for k in range(4)]

    return ratio(
        "a picture enlarged sharply to 2048²", lambda: enlarged(pixels, inside, down, across, stripes), plain, 3
    )


# Memory -----------------------------------------------------------------------------------------------------------

PROGRAM = """
import json, sys, time
from pathlib import Path
sys.path.insert(0, sys.argv[3])
from colours import painted, _engine
from measure import highest_bytes
from zigzag_meadow.core.evaluate.painted_file import painted_grid, write_painted
from zigzag_meadow.core.formats.catalogue import form
from zigzag_meadow.core.map_name import ColourName
from zigzag_meadow.core.readings.enlarged import enlarged
from zigzag_meadow.core.stripes import Stripes
stripes = Stripes()
evaluation = _engine(stripes).evaluation(painted())
evaluation.map("colour")
size = int(sys.argv[1])
grid = painted_grid(evaluation.home, size, size, "vertex")
start = time.perf_counter()
write_painted(evaluation, ColourName(), grid, Path(sys.argv[2]) / "c.png", form("png8"), stripes)
taken = time.perf_counter() - start
print(json.dumps({"peak": highest_bytes(), "seconds": taken}))
"""


def _written(size: int, most: float, seconds: float) -> list[Row]:
    with tempfile.TemporaryDirectory() as folder:
        told = [sys.executable, "-c", PROGRAM, str(size), folder, str(Path(__file__).parent)]
        done = subprocess.run(told, check=True, capture_output=True, text=True)
    result = json.loads(done.stdout)
    gib, taken = result["peak"] / 2**30, result["seconds"]
    return [
        _timed(f"colour map at {size}², masks and readings too", taken * 1000, seconds * 1000),
        Row(f"its peak memory at {size}²", f"{gib:.2f} GiB", f"<= {most:g} GiB", gib <= most),
    ]


def rows() -> list[Row]:
    stripes = Stripes()
    made = _dragged(stripes)
    made.append(_against_plain(stripes))
    made.append(_enlarged(stripes))
    made.append(Row("a plain copy of 4096² float32, beside", f"{_copy_ms():.1f} ms", "", True))
    return [*made, *_written(4081, 2.5, 12), *_written(8161, 4, 60)]


if __name__ == "__main__":
    start = time.perf_counter()
    for row in rows():
        print(row, flush=True)
    print(f"{time.perf_counter() - start:.0f} s")
