"""A look's textures as square pictures, for choosing and for drawing near ground."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.colour.surface import normals
from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.looks.texture import shown
from zigzag_meadow.core.nodes.node import held_key

__all__ = ["texture_picture"]


def _averaged(values: NDArray[np.float32], side: int) -> NDArray[np.float32]:
    rows = np.linspace(0, values.shape[0], side + 1).astype(int)
    cols = np.linspace(0, values.shape[1], side + 1).astype(int)
    sums = np.add.reduceat(np.add.reduceat(values, rows[:-1], axis=0), cols[:-1], axis=1)
    counts = np.diff(rows)[:, None, None] * np.diff(cols)[None, :, None]
    made: NDArray[np.float32] = (sums / counts).astype(np.float32)
    return made


def texture_picture(evaluation: Evaluation, look_id: str, part: str, side: int) -> tuple[NDArray[np.uint8], Grid, str]:
    """(uint8 (side, side, 3), its grid in metres, its key): ``albedo`` sRGB-coded, ``normal`` with green up and
    roughness told nowhere. Raises :class:`NotFound` for a look or part that is not there."""
    texture = evaluation.graph.painting.texture(look_id)
    if texture is None:
        raise NotFound("That look is no longer there. Choose another for the layers that wore it.", field="look")
    if part not in ("albedo", "normal"):
        raise NotFound(f"A look shows its albedo or its normal, not {part!r}.", field="part")
    own = texture.node.grid
    fit = min(side, own.rows, own.cols)
    grid = Grid(fit, fit, texture.size * own.rows / own.cols / fit, texture.size / fit, "area")
    key = held_key(texture.node, grid, part)
    if part == "albedo":
        return shown(evaluation.whole(texture.node, "albedo"), fit), grid, key
    surface = _averaged(evaluation.whole(texture.node, "surface").astype(np.float32), fit)
    made = normals(surface[..., 0], surface[..., 1])
    return np.floor(made * 255 + 0.5).astype(np.uint8), grid, key
