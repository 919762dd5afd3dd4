"""The one way from a document and a map's name to an array.

Maps are made in 512² tiles anchored at the grid's first sample. Local operations ask for what they need of their
inputs, margin included; whole-ground ones run once and are sampled.
"""

from __future__ import annotations

import threading
from collections.abc import Callable
from contextlib import AbstractContextManager
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.crew import Crew
from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.evaluate.board import Task, WorkBoard
from zigzag_meadow.core.evaluate.cache import DiskStore, TileCache, raise_if
from zigzag_meadow.core.evaluate.graph import Graph
from zigzag_meadow.core.evaluate.nodes import Node
from zigzag_meadow.core.evaluate.op_ground import GROUND_OPERATIONS, SLOW_STEPS
from zigzag_meadow.core.evaluate.op_local import LOCAL_OPERATIONS
from zigzag_meadow.core.evaluate.op_masks import MASK_OPERATIONS, POINTWISE, STACKS
from zigzag_meadow.core.evaluate.op_recipes import RECIPE_OPERATIONS
from zigzag_meadow.core.evaluate.op_runs import RUN_OPERATIONS, RUNS
from zigzag_meadow.core.grid import REFERENCE_LONG_SIDE, TILE, Grid, Window, whole_ground_grid
from zigzag_meadow.core.project.document import Project
from zigzag_meadow.core.resample import resample
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["Engine", "Evaluation"]

Array = NDArray[Any]
F32 = NDArray[np.float32]
AssetPath = Callable[[str], Path]
Operation = Callable[["Evaluation", Node, Grid, Window], Array]
_OPERATIONS: dict[str, Operation] = {
    **LOCAL_OPERATIONS,
    **RUN_OPERATIONS,
    **MASK_OPERATIONS,
    **RECIPE_OPERATIONS,
}


DEEP = 24
"""After so many operations one upon the other the next begins anew from what lies below."""


class _Locks:
    """One lock a key, kept while somebody holds or waits for it."""

    def __init__(self) -> None:
        self._guard = threading.Lock()
        self._locks: dict[str, tuple[threading.Lock, int]] = {}

    def acquire(self, key: str) -> threading.Lock:
        with self._guard:
            lock, users = self._locks.get(key, (threading.Lock(), 0))
            self._locks[key] = (lock, users + 1)
        lock.acquire()
        return lock

    def release(self, key: str, lock: threading.Lock) -> None:
        lock.release()
        with self._guard:
            _, users = self._locks[key]
            if users == 1:
                del self._locks[key]
            else:
                self._locks[key] = (lock, users - 1)


@dataclass(frozen=True)
class Engine:
    """What evaluations share: threads, caches and where assets lie. Made once a process and passed in."""

    stripes: Stripes
    cache: TileCache
    asset_path: AssetPath
    disk: DiskStore | None = None
    scratch: TileCache = field(default_factory=lambda: TileCache(96 * 2**20))
    """Results of unsaved states: few are asked for twice, and they must not push out the saved ones."""
    crew: Crew | None = None
    """Helpers that make some of the tiles of a map; without them one after the other."""
    board: WorkBoard = field(default_factory=WorkBoard)
    locks: _Locks = field(default_factory=_Locks)

    def evaluation(
        self, project: Project, *, cancel: Cancel | None = None, keep: bool = True, owner: str = "", draft: bool = False
    ) -> Evaluation:
        """Ready to make maps of ``project``.

        ``keep`` false: nothing of it reaches the disk. ``owner`` names whose work it is on the board. ``draft``: on
        a much smaller ground.
        """
        return Evaluation(self, project, cancel, keep, owner, draft)


class Evaluation:
    """Maps of one document. Every array is read-only and belongs to the cache."""

    engine: Engine
    cancel: Cancel | None

    def __init__(
        self, engine: Engine, project: Project, cancel: Cancel | None, keep: bool, owner: str = "", draft: bool = False
    ) -> None:
        self.engine = engine
        self.project = project
        self.graph = Graph(project, draft)
        self.home = project.ground.home
        self.cancel = cancel
        self._keep = keep
        self._owner = owner

    def map(
        self,
        name: str,
        grid: Grid | None = None,
        window: Window | None = None,
        encode: Callable[[Array], Array] | None = None,
    ) -> Array:
        """The map called ``name`` (see :meth:`Graph.named`) on ``grid`` (default: home) and ``window``.

        Readings, masks and weights: float32 (rows, columns) in their unit or 0–1; readings are NaN where the ground
        has no height. Sheets: uint8 (rows, columns, channels). Channels: uint8. ``encode`` is applied tile by tile.
        Raises :class:`Cancelled` when the caller's cancel turns true.
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
        stack = node.op in STACKS
        tiles = [(i, j) for i in range(i0, i1 + 1) for j in range(j0, j1 + 1)]
        insides = [_overlap(grid.tile_window(i, j), window) for i, j in tiles]
        pieces: list[Array | None] = [None] * len(tiles)

        def make(k: int) -> None:
            piece = _cut(self.tile(node, grid, *tiles[k]), grid.tile_window(*tiles[k]), insides[k], stack)
            pieces[k] = piece if encode is None else encode(piece)

        if self.engine.crew is None or len(tiles) == 1:
            for k in range(len(tiles)):
                make(k)
        else:
            self.engine.crew.each(len(tiles), make)
        made = [piece for piece in pieces if piece is not None]
        if len(made) == 1:
            return made[0]
        shape = (made[0].shape[0], *window.shape) if stack else (*window.shape, *made[0].shape[2:])
        out = np.empty(shape, made[0].dtype)
        for inside, piece in zip(insides, made, strict=True):
            rows = slice(inside.row0 - window.row0, inside.row1 - window.row0)
            cols = slice(inside.col0 - window.col0, inside.col1 - window.col0)
            out[(slice(None), rows, cols) if stack else (rows, cols)] = piece
        return out

    def as_draft(self) -> Evaluation:
        """The same document on a much smaller ground."""
        return Evaluation(self.engine, self.project, self.cancel, self._keep, self._owner, draft=True)

    def task(self, key: str, title: str) -> AbstractContextManager[tuple[Task, Cancel]]:
        """Long work of this evaluation on the board, to be told of its share done and stopped."""
        return self.engine.board.task(key, self._owner, title, self.cancel)

    def part(self, node: Node, grid: Grid, window: Window) -> Array:
        """``node`` on a window inside one tile, for an operation that needs nothing around it.

        At final sizes, and for unsaved states, what is made sample by sample is not kept between lines: it is quicker
        made than stored.
        """
        passing = not self._keep or max(grid.rows, grid.cols) > REFERENCE_LONG_SIDE
        if node.op not in POINTWISE or not passing or node.depth % DEEP == 0:
            return self.window(node, grid, window)
        held = self.engine.cache.peek(f"{node.key}:{grid.key}:{window.row0 // TILE}:{window.col0 // TILE}")
        if held is not None and held.shape[-2:] == window.shape:
            return held
        raise_if(self.cancel)
        return _OPERATIONS[node.op](self, node, grid, window)

    def tile(self, node: Node, grid: Grid, i: int, j: int) -> Array:
        raise_if(self.cancel)
        if node.depth > DEEP and not self._has_tile(node, grid, i, j):
            self._from_below(node, grid, i, j)
        return self.held(
            _tile_key(node, grid, i, j), lambda: _OPERATIONS[node.op](self, node, grid, grid.tile_window(i, j))
        )

    def _has_tile(self, node: Node, grid: Grid, i: int, j: int) -> bool:
        key = _tile_key(node, grid, i, j)
        return self.engine.cache.peek(key) is not None or (not self._keep and self.engine.scratch.peek(key) is not None)

    def _from_below(self, node: Node, grid: Grid, i: int, j: int) -> None:
        """Make every so many of the operations below a node first, deepest first.

        One operation asks for the next: a recipe of hundreds of lines would nest as deep as it is long. Below a
        whole-ground run only other runs are made, on their own grids.
        """
        stack = [(n, False) for n in node.inputs]
        seen: set[tuple[str, bool]] = set()
        found: dict[str, Node] = {}
        while stack:
            n, under = stack.pop()
            if (n.key, under) in seen or n.depth < DEEP:
                continue
            seen.add((n.key, under))
            if n.op in RUNS:
                found[n.key], under = n, True
            elif n.depth % DEEP == 0 and not under:
                if self._has_tile(n, grid, i, j):
                    continue
                found[n.key] = n
            stack += [(below, under) for below in n.inputs]
        for n in sorted(found.values(), key=lambda n: n.depth):
            if n.op in RUNS:
                self.plane(n, RUNS[n.op][0][0])
            else:
                self.tile(n, grid, i, j)

    def held(self, key: str, compute: Callable[[], Array]) -> Array:
        """The array of ``key`` from memory, or computed now."""
        if self._keep:
            return self.engine.cache.get(key, compute)
        saved = self.engine.cache.peek(key)
        return self.engine.scratch.get(key, compute) if saved is None else saved

    def ground(self, node: Node) -> F32:
        """A stage of the ground, whole, in metres on its own home grid."""

        def make() -> Array:
            raise_if(self.cancel)
            if node.op != "prepare" or node.params["kind"] not in SLOW_STEPS:
                return GROUND_OPERATIONS[node.op](self, node, None, self.cancel)
            found = self._from_disk(f"{node.key}_ground")
            if found is not None:
                return found
            with self.engine.board.task(node.key, self._owner, SLOW_STEPS[node.params["kind"]], self.cancel) as work:
                task, cancel = work
                value = GROUND_OPERATIONS[node.op](self, node, task.tell, cancel)
            self._to_disk(f"{node.key}_ground", value)
            return value

        return self.held(f"{node.key}:home", make)

    def heights(self, node: Node, grid: Grid) -> F32:
        """A stage of the ground, whole, on ``grid``."""
        whole = self.ground(node)
        return whole if grid == node.grid else resample(whole, node.grid, grid)

    def ends(self) -> tuple[float, float]:
        """Lowest and highest height of the prepared ground in metres."""
        node = self.graph.stage().ground
        found = self.held(f"{node.key}:ends", lambda: _ends(self.ground(node)))
        return float(found[0]), float(found[1])

    def plane(self, run: Node, plane: str) -> tuple[Array, Grid]:
        """One result of a whole-ground run on its own grid, from memory, disk or computed now."""
        grid = whole_ground_grid(run.grid)
        return self.held(_plane_key(run, grid, plane), lambda: self._planes(run, grid)[plane]), grid

    def _planes(self, run: Node, grid: Grid) -> dict[str, Array]:
        names, title, compute = RUNS[run.op]
        key = f"{run.key}_{grid.key}"
        lock = self.engine.locks.acquire(key)
        try:
            found = {name: self._kept(_plane_key(run, grid, name)) for name in names}
            if all(value is not None for value in found.values()):
                return {name: value for name, value in found.items() if value is not None}
            raise_if(self.cancel)
            with self.engine.board.task(key, self._owner, title, self.cancel) as (task, cancel):
                made = compute(self, run, grid, task.tell, cancel)
            store = self.engine.cache if self._keep else self.engine.scratch
            for name, value in made.items():
                store.offer(_plane_key(run, grid, name), value)
                self._to_disk(_plane_key(run, grid, name), value)
            return made
        finally:
            self.engine.locks.release(key, lock)

    def _kept(self, key: str) -> Array | None:
        held = self.engine.cache.peek(key)
        return self._from_disk(key) if held is None else held

    def _from_disk(self, key: str) -> Array | None:
        return self.engine.disk.load(key) if self.engine.disk else None

    def _to_disk(self, key: str, value: Array) -> None:
        if self.engine.disk and self._keep:
            self.engine.disk.save(key, value)

    def is_quick(self, node: Node) -> bool:
        """Whether every long computation that ``node`` needs has been done already."""
        seen: set[str] = set()
        stack = [node]
        while stack:
            n = stack.pop()
            if n.key in seen:
                continue
            seen.add(n.key)
            if n.op in RUNS:
                if not self._is_there(_plane_key(n, whole_ground_grid(n.grid), RUNS[n.op][0][0])):
                    return False
            elif n.op == "prepare" and n.params["kind"] in SLOW_STEPS:
                there = self.engine.cache.peek(f"{n.key}:home") is not None
                if not (there or self._is_there(f"{n.key}_ground")):
                    return False
            else:
                stack += n.inputs
        return True

    def _is_there(self, key: str) -> bool:
        if self.engine.cache.peek(key) is not None:
            return True
        return self.engine.disk is not None and self.engine.disk.has(key)


def _overlap(part: Window, window: Window) -> Window:
    return Window(
        max(part.row0, window.row0), min(part.row1, window.row1),
        max(part.col0, window.col0), min(part.col1, window.col1),
    )  # fmt: skip


def _tile_key(node: Node, grid: Grid, i: int, j: int) -> str:
    return f"{node.key}:{grid.key}:{i}:{j}"


def _plane_key(run: Node, grid: Grid, plane: str) -> str:
    return f"{run.key}_{grid.key}_{plane}"


def _ends(heights: F32) -> Array:
    return np.array([np.nanmin(heights), np.nanmax(heights)], np.float64)


def _cut(tile: Array, part: Window, window: Window, stack: bool) -> Array:
    if part == window:
        return tile
    rows = slice(window.row0 - part.row0, window.row1 - part.row0)
    cols = slice(window.col0 - part.col0, window.col1 - part.col0)
    return tile[:, rows, cols] if stack else tile[rows, cols]
