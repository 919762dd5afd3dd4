"""Run every kernel once, so that nobody waits for the compiler later (its results are kept on disk)."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from pathlib import Path

import llvmlite.binding
import numpy as np

from zigzag_meadow.core.delivery.plan import make_plan
from zigzag_meadow.core.delivery.run import deliver
from zigzag_meadow.core.evaluate.cache import TileCache
from zigzag_meadow.core.evaluate.engine import Engine
from zigzag_meadow.core.fit.check import check_delivery
from zigzag_meadow.core.fit.foreign.align import align
from zigzag_meadow.core.fit.rehearsal import Rehearsal
from zigzag_meadow.core.fit.truth import ProjectTruth
from zigzag_meadow.core.formats.writing.png_stream import PngWriter
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.ground.findings import find_all
from zigzag_meadow.core.ground.terraces import stair_steps
from zigzag_meadow.core.kernels import sweep_kernels
from zigzag_meadow.core.layers.sharing import SHARINGS
from zigzag_meadow.core.looks.catalogue import LOOKS
from zigzag_meadow.core.map_name import MaskName, ReadingName
from zigzag_meadow.core.readings.catalogue import READINGS
from zigzag_meadow.core.resample import How, resample
from zigzag_meadow.core.rounding import quantise_weights
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.core.terrain.filling import fill_depressions
from zigzag_meadow.core.terrain.flow import directions
from zigzag_meadow.core.voids import fill_voids
from zigzag_meadow.core.warm_project import STROKES, every_stroke, project_of_every_kind

__all__ = ["warm_once", "warm_up"]

SIZE = 29
HOME = Grid(SIZE, SIZE, 2.0, 3.0)


def warm_up() -> None:
    """Compile all kernels in the forms in which the application calls them."""
    stripes = Stripes(1)
    values = np.random.default_rng(1).integers(0, 65535, (SIZE, SIZE), np.uint16)
    with tempfile.TemporaryDirectory() as folder:
        place = Path(folder)
        with PngWriter(place / "warm.png", SIZE, SIZE, 1, 16, stripes) as png:
            png.write(values)
        project = project_of_every_kind(HOME, HOME.resized(43, 43))
        (place / "strokes.json").write_bytes(every_stroke())
        files = {STROKES: place / "strokes.json"}
        engine = Engine(stripes, TileCache(), lambda asset: files.get(asset, place / "warm.png"))
        evaluation = engine.evaluation(project)
        for kind in READINGS:
            for rows, cols in ((SIZE, SIZE), (SIZE // 2, SIZE // 2), (2 * SIZE, 2 * SIZE)):
                evaluation.map(ReadingName(kind.name), evaluation.home.resized(rows, cols))
        for name in ("slope_2", "aspect_2", "noise_2"):
            evaluation.map(ReadingName(name))
        for rows, cols in ((SIZE // 2, SIZE // 2), (SIZE, SIZE), (2 * SIZE, 2 * SIZE)):
            evaluation.map(MaskName("m"), evaluation.home.resized(rows, cols))
        for name in ("colour", "layers", "surface:normal", "surface:detail", "strongest"):
            evaluation.map(name)
        for way in ("cover", "by_strength"):
            SHARINGS[way].share(np.full((2, 3, 3), 0.5, np.float32), None, 0.1)
        for look in LOOKS:
            look.make(64)
        find_all(evaluation.whole(evaluation.graph.stage().ground), evaluation.home, stripes)
        (place / "out").mkdir()
        deliver(evaluation, make_plan(project, evaluation.heights()), place / "out", stripes, lambda share, text: None)
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


def warm_once(kernels: Path, warm: Callable[[], None] = warm_up) -> bool:
    """:func:`warm_up` unless it was done before for the folder where the compiler keeps its results; then what earlier
    sources left beside it is deleted.

    ``kernels``: that folder, named by what it is made of (:func:`kernel_folder`). Returns whether anything was done;
    what was cut off is done again, and so is all for another processor.
    """
    stamp, now = kernels / "warm.txt", llvmlite.binding.get_host_cpu_name()
    if stamp.is_file() and stamp.read_bytes() == now.encode():
        return False
    warm()
    kernels.mkdir(parents=True, exist_ok=True)
    stamp.write_text(now)
    sweep_kernels(kernels)
    return True
