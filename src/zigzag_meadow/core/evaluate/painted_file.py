"""Colour and surface maps as files, written band by band at any size over the ground's extent."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadNumber, WrongFormat
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.formats.catalogue import format_named
from zigzag_meadow.core.formats.declare import Form
from zigzag_meadow.core.formats.limits import LONGEST_SIDE, SHORTEST_SIDE
from zigzag_meadow.core.formats.writing.png_stream import PngWriter
from zigzag_meadow.core.formats.writing.raster import DTYPES, Raster, SampleKind
from zigzag_meadow.core.grid import Grid, Registration, Window
from zigzag_meadow.core.map_name import MapName, StrongestName
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.rounding import quantise_mask
from zigzag_meadow.core.srgb import to_whole
from zigzag_meadow.core.stripes import Stripes

__all__ = ["DEPTHS", "Depth", "PaintedSize", "painted_grid", "painted_sizes", "write_painted"]

Depth = Literal["8", "8d", "16", "float"]
DEPTHS: dict[Depth, tuple[str, SampleKind, str]] = {
    "8": ("png8", "u8", "8 bits"),
    "8d": ("png8", "u8", "8 bits, dithered"),
    "16": ("png16", "u16", "16 bits"),
    "float": ("tiff32f", "f32", "float, linear light"),
}
"""Per depth: the form that it is written in unless another is asked for, its samples, and what it is called."""
BAND = 256


@dataclass(frozen=True, slots=True)
class PaintedSize:
    """A size that a colour map may have, and why it fits."""

    rows: int
    cols: int
    registration: Registration
    title: str


def _whole(many: int) -> str:
    return {1: "as many samples as the ground", 2: "twice as fine", 3: "three times as fine"}.get(
        many, f"{many} times as fine"
    )


def painted_sizes(home: Grid) -> list[PaintedSize]:
    """Sizes on offer: k·(n − 1) + 1 on the ground's vertices, k·n on its cells, powers of two over the same extent."""
    rows, cols = (home.rows - 1, home.cols - 1) if home.registration == "vertex" else home.shape
    made = []
    for k in range(1, 17):
        if k & (k - 1) and k != 3:
            continue
        if max(rows, cols) * k + 1 <= LONGEST_SIDE:
            made.append(PaintedSize(rows * k + 1, cols * k + 1, "vertex", f"on vertices, {_whole(k)}"))
        if max(rows, cols) * k <= LONGEST_SIDE:
            made.append(PaintedSize(rows * k, cols * k, "area", f"on cells, {_whole(k)}"))
    for power in range(8, 14):
        long = 2**power
        short = max(round(long * min(rows, cols) / max(rows, cols)), 2)
        short = 2 ** round(np.log2(short))
        pair = (short, long) if rows <= cols else (long, short)
        made.append(PaintedSize(*pair, "area", "a power of two, on cells"))
    return made


def painted_grid(home: Grid, rows: int, cols: int, registration: Registration) -> Grid:
    """The ground's extent with other counts. Raises :class:`BadNumber` beyond what can be written."""
    if not (min(rows, cols) >= SHORTEST_SIDE and max(rows, cols) <= LONGEST_SIDE):
        raise BadNumber(
            f"A map has {SHORTEST_SIDE} to {LONGEST_SIDE} samples a side, got {cols} × {rows}.", field="rows"
        )
    return home.resized(rows, cols, registration)


def _bands(evaluation: Evaluation, node: Node, grid: Grid) -> Iterator[tuple[int, NDArray[Any]]]:
    for row0 in range(0, grid.rows, BAND):
        yield row0, evaluation.window(node, grid, Window(row0, min(row0 + BAND, grid.rows), 0, grid.cols))


def write_painted(
    evaluation: Evaluation,
    name: MapName,
    grid: Grid,
    path: Path,
    chosen: Form,
    stripes: Stripes,
    *,
    dither: bool = False,
    tell: Callable[[float], None] = lambda share: None,
) -> str:
    """Write a colour or surface map (see :meth:`Painting.light`) to ``path``; returns what was written, in words.

    Whole numbers hold colours as sRGB, tagged where the form can, floats in linear light; surface maps are data,
    untagged. *strongest* is numbers with a palette, whatever the form. No more than a band of it is held. Raises
    :class:`NotFound` for a map that is none, :class:`WrongFormat` for a form that cannot hold it, and
    :class:`Cancelled`.
    """
    if isinstance(name, StrongestName):
        return _write_numbers(evaluation, grid, path, stripes, tell)
    node, coded = evaluation.graph.painting.light(name)
    channels = 1 if evaluation.window(node, grid, Window(0, 1, 0, 1)).ndim == 2 else 3
    lost = chosen.losses("rgb"[:channels], 8, coded, str(name))
    if lost is not None:
        raise WrongFormat(f"{lost} Choose another format.")
    tagged = coded and chosen.colours == "tagged"
    raster = Raster(
        grid.rows,
        grid.cols,
        channels,
        chosen.sample,
        srgb=tagged,
        packed=False,
        vertex=grid.registration == "vertex",
        spacing=(grid.dy, grid.dx) if chosen.places else (1.0, 1.0),
    )
    with chosen.open(path, raster, stripes) as out:
        for row0, band in _bands(evaluation, node, grid):
            if chosen.floats:
                out.write(np.ascontiguousarray(band, DTYPES[chosen.sample]))
            elif channels == 1:
                out.write(quantise_mask(band, chosen.bits))
            else:
                out.write(to_whole(band, chosen.bits, as_coded=coded, dither=dither, first=(row0, 0)))
            tell((row0 + len(band)) / grid.rows)
    what = "linear light" if chosen.floats else "sRGB" if tagged else "sRGB, untagged"
    what = what if coded else "data" if chosen.floats else "data, untagged"
    bits = f"{chosen.bits}-bit float" if chosen.floats else f"{chosen.bits} bits"
    return f"{format_named(chosen.reads).title}, {what}, {bits}{', dithered' if dither else ''}"


def _write_numbers(
    evaluation: Evaluation, grid: Grid, path: Path, stripes: Stripes, tell: Callable[[float], None]
) -> str:
    """The number of the strongest layer at each sample, with the layers' colours as palette."""
    outcomes = evaluation.project.outcomes
    palette = [(int(c[1:3], 16), int(c[3:5], 16), int(c[5:7], 16)) for c in (item.colour for item in outcomes)]
    node = evaluation.graph.painting.strongest()
    with PngWriter(path, grid.rows, grid.cols, 1, 8, stripes, palette=palette) as png:
        for row0, band in _bands(evaluation, node, grid):
            png.write(band)
            tell((row0 + len(band)) / grid.rows)
    return "PNG, numbers with a palette: " + ", ".join(f"{at} {item.name}" for at, item in enumerate(outcomes))
