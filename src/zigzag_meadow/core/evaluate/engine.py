"""The one way from a document and a map's name to an array.

Maps are made in 512² tiles anchored at the grid's first sample. Operations say what they need of other maps (see
:mod:`zigzag_meadow.core.nodes.operation`); here it is gathered, handed to their arithmetic, and held.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, contextmanager, nullcontext
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.crew import Crew
from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.evaluate.board import WorkBoard
from zigzag_meadow.core.evaluate.cache import DiskStore, TileCache, raise_if
from zigzag_meadow.core.evaluate.graph import Graph
from zigzag_meadow.core.evaluate.locks import Locks
from zigzag_meadow.core.evaluate.pieces import cut, joined, overlap, tile_key, tiles_over
from zigzag_meadow.core.evaluate.room import WorkRoom
from zigzag_meadow.core.evaluate.stages import DRAFT_SIDE
from zigzag_meadow.core.evaluate.watch import Watch
from zigzag_meadow.core.formats.file_reader import FileReader, at_once
from zigzag_meadow.core.grid import REFERENCE_LONG_SIDE, TILE, Grid, Window
from zigzag_meadow.core.map_name import MapName
from zigzag_meadow.core.nodes.ground_nodes import ends_of, mean_of
from zigzag_meadow.core.nodes.node import Node, held_key
from zigzag_meadow.core.nodes.operation import (
    ALL,
    AllOf,
    Cost,
    EveryTile,
    Here,
    Local,
    MadeOnce,
    Need,
    OnWindow,
    Tell,
    Tiles,
    Unfolding,
)
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["Engine", "Evaluation"]

Array = NDArray[Any]
F32 = NDArray[np.float32]
AssetPath = Callable[[str], Path]
DEEP = 24
"""After so many operations one upon the other the next begins anew from what lies below."""


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
    reads: FileReader = at_once
    """Where files from elsewhere are read."""
    locks: Locks = field(default_factory=Locks)
    watch: Watch | None = None
    """Where native work is written down before it begins."""
    aside: Callable[[], AbstractContextManager[None]] = nullcontext
    """Around long work, for those who keep places for what is quick."""

    def evaluation(
        self, project: Project, *, cancel: Cancel | None = None, keep: bool = True, owner: str = "", draft: int = 0
    ) -> Evaluation:
        """Ready to make maps of ``project``.

        ``keep`` false: nothing of it reaches the disk. ``owner`` names whose work it is on the board. ``draft``: on a
        much smaller ground, with at most so many samples on its longer side; 0: on the ground itself.
        """
        return Evaluation(self, project, cancel, keep, owner, draft)


class Evaluation:
    """Maps of one document. Every array is read-only and belongs to the cache."""

    engine: Engine
    cancel: Cancel | None

    def __init__(
        self, engine: Engine, project: Project, cancel: Cancel | None, keep: bool, owner: str = "", draft: int = 0
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
        name: MapName | str,
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

    def key(self, name: MapName | str, grid: Grid | None = None) -> str:
        """What identifies a map's content: equal keys, equal bytes."""
        return held_key(self.graph.named(name), grid or self.home, "map")

    def ends(self) -> tuple[float, float]:
        """Lowest and highest height of the prepared ground in metres."""
        low, high = self.whole(ends_of(self.graph.stage().ground).node) + self.project.ground.base
        return float(low), float(high)

    def heights(self) -> tuple[float, float, float]:
        """Lowest, highest and mean height of the prepared ground in metres; gaps count for nothing."""
        mean = float(self.whole(mean_of(self.graph.stage().ground))[0]) + self.project.ground.base
        return (*self.ends(), mean)

    def above_base(self, grid: Grid, window: Window) -> F32:
        """Heights above the ground's base (:attr:`Ground.base`), which keep digits that high ground would lose."""
        return self.window(self.graph.reading("height", lifted=False), grid, window)

    def as_draft(self, side: int = DRAFT_SIDE) -> Evaluation:
        """The same document on a much smaller ground, with at most so many samples on its longer side."""
        return Evaluation(self.engine, self.project, self.cancel, self._keep, self._owner, draft=side)

    def window(self, node: Node, grid: Grid, window: Window, encode: Callable[[Array], Array] | None = None) -> Array:
        """``node`` on any window inside ``grid``, put together from tiles (each through ``encode``, if given)."""
        if window != window.clipped(grid.rows, grid.cols):
            raise BadNumber(f"The window {window} must lie inside the grid of {grid.rows} × {grid.cols} samples.")
        node = self.unfolded(node)
        stack = _local(node).stacked
        tiles = tiles_over(window)
        insides = [overlap(grid.tile_window(i, j), window) for i, j in tiles]
        pieces: list[Array | None] = [None] * len(tiles)

        def make(k: int) -> None:
            piece = cut(self.tile(node, grid, *tiles[k]), grid.tile_window(*tiles[k]), insides[k], stack)
            pieces[k] = piece if encode is None else encode(piece)

        self.each(len(tiles), make)
        made = [piece for piece in pieces if piece is not None]
        return made[0] if len(made) == 1 else joined(made, insides, window, stack)

    def tile(self, node: Node, grid: Grid, i: int, j: int) -> Array:
        """One tile of a local operation."""
        raise_if(self.cancel)
        if node.depth > DEEP and not self._has_tile(node, grid, i, j):
            self._from_below(node, grid, i, j)
        return self.held(node, grid, f"{i}_{j}", lambda: self._made(node, grid, grid.tile_window(i, j)))

    def each(self, many: int, work: Callable[[int], None]) -> None:
        """Call ``work(i)`` once for every i below ``many``, some of them by the crew."""
        if self.engine.crew is None or many == 1:
            for k in range(many):
                work(k)
        else:
            self.engine.crew.each(many, work)

    def unfolded(self, node: Node) -> Node:
        """What a node stands for, where that is another one."""
        while isinstance(node.op, Unfolding):
            node = node.op.unfold(node, *[self.fetched(need) for need in node.op.needs(node)])
        return node

    def _made(self, node: Node, grid: Grid, window: Window) -> Array:
        """A window inside one tile, made now."""
        op = _local(node)
        inputs = [self.fetched(need) for need in op.needs(node, grid, window)]
        here = Here(grid, window, node.home, self.engine.stripes, self.cancel)
        with self._watched(node, grid):
            return op.make(here, node.params, *inputs)

    def _watched(self, node: Node, grid: Grid) -> AbstractContextManager[None]:
        """Written down while it is worked out, where somebody watches."""
        watch = self.engine.watch
        return nullcontext() if watch is None else watch.over(held_key(node, grid, "made"), node.op.name)

    def fetched(self, need: Need, tell: Tell | None = None, cancel: Cancel | None = None) -> Any:
        """What an operation needs, made or held."""
        if need is None:
            return None
        if isinstance(need, OnWindow):
            fetch = self._passing if need.passing else self.window
            return fetch(need.node, need.grid, need.window)
        if isinstance(need, AllOf):
            light = need.passing and self._is_light(need.node)
            return self._sooner_made(need.node) if light else self.whole(need.node, need.plane)
        if isinstance(need, EveryTile):
            return self._every_tile(need, tell, cancel)
        path = self.engine.asset_path(need.asset)
        if need.foreign:
            return self.engine.reads(need.reader, path, *need.arguments, cancel=self.cancel)
        return need.reader(path, *need.arguments)

    def _passing(self, node: Node, grid: Grid, window: Window) -> Array:
        """``node`` on a window inside one tile, for an operation that needs nothing around it.

        At final sizes, and for unsaved states, what is made sample by sample is not kept between lines: it is quicker
        made than stored.
        """
        node = self.unfolded(node)
        passing = not self._keep or max(grid.rows, grid.cols) > REFERENCE_LONG_SIDE
        if not _local(node).by_sample or not passing or node.depth % DEEP == 0:
            return self.window(node, grid, window)
        held = self.engine.cache.peek(tile_key(node, grid, window.row0 // TILE, window.col0 // TILE))
        if held is not None and (held.shape[-2:] if _local(node).stacked else held.shape[:2]) == window.shape:
            return held
        raise_if(self.cancel)
        return self._made(node, grid, window)

    def _every_tile(self, need: EveryTile, tell: Tell | None, cancel: Cancel | None) -> Tiles:
        node, grid = self.unfolded(need.node), need.grid
        tiles = tiles_over(grid.whole)
        for done, (i, j) in enumerate(tiles, 1):
            raise_if(cancel or self.cancel)
            window = grid.tile_window(i, j)
            yield window, self._made(node, grid, window)
            if tell is not None:
                tell(done / len(tiles))

    def _has_tile(self, node: Node, grid: Grid, i: int, j: int) -> bool:
        key = tile_key(node, grid, i, j)
        return self.engine.cache.peek(key) is not None or (not self._keep and self.engine.scratch.peek(key) is not None)

    def _from_below(self, node: Node, grid: Grid, i: int, j: int) -> None:
        """Make every so many of the operations below a node first, deepest first.

        One operation asks for the next: a recipe of hundreds of lines would nest as deep as it is long. Below a
        whole-ground operation only others of its kind are made, on their own grids.
        """
        stack = [(n, False) for n in node.inputs]
        seen: set[tuple[str, bool]] = set()
        first: dict[str, Node] = {}
        while stack:
            n, under = stack.pop()
            if (n.key, under) in seen or n.depth < DEEP:
                continue
            seen.add((n.key, under))
            if isinstance(n.op, MadeOnce):
                first[n.key], under = n, True
            elif n.depth % DEEP == 0 and not under and isinstance(n.op, Local):
                if self._has_tile(n, grid, i, j):
                    continue
                first[n.key] = n
            stack += [(below, under) for below in n.inputs]
        for n in sorted(first.values(), key=lambda n: n.depth):
            if isinstance(n.op, MadeOnce):
                self.whole(n)
            else:
                self.tile(n, grid, i, j)

    # Whole-ground operations ------------------------------------------------------------------------------------

    def whole(self, node: Node, plane: str | None = None) -> Array:
        """One result of a whole-ground operation (by default its first), on its own grid: from memory, disk or
        computed now."""
        op = _whole(node)
        grid, name = op.grid(node), plane or op.planes[0]
        return self.held(node, grid, name, lambda: self._planes(node, grid)[name])

    def _planes(self, node: Node, grid: Grid) -> dict[str, Array]:
        op = _whole(node)
        cost = op.cost(node, grid)
        if not cost.long:
            return self._worked(node, grid, cost, None, self.cancel)
        key = held_key(node, grid, "run")
        with self.engine.aside(), self.engine.locks.hold(key, self.cancel):
            kept = {name: self._kept(held_key(node, grid, name)) for name in op.planes}
            if all(value is not None for value in kept.values()):
                return {name: value for name, value in kept.items() if value is not None}
            raise_if(self.cancel)
            with self.engine.board.task(key, self._owner, cost.title, self.cancel, cost.bytes) as (task, cancel):
                made = self._worked(node, grid, cost, task.tell, cancel)
            keep = self._keep or op.lasting
            store = self.engine.cache if keep else self.engine.scratch
            for name, value in made.items():
                store.offer(held_key(node, grid, name), value)
                if self.engine.disk and keep:
                    self.engine.disk.save(held_key(node, grid, name), value)
            return made

    def _worked(self, node: Node, grid: Grid, cost: Cost, tell: Tell | None, cancel: Cancel | None) -> dict[str, Array]:
        """All results, made now: what is needed is gathered first, then room for the work is taken."""
        op = _whole(node)
        raise_if(cancel)
        inputs = [self.fetched(need, tell, cancel) for need in op.needs(node, grid)]
        more = {} if tell is None else {"tell": tell}
        here = Here(grid, grid.whole, node.home, self.engine.stripes, cancel, **more)
        with self._room(cost, cancel), self._watched(node, grid):
            made = op.make(here, node.params, *inputs)
        return made if isinstance(made, dict) else {ALL: made}

    @contextmanager
    def _room(self, cost: Cost, cancel: Cancel | None) -> Iterator[None]:
        """Memory for work, of which as much less is held meanwhile."""
        if not cost.bytes:
            yield
            return
        with self.engine.room.take(cost.bytes, cost.title, cancel), self.engine.cache.lending(cost.bytes):
            yield

    def _is_light(self, node: Node) -> bool:
        grid = _whole(node).grid(node)
        return _whole(node).cost(node, grid).light and self.engine.cache.peek(held_key(node, grid, ALL)) is None

    def _sooner_made(self, node: Node) -> Array:
        """What is quickly made again is not held: of a chain of quick steps only the last holds a whole ground."""
        grid = _whole(node).grid(node)
        return self._worked(node, grid, _whole(node).cost(node, grid), None, self.cancel)[ALL]

    # What is held -----------------------------------------------------------------------------------------------

    def held(self, node: Node, grid: Grid, part: str, compute: Callable[[], Array]) -> Array:
        """A part of what ``node`` is on ``grid`` (a tile, a plane), from memory or computed now."""
        key = held_key(node, grid, part)
        if self._keep or (isinstance(node.op, MadeOnce) and node.op.lasting):
            return self.engine.cache.get(key, compute, self.cancel)
        saved = self.engine.cache.peek(key)
        return self.engine.scratch.get(key, compute, self.cancel) if saved is None else saved

    def _kept(self, key: str) -> Array | None:
        held = self.engine.cache.peek(key)
        return self.engine.disk.load(key) if held is None and self.engine.disk else held

    def is_quick(self, node: Node) -> bool:
        """Whether every long computation that ``node`` needs has been done already."""
        return next(self.undone(node), None) is None

    def undone(self, node: Node) -> Iterator[Node]:
        """Long computations that ``node`` needs and that are not there yet; not those that they need themselves."""
        seen: set[str] = set()
        stack = [node]
        while stack:
            n = stack.pop()
            if n.key in seen:
                continue
            seen.add(n.key)
            if isinstance(n.op, MadeOnce) and n.op.cost(n, n.op.grid(n)).long:
                if not self._is_there(held_key(n, n.op.grid(n), n.op.planes[0])):
                    yield n
            else:
                stack += n.inputs

    def _is_there(self, key: str) -> bool:
        if self.engine.cache.peek(key) is not None:
            return True
        return self.engine.disk is not None and self.engine.disk.has(key)


def _local(node: Node) -> Local:
    assert isinstance(node.op, Local), node.op.name
    return node.op


def _whole(node: Node) -> MadeOnce:
    assert isinstance(node.op, MadeOnce), node.op.name
    return node.op
