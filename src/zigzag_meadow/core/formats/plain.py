"""The plain formats: BMP 8, ASCII grid, HGT, NPY."""

from __future__ import annotations

import math
import re
import struct
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadFile, WrongFormat
from zigzag_meadow.core.formats.limits import MOST_BYTES, check_size
from zigzag_meadow.core.formats.stored import DECODER_ERRORS, Placement, Stored
from zigzag_meadow.core.formats.tiff import metres_a_degree

__all__ = ["ASC_START", "HGT_SIDES", "NPY_SIGNATURE", "read_asc", "read_bmp", "read_hgt", "read_npy"]

NPY_SIGNATURE = b"\x93NUMPY"
ASC_START = re.compile(rb"\s*(ncols|nrows|xll|yll|cellsize)", re.IGNORECASE)
HGT_SIDES = {1201: 3, 3601: 1}
"""Samples a side and arc seconds between them."""
HGT_VOID = -32768
_ASC_KEYS = (
    "ncols",
    "nrows",
    "cellsize",
    "xllcorner",
    "yllcorner",
    "xllcenter",
    "yllcenter",
    "nodata_value",
    "dx",
    "dy",
)


def read_bmp(path: Path, name: str) -> Stored:
    """A grey BMP with 8 bits. Rows run bottom-up unless the height is negative; each ends on four bytes."""
    data = path.read_bytes()
    if len(data) < 54:
        raise BadFile(f"{name} is cut short inside its BMP header. Save it again.")
    start, size, cols, height, planes, bits, packing = struct.unpack_from("<IIiiHHI", data, 10)
    if size < 40 or planes != 1 or cols < 1 or height == 0:
        raise BadFile(f"{name} is damaged: its BMP header makes no sense. Save it again.")
    rows = abs(height)
    check_size(rows, cols, name)
    if bits != 8 or packing != 0:
        raise WrongFormat(f"{name} is a BMP with {bits} bits; only grey with 8 bits holds heights. Save it as PNG 16.")
    used = struct.unpack_from("<I", data, 46)[0] or 256
    stride = (cols * bits + 31) // 32 * 4
    if used > 256 or start < 14 + size or start + stride * rows > len(data):
        raise BadFile(f"{name} is cut short: the file ends before the picture does. Save it again.")
    table = np.frombuffer(data, np.uint8, 4 * used, 14 + size).reshape(used, 4)
    if not ((table[:, 0] == table[:, 1]) & (table[:, 1] == table[:, 2])).all():
        raise WrongFormat(f"{name} is a BMP in colours; a heightmap is grey.")
    index = np.frombuffer(data, np.uint8, stride * rows, start).reshape(rows, stride)[:, :cols]
    if int(index.max()) >= used:
        raise BadFile(f"{name} is damaged: it uses greys that it does not list.")
    grey = table[:, 0][index]
    return Stored(np.ascontiguousarray(grey[::-1] if height > 0 else grey), "bmp", "8")


def read_asc(path: Path, name: str) -> Stored:
    """An ASCII grid: a few lines of key and number, then rows from north to south."""
    try:
        text = path.read_text("ascii")
    except UnicodeDecodeError:
        raise BadFile(f"{name} begins like an ASCII grid but is not plain text.") from None
    keys: dict[str, float] = {}
    at = 0
    for match in re.finditer(r"[^\S\n]*([A-Za-z_]+)[^\S\n]+(\S+)[^\S\n]*\r?\n", text):
        if match.start() != at:
            break
        key = match.group(1).lower()
        if key not in _ASC_KEYS:
            raise BadFile(f"{name} has a line {match.group(1)!r} that no ASCII grid has.")
        try:
            keys[key] = float(match.group(2))
        except ValueError:
            raise BadFile(f"{name}: {match.group(1)} must be a number, got {match.group(2)[:20]!r}.") from None
        at = match.end()
    wanted = keys.get("ncols", math.nan), keys.get("nrows", math.nan)
    if not all(math.isfinite(v) and v == int(v) for v in wanted):
        raise BadFile(f"{name} does not say how many columns and rows it has (ncols, nrows).")
    cols, rows = int(wanted[0]), int(wanted[1])
    check_size(rows, cols, name)
    body = text[at:].split()
    if len(body) != rows * cols:
        raise BadFile(f"{name} holds {len(body)} numbers; {cols} × {rows} samples need {rows * cols}.")
    try:
        samples = np.array(body, np.float64).reshape(rows, cols).astype(np.float32)
    except ValueError:
        raise BadFile(f"{name} has something between its numbers that is none.") from None
    dx, dy = keys.get("dx", keys.get("cellsize")), keys.get("dy", keys.get("cellsize"))
    placement = None
    if dx and dy and min(dx, dy) > 0 and math.isfinite(dx) and math.isfinite(dy):
        points = "xllcenter" in keys or "yllcenter" in keys
        says = f"cells of {dx:g} by {dy:g}"
        placement = Placement(dy, dx, "vertex" if points else "area", True, says)
    return Stored(samples, "asc", "32f", nodata=keys.get("nodata_value"), placement=placement)


def read_hgt(path: Path, name: str) -> Stored:
    """A one-degree tile of big-endian 16-bit metres; its name says where it lies (N54W003)."""
    side = math.isqrt(path.stat().st_size // 2)
    if side not in HGT_SIDES or path.stat().st_size != 2 * side * side:
        raise BadFile(f"{name} has {path.stat().st_size} bytes; such tiles have 1201 or 3601 samples a side.")
    samples = np.fromfile(path, ">i2").reshape(side, side).astype(np.int16)
    found = re.match(r"([ns])(\d{2})[ew]\d{3}", Path(name).name.lower())
    latitude = (int(found.group(2)) + 0.5) * (1 if found.group(1) == "n" else -1) if found else 0.0
    north, east = metres_a_degree(latitude)
    says = f"one degree at latitude {latitude:g}°" if found else "one degree; its name does not say where, so at 0°"
    step = HGT_SIDES[side] / 3600
    return Stored(
        samples, "hgt", "16 signed", byte_order="big", nodata=float(HGT_VOID),
        placement=Placement(step * north, step * east, "vertex", True, says),
    )  # fmt: skip


def read_npy(path: Path, name: str) -> Stored:
    """A NumPy array of two axes: 8 or 16-bit integers or floats. Nothing in it is ever run."""
    try:
        with path.open("rb") as file:
            version = np.lib.format.read_magic(file)
            reader = np.lib.format.read_array_header_1_0 if version == (1, 0) else np.lib.format.read_array_header_2_0
            shape, _, dtype = reader(file, max_header_size=10000)
            if len(shape) != 2 or dtype.hasobject:
                raise WrongFormat(f"{name} holds an array of {len(shape)} axes; a heightmap has rows and columns.")
            check_size(shape[0], shape[1], name)
            if shape[0] * shape[1] * dtype.itemsize > MOST_BYTES or dtype.kind not in "iuf":
                raise WrongFormat(f"{name} holds {dtype}; heights must have 8 or 16 bits, or be 32-bit float.")
        samples: NDArray[Any] = np.load(path, allow_pickle=False)
    except BadFile:
        raise
    except DECODER_ERRORS as error:
        raise BadFile(f"{name} cannot be read as an array: it is damaged or cut short. Save it again.") from error
    if samples.dtype.kind in "iu" and samples.dtype.itemsize > 2:
        low, high = int(samples.min()), int(samples.max())
        if low < -(2**24) or high > 2**24:
            raise WrongFormat(f"{name} holds {samples.dtype} up to {high}; heights must fit into 24 bits.")
        samples = samples.astype(np.float32)
    depth = {"u1": "8", "i1": "8 signed", "u2": "16", "i2": "16 signed"}.get(samples.dtype.str[1:], "32f")
    if depth == "32f":
        with np.errstate(over="ignore"):
            samples = samples.astype(np.float32)
    return Stored(np.ascontiguousarray(samples.astype(samples.dtype.newbyteorder("="))), "npy", depth)
