"""Run every kernel once, so that nobody waits for the compiler later (its results are kept on disk)."""

from __future__ import annotations

import hashlib
import platform
import tempfile
from collections.abc import Callable
from importlib.metadata import version
from pathlib import Path
from typing import Literal

import llvmlite.binding
import numpy as np

from zigzag_meadow.core.colour.blend import MODES
from zigzag_meadow.core.colour.coats.base import Begun
from zigzag_meadow.core.delivery.plan import make_plan
from zigzag_meadow.core.delivery.run import deliver
from zigzag_meadow.core.evaluate.cache import TileCache
from zigzag_meadow.core.evaluate.engine import Engine
from zigzag_meadow.core.fit.check import check_delivery
from zigzag_meadow.core.fit.foreign.align import align
from zigzag_meadow.core.fit.rehearsal import Rehearsal
from zigzag_meadow.core.fit.truth import ProjectTruth
from zigzag_meadow.core.formats.png_stream import PngWriter
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.ground.findings import find_all
from zigzag_meadow.core.ground.terraces import stair_steps
from zigzag_meadow.core.layers.sharing import SHARINGS
from zigzag_meadow.core.looks.catalogue import LOOKS
from zigzag_meadow.core.masks.strokes import parse_strokes, strokes_as_bytes
from zigzag_meadow.core.project.check import parse_project
from zigzag_meadow.core.project.document import Project
from zigzag_meadow.core.project.kinds import coat_kinds, line_kinds, step_kinds
from zigzag_meadow.core.readings.catalogue import READINGS
from zigzag_meadow.core.readings.depressions import fill_depressions
from zigzag_meadow.core.readings.flow import directions
from zigzag_meadow.core.resample import How, resample
from zigzag_meadow.core.rounding import quantise_weights
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.core.voids import fill_voids

__all__ = ["warm_once", "warm_up"]

SIZE = 29
STROKES = "1" * 64


HOME = Grid(SIZE, SIZE, 2.0, 3.0)


def _every_line() -> list[dict[str, object]]:
    """One of each kind of line as it is offered, reading in turn what has kernels of its own."""
    sources: list[dict[str, object]] = [
        {"kind": "feature", "feature": "f"}, {"kind": "feature", "feature": "g"},
        {"kind": "reading", "reading": "slope", "black": 0, "white": 30},
    ]  # fmt: skip
    lines: list[dict[str, object]] = []
    for number, kind in enumerate(line_kinds(HOME)):
        if any(slot.kind == "piece" for slot in kind.slots) or not kind.offered:
            continue
        read = {slot.name: sources[number % 3] for slot in kind.slots if slot.kind == "source" and slot.start}
        strokes = {"asset": STROKES} if any(slot.kind == "strokes" for slot in kind.slots) else {}
        lines.append({**kind.fresh, **read, **strokes, "id": f"x{number}", "muted": False})
    return lines


def _every_coat() -> list[dict[str, object]]:
    """One of each kind of coat as it is offered, and one colour laid on in every way."""
    within = {"kind": "mask", "mask": "m"}
    coats = [
        {**kind.fresh, "id": f"c{number}", "strength": 0.5, "within": within}
        for number, kind in enumerate(coat_kinds(HOME, Begun(0.0, 1.0, 60.0)))
        if all(slot.kind != "piece" for slot in kind.slots)
    ]
    return coats + [{"kind": "plain", "id": f"d{mode}", "mode": mode, "strength": 0.5} for mode, _ in MODES]


def _every_step() -> list[dict[str, object]]:
    """One of each kind of step as it is offered, and once more what takes a number that may be left out."""
    steps: list[dict[str, object]] = []
    for number, kind in enumerate(step_kinds(HOME, 0.0)):
        steps.append({**kind.fresh, "id": f"s{number}"})
        some = {slot.name: slot.value for slot in kind.slots if slot.kind == "optional"}
        if some:
            steps.append({**kind.fresh, **some, "id": f"t{number}"})
    return steps


def _strokes() -> bytes:
    stroke = {"size": 9.0, "fade": 4.0, "points": [[5, 5, 1], [40, 40, 0.5]]}
    modes: tuple[Literal["add", "take_away", "soften"], ...] = ("add", "take_away", "soften")
    return strokes_as_bytes(parse_strokes([{"mode": mode, **stroke} for mode in modes]))


def _small_project() -> Project:
    """A project that uses every kind of line, channel and reading."""

    def band(reading: str, low: float) -> dict[str, object]:
        return {"kind": "band", "reading": reading, "low": low, "high": 1e6, "fade_low": 1.0, "smooth": True}

    lines = [
        {"id": "a", "verb": "take", "source": band("slope", 5)},
        {"id": "b", "verb": "leave_out", "source": band("flow", 20), "strength": 0.5},
        {"id": "c", "verb": "keep_within", "source": band("height", 3)},
        {"id": "d", "verb": "turn_over"},
        {"id": "e", "verb": "levels", "middle": 1.5},
        *_every_line(),
    ]
    channels = {
        "r": {"kind": "weight", "layer": "l"},
        "g": {"kind": "base"},
        "b": {"kind": "mask", "mask": "m"},
        "a": {"kind": "rest"},
    }
    grey = {"kind": "reading", "reading": "standing_water", "black": 0, "white": 1}
    limit = {"id": "w", "verb": "take", "source": band("slope", 1)}
    return parse_project(
        {
            "name": "warm",
            "ground": {
                "asset": "0" * 64, "file_name": "warm.png", "file_format": "png", "depth": "16", "rows": SIZE,
                "cols": SIZE, "stored_low": 0, "stored_high": 1, "spacing_x": 3.0, "spacing_y": 2.0, "voids": 1,
                "water": 0.5, "steps": [
                    {"id": "a", "kind": "fill_voids", "where": [limit]}, *_every_step(),
                    {"id": "h", "kind": "resample", "rows": SIZE, "cols": SIZE},
                ],
            },
            "masks": [{"id": "m", "name": "m", "lines": lines}],
            "features": [{"id": "f", "name": "f", "points": [[2, 3], [30, 40], [60, 5]]},
                         {"id": "g", "name": "g", "closed": True, "points": [[2, 3], [30, 40], [60, 5]]}],
            "scatters": [{"id": "s", "name": "s", "mask": "m", "size_by": "mask:m", "steepest": 80}],
            "base": {"dressing": {"look": "snow", "middle": "sand"}},
            "layers": [
                {"id": "l", "name": "l", "mask": "m", "colour": "#000000", "dressing": {"look": "sand"}},
                {"id": "k", "name": "k", "mask": "m", "colour": "#000000", "strength": 0.5},
            ],
            "mixing": {"sharing": "relief_led"},
            "strokes": [{"id": "s", "layer": "l", "asset": STROKES, "count": 3}],
            "coats": _every_coat(),
            "readings": [
                {"id": "slope_2", "kind": "slope", "numbers": {"width": 4.3}},
                {"id": "aspect_2", "kind": "aspect", "numbers": {"width": 4.3}},
                {"id": "picture", "kind": "picture", "numbers": {"asset": "0" * 64}},
                {"id": "noise_2", "kind": "noise", "numbers": {"way": "slope", "stretch": 4}},
            ],
            "sheets": [
                {"id": "s", "name": "s", "layout": "rgba", **channels},
                {"id": "t", "name": "t", "layout": "grey", "r": grey},
            ],
            "delivery": {"rows": 43, "cols": 43},
        }
    )  # fmt: skip


def warm_up() -> None:
    """Compile all kernels in the forms in which the application calls them."""
    stripes = Stripes(1)
    values = np.random.default_rng(1).integers(0, 65535, (SIZE, SIZE), np.uint16)
    with tempfile.TemporaryDirectory() as folder:
        place = Path(folder)
        with PngWriter(place / "warm.png", SIZE, SIZE, 1, 16, stripes) as png:
            png.write(values)
        project = _small_project()
        (place / "strokes.json").write_bytes(_strokes())
        files = {STROKES: place / "strokes.json"}
        engine = Engine(stripes, TileCache(), lambda asset: files.get(asset, place / "warm.png"))
        evaluation = engine.evaluation(project)
        for kind in READINGS:
            for rows, cols in ((SIZE, SIZE), (SIZE // 2, SIZE // 2), (2 * SIZE, 2 * SIZE)):
                evaluation.map(f"reading:{kind.name}", evaluation.home.resized(rows, cols))
        for name in ("slope_2", "aspect_2", "noise_2"):
            evaluation.map(f"reading:{name}")
        for rows, cols in ((SIZE // 2, SIZE // 2), (SIZE, SIZE), (2 * SIZE, 2 * SIZE)):
            evaluation.map("mask:m", evaluation.home.resized(rows, cols))
        for name in ("colour", "layers", "surface:normal", "surface:detail", "strongest"):
            evaluation.map(name)
        for way in ("cover", "by_strength"):
            SHARINGS[way].share(np.full((2, 3, 3), 0.5, np.float32), None, 0.1)
        for look in LOOKS:
            look.make(64)
        find_all(evaluation.whole(evaluation.graph.stage().ground), evaluation.home, stripes)
        (place / "out").mkdir()
        deliver(evaluation, make_plan(project, evaluation.ends()), place / "out", stripes, lambda share, text: None)
        rehearsal = Rehearsal(place / "out")
        check_delivery(place / "out", ProjectTruth(evaluation, rehearsal), rehearsal=rehearsal)
    heights = values.astype(np.float32)
    align(heights, heights)
    grid = HOME
    kinds: tuple[How, ...] = ("height", "mask", "linear", "nearest")
    for rows, cols in ((40, 40), (12, 10), (40, 10)):
        for how in kinds:
            resample(heights, grid, grid.resized(rows, cols), how)
    # Stepped ground has flats, which the little project may not.
    stepped = np.floor(heights / np.float32(16000))
    directions(fill_depressions(stepped), grid, stripes)
    stair_steps(stepped, grid, stripes)
    gappy = heights.copy()
    gappy[3:6, 4:9] = np.nan
    fill_voids(gappy)
    quantise_weights(np.full((2, 3, 3), 0.5, np.float32), 16)


def _what_is_compiled() -> str:
    """Changes with everything that makes the compiler's kept results void: sources, its version, the processor."""
    root = Path(__file__).parent
    stats = ((path.relative_to(root), path.stat()) for path in sorted(root.rglob("*.py")))
    told = [f"{path} {stat.st_mtime_ns} {stat.st_size}" for path, stat in stats]
    told += [f"{name} {version(name)}" for name in ("numba", "llvmlite", "numpy")]
    told += [platform.python_version(), llvmlite.binding.get_host_cpu_name()]
    return hashlib.sha256("\n".join(told).encode()).hexdigest()


def warm_once(kernels: Path, warm: Callable[[], None] = warm_up) -> bool:
    """:func:`warm_up` unless the very same was done before for the folder where the compiler keeps its results.

    ``kernels``: that folder. Returns whether anything was done; what was cut off is done again.
    """
    stamp, now = kernels / "warm.txt", _what_is_compiled()
    if stamp.is_file() and stamp.read_bytes() == now.encode():
        return False
    warm()
    kernels.mkdir(parents=True, exist_ok=True)
    stamp.write_text(now)
    return True
