"""The one way from a document and a map's name to an array.

Maps are made in 512² tiles anchored at the grid's first sample. Local operations ask for what they need of their
inputs, margin included; whole-ground ones run once and are sampled.
"""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, contextmanager
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
from zigzag_meadow.core.evaluate.nodes import Node, held_key
from zigzag_meadow.core.evaluate.op_ground import GROUND_OPERATIONS, SLOW_STEPS, step_bytes
from zigzag_meadow.core.evaluate.op_local import LOCAL_OPERATIONS
from zigzag_meadow.core.evaluate.op_masks import MASK_OPERATIONS, POINTWISE, STACKS
from zigzag_meadow.core.evaluate.op_recipes import RECIPE_OPERATIONS
from zigzag_meadow.core.evaluate.op_runs import RUN_BYTES, RUN_OPERATIONS, RUNS
from zigzag_meadow.core.evaluate.room import WorkRoom
from zigzag_meadow.core.formats.desk import Desk, at_once
from zigzag_meadow.core.grid import REFERENCE_LONG_SIDE, TILE, Grid, Window, whole_ground_grid
from zigzag_meadow.core.project.document import Project
from zigzag_meadow.core.resample import resample
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["Engine", "Evaluation"]

Array = NDArray[Any]
F32 = NDArray[np.float32]
Mask = NDArray[np.bool_]
AssetPath = Callable[[str], Path]
Operation = Callable[["Evaluation", Node, Grid, Window], Array]
_OPERATIONS: dict[str, Operation] = {
    **LOCAL_OPERATIONS,
    **RUN_OPERATIONS,
    **MASK_OPERATIONS,
    **RECIPE_OPERATIONS,
}


_LOOK_SECONDS = 0.05
WHOLE = "whole"
"""The part of a stage of the ground that is all of it."""
DEEP = 24
"""After so many operations one upon the other the next begins anew from what lies below."""


class _Locks:
    """One lock a key, kept while somebody holds or waits for it."""

    def __init__(self) -> None:
        self._guard = threading.Lock()
        self._locks: dict[str, tuple[threading.Lock, int]] = {}

    @contextmanager
    def hold(self, key: str, cancel: Cancel | None) -> Iterator[None]:
        """Hold the lock of a key. Raises :class:`Cancelled` when ``cancel`` turns true while waiting."""
        with self._guard:
            lock, users = self._locks.get(key, (threading.Lock(), 0))
            self._locks[key] = (lock, users + 1)
        try:
            while not lock.acquire(timeout=_LOOK_SECONDS):
                raise_if(cancel)
            try:
                yield
            finally:
                lock.release()
        finally:
            self._leave(key)

    def _leave(self, key: str) -> None:
        with self._guard:
            lock, users = self._locks[key]
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
    room: WorkRoom = field(default_factory=WorkRoom)
    """Memory for long work on whole grounds."""
    desk: Desk = at_once
    """Where files from elsewhere are read."""
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
        return held_key(self.graph.named(name), grid or self.home, "map")

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
        held = self.engine.cache.peek(_tile_key(node, grid, window.row0 // TILE, window.col0 // TILE))
        if held is not None and held.shape[-2:] == window.shape:
            return held
        raise_if(self.cancel)
        return _OPERATIONS[node.op](self, node, grid, window)

    def tile(self, node: Node, grid: Grid, i: int, j: int) -> Array:
        raise_if(self.cancel)
        if node.depth > DEEP and not self._has_tile(node, grid, i, j):
            self._from_below(node, grid, i, j)
        return self.held(node, grid, f"{i}_{j}", lambda: _OPERATIONS[node.op](self, node, grid, grid.tile_window(i, j)))

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

    def held(self, node: Node, grid: Grid, part: str, compute: Callable[[], Array]) -> Array:
        """A part of what ``node`` is on ``grid`` (a tile, an end, a table), from memory or computed now."""
        key = held_key(node, grid, part)
        if self._keep:
            return self.engine.cache.get(key, compute, self.cancel)
        saved = self.engine.cache.peek(key)
        return self.engine.scratch.get(key, compute, self.cancel) if saved is None else saved

    def ground(self, node: Node) -> F32:
        """A stage of the ground, whole, in metres on its own home grid."""

        def make() -> Array:
            raise_if(self.cancel)
            if node.op != "prepare" or node.params["kind"] not in SLOW_STEPS:
                return GROUND_OPERATIONS[node.op](self, node, None, self.cancel)
            found = self._from_disk(held_key(node, node.grid, WHOLE))
            if found is not None:
                return found
            title = SLOW_STEPS[node.params["kind"]]
            need = step_bytes(node)
            with self.engine.board.task(node.key, self._owner, title, self.cancel, need) as (task, cancel):
                value = GROUND_OPERATIONS[node.op](self, node, task.tell, cancel)
            self._to_disk(held_key(node, node.grid, WHOLE), value)
            return value

        return self.held(node, node.grid, WHOLE, make)

    def before(self, node: Node) -> F32:
        """A stage that the next one is made of. What is quickly made again is not held, unless it is already: of a
        chain of quick steps only the last holds a whole ground."""
        quick = node.op == "prepare" and node.params["kind"] not in SLOW_STEPS
        held = self.engine.cache.peek(held_key(node, node.grid, WHOLE))
        if not quick or held is not None:
            return self.ground(node)
        raise_if(self.cancel)
        return GROUND_OPERATIONS[node.op](self, node, None, self.cancel)

    def heights(self, node: Node, grid: Grid) -> F32:
        """A stage of the ground, whole, on ``grid``; metres above the base of the ground."""
        whole = self.ground(node)
        return whole if grid == node.grid else resample(whole, node.grid, grid)

    def gaps(self, node: Node, grid: Grid) -> Mask | None:
        """Where a stage of the ground (its filled form) has no height, on ``grid``; None where it has no gaps."""
        if node.op != "solid":
            return None
        ground = node.inputs[0]

        def make() -> Array:
            void = np.isnan(self.ground(ground))
            return (
                void if grid == ground.grid else resample(void.astype(np.float32), ground.grid, grid, "nearest") > 0.5
            )

        found: Mask = self.held(node, grid, "gaps", make)
        return found

    def room(self, need: int, what: str) -> AbstractContextManager[None]:
        """``need`` bytes for work on a whole ground beyond its inputs: waited for, and refused where it is more than
        may be used."""
        return self.engine.room.take(need, what, self.cancel)

    def ends(self) -> tuple[float, float]:
        """Lowest and highest height of the prepared ground in metres."""
        node = self.graph.stage().ground
        found = self.held(node, node.grid, "ends", lambda: _ends(self.ground(node)))
        base = self.project.ground.base
        return float(found[0]) + base, float(found[1]) + base

    def above_base(self, grid: Grid, window: Window) -> F32:
        """Heights above the ground's base (:attr:`Ground.base`), which keep digits that high ground would lose."""
        return self.window(self.graph.reading("height", lifted=False), grid, window)

    def plane(self, run: Node, plane: str) -> tuple[Array, Grid]:
        """One result of a whole-ground run on its own grid, from memory, disk or computed now."""
        grid = whole_ground_grid(run.grid)
        return self.held(run, grid, plane, lambda: self._planes(run, grid)[plane]), grid

    def _planes(self, run: Node, grid: Grid) -> dict[str, Array]:
        names, title, compute = RUNS[run.op]
        key = held_key(run, grid, "run")
        with self.engine.locks.hold(key, self.cancel):
            found = {name: self._kept(_plane_key(run, grid, name)) for name in names}
            if all(value is not None for value in found.values()):
                return {name: value for name, value in found.items() if value is not None}
            raise_if(self.cancel)
            need = RUN_BYTES[run.op] * grid.rows * grid.cols
            with self.engine.board.task(key, self._owner, title, self.cancel, need) as (task, cancel):
                work = compute(self, run, grid, task.tell, cancel)
                with self.engine.room.take(need, title, cancel):
                    made = work()
            store = self.engine.cache if self._keep else self.engine.scratch
            for name, value in made.items():
                store.offer(_plane_key(run, grid, name), value)
                self._to_disk(_plane_key(run, grid, name), value)
            return made

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
                if not self._is_there(held_key(n, n.grid, WHOLE)):
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
    return held_key(node, grid, f"{i}_{j}")


def _plane_key(run: Node, grid: Grid, plane: str) -> str:
    return held_key(run, grid, plane)


def _ends(heights: F32) -> Array:
    return np.array([np.nanmin(heights), np.nanmax(heights)], np.float64)


def _cut(tile: Array, part: Window, window: Window, stack: bool) -> Array:
    if part == window:
        return tile
    rows = slice(window.row0 - part.row0, window.row1 - part.row0)
    cols = slice(window.col0 - part.col0, window.col1 - part.col0)
    return tile[:, rows, cols] if stack else tile[rows, cols]
