"""NPY: an array as NumPy keeps it."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import WrongFormat
from zigzag_meadow.core.formats.declare import Form, Format, Head, Opened
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.limits import MOST_BYTES, check_memory, check_size
from zigzag_meadow.core.formats.reading.decoding import decoding
from zigzag_meadow.core.formats.stored import Stored, narrowed
from zigzag_meadow.core.formats.writing.headed import HeadedWriter
from zigzag_meadow.core.stripes import Stripes

__all__ = ["NPY"]


def _begins(head: Head) -> bool:
    return head.data.startswith(b"\x93NUMPY")


def _heights(path: Path, name: str, layout: Layout) -> Stored:
    """An array of two axes: 8 or 16-bit integers or floats. Nothing in it is ever run."""
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


class _Writer(HeadedWriter):
    """An array of shape (rows, columns) or (rows, columns, channels)."""

    def head(self) -> bytes:
        raster, out = self.raster, io.BytesIO()
        shape = (raster.rows, raster.cols, raster.channels) if raster.channels > 1 else (raster.rows, raster.cols)
        told = {"descr": self._dtype.str, "fortran_order": False, "shape": shape}
        np.lib.format.write_array_header_1_0(out, told)
        return out.getvalue()


def _open(path: Path, raster: Any, stripes: Stripes) -> Opened:
    return _Writer(path, raster)


NPY = Format(
    "npy",
    "NPY",
    (".npy",),
    begins=_begins,
    heights=_heights,
    forms=(Form("npy", "NPY float", "npy", "raster", "f32", (1, 2, 3, 4), "linear", _open),),
)
