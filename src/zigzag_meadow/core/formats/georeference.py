"""Where a file says that it lies in the world, as its tags have it."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import tifffile

from zigzag_meadow.core.formats.decoding import decoding

__all__ = ["GeoReference", "georeference_of"]

_SCALE, _TIES, _KEYS, _DOUBLES, _TEXTS = 33550, 33922, 34735, 34736, 34737
_RASTER_TYPE = 1025
_POINTS = 2


@dataclass(frozen=True, slots=True)
class GeoReference:
    """``keys``, ``doubles``, ``texts``: the reference system as tags. ``west``, ``north``: of the outermost samples'
    north-west corner in the units of that system, ``per_x``, ``per_y``: such units a sample."""

    keys: tuple[int, ...]
    doubles: tuple[float, ...]
    texts: str
    west: float
    north: float
    per_x: float
    per_y: float
    points: bool


def georeference_of(path: Path, name: str) -> GeoReference | None:
    """The reference of a TIFF; None where it has none, or one that turns. Raises :class:`BadFile` when damaged."""
    with path.open("rb") as file:
        if file.read(4)[:2] not in (b"II", b"MM"):
            return None
    with decoding(name, "TIFF"), tifffile.TiffFile(path) as tiff:
        tags = tiff.pages[0].tags  # type: ignore[union-attr]
        scale, ties, keys = (tags.valueof(code) for code in (_SCALE, _TIES, _KEYS))
        doubles, texts = tags.valueof(_DOUBLES), tags.valueof(_TEXTS)
    if not scale or not ties or not keys or len(ties) != 6 or len(scale) < 2 or min(scale[:2]) <= 0 or len(keys) > 4096:
        return None
    points = any(keys[at] == _RASTER_TYPE and keys[at + 3] == _POINTS for at in range(4, len(keys) - 3, 4))
    col, row, _, east, north, _ = (float(v) for v in ties)
    many = doubles if isinstance(doubles, tuple) else () if doubles is None else (doubles,)
    return GeoReference(
        tuple(int(k) for k in keys), tuple(float(v) for v in many), str(texts or ""),
        east - col * float(scale[0]), north + row * float(scale[1]), float(scale[0]), float(scale[1]), points,
    )  # fmt: skip
