"""Delivered files read back at their stored depth, some rows at a time, by readers that share nothing with what wrote
them."""

from __future__ import annotations

import io
from collections.abc import Callable
from pathlib import Path
from types import TracebackType
from typing import Any, Protocol, Self

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from zigzag_meadow.core.errors import BadFile, NotFound
from zigzag_meadow.core.formats.asc import read_asc
from zigzag_meadow.core.formats.decoding import decoding
from zigzag_meadow.core.formats.exr import read_exr
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.limits import check_bytes, check_size
from zigzag_meadow.core.formats.png_rows import PngRows
from zigzag_meadow.core.formats.read import read_png
from zigzag_meadow.core.formats.tiff import read_tiff_pixels
from zigzag_meadow.core.formats.tiff_rows import TiffRows
from zigzag_meadow.core.targets.note import FileNote

__all__ = ["Rows", "colour_tags", "opened", "read_whole"]

Pixels = NDArray[Any]
_EXR_NAMES = {1: ("Y",), 2: ("Y", "A"), 3: ("R", "G", "B"), 4: ("R", "G", "B", "A")}


class Rows(Protocol):
    """An open file: its size, and its rows in its own order. ``dtype`` in the byte order of this machine."""

    rows: int
    cols: int
    channels: int
    dtype: np.dtype[Any]

    def __enter__(self) -> Self: ...

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None: ...

    def read(self, rows: int) -> Pixels:
        """The next rows (rows, columns, channels)."""
        ...


class _Whole:
    """Rows of what its format gives only as a whole."""

    def __init__(self, pixels: Pixels) -> None:
        self._pixels = pixels if pixels.ndim == 3 else pixels[:, :, None]
        self.rows, self.cols, self.channels = self._pixels.shape
        self.dtype = self._pixels.dtype.newbyteorder("=")
        self._at = 0

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        return None

    def read(self, rows: int) -> Pixels:
        part = self._pixels[self._at : self._at + rows].astype(self.dtype, copy=False)
        self._at += rows
        return part


class _From(_Whole):
    """Rows by a function of the first and the end row, for what is open as a file."""

    def __init__(
        self, shape: tuple[int, int, int], dtype: Any, part: Callable[[int, int], Pixels], close: Callable[[], None]
    ) -> None:
        self.rows, self.cols, self.channels = shape
        self.dtype = np.dtype(dtype).newbyteorder("=")
        self._part, self._close, self._at = part, close, 0

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self._close()

    def read(self, rows: int) -> Pixels:
        made = self._part(self._at, self._at + rows)
        self._at += rows
        return made.astype(self.dtype, copy=False)


def opened(folder: Path, file: FileNote) -> Rows:
    """A file, ready to be read row by row; to be used as a context manager.

    Raises :class:`NotFound` when it is missing and :class:`BadFile` (or its kin) when it is cut or not what its format
    says; reading raises the latter, too.
    """
    path = folder / Path(file.file).name
    if not path.is_file():
        raise NotFound(f"{file.file} is missing.")
    if file.reads not in _OPENERS:
        raise BadFile(f"{file.file}: there is no reader for {file.reads}. Deliver again.")
    return _OPENERS[file.reads](path, file)


def read_whole(source: Rows) -> Pixels:
    """All rows of a file that was just opened: (rows, columns, channels) as stored."""
    out = np.empty((source.rows, source.cols, source.channels), source.dtype)
    for at in range(0, source.rows, 512):
        out[at : at + 512] = source.read(min(512, source.rows - at))
    return out


def _png(path: Path, file: FileNote) -> Rows:
    made = PngRows(path, file.file)
    if made.by_rows:
        head = made.header
        return _From((head.rows, head.cols, head.channels), "u2" if head.bits == 16 else "u1",
                     lambda a, b: made.read(b - a), lambda: made.__exit__(None, None, None))  # fmt: skip
    made.__exit__(None, None, None)
    if made.header.colour_type == 3:
        # Numbers of few bits, as programs save pictures of few colours: the numbers are meant, not the colours.
        return _pillow(path, file)
    return _Whole(read_png(path, file.file))


def _tiff(path: Path, file: FileNote) -> Rows:
    made = TiffRows(path, file.file)
    if made.by_rows:
        return made
    made.__exit__(None, None, None)
    return _Whole(read_tiff_pixels(path, file.file))


def _raw(path: Path, file: FileNote) -> Rows:
    many = max(len(file.channels), 1)
    each = file.bits // 8
    expected, actual = each * file.rows * file.columns * many, path.stat().st_size
    if actual != expected:
        side = int((actual / each) ** 0.5)
        square = f", as {side} × {side} samples would" if each * side * side == actual and many == 1 else ""
        raise BadFile(
            f"{file.file} has {actual} bytes{square}; the note says {file.columns} × {file.rows} of {file.bits} bits, "
            f"{expected} bytes."
        )
    kind = np.dtype(("<" if file.byte_order != "big" else ">") + ("f4" if file.floats else f"u{each}"))
    stream = path.open("rb")

    def part(first: int, end: int) -> Pixels:
        data = stream.read((end - first) * file.columns * many * each)
        if len(data) != (end - first) * file.columns * many * each:
            raise BadFile(f"{file.file} is cut short. Copy it again.")
        return np.frombuffer(data, kind).reshape(end - first, file.columns, many)

    return _From((file.rows, file.columns, many), kind, part, stream.close)


def _exr(path: Path, file: FileNote) -> Rows:
    names = _EXR_NAMES.get(max(len(file.channels), 1))
    if names is None:
        raise BadFile(
            f"The note tells of {len(file.channels)} channels in {file.file}; a picture has four at most. Deliver "
            "again."
        )
    # The first channel is read as a whole: it says whether the file is sound and how large.
    first = read_exr(path, file.file, Layout(channel=names[0])).samples
    if len(names) == 1:
        return _Whole(first)
    shape = (*first.shape, len(names))
    del first
    import OpenEXR  # only here: it is slow to load and few files need it

    with decoding(file.file, "OpenEXR"):
        image = OpenEXR.InputFile(str(path))
        header = image.header()
        window, found = header["dataWindow"], header["channels"]
        missing = [name for name in names if name not in found]
        if missing:
            image.close()
            raise BadFile(f"{file.file} has no channel {missing[0]}. Write it again with every channel.")
    top = window.min.y
    codes = {name: "<f2" if "HALF" in str(found[name].type) else "<f4" for name in names}

    def part(a: int, b: int) -> Pixels:
        with decoding(file.file, "OpenEXR"):
            planes = [
                np.frombuffer(image.channel(name, None, top + a, top + b - 1), codes[name]).reshape(b - a, shape[1])
                for name in names
            ]
        return np.stack(planes, axis=-1).astype(np.float32)

    return _From(shape, "f4", part, image.close)


def _pillow(path: Path, file: FileNote) -> Rows:
    check_bytes(path.stat().st_size, file.file)
    with decoding(file.file, "a picture"), Image.open(path) as image:
        check_size(image.height, image.width, file.file)
        return _Whole(np.asarray(image))


def _npy(path: Path, file: FileNote) -> Rows:
    check_bytes(path.stat().st_size, file.file)
    with decoding(file.file, "an array"):
        found: Pixels = np.load(path, mmap_mode="r", allow_pickle=False)
    if found.ndim not in (2, 3) or found.dtype.kind not in "uif" or 0 in found.shape:
        raise BadFile(f"{file.file} holds no picture. Write it again.")
    check_size(found.shape[0], found.shape[1], file.file)
    return _Whole(found)


_OPENERS: dict[str, Callable[[Path, FileNote], Rows]] = {
    "png": _png, "tiff": _tiff, "raw": _raw, "exr": _exr, "bmp": _pillow, "tga": _pillow, "jpeg": _pillow, "npy": _npy,
    "asc": lambda path, file: _Whole(read_asc(path, file.file).samples),
}  # fmt: skip


def colour_tags(folder: Path, file: FileNote) -> list[str]:
    """What a file says of its colours: parts of a PNG, a profile of a TIFF or JPEG.

    Raises :class:`BadFile` where it cannot be told.
    """
    path = folder / Path(file.file).name
    if file.reads == "png":
        return _png_parts(path)
    if file.reads in ("tiff", "jpeg"):
        with decoding(file.file, "a picture"), Image.open(path) as image:
            return ["a colour profile"] if image.info.get("icc_profile") else []
    return []


def _png_parts(path: Path) -> list[str]:
    """Colour parts (gamma, sRGB, profile) before the picture; data maps must have none."""
    kinds = []
    with path.open("rb") as stream:
        stream.seek(8)
        while len(head := stream.read(8)) == 8 and head[4:] != b"IDAT":
            if head[4:] in (b"gAMA", b"sRGB", b"iCCP", b"cICP"):
                kinds.append(head[4:].decode("ascii"))
            stream.seek(int.from_bytes(head[:4], "big") + 4, io.SEEK_CUR)
    return kinds
