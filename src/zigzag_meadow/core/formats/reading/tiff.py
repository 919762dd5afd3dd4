"""TIFF and georeferenced TIFF: 8, 16 and 32-bit float, with what they say about spacing, no-data and units."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
import tifffile
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadFile, WrongFormat
from zigzag_meadow.core.formats.degrees import metres_a_degree
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.limits import check_memory, check_size, check_texture_size
from zigzag_meadow.core.formats.reading.decoding import decoding
from zigzag_meadow.core.formats.reading.georeference import MATRIX, reals
from zigzag_meadow.core.formats.reading.greys import one_channel
from zigzag_meadow.core.formats.stored import Placement, Remark, Stored, finished, narrowed

__all__ = ["read_tiff", "read_tiff_pixels", "read_tiff_texture"]

_DEPTHS = {
    "uint8": "8",
    "int8": "8 signed",
    "uint16": "16",
    "int16": "16 signed",
    "float16": "16f",
    "float32": "32f",
    "float64": "64f",
    "uint32": "32",
    "int32": "32 signed",
}
_BYTES = {"8": 1, "8 signed": 1, "16": 2, "16 signed": 2, "16f": 2, "32f": 4, "64f": 8, "32": 4, "32 signed": 4}
_MOST_METADATA = 64 * 1024
_FOOT = {9001: 1.0, 9002: 0.3048, 9003: 1200 / 3937}


_MODEL, _RASTER, _UNIT = 1024, 1025, 3076
_MOST_KEYS = 4096


def _geo_keys(page: Any) -> dict[int, int]:
    """Keys of the directory that hold their value themselves (OGC GeoTIFF 1.1, section 7.1); a directory that makes no
    sense has none."""
    told = page.tags.get(34735)
    if told is None or not isinstance(told.value, tuple) or len(told.value) > _MOST_KEYS:
        return {}
    keys = [key for key in told.value if isinstance(key, int)]
    return {keys[at]: keys[at + 3] for at in range(4, len(keys) - 3, 4) if keys[at + 1] == 0}


def _placement(page: Any, keys: dict[int, int], rows: int) -> Placement | None:
    scale = reals(page.tags.valueof(33550), 2)
    matrix = reals(page.tags.valueof(MATRIX), 8)
    if scale is None and matrix is not None:
        scale = math.hypot(matrix[0], matrix[4]), math.hypot(matrix[1], matrix[5])
    if scale is None or min(scale) <= 0:
        return None
    sx, sy = scale
    points = keys.get(_RASTER, 1) == 2
    if keys.get(_MODEL, 1) == 2:
        tie = reals(page.tags.valueof(33922), 6) or (0.0,) * 6
        top, down = (tie[4], -sy) if matrix is None else (matrix[7], matrix[5])
        middle = top + down * rows / 2
        north, east = metres_a_degree(min(max(middle, -89.0), 89.0))
        says = f"{sx:g}° by {sy:g}° at latitude {middle:.2f}°"
        return Placement(sy * north, sx * east, "vertex" if points else "area", True, says)
    unit = _FOOT.get(keys.get(_UNIT, 9001), 1.0)
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


def _scale(page: Any, name: str) -> tuple[float, float] | None:
    """The scale and offset that a file asks its numbers to be read with: items of its metadata tag."""
    tag = page.tags.get(42112)
    text = str(tag.value) if tag is not None else ""
    found = {}
    for role in ("scale", "offset"):
        for item in re.findall(r"<Item\b([^>]{0,200})>([^<]{1,60})</Item>", text[:_MOST_METADATA]):
            first = 'sample="' not in item[0] or 'sample="0"' in item[0]
            if f'role="{role}"' in item[0] and first:
                found[role] = item[1].strip()
    if not found:
        return None
    try:
        scale, offset = float(found.get("scale", "1")), float(found.get("offset", "0"))
    except ValueError:
        raise BadFile(f"{name} is damaged: its scale or offset is no number.") from None
    if not (math.isfinite(scale) and math.isfinite(offset)) or scale == 0:
        raise BadFile(f"{name} asks for a scale of {scale:g} and an offset of {offset:g}: there is no such ground.")
    return None if (scale, offset) == (1, 0) else (scale, offset)


@dataclass(frozen=True, slots=True)
class _Decoded:
    """A page of a TIFF: samples of shape (rows, columns) or (rows, columns, channels), and what its tags say."""

    samples: NDArray[Any]
    depth: str
    placement: Placement | None
    nodata: float | None
    scale: tuple[float, float] | None


def _decoded(path: Path, name: str, colours: bool) -> _Decoded:
    """``colours``: whether several channels of any depth are wanted."""
    size = path.stat().st_size
    with decoding(name, "TIFF"), tifffile.TiffFile(path) as tiff:
        page = tiff.pages[0]
        if not isinstance(page, tifffile.TiffPage):
            raise BadFile(f"{name} is damaged: its first image cannot be found.")
        rows, cols = _count(page.imagelength, name), _count(page.imagewidth, name)
        check_size(rows, cols, name)
        count = _count(page.samplesperpixel, name)
        planes = page.planarconfig == 2 and count > 1
        shape = (page.shape[1:] if planes else page.shape)[:2]
        if page.imagedepth != 1 or count > 4 or shape != (rows, cols):
            raise WrongFormat(f"{name} has {count} channels; a heightmap has one. Save it as grey.")
        depth = _DEPTHS.get(str(page.dtype))
        if depth is None:
            raise WrongFormat(f"{name} stores {page.dtype}; heights must have 8, 16 or 32 bits.")
        if count > 1 and depth not in ("8", "16") and not colours:
            raise WrongFormat(f"{name} has {count} channels; a heightmap has one. Save it as grey.", field="channel")
        starts, lengths = ([_count(v, name) for v in part] for part in (page.dataoffsets, page.databytecounts))
        if len(starts) != len(lengths) or any(a + n > size or n == 0 for a, n in zip(starts, lengths, strict=True)):
            raise BadFile(f"{name} is cut short: the file ends before the picture does. Copy it again.")
        check_memory(rows * cols * (count * _BYTES[depth] + 8) + max(lengths, default=0), name)
        samples: NDArray[Any] = page.asarray(maxworkers=1)
        geo = _geo_keys(page)
        table = page.colormap if int(page.photometric) == 3 else None
        told = (_placement(page, geo, rows), _nodata(page), _scale(page, name))
    if planes and samples.ndim == 3:
        samples = np.moveaxis(samples, 0, -1)
    if table is not None and samples.ndim == 2 and samples.dtype == np.uint8:
        # Palettes of this format hold 16 bits a colour, of which 8 are shown.
        samples = (np.asarray(table)[:, samples] >> 8).astype(np.uint8).transpose(1, 2, 0)
    if samples.shape[:2] != (rows, cols):
        raise BadFile(f"{name} decodes to another size than it declares.")
    return _Decoded(samples, depth, *told)


def read_tiff_pixels(path: Path, name: str) -> NDArray[Any]:
    """Every channel of a TIFF at its stored depth: (rows, columns) or (rows, columns, channels).

    Raises :class:`BadFile` when damaged, :class:`WrongFormat` for other depths.
    """
    samples = _decoded(path, name, colours=True).samples
    return np.ascontiguousarray(samples.astype(samples.dtype.newbyteorder("="), copy=False))


def read_tiff_texture(path: Path, name: str) -> NDArray[Any]:
    """Grey or colours of a texture at their stored depth: (rows, columns) or (rows, columns, channels).

    Raises :class:`WrongFormat` for the colours of print, else what :func:`read_tiff_pixels` raises.
    """
    with decoding(name, "a TIFF"), tifffile.TiffFile(path) as file:
        page = file.pages.first
        check_texture_size(page.imagelength, page.imagewidth, name)
        if page.photometric == tifffile.PHOTOMETRIC.SEPARATED:
            raise WrongFormat(f"{name} is in CMYK, the colours of print. Save it in RGB.", field="file")
        grey = page.samplesperpixel == 1
    # Where one channel tells of gaps and a scale, it means them.
    return finished(read_tiff(path, name, Layout()), None, name).samples if grey else read_tiff_pixels(path, name)


def read_tiff(path: Path, name: str, layout: Layout) -> Stored:
    """A heightmap in a TIFF. Raises :class:`BadFile` when damaged, :class:`WrongFormat` for other depths and for
    colours."""
    made = _decoded(path, name, layout.channel is not None)
    samples, channel = made.samples, layout.channel
    channels: tuple[str, ...] = ()
    remarks: list[Remark] = []
    if samples.ndim == 3 and made.depth in ("8", "16"):
        samples, channel, channels, remarks = one_channel(samples, name, layout.channel, says="a TIFF")
    elif samples.ndim == 3:
        samples = samples[..., _channel(layout.channel, samples.shape[2], name)]
    if samples.dtype.kind == "f" or samples.dtype.itemsize > 2:
        # Whole numbers of 32 bits have room in doubles, and most in single ones.
        samples = narrowed(samples if samples.dtype.kind == "f" else samples.astype(np.float64))
    native = np.ascontiguousarray(samples.astype(samples.dtype.newbyteorder("="), copy=False))
    return Stored(
        native,
        "tiff",
        made.depth,
        nodata=made.nodata,
        placement=made.placement,
        channel=channel,
        channels=channels,
        remarks=tuple(remarks),
        scale=made.scale,
    )


def _channel(letter: str | None, count: int, name: str) -> int:
    index = "RGBA".find((letter or "R").upper())
    if not 0 <= index < count:
        raise WrongFormat(f"{name} has no channel {letter}.", field="channel")
    return index
