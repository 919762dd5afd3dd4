"""The plain formats: HGT, NPY."""

from __future__ import annotations

import math
import re
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadFile, WrongFormat
from zigzag_meadow.core.formats.decoding import decoding
from zigzag_meadow.core.formats.limits import MOST_BYTES, check_memory, check_size
from zigzag_meadow.core.formats.stored import Placement, Stored, narrowed
from zigzag_meadow.core.formats.tiff import metres_a_degree

__all__ = ["HGT_SIDES", "NPY_SIGNATURE", "read_hgt", "read_npy"]

NPY_SIGNATURE = b"\x93NUMPY"
HGT_SIDES = {1201: 3, 3601: 1}
"""Samples a side and arc seconds between them."""
HGT_VOID = -32768


def read_hgt(path: Path, name: str) -> Stored:
    """A one-degree tile of big-endian 16-bit metres; its name says where it lies (N54W003)."""
    side = math.isqrt(path.stat().st_size // 2)
    if side not in HGT_SIDES or path.stat().st_size != 2 * side * side:
        raise BadFile(f"{name} has {path.stat().st_size} bytes; such tiles have 1201 or 3601 samples a side.")
    samples = np.fromfile(path, ">i2").reshape(side, side).astype(np.int16)
    corner = re.match(r"([ns])(\d{2})[ew]\d{3}", Path(name).name.lower())
    latitude = (int(corner.group(2)) + 0.5) * (1 if corner.group(1) == "n" else -1) if corner else 0.0
    north, east = metres_a_degree(latitude)
    says = f"one degree at latitude {latitude:g}°" if corner else "one degree; its name does not say where, so at 0°"
    step = HGT_SIDES[side] / 3600
    return Stored(
        samples, "hgt", "16 signed", byte_order="big", nodata=float(HGT_VOID),
        placement=Placement(step * north, step * east, "vertex", True, says),
    )  # fmt: skip


def read_npy(path: Path, name: str) -> Stored:
    """A NumPy array of two axes: 8 or 16-bit integers or floats. Nothing in it is ever run."""
    with decoding(name, "an array"):
        with path.open("rb") as file:
            version = np.lib.format.read_magic(file)
            reader = np.lib.format.read_array_header_1_0 if version == (1, 0) else np.lib.format.read_array_header_2_0
            shape, _, dtype = reader(file, max_header_size=10000)
            if len(shape) != 2 or dtype.hasobject:
                raise WrongFormat(f"{name} holds an array of {len(shape)} axes; a heightmap has rows and columns.")
            check_size(shape[0], shape[1], name)
            if shape[0] * shape[1] * dtype.itemsize > MOST_BYTES or dtype.kind not in "iuf" or dtype.itemsize > 8:
                raise WrongFormat(f"{name} holds {dtype}; heights must have 8 or 16 bits, or be 32-bit float.")
            check_memory(shape[0] * shape[1] * (dtype.itemsize + 8), name)
        samples: NDArray[Any] = np.load(path, allow_pickle=False)
    if samples.dtype.kind in "iu" and samples.dtype.itemsize > 2:
        low, high = int(samples.min()), int(samples.max())
        if low < -(2**24) or high > 2**24:
            raise WrongFormat(f"{name} holds {samples.dtype} up to {high}; heights must fit into 24 bits.")
        samples = samples.astype(np.float32)
    depth = {"u1": "8", "i1": "8 signed", "u2": "16", "i2": "16 signed"}.get(samples.dtype.str[1:], "32f")
    if samples.dtype.kind == "f":
        samples = narrowed(samples)
    native = samples.astype(samples.dtype.newbyteorder("="), copy=False)
    return Stored(np.ascontiguousarray(native), "npy", depth)
