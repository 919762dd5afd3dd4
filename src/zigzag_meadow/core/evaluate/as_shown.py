"""Maps as large as a screen shows them, for as long as a hand moves.

Readings are what they are at full size, reduced by an exact box: they are never measured anew on a coarser grid. What
recipes make of them is worked out on the grid that is shown, in one window, and kept until the hand has gone on, so
that a moving number makes anew only what hangs on it.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.evaluate.cache import raise_if
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.grid import Grid, Window, reference_grid
from zigzag_meadow.core.map_name import MapName
from zigzag_meadow.core.nodes.node import Node, held_key
from zigzag_meadow.core.nodes.operation import ALL, AllOf, Here, Local, MadeOnce, Need, OnWindow
from zigzag_meadow.core.resample import resample

__all__ = ["MOST_DEEP", "Shown"]

Array = NDArray[Any]
MOST_DEEP = 100
"""Operations one upon the other, above which maps are made the usual way: here each asks for the next."""


class Shown:
    """Maps of an evaluation on ``grid``, a coarser grid of the same extent as its reference grid, or that itself."""

    def __init__(self, evaluation: Evaluation, grid: Grid) -> None:
        self.evaluation = evaluation
        self.grid = grid
        self.full = reference_grid(evaluation.home)
        self._scratch = evaluation.engine.scratch

    def map(self, name: MapName | str, window: Window) -> Array:
        """The map called ``name`` on a window of the grid; as :meth:`Evaluation.map`.

        Nearly what that would be there: edges between samples lie where reduced readings put them, and what hangs
        on the whole ground (small areas, the way of the water) is found on the grid that is shown. Raises
        :class:`Cancelled`.
        """
        return self.window(self.evaluation.graph.named(name), window)

    def window(self, node: Node, window: Window) -> Array:
        """The map that a node makes, as :meth:`map`."""
        if node.depth > MOST_DEEP:
            return self.evaluation.window(node, self.grid, window)
        return self._window(node, window)

    def _window(self, node: Node, window: Window) -> Array:
        node = self.evaluation.unfolded(node)
        if node.key in self.evaluation.graph.measured:
            return self._reduced(node)[window.row0 : window.row1, window.col0 : window.col1]
        part = f"shown_{window.row0}_{window.row1}_{window.col0}_{window.col1}"
        key = held_key(node, self.grid, part)
        return self._scratch.get(key, lambda: self._made(node, window), self.evaluation.cancel)

    def _reduced(self, node: Node) -> Array:
        """A reading in its full size, brought to the grid."""

        def made() -> Array:
            values = self.evaluation.window(node, self.full, self.full.whole)
            if self.full == self.grid:
                return values.view()
            # Directions have no mean, and gaps must not spread.
            plain = self.evaluation.graph.measured[node.key].wraps or bool(np.isnan(values.sum(dtype=np.float32)))
            return resample(values, self.full, self.grid, "nearest" if plain else "linear")

        return self._scratch.get(held_key(node, self.grid, "reduced"), made, self.evaluation.cancel)

    def _made(self, node: Node, window: Window) -> Array:
        raise_if(self.evaluation.cancel)
        assert isinstance(node.op, Local), node.op.name
        needs = node.op.needs(node, self.grid, window)
        inputs = [self._fetched(need) for need in needs]
        # What was found on the grid that is shown is laid on it as if that were the ground's own.
        rough = any(isinstance(need, AllOf) and self._is_rough(need.node) for need in needs)
        home = self.grid if rough else node.home
        return node.op.make(self._here(window, home), node.params, *inputs)

    def _here(self, window: Window, home: Grid | None) -> Here:
        return Here(self.grid, window, home, self.evaluation.engine.stripes, self.evaluation.cancel)

    def _fetched(self, need: Need) -> Any:
        if isinstance(need, OnWindow) and need.grid == self.grid:
            return self._window(need.node, need.window)
        if isinstance(need, AllOf) and self._is_rough(need.node):
            return self._whole(need.node, need.plane)
        return self.evaluation.fetched(need)

    @staticmethod
    def _is_rough(node: Node) -> bool:
        return isinstance(node.op, MadeOnce) and node.op.roughly

    def _whole(self, node: Node, plane: str) -> Array:
        op = node.op
        assert isinstance(op, MadeOnce), op.name

        def made() -> Array:
            raise_if(self.evaluation.cancel)
            inputs = [self._fetched(need) for need in op.needs(node, self.grid)]
            found = op.make(self._here(self.grid.whole, self.grid), node.params, *inputs)
            if not isinstance(found, dict):
                return found
            for name, values in found.items():
                self._scratch.offer(held_key(node, self.grid, f"shown_{name}"), values)
            return found[plane]

        name = op.planes[0] if plane == ALL else plane
        return self._scratch.get(held_key(node, self.grid, f"shown_{name}"), made, self.evaluation.cancel)
