"""Where a file says that it lies in the world, as its tags have it."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import tifffile

from zigzag_meadow.core.formats.reading.decoding import decoding

__all__ = ["MATRIX", "GeoReference", "georeference_of", "reals"]

_SCALE, _TIES, MATRIX, _KEYS, _DOUBLES, _TEXTS = 33550, 33922, 34264, 34735, 34736, 34737
_RASTER_TYPE = 1025
_POINTS = 2
_KEYS_AT_MOST = 4096
Pair = tuple[float, float]


def reals(value: Any, least: int) -> tuple[float, ...] | None:
    """The first ``least`` numbers of a tag; None where it holds anything else: tags are as others left them."""
    many = value if isinstance(value, tuple | list) else (value,)
    if len(many) < least or not all(isinstance(v, int | float) and math.isfinite(v) for v in many[:least]):
        return None
    return tuple(float(v) for v in many[:least])


@dataclass(frozen=True, slots=True)
class GeoReference:
    """``keys``, ``doubles``, ``texts``: the reference system as tags. ``origin``: east and north, in the units of that
    system, of where columns and rows are counted from: the first sample if samples are ``points``, else the outer
    corner of its cell. ``col``, ``row``: how far east and north one column and one row more lie."""

    keys: tuple[int, ...]
    doubles: tuple[float, ...]
    texts: str
    origin: Pair
    col: Pair
    row: Pair
    points: bool

    @property
    def first(self) -> Pair:
        """East and north of the first sample."""
        return self.at(0.0, 0.0) if self.points else self.at(0.5, 0.5)

    def at(self, col: float, row: float) -> Pair:
        """East and north so many columns and rows on."""
        east, north = (o + col * c + row * r for o, c, r in zip(self.origin, self.col, self.row, strict=True))
        return east, north

    def counted_back(self, col: float | None, row: float | None) -> GeoReference:
        """The same, with columns or rows counted back from there."""
        return replace(
            self,
            origin=self.at(col or 0.0, row or 0.0),
            col=self.col if col is None else (-self.col[0], -self.col[1]),
            row=self.row if row is None else (-self.row[0], -self.row[1]),
        )

    @property
    def upright(self) -> bool:
        """Columns run east and rows south."""
        return self.col[1] == 0 == self.row[0] and self.col[0] > 0 > self.row[1]


def georeference_of(path: Path, name: str) -> GeoReference | None:
    """The reference of a TIFF; None where it has none. Raises :class:`BadFile` when damaged."""
    with path.open("rb") as file:
        if file.read(4)[:2] not in (b"II", b"MM"):
            return None
    with decoding(name, "TIFF"), tifffile.TiffFile(path) as tiff:
        tags = tiff.pages[0].tags  # type: ignore[union-attr]
        scale, ties, matrix, keys, doubles = (
            _numbers(tags.valueof(code)) for code in (_SCALE, _TIES, MATRIX, _KEYS, _DOUBLES)
        )
        texts = tags.valueof(_TEXTS)
    laid = _laid(scale, ties, matrix)
    if not 0 < len(keys) <= _KEYS_AT_MOST or laid is None:
        return None
    points = any(keys[at] == _RASTER_TYPE and keys[at + 3] == _POINTS for at in range(4, len(keys) - 3, 4))
    return GeoReference(tuple(int(k) for k in keys), doubles, str(texts or ""), *laid, points)


def _numbers(value: object) -> tuple[float, ...]:
    """All numbers of a tag, or none."""
    return reals(value, len(value) if isinstance(value, tuple) else 1) or ()


def _laid(
    scale: tuple[float, ...], ties: tuple[float, ...], matrix: tuple[float, ...]
) -> tuple[Pair, Pair, Pair] | None:
    """Origin, column and row: by one tie point and a scale, else by a matrix (OGC GeoTIFF 1.1, section 7.1)."""
    if len(ties) == 6 and len(scale) >= 2 and min(scale[:2]) > 0:
        per_x, per_y = scale[:2]
        col, row, _, east, north, _ = ties
        return (east - col * per_x, north + row * per_y), (per_x, 0.0), (0.0, -per_y)
    if len(matrix) == 16 and abs(matrix[0] * matrix[5] - matrix[1] * matrix[4]) > 0:
        return (matrix[3], matrix[7]), (matrix[0], matrix[4]), (matrix[1], matrix[5])
    return None
