"""Read heightmap files at their stored depth: PNG 8/16 grey, TIFF 16 and 32-bit float, raw 16.

The content decides what a file is, not its extension; sizes are checked against what the header declares before
anything is decoded. Nothing here squeezes 16 bits to 8.
"""

from __future__ import annotations

import struct
import zlib
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Literal

import imagecodecs
import numpy as np
import tifffile
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadFile, WrongFormat
from zigzag_meadow.core.formats.limits import check_bytes, check_size
from zigzag_meadow.core.formats.raw import ByteOrder, read_raw16

__all__ = ["FileFormat", "PngHeader", "Stored", "png_header", "read_png", "read_stored", "sniff"]

FileFormat = Literal["png", "tiff", "raw16"]

PNG_SIGNATURE = b"\x89PNG\r\n\x1a\n"
_FOREIGN = {
    b"\xff\xd8\xff": "a JPEG picture",
    b"BM": "a BMP picture",
    b"GIF8": "a GIF picture",
    b"\x76\x2f\x31\x01": "an OpenEXR image",
    b"PK\x03\x04": "a zip archive",
    b"%PDF": "a PDF",
    b"8BPS": "a layered painting file",
    b"RIFF": "a RIFF file",
}
_NAMED = {
    ".png": "png", ".tif": "tiff", ".tiff": "tiff", ".jpg": "JPEG", ".jpeg": "JPEG", ".bmp": "BMP", ".exr": "EXR",
}  # fmt: skip
# What the decoders raise on damaged input; each becomes one typed error.
_DECODER_ERRORS = (
    RuntimeError, ValueError, IndexError, KeyError, TypeError, AttributeError, OverflowError, AssertionError,
    ZeroDivisionError, EOFError, OSError, struct.error, zlib.error, tifffile.TiffFileError,
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Stored:
    """A file as it is: samples at stored depth, and how it was understood."""

    samples: NDArray[Any]
    format: FileFormat
    depth: str
    byte_order: ByteOrder | None = None
    order_guessed: bool = False


@dataclass(frozen=True, slots=True)
class PngHeader:
    cols: int
    rows: int
    bits: int
    colour_type: int

    @property
    def channels(self) -> int:
        return {0: 1, 2: 3, 3: 1, 4: 2, 6: 4}[self.colour_type]


def sniff(head: bytes, name: str) -> FileFormat:
    """What a file is by its first bytes. Raises :class:`WrongFormat` for known kinds that hold no heights."""
    if head.startswith(PNG_SIGNATURE):
        return "png"
    if head[:4] in (b"II*\0", b"MM\0*", b"II+\0", b"MM\0+"):
        return "tiff"
    for start, kind in _FOREIGN.items():
        if head.startswith(start):
            raise WrongFormat(f"{name} is {kind}. Bring in a PNG, TIFF or raw 16-bit heightmap.")
    suffix = Path(name).suffix.lower()
    if suffix in _NAMED:
        raise WrongFormat(
            f"{name} is named like {_NAMED[suffix].upper()} but does not start like one: it is mislabelled or "
            "damaged. If it is a raw heightmap, rename it to .r16."
        )
    return "raw16"


def png_header(data: bytes, name: str) -> PngHeader:
    """The size and kind a PNG declares. Raises :class:`BadFile` when the header is cut or makes no sense."""
    if len(data) < 33 or data[12:16] != b"IHDR" or struct.unpack(">I", data[8:12])[0] != 13:
        raise BadFile(f"{name} is cut short: it ends inside the PNG header. Save it again.")
    if zlib.crc32(data[12:29]) != struct.unpack(">I", data[29:33])[0]:
        raise BadFile(f"{name} is damaged: the PNG header does not match its checksum. Save it again.")
    cols, rows, bits, colour, _compression, _filter, _interlace = struct.unpack(">IIBBBBB", data[16:29])
    if colour not in (0, 2, 3, 4, 6) or bits not in (1, 2, 4, 8, 16):
        raise BadFile(f"{name} is damaged: PNG colour type {colour} with {bits} bits does not exist.")
    return PngHeader(cols, rows, bits, colour)


def _check_png_chunks(data: bytes, name: str) -> None:
    """Every chunk must be there in full, its checksum right, and the end marked."""
    at = 8
    while at + 12 <= len(data):
        size, kind = struct.unpack(">I4s", data[at : at + 8])
        end = at + 12 + size
        if end > len(data):
            break
        if zlib.crc32(data[at + 4 : end - 4]) != struct.unpack(">I", data[end - 4 : end])[0]:
            raise BadFile(f"{name} is damaged: part {kind.decode('ascii', 'replace')} fails its checksum.")
        if kind == b"IEND":
            return
        at = end
    raise BadFile(f"{name} is cut short: the file ends before the picture does. Save or copy it again.")


def read_png(path: Path, name: str) -> NDArray[Any]:
    """Decode a PNG at its stored depth: uint8 or uint16 of shape (rows, columns[, channels]).

    Raises :class:`BadFile` when it is truncated or damaged and :class:`TooLarge` over the size limit.
    """
    check_bytes(path.stat().st_size, name)
    data = path.read_bytes()
    header = png_header(data, name)
    check_size(header.rows, header.cols, name)
    _check_png_chunks(data, name)
    try:
        pixels: NDArray[Any] = imagecodecs.png_decode(data)
    except _DECODER_ERRORS as error:
        raise BadFile(f"{name} cannot be decoded: its picture data is damaged. Save it again.") from error
    if pixels.shape[:2] != (header.rows, header.cols):
        raise BadFile(f"{name} decodes to another size than it declares.")
    return pixels


def _read_png_heights(path: Path, name: str) -> Stored:
    header = png_header(path.read_bytes()[:64], name)
    if header.colour_type != 0:
        kind = "a palette" if header.colour_type == 3 else f"{header.channels} channels"
        raise WrongFormat(f"{name} has {kind}; a heightmap has one grey channel. Save it as grey, 16 bits.")
    if header.bits < 8:
        raise WrongFormat(f"{name} has {header.bits} bits a sample; heights need 16 (or at the least 8).")
    return Stored(read_png(path, name), "png", str(header.bits))


def _read_tiff(path: Path, name: str) -> Stored:
    size = path.stat().st_size
    try:
        with tifffile.TiffFile(path) as tiff:
            page = tiff.pages[0]
            if not isinstance(page, tifffile.TiffPage):
                raise BadFile(f"{name} is damaged: its first image cannot be found.")
            rows, cols = int(page.imagelength), int(page.imagewidth)
            check_size(rows, cols, name)
            if page.samplesperpixel != 1 or page.imagedepth != 1 or page.shape != (rows, cols):
                raise WrongFormat(f"{name} has {page.samplesperpixel} channels; a heightmap has one. Save it as grey.")
            depth = {"uint16": "16", "float32": "32f"}.get(str(page.dtype))
            if depth is None:
                raise WrongFormat(f"{name} stores {page.dtype}; heights must be 16-bit unsigned or 32-bit float.")
            segments = zip(page.dataoffsets, page.databytecounts, strict=True)
            if any(offset + count > size or count == 0 for offset, count in segments):
                raise BadFile(f"{name} is cut short: the file ends before the picture does. Copy it again.")
            samples = page.asarray(maxworkers=1)
    except BadFile:
        raise
    except _DECODER_ERRORS as error:
        raise BadFile(f"{name} cannot be read as TIFF: it is damaged or cut short. Save it again.") from error
    native = np.ascontiguousarray(samples.astype(samples.dtype.newbyteorder("="), copy=False))
    return Stored(native, "tiff", depth)


def read_stored(
    path: Path,
    name: str,
    *,
    rows: int | None = None,
    cols: int | None = None,
    byte_order: ByteOrder | None = None,
) -> Stored:
    """Read a heightmap: samples as uint8, uint16 or float32 of shape (rows, columns).

    ``rows``, ``cols`` and ``byte_order`` matter only for raw files. Raises :class:`BadFile` for anything that is
    empty, cut, damaged or holds NaN or infinity, :class:`WrongFormat` for other kinds of file, and
    :class:`TooLarge` over the limits.
    """
    check_bytes(path.stat().st_size, name)
    with path.open("rb") as file:
        kind = sniff(file.read(64), name)
    if kind == "png":
        stored = _read_png_heights(path, name)
    elif kind == "tiff":
        stored = _read_tiff(path, name)
    else:
        samples, order, guessed = read_raw16(path, name, rows, cols, byte_order)
        stored = Stored(samples, "raw16", "16", order, guessed)
    _check_values(stored.samples, name)
    return stored


def _check_values(samples: NDArray[Any], name: str) -> None:
    if samples.dtype.kind == "f":
        wrong = ~np.isfinite(samples)
        count = int(wrong.sum())
        if count:
            row, col = (int(v) for v in np.argwhere(wrong)[0])
            raise BadFile(
                f"{name} has {count} samples that are not numbers (the first in row {row}, column {col}). "
                "Fill them with a height before bringing it in."
            )
    low = samples.flat[0]
    if bool((samples == low).all()):
        raise BadFile(f"{name} has the same height everywhere ({low}). Check that it was exported with its relief.")
