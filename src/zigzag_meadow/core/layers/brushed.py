"""The layer brush: strokes after sharing that raise one layer and lower the others in proportion."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.masks.strokes import Stroke, read_strokes, stroke_cover
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, FromFile, Here, Local, Need, Numbers, OnWindow

__all__ = ["brushed", "raised"]

F32 = NDArray[np.float32]


def raised(weights: F32, place: int, cover: F32, lower: bool = False) -> F32:
    """Weights (float32 (layers, rows, columns), adding up to 1) with layer ``place`` raised towards 1 by ``cover``
    (float32 0–1), or with ``lower`` towards 0; the others make room in proportion, and sums stay 1.

    Where a layer is all there is, what is taken from it goes to the first of the others.
    """
    own = weights[place].astype(np.float64)
    new = own * (1 - cover) if lower else own + cover * (1 - own)
    rest = 1 - own
    alone = rest <= 1e-9
    scale = np.where(alone, 0, (1 - new) / np.where(alone, 1, rest))
    out = (weights * scale).astype(np.float32)
    out[place] = new
    if lower and len(weights) > 1:
        heir = 0 if place != 0 else 1
        out[heir] = np.where(alone, 1 - new, out[heir])
    elif lower:
        out[place] = own
    return out


def _needs(node: Node, grid: Grid, window: Window) -> Sequence[Need]:
    weights, *only = node.inputs
    file = FromFile(node.params["asset"], read_strokes, foreign=False)
    return [file, OnWindow(weights, grid, window, passing=True), *(OnWindow(n, grid, window) for n in only)]


def _made(here: Here, numbers: Numbers, strokes: Sequence[Stroke], weights: Array, only: Array | None = None) -> Array:
    for stroke in strokes:
        cover = stroke_cover(stroke, here.grid, here.window)
        if only is not None:
            cover *= only
        if cover.any():
            weights = raised(weights, numbers["place"], cover, stroke.mode == "take_away")
    return weights.copy()


BRUSHED = Local(name="brushed", version=2, needs=_needs, make=_made, stacked=True)


def brushed(weights: Node, place: int, asset: str, only: Node | None) -> Node:
    """The stack of weights after the strokes of a file, each acting only where ``only`` says so."""
    return Node(BRUSHED, {"place": place, "asset": asset}, (weights,) if only is None else (weights, only))
