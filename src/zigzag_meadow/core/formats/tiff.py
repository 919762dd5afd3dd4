"""TIFF and georeferenced TIFF: 8, 16 and 32-bit float, with what they say about spacing, no-data and units."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any

import numpy as np
import tifffile
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadFile, WrongFormat
from zigzag_meadow.core.formats.decoding import decoding
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.limits import check_memory, check_size
from zigzag_meadow.core.formats.stored import Placement, Stored, narrowed

__all__ = ["metres_a_degree", "read_tiff"]

_DEPTHS = {"uint8": "8", "int8": "8 signed", "uint16": "16", "int16": "16 signed", "float16": "16f", "float32": "32f",
           "float64": "64f"}  # fmt: skip
_BYTES = {"8": 1, "8 signed": 1, "16": 2, "16 signed": 2, "16f": 2, "32f": 4, "64f": 8}
_FOOT = {9001: 1.0, 9002: 0.3048, 9003: 1200 / 3937}


def metres_a_degree(latitude: float) -> tuple[float, float]:
    """(north–south, east–west) metres that a degree spans at a latitude, on the GRS 80 ellipsoid.

    Reference: Snyder 1987, Map projections: a working manual, USGS Professional Paper 1395, equations 4-19 and 4-20.
    """
    a, e2 = 6378137.0, 0.00669438002290
    s = math.sin(math.radians(latitude))
    w = math.sqrt(1 - e2 * s * s)
    return math.pi / 180 * a * (1 - e2) / w**3, math.pi / 180 * a / w * math.cos(math.radians(latitude))


def _reals(value: Any, least: int) -> tuple[float, ...] | None:
    """The first ``least`` numbers of a tag; None where it holds anything else: tags are as others left them."""
    many = value if isinstance(value, tuple | list) else (value,)
    if len(many) < least or not all(isinstance(v, int | float) and math.isfinite(v) for v in many[:least]):
        return None
    return tuple(float(v) for v in many[:least])


def _code(tags: dict[str, Any], key: str, otherwise: int) -> int:
    values = _reals(tags.get(key), 1)
    return int(values[0]) if values is not None else otherwise


def _placement(page: Any, tags: dict[str, Any], rows: int) -> Placement | None:
    scale = _reals(tags.get("ModelPixelScale") or page.tags.valueof("ModelPixelScaleTag"), 2)
    if scale is None or min(scale) <= 0:
        return None
    sx, sy = scale
    points = _code(tags, "GTRasterTypeGeoKey", 1) == 2
    if _code(tags, "GTModelTypeGeoKey", 1) == 2:
        tie = _reals(tags.get("ModelTiepoint"), 6) or (0.0,) * 6
        middle = tie[4] - sy * rows / 2
        north, east = metres_a_degree(min(max(middle, -89.0), 89.0))
        says = f"{sx:g}° by {sy:g}° at latitude {middle:.2f}°"
        return Placement(sy * north, sx * east, "vertex" if points else "area", True, says)
    unit = _FOOT.get(_code(tags, "ProjLinearUnitsGeoKey", 9001), 1.0)
    says = f"{sx * unit:g} m by {sy * unit:g} m, samples are {'points' if points else 'cells'}"
    return Placement(sy * unit, sx * unit, "vertex" if points else "area", True, says)


def _count(value: Any, name: str) -> int:
    """A whole number of a tag. Raises :class:`BadFile` where it holds anything else."""
    if not isinstance(value, int) or value < 0:
        raise BadFile(f"{name} is damaged: its header makes no sense. Save it again.")
    return value


def _nodata(page: Any) -> float | None:
    text = page.tags.valueof("GDAL_NODATA") or page.tags.valueof(42113)
    try:
        value = float(str(text).strip("\0 "))
    except ValueError:
        return None
    return value if math.isfinite(value) else None


def read_tiff(path: Path, name: str, layout: Layout) -> Stored:
    """A heightmap in a TIFF. Raises :class:`BadFile` when damaged, :class:`WrongFormat` for other depths."""
    size = path.stat().st_size
    with decoding(name, "TIFF"), tifffile.TiffFile(path) as tiff:
        page = tiff.pages[0]
        if not isinstance(page, tifffile.TiffPage):
            raise BadFile(f"{name} is damaged: its first image cannot be found.")
        rows, cols = _count(page.imagelength, name), _count(page.imagewidth, name)
        check_size(rows, cols, name)
        count = _count(page.samplesperpixel, name)
        if page.imagedepth != 1 or count > 4 or page.shape[:2] != (rows, cols):
            raise WrongFormat(f"{name} has {count} channels; a heightmap has one. Save it as grey.")
        if count > 1 and layout.channel is None:
            raise WrongFormat(f"{name} has {count} channels; a heightmap has one. Save it as grey.")
        depth = _DEPTHS.get(str(page.dtype))
        if depth is None:
            raise WrongFormat(f"{name} stores {page.dtype}; heights must have 8 or 16 bits, or be 32-bit float.")
        starts, lengths = ([_count(v, name) for v in part] for part in (page.dataoffsets, page.databytecounts))
        if len(starts) != len(lengths) or any(a + n > size or n == 0 for a, n in zip(starts, lengths, strict=True)):
            raise BadFile(f"{name} is cut short: the file ends before the picture does. Copy it again.")
        check_memory(rows * cols * (count * _BYTES[depth] + 8) + max(lengths, default=0), name)
        samples: NDArray[Any] = page.asarray(maxworkers=1)
        geo = dict(page.geotiff_tags or {}) if page.is_geotiff else {}
        placement, nodata = _placement(page, geo, rows), _nodata(page)
    if samples.ndim == 3:
        samples = samples[..., _channel(layout.channel, count, name)]
    if samples.shape != (rows, cols):
        raise BadFile(f"{name} decodes to another size than it declares.")
    if samples.dtype.kind == "f":
        samples = narrowed(samples)
    native = np.ascontiguousarray(samples.astype(samples.dtype.newbyteorder("="), copy=False))
    return Stored(native, "tiff", depth, nodata=nodata, placement=placement, channel=layout.channel)


def _channel(letter: str | None, count: int, name: str) -> int:
    index = "RGBA".find((letter or "R").upper())
    if not 0 <= index < count:
        raise WrongFormat(f"{name} has no channel {letter}.", field="channel")
    return index
