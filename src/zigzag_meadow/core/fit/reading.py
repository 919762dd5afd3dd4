"""Delivered files read back at their stored depth, each by a reader that shares nothing with what wrote it."""

from __future__ import annotations

import struct
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from zigzag_meadow.core.errors import BadFile, NotFound
from zigzag_meadow.core.formats.asc import read_asc
from zigzag_meadow.core.formats.decoding import decoding
from zigzag_meadow.core.formats.exr import read_exr
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.limits import check_bytes
from zigzag_meadow.core.formats.plain import read_npy
from zigzag_meadow.core.formats.read import png_header, read_png
from zigzag_meadow.core.formats.tiff import read_tiff_pixels
from zigzag_meadow.core.targets.note import FileNote

__all__ = ["colour_chunks", "colour_tags", "read_back"]

Pixels = NDArray[Any]
_EXR_NAMES = {1: ("Y",), 2: ("Y", "A"), 3: ("R", "G", "B"), 4: ("R", "G", "B", "A")}


def read_back(folder: Path, file: FileNote) -> Pixels:
    """A file's samples as stored, of shape (rows, columns, channels), in the file's own order.

    Raises :class:`NotFound` when it is missing and :class:`BadFile` (or its kin) when it is cut or not what its format
    says.
    """
    path = folder / Path(file.file).name
    if not path.is_file():
        raise NotFound(f"{file.file} is missing.")
    if file.reads not in _READERS:
        raise BadFile(f"{file.file}: there is no reader for {file.reads}. Deliver again.")
    # Numbers with a palette: what is asked for are the numbers, not what they stand for.
    numbers = file.kind == "classes" and file.reads in ("png", "tiff") and file.bits == 8
    pixels = _pillow(path, file) if numbers else _READERS[file.reads](path, file)
    return pixels if pixels.ndim == 3 else pixels[:, :, None]


def _raw(path: Path, file: FileNote) -> Pixels:
    many = max(len(file.channels), 1)
    each = file.bits // 8
    expected, actual = each * file.rows * file.columns * many, path.stat().st_size
    if actual != expected:
        side = int((actual / each) ** 0.5)
        square = f", as {side} × {side} samples would" if each * side * side == actual else ""
        raise BadFile(
            f"{file.file} has {actual} bytes{square}; the note says {file.columns} × {file.rows} of {file.bits} bits, "
            f"{expected} bytes."
        )
    kind = "f4" if file.floats else f"u{each}"
    words = np.fromfile(path, dtype=("<" if file.byte_order != "big" else ">") + kind)
    return words.astype(words.dtype.newbyteorder("=")).reshape(file.rows, file.columns, many)


def _exr(path: Path, file: FileNote) -> Pixels:
    planes = [read_exr(path, file.file, Layout(channel=name)).samples for name in _EXR_NAMES[len(file.channels)]]
    return np.stack(planes, axis=-1)


def _pillow(path: Path, file: FileNote) -> Pixels:
    check_bytes(path.stat().st_size, file.file)
    with decoding(file.file, "a picture"), Image.open(path) as image:
        return np.asarray(image)


def _npy(path: Path, file: FileNote) -> Pixels:
    if len(file.channels) < 2:
        return read_npy(path, file.file).samples
    with decoding(file.file, "an array"):
        found: Pixels = np.load(path, allow_pickle=False)
        return found


_READERS: dict[str, Callable[[Path, FileNote], Pixels]] = {
    "png": lambda path, file: read_png(path, file.file),
    "tiff": lambda path, file: read_tiff_pixels(path, file.file),
    "asc": lambda path, file: read_asc(path, file.file).samples,
    "raw": _raw, "exr": _exr, "bmp": _pillow, "tga": _pillow, "jpeg": _pillow, "npy": _npy,
}  # fmt: skip


def colour_chunks(data: bytes) -> list[str]:
    """Names of the colour parts (gamma, sRGB, profile) that a PNG carries; data maps must have none."""
    kinds, at = [], 8
    while at + 8 <= len(data):
        size, kind = struct.unpack(">I4s", data[at : at + 8])
        if kind in (b"gAMA", b"sRGB", b"iCCP", b"cICP"):
            kinds.append(kind.decode("ascii"))
        if kind == b"IDAT":
            break
        at += 12 + size
    return kinds


def colour_tags(folder: Path, file: FileNote) -> list[str]:
    """What a file says of its colours: parts of a PNG, a profile of a TIFF or JPEG."""
    path = folder / Path(file.file).name
    if file.reads == "png":
        data = path.read_bytes()
        png_header(data, file.file)
        return colour_chunks(data)
    if file.reads in ("tiff", "jpeg"):
        with decoding(file.file, "a picture"), Image.open(path) as image:
            return ["a colour profile"] if image.info.get("icc_profile") else []
    return []
