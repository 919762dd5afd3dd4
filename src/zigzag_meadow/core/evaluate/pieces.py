"""Windows put together of tiles."""

from __future__ import annotations

import numpy as np

from zigzag_meadow.core.grid import TILE, Grid, Window
from zigzag_meadow.core.nodes.node import Node, held_key
from zigzag_meadow.core.nodes.operation import Array

__all__ = ["cut", "joined", "overlap", "tile_key", "tiles_over"]


def tiles_over(window: Window) -> list[tuple[int, int]]:
    """(row, column) of every tile that a window touches."""
    rows = range(window.row0 // TILE, (window.row1 - 1) // TILE + 1)
    cols = range(window.col0 // TILE, (window.col1 - 1) // TILE + 1)
    return [(i, j) for i in rows for j in cols]


def overlap(part: Window, window: Window) -> Window:
    """The part of a tile that lies in a window."""
    return Window(
        max(part.row0, window.row0),
        min(part.row1, window.row1),
        max(part.col0, window.col0),
        min(part.col1, window.col1),
    )


def tile_key(node: Node, grid: Grid, i: int, j: int) -> str:
    """The key of one tile of a map."""
    return held_key(node, grid, f"{i}_{j}")


def joined(pieces: list[Array], insides: list[Window], window: Window, stack: bool) -> Array:
    """Pieces put together to a window; ``insides``: which part of it each is, ``stack``: planes first."""
    first = pieces[0]
    shape = (first.shape[0], *window.shape) if stack else (*window.shape, *first.shape[2:])
    out = np.empty(shape, first.dtype)
    for inside, piece in zip(insides, pieces, strict=True):
        rows = slice(inside.row0 - window.row0, inside.row1 - window.row0)
        cols = slice(inside.col0 - window.col0, inside.col1 - window.col0)
        out[(slice(None), rows, cols) if stack else (rows, cols)] = piece
    return out


def cut(tile: Array, part: Window, window: Window, stack: bool) -> Array:
    """The part of a tile that is ``window``."""
    if part == window:
        return tile
    rows = slice(window.row0 - part.row0, window.row1 - part.row0)
    cols = slice(window.col0 - part.col0, window.col1 - part.col0)
    return tile[:, rows, cols] if stack else tile[rows, cols]
