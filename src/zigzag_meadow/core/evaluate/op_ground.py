"""Operations that make the ground: reading the file, and the steps of preparation."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.evaluate.nodes import Node
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.read import read_stored
from zigzag_meadow.core.grid import Grid, whole_ground_grid
from zigzag_meadow.core.ground.edges import mended_edges
from zigzag_meadow.core.ground.heights import in_metres
from zigzag_meadow.core.ground.shaping import flattened, refined, smoothed, softened, turned
from zigzag_meadow.core.ground.terraces import un_terraced
from zigzag_meadow.core.ground.voids import fill_voids
from zigzag_meadow.core.project.steps import Crop
from zigzag_meadow.core.readings.erosion import erode
from zigzag_meadow.core.readings.slumping import slump
from zigzag_meadow.core.resample import resample
from zigzag_meadow.core.stripes import Cancel

if TYPE_CHECKING:
    from zigzag_meadow.core.evaluate.engine import Evaluation

__all__ = ["GROUND_OPERATIONS", "SHAPE_BYTES", "SLOW_STEPS", "step_bytes"]

F32 = NDArray[np.float32]
Mask = NDArray[np.bool_]
Array = NDArray[Any]
Tell = Callable[[float], None]
GroundOperation = Callable[["Evaluation", Node, Tell | None, Cancel | None], Array]

SLOW_STEPS = {
    "erode": "Eroding the ground", "slump": "Slumping the ground", "soften": "Softening steep faces",
    "un_terrace": "Taking out stair steps", "refine": "Refining the ground", "smooth": "Smoothing the ground",
    "fill_voids": "Filling missing samples",
}  # fmt: skip
"""Steps whose results are kept on disk, and what to say while they run."""

SHAPE_BYTES = {
    "fill_voids": 24, "refine": 28, "un_terrace": 36, "smooth": 32, "soften": 28, "slump": 48, "erode": 76,
}  # fmt: skip
"""Bytes a sample that a step needs beyond the ground it starts from, its result included; 12 where it is not named."""


def _source(ev: Evaluation, node: Node, tell: Tell | None, cancel: Cancel | None) -> Array:
    p = node.params
    layout = Layout(p["rows"], p["cols"], p["order"], p["header"], p["sample"], p["channel"], p["code"], p["nodata"])
    stored = ev.engine.desk(read_stored, ev.engine.asset_path(p["asset"]), p["name"], layout, cancel=cancel)
    if stored.samples.shape != node.grid.shape:
        raise BadNumber(f"{p['name']} no longer has the size that the project was made with.")
    return in_metres(stored.samples, p["low"], p["high"], p["base"])


def _moved(z: F32, src: Grid, dst: Grid) -> F32:
    """Heights on another grid; gaps stay gaps and do not leak."""
    void = np.isnan(z)
    if not void.any():
        return resample(z, src, dst)
    out = resample(fill_voids(z), src, dst)
    out[resample(void.astype(np.float32), src, dst, "nearest") > 0.5] = np.nan
    return out


def _shrink(ev: Evaluation, node: Node, tell: Tell | None, cancel: Cancel | None) -> Array:
    return _moved(ev.ground(node.inputs[0]), node.inputs[0].grid, node.grid)


def _solid(ev: Evaluation, node: Node, tell: Tell | None, cancel: Cancel | None) -> Array:
    return fill_voids(ev.ground(node.inputs[0]))


def _prepare(ev: Evaluation, node: Node, tell: Tell | None, cancel: Cancel | None) -> Array:
    src, dst = node.inputs[0].grid, node.grid
    before = ev.before(node.inputs[0])
    p = node.params
    if p["kind"] == "crop":
        r0, r1, c0, c1 = Crop.model_validate({"id": "x", **{k: v for k, v in p.items() if k != "to"}}).cut(src)
        return before[r0:r1, c0:c1].copy()
    if p["kind"] == "turn":
        return turned(before, p["how"])
    if p["kind"] == "resample":
        return _moved(before, src, dst)
    void = np.isnan(before)
    gaps = bool(void.any())
    share = ev.window(node.inputs[1], src, src.whole) if len(node.inputs) > 1 else None
    with ev.room(step_bytes(node), _title(p["kind"])):
        z = fill_voids(before) if gaps else before
        after = _SHAPES[p["kind"]](ev, z, src, dst, p, tell, cancel, void if gaps else None)
        if share is not None:
            after = z + (after - z) * share
    if gaps and p["kind"] != "fill_voids":
        void = void if src == dst else resample(void.astype(np.float32), src, dst, "nearest") > 0.5
        after = np.where(void, np.float32(np.nan), after)
    elif gaps and share is not None:
        after = np.where(void & (share == 0), np.float32(np.nan), after)
    return np.ascontiguousarray(after, np.float32)


def step_bytes(node: Node) -> int:
    """Bytes that a step of preparation needs beyond the ground it starts from, its result included."""
    samples = max(g.rows * g.cols for g in (node.inputs[0].grid, node.grid))
    each = SHAPE_BYTES.get(node.params["kind"], 12)
    if node.params["kind"] not in ("slump", "erode"):
        return each * samples
    own = whole_ground_grid(node.grid)
    return each * own.rows * own.cols + (0 if own == node.grid else 12 * samples)


def _title(kind: str) -> str:
    return SLOW_STEPS.get(kind, "Preparing the ground")


def _slump(
    ev: Evaluation, z: F32, src: Grid, dst: Grid, p: dict[str, Any], tell: Tell | None, cancel: Cancel | None,
    void: Mask | None,
) -> F32:  # fmt: skip
    def run(heights: F32, grid: Grid, gaps: Mask | None) -> F32:
        return slump(heights, grid, p["angle"], gaps=gaps, stripes=ev.engine.stripes, tell=tell, cancel=cancel)

    return _capped(run, z, src, void)


def _erode(
    ev: Evaluation, z: F32, src: Grid, dst: Grid, p: dict[str, Any], tell: Tell | None, cancel: Cancel | None,
    void: Mask | None,
) -> F32:  # fmt: skip
    def run(heights: F32, grid: Grid, gaps: Mask | None) -> F32:
        numbers = {name: p[name] for name in ("rain", "strength", "seed")}
        return erode(heights, grid, **numbers, gaps=gaps, tell=tell, cancel=cancel).ground

    return _capped(run, z, src, void)


def _capped(run: Callable[[F32, Grid, Mask | None], F32], z: F32, grid: Grid, void: Mask | None) -> F32:
    """A whole-ground run on at most so many samples as those are held to; what it changes is laid over finer ground."""
    own = whole_ground_grid(grid)
    if own == grid:
        return run(z, grid, void)
    coarse = resample(z, grid, own)
    gaps = None if void is None else resample(void.astype(np.float32), grid, own, "nearest") > 0.5
    change = run(coarse, own, gaps)
    change -= coarse
    after = resample(change, own, grid, "linear")
    after += z
    return after


_Shape = Callable[
    ["Evaluation", F32, Grid, Grid, dict[str, Any], Tell | None, Cancel | None, Mask | None], F32
]  # fmt: skip
_SHAPES: dict[str, _Shape] = {
    "fill_voids": lambda ev, z, src, dst, p, tell, stop, void: z,
    "mend_edges": lambda ev, z, src, dst, p, tell, stop, void: mended_edges(z, p["samples"]),
    "refine": lambda ev, z, src, dst, p, tell, stop, void: refined(
        z, src, dst, p["detail"], p["seed"], ev.engine.stripes, stop
    ),
    "un_terrace": lambda ev, z, src, dst, p, tell, stop, void: un_terraced(z, src, p["step"], ev.engine.stripes, stop),
    "smooth": lambda ev, z, src, dst, p, tell, stop, void: smoothed(
        z, src, p["radius"], p["keep"], ev.engine.stripes, stop
    ),
    "soften": lambda ev, z, src, dst, p, tell, stop, void: softened(z, src, p["angle"], ev.engine.stripes, stop),
    "slump": _slump,
    "erode": _erode,
    "flatten": lambda ev, z, src, dst, p, tell, stop, void: flattened(z, p["side"], p["height"], p["blend"]),
    "raise": lambda ev, z, src, dst, p, tell, stop, void: z + np.float32(p["by"]),
    "multiply": lambda ev, z, src, dst, p, tell, stop, void: (
        (z - np.float32(p["about"])) * np.float32(p["factor"]) + np.float32(p["about"])
    ),
}

GROUND_OPERATIONS: dict[str, GroundOperation] = {
    "source": _source,
    "shrink": _shrink,
    "solid": _solid,
    "prepare": _prepare,
}
