"""PNG at its stored depth, checked chunk by chunk before it is decoded; heights in three bytes."""

from __future__ import annotations

import struct
import zlib
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadFile
from zigzag_meadow.core.formats.layout import Layout, RgbCode
from zigzag_meadow.core.formats.limits import check_bytes, check_memory, check_size
from zigzag_meadow.core.formats.reading.decoding import decoding
from zigzag_meadow.core.formats.reading.greys import one_channel
from zigzag_meadow.core.formats.stored import Stored

__all__ = ["PngHeader", "decode_rgb", "png_header", "read_png", "read_png_heights"]

_ROWS = 128


@dataclass(frozen=True, slots=True)
class PngHeader:
    cols: int
    rows: int
    bits: int
    colour_type: int

    @property
    def channels(self) -> int:
        return {0: 1, 2: 3, 3: 1, 4: 2, 6: 4}[self.colour_type]


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

    Raises :class:`BadFile` when it is truncated or damaged and :class:`TooLarge` over the limits of size and memory.
    """
    check_bytes(path.stat().st_size, name)
    data = path.read_bytes()
    header = png_header(data, name)
    check_size(header.rows, header.cols, name)
    samples = header.rows * header.cols
    check_memory(len(data) + samples * (header.channels * max(header.bits, 8) // 8 + 4), name)
    _check_png_chunks(data, name)
    with decoding(name, "PNG"):
        pixels: NDArray[Any] = imagecodecs.png_decode(data)
    if pixels.shape[:2] != (header.rows, header.cols):
        raise BadFile(f"{name} decodes to another size than it declares.")
    return pixels


def decode_rgb(pixels: NDArray[np.uint8], code: RgbCode) -> NDArray[np.float32]:
    """Heights in metres (float32) from three bytes a sample; see :data:`RgbCode`."""
    out = np.empty(pixels.shape[:2], np.float32)
    # Some rows at a time: in doubles a large picture would need many times its own size.
    for at in range(0, len(pixels), _ROWS):
        r, g, b = (pixels[at : at + _ROWS, :, k].astype(np.float64) for k in range(3))
        metres = -10000 + 0.1 * (65536 * r + 256 * g + b) if code == "tenths" else 256 * r + g + b / 256 - 32768
        out[at : at + _ROWS] = metres
    return out


def _likely_code(pixels: NDArray[np.uint8]) -> RgbCode | None:
    """The code that makes ground of the picture: small steps for its range where the bytes alone jump."""
    pixels = pixels[:: max(1, len(pixels) // 512)]
    likely: list[tuple[float, RgbCode]] = []
    codes: tuple[RgbCode, ...] = ("tenths", "metres256")
    for code in codes:
        z = decode_rgb(pixels, code)
        rough = float(np.abs(np.diff(z, axis=1)).mean()) / max(float(z.std()), 1e-6)
        if float(z.min()) > -11100 and float(z.max()) < 9000:
            likely.append((rough, code))
    lowest = pixels[..., 2].astype(np.int16)
    jumps = float(np.abs(np.diff(lowest, axis=1)).mean()) / max(float(lowest.std()), 1e-6)
    best = min(likely, default=None)
    return best[1] if best is not None and best[0] < 0.15 and best[0] < 0.5 * jumps else None


def read_png_heights(path: Path, name: str, layout: Layout) -> Stored:
    """A heightmap in a PNG: grey of 1 to 16 bits (few bits spread over 8), colours that are equal, a palette of greys,
    or heights in three bytes where ``layout.code`` says so or it shows."""
    with path.open("rb") as file:
        header = png_header(file.read(64), name)
    if header.colour_type in (2, 6) and header.bits == 8 and layout.channel is None:
        pixels = read_png(path, name)
        code = layout.code or _likely_code(pixels)
        if code is not None:
            guessed = () if layout.code else ("code",)
            return Stored(decode_rgb(pixels, code), "png", "24 in RGB", code=code, guessed=guessed)
    pixels = read_png(path, name)
    samples, channel, channels, remarks = one_channel(pixels, name, layout.channel, says="a PNG")
    return Stored(samples, "png", str(header.bits), channel=channel, channels=channels, remarks=tuple(remarks))
