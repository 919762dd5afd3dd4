"""What a colour map gains at a finer size, beside the same merely enlarged."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.resample import resample
from zigzag_meadow.core.srgb import to_whole

__all__ = ["detail_beside_plain"]

SIDE = 384
"""Samples a side of each of the two pictures, at most."""


def detail_beside_plain(
    evaluation: Evaluation, name: str, row: int, col: int, finer: int
) -> tuple[NDArray[np.uint8], Grid]:
    """(uint8 (rows, 2 × columns, 3), the finer grid): the part of a colour or surface map about a home sample, made
    ``finer`` times as fine, and beside it the home map enlarged by Catmull–Rom.

    Raises :class:`BadNumber` for a place that is not on the ground, :class:`NotFound` for a map that is none.
    """
    home = evaluation.home
    if not (0 <= row < home.rows and 0 <= col < home.cols):
        raise BadNumber(f"Row and column must be on the ground, got {row}, {col}.", field="row")
    less = 1 if home.registration == "vertex" else 0
    fine = home.resized((home.rows - less) * finer + less, (home.cols - less) * finer + less)
    side = min(SIDE // finer, *(n - 1 for n in home.shape))
    row0, col0 = (min(max(at - side // 2, 0), n - 1 - side) for at, n in ((row, home.rows), (col, home.cols)))
    # On vertices both windows end on a sample of both grids, on cells on a border of both.
    coarse = Window(row0, row0 + side + less, col0, col0 + side + less)
    window = Window(row0 * finer, (row0 + side) * finer + less, col0 * finer, (col0 + side) * finer + less)
    node, coded = evaluation.graph.painting.light(name)
    made = _three(evaluation.window(node, fine, window))
    plain = _three(evaluation.window(node, home, coarse))
    small = Grid(*coarse.shape, home.dy, home.dx, home.registration)
    large = small.resized(*window.shape)
    enlarged = np.stack([resample(np.ascontiguousarray(plain[..., k]), small, large, "mask") for k in range(3)], axis=2)
    pair = np.concatenate([made, enlarged], axis=1)
    return to_whole(np.ascontiguousarray(pair), as_coded=coded), fine


def _three(values: NDArray[np.float32]) -> NDArray[np.float32]:
    return values if values.ndim == 3 else np.repeat(values[..., None], 3, axis=2)
