"""What a colour map gains at a finer size, and a picture by how it is enlarged: each beside the plain way."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.colour.coats.base import SEEN
from zigzag_meadow.core.colour.coats.picture import AerialImage
from zigzag_meadow.core.errors import BadNumber, NotFound
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.readings.colours import sample_of, size_of
from zigzag_meadow.core.resample import resample
from zigzag_meadow.core.srgb import to_whole

__all__ = ["FINEST", "Beside", "detail_beside_plain", "enlarged_beside_plain"]

F32 = NDArray[np.float32]
SIDE = 384
"""Samples a side of each of the two pictures, at most."""
CLOSE_SIDE = 192
"""The same where single samples of a picture are looked at."""
BETWEEN, FINEST = 4, 16
"""A picture is looked at with that many samples between two of its own, on a grid no finer than that many times."""


@dataclass(frozen=True, slots=True)
class _Part:
    """A part of the ground about a home sample, on the home grid and on a finer one."""

    coarse: Window
    fine: Grid
    window: Window


def _part(home: Grid, row: int, col: int, finer: int, most: int) -> _Part:
    if not (0 <= row < home.rows and 0 <= col < home.cols):
        raise BadNumber(f"Row and column must be on the ground, got {row}, {col}.", field="row")
    less = 1 if home.registration == "vertex" else 0
    fine = home.resized((home.rows - less) * finer + less, (home.cols - less) * finer + less)
    side = min(most // finer, *(n - 1 for n in home.shape))
    row0, col0 = (min(max(at - side // 2, 0), n - 1 - side) for at, n in ((row, home.rows), (col, home.cols)))
    # On vertices both windows end on a sample of both grids, on cells on a border of both.
    coarse = Window(row0, row0 + side + less, col0, col0 + side + less)
    window = Window(row0 * finer, (row0 + side) * finer + less, col0 * finer, (col0 + side) * finer + less)
    return _Part(coarse, fine, window)


def detail_beside_plain(
    evaluation: Evaluation, name: str, row: int, col: int, finer: int
) -> tuple[NDArray[np.uint8], Grid]:
    """(uint8 (rows, 2 × columns, 3), the finer grid): the part of a colour or surface map about a home sample, made
    ``finer`` times as fine, and beside it the home map enlarged by Catmull–Rom.

    Raises :class:`BadNumber` for a place that is not on the ground, :class:`NotFound` for a map that is none.
    """
    home = evaluation.home
    part = _part(home, row, col, finer, SIDE)
    node, coded = evaluation.graph.painting.light(name)
    made = _three(evaluation.window(node, part.fine, part.window))
    plain = _three(evaluation.window(node, home, part.coarse))
    small = Grid(*part.coarse.shape, home.dy, home.dx, home.registration)
    large = small.resized(*part.window.shape)
    enlarged = np.stack([resample(np.ascontiguousarray(plain[..., k]), small, large, "mask") for k in range(3)], axis=2)
    return _pair(made, enlarged, coded), part.fine


@dataclass(frozen=True, slots=True)
class Beside:
    """``pixels``: uint8 (rows, 2 × columns, 3), sRGB-coded, on a part of ``grid``; ``sample``: metres on the ground
    that a sample of the picture stands for; ``key`` names all that the pixels depend on."""

    pixels: NDArray[np.uint8]
    grid: Grid
    sample: float
    key: str


def enlarged_beside_plain(evaluation: Evaluation, coat_id: str, row: int, col: int, finer: int | None = None) -> Beside:
    """The colours about a home sample up to an aerial image, as it is laid, and beside them with that image enlarged
    plainly; ``finer`` times as fine as the ground (from 1; None: as fine as it takes to see between the picture's
    samples, and for grain some more).

    Raises :class:`BadNumber` for a place that is not on the ground, :class:`NotFound` for a coat that is no aerial
    image or has no picture yet.
    """
    project = evaluation.project
    at = next((at for at, coat in enumerate(project.coats) if coat.id == coat_id), -1)
    coat = project.coats[at] if at >= 0 else None
    image = evaluation.graph.pictured(coat.picture) if isinstance(coat, AerialImage) else None
    if image is None or not isinstance(coat, AerialImage):
        raise NotFound("That coat lays no picture: bring one in among the readings, or here.", field="coat")
    sample = max(sample_of(image, evaluation.whole(size_of(image))))
    home = evaluation.home
    if finer is None:
        least = BETWEEN if coat.grain > 0 else 1
        finer = min(max(math.ceil(BETWEEN * max(home.dy, home.dx) / sample - 1e-6), least), FINEST)
    part = _part(home, row, col, finer, CLOSE_SIDE)

    def colours(**fields: object) -> tuple[F32, str]:
        shown = coat.changed(muted=False, **fields)
        changed = project.model_copy(update={"coats": (*project.coats[:at], shown)})
        look = evaluation.engine.evaluation(changed, cancel=evaluation.cancel, keep=False)
        node = look.graph.painting.coats(SEEN[coat.seen][0])
        return look.window(node, part.fine, part.window), node.key

    made, key = colours()
    plain, other = colours(enlarged="plainly", grain=0.0)
    return Beside(_pair(made, plain, coded=True), part.fine, sample, f"{key}-{other}-{part.fine.key}-{row}-{col}")


def _pair(left: F32, right: F32, coded: bool) -> NDArray[np.uint8]:
    return to_whole(np.ascontiguousarray(np.concatenate([left, right], axis=1)), as_coded=coded)


def _three(values: F32) -> F32:
    return values if values.ndim == 3 else np.repeat(values[..., None], 3, axis=2)
