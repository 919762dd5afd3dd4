"""The one way from a document and a map's name to an array.

Maps are made in 512² tiles anchored at the grid's first sample. Local operations ask for what they need of their
inputs, margin included; whole-ground ones run once and are sampled.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.evaluate.cache import DiskStore, TileCache, raise_if
from zigzag_meadow.core.evaluate.nodes import Graph, Node
from zigzag_meadow.core.formats.read import read_stored
from zigzag_meadow.core.grid import TILE, Grid, Window, whole_ground_grid
from zigzag_meadow.core.ground.heights import in_metres
from zigzag_meadow.core.layers.quantise import quantise_mask, quantise_weights
from zigzag_meadow.core.layers.sharing import cover
from zigzag_meadow.core.masks import algebra
from zigzag_meadow.core.packing.sheets import rest_of_sheet, stretched
from zigzag_meadow.core.project.document import Project
from zigzag_meadow.core.readings.differences import extended, offsets
from zigzag_meadow.core.readings.flow import flow
from zigzag_meadow.core.readings.shade import shade_padded
from zigzag_meadow.core.readings.slope import slope_padded
from zigzag_meadow.core.resample import How, Resampling, resample
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["Engine", "Evaluation"]

Array = NDArray[Any]
F32 = NDArray[np.float32]
AssetPath = Callable[[str], Path]


@dataclass(frozen=True)
class Engine:
    """What evaluations share: threads, caches and where assets lie. Made once a process and passed in."""

    stripes: Stripes
    cache: TileCache
    asset_path: AssetPath
    disk: DiskStore | None = None
    scratch: TileCache = field(default_factory=lambda: TileCache(96 * 2**20))
    """Results of unsaved states: few are asked for twice, and they must not push out the saved ones."""

    def evaluation(self, project: Project, *, cancel: Cancel | None = None, keep: bool = True) -> Evaluation:
        """Ready to make maps of ``project``. ``keep`` false: nothing of it reaches the disk."""
        return Evaluation(self, project, cancel, keep)


class Evaluation:
    """Maps of one document. Every array is read-only and belongs to the cache."""

    def __init__(self, engine: Engine, project: Project, cancel: Cancel | None, keep: bool) -> None:
        self.engine = engine
        self.project = project
        self.graph = Graph(project)
        self.home = project.ground.home
        self._cancel = cancel
        self._keep = keep

    def map(
        self,
        name: str,
        grid: Grid | None = None,
        window: Window | None = None,
        encode: Callable[[Array], Array] | None = None,
    ) -> Array:
        """The map called ``name`` (see :meth:`Graph.named`) on ``grid`` (default: home) and ``window``.

        Readings, masks and weights: float32 (rows, columns) in their unit or 0–1. Sheets: uint8 (rows, columns,
        channels). Channels: uint8. ``encode`` is applied tile by tile. Raises :class:`Cancelled` when the caller's
        cancel turns true.
        """
        grid = grid or self.home
        return self.window(self.graph.named(name), grid, window or grid.whole, encode)

    def key(self, name: str, grid: Grid | None = None) -> str:
        """What identifies a map's content: equal keys, equal bytes."""
        return f"{self.graph.named(name).key}-{(grid or self.home).key}"

    def window(self, node: Node, grid: Grid, window: Window, encode: Callable[[Array], Array] | None = None) -> Array:
        """``node`` on any window inside ``grid``, put together from tiles (each through ``encode``, if given)."""
        if window != window.clipped(grid.rows, grid.cols):
            raise BadNumber(f"The window {window} must lie inside the grid of {grid.rows} × {grid.cols} samples.")
        i0, i1 = window.row0 // TILE, (window.row1 - 1) // TILE
        j0, j1 = window.col0 // TILE, (window.col1 - 1) // TILE
        stack = node.op in _STACKS
        out: Array | None = None
        for i in range(i0, i1 + 1):
            for j in range(j0, j1 + 1):
                part = grid.tile_window(i, j)
                inside = Window(
                    max(part.row0, window.row0), min(part.row1, window.row1),
                    max(part.col0, window.col0), min(part.col1, window.col1),
                )  # fmt: skip
                piece = _cut(self.tile(node, grid, i, j), part, inside, stack)
                piece = piece if encode is None else encode(piece)
                if i0 == i1 and j0 == j1:
                    return piece
                if out is None:
                    shape = (piece.shape[0], *window.shape) if stack else (*window.shape, *piece.shape[2:])
                    out = np.empty(shape, piece.dtype)
                rows = slice(inside.row0 - window.row0, inside.row1 - window.row0)
                cols = slice(inside.col0 - window.col0, inside.col1 - window.col0)
                out[(slice(None), rows, cols) if stack else (rows, cols)] = piece
        assert out is not None  # a window holds at least one tile
        return out

    def tile(self, node: Node, grid: Grid, i: int, j: int) -> Array:
        raise_if(self._cancel)
        key = f"{node.key}:{grid.key}:{i}:{j}"
        return self._held(key, lambda: _OPERATIONS[node.op](self, node, grid, grid.tile_window(i, j)))

    def _held(self, key: str, compute: Callable[[], Array]) -> Array:
        if self._keep:
            return self.engine.cache.get(key, compute)
        saved = self.engine.cache.peek(key)
        return self.engine.scratch.get(key, compute) if saved is None else saved

    def home_heights(self, node: Node) -> F32:
        """The whole ground in metres on the home grid."""

        def load() -> Array:
            ground = self.project.ground
            stored = read_stored(
                self.engine.asset_path(node.params["asset"]), ground.file_name,
                rows=node.params["rows"], cols=node.params["cols"], byte_order=node.params["order"],
            )  # fmt: skip
            if stored.samples.shape != self.home.shape:
                raise BadNumber(f"{ground.file_name} no longer has the size that the project was made with.")
            return in_metres(stored.samples, node.params["low"], node.params["high"])

        return self._held(f"{node.key}:home", load)

    def whole(self, node: Node) -> tuple[F32, Grid]:
        """A whole-ground map on its own grid, from memory, disk or computed now."""
        grid = whole_ground_grid(self.home)
        key = f"{node.key}_{grid.key}"

        def make() -> Array:
            stored = self.engine.disk.load(key) if self.engine.disk else None
            if stored is not None:
                return stored
            raise_if(self._cancel)
            heights = resample(self.home_heights(node.inputs[0]), self.home, grid)
            accumulation, filled = flow(heights, grid, self.engine.stripes)
            value = accumulation if node.op == "flow" else filled - heights
            if self.engine.disk and self._keep:
                self.engine.disk.save(key, value)
            return value

        return self._held(key, make), grid

    @property
    def cancel(self) -> Cancel | None:
        return self._cancel


# Results with one plane a layer, planes first; everything else has rows and columns first.
_STACKS = {"cover", "shares"}


def _cut(tile: Array, part: Window, window: Window, stack: bool) -> Array:
    if part == window:
        return tile
    rows = slice(window.row0 - part.row0, window.row1 - part.row0)
    cols = slice(window.col0 - part.col0, window.col1 - part.col0)
    return tile[:, rows, cols] if stack else tile[rows, cols]


Operation = Callable[[Evaluation, Node, Grid, Window], Array]


def _moved(whole: F32, src: Grid, grid: Grid, window: Window, how: How) -> F32:
    plan = Resampling(src, grid, window, how)
    need = plan.needs
    return plan.apply(whole[need.row0 : need.row1, need.col0 : need.col1])


def _height(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    return _moved(ev.home_heights(node), ev.home, grid, window, "height").copy()


def _padded(ev: Evaluation, node: Node, grid: Grid, window: Window, margin: tuple[int, int]) -> F32:
    """Heights of a window with a margin, extrapolated beyond the border."""
    wanted = window.grown(*margin)
    # Mirroring needs as many samples inside as it adds outside.
    inside = window.grown(2 * margin[0], 2 * margin[1]).clipped(grid.rows, grid.cols)
    heights = ev.window(node.inputs[0], grid, inside)
    full = Window(
        min(inside.row0, wanted.row0), max(inside.row1, wanted.row1),
        min(inside.col0, wanted.col0), max(inside.col1, wanted.col1),
    )  # fmt: skip
    return np.ascontiguousarray(_cut(extended(heights, inside, full), full, wanted, False))


def _derivative(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    wy, wx = node.params["width"]
    if grid.dy > wy * (1 + 1e-6) or grid.dx > wx * (1 + 1e-6):
        # Too coarse to difference at this width: measure on the home grid and take the mean of what each sample
        # stands for.
        plan = Resampling(ev.home, grid, window, "linear")
        return plan.apply(ev.window(node, ev.home, plan.needs))
    off = offsets(grid, (wy, wx))
    stripes, cancel = ev.engine.stripes, ev.cancel
    if node.op == "slope":
        return slope_padded(_padded(ev, node, grid, window, off.margin), off, stripes, cancel)
    return shade_padded(_padded(ev, node, grid, window, (off.ky, off.kx)), off, stripes, cancel=cancel)


def _sampled(how: How) -> Operation:
    def operation(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
        whole, src = ev.whole(node)
        return _moved(whole, src, grid, window, how).copy()

    return operation


def _constant(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    return np.full(window.shape, node.params["value"], np.float32)


def _band(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    values = ev.window(node.inputs[0], grid, window)
    return algebra.band(values, **node.params, stripes=ev.engine.stripes, cancel=ev.cancel)


def _combine(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    before, line = (ev.window(n, grid, window) for n in node.inputs)
    return algebra.combine(before, line, node.params["verb"], node.params["strength"])


def _cover(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    if node.params["layers"] == 0:
        return np.ones((1, *window.shape), np.float32)
    return cover(np.stack([ev.window(n, grid, window) for n in node.inputs]))


def _sheet(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    return np.stack([ev.window(n, grid, window) for n in node.inputs], axis=-1)


def _one(apply: Callable[[Array, dict[str, Any]], Array]) -> Operation:
    """An operation on the same window of its one input."""

    def operation(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
        return apply(ev.window(node.inputs[0], grid, window), node.params)

    return operation


def _shares(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    weights = ev.window(node.inputs[0], grid, window)
    return quantise_weights(weights, node.params["bits"], stripes=ev.engine.stripes, cancel=ev.cancel)


def _rest(ev: Evaluation, node: Node, grid: Grid, window: Window) -> Array:
    return rest_of_sheet([ev.window(n, grid, window) for n in node.inputs])[0]


_OPERATIONS: dict[str, Operation] = {
    "height": _height,
    "slope": _derivative,
    "shade": _derivative,
    "flow": _sampled("log"),
    "standing_water": _sampled("linear"),
    "constant": _constant,
    "band": _band,
    "combine": _combine,
    "turn_over": _one(lambda a, p: algebra.turn_over(a)),
    "levels": _one(lambda a, p: algebra.levels(a, **p)),
    "cover": _cover,
    "pick": _one(lambda a, p: a[p["place"]].copy()),
    "shares": _shares,
    "pick_share": _one(lambda a, p: a[p["place"]].copy()),
    "mask_bytes": _one(lambda a, p: quantise_mask(a)),
    "reading_bytes": _one(lambda a, p: quantise_mask(stretched(a, p["black"], p["white"], log=p["log"]))),
    "rest": _rest,
    "sheet": _sheet,
}
