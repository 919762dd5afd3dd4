"""Files that cannot be heightmaps, by what is wrong with them."""

from __future__ import annotations

import io
import struct
import zlib

import imagecodecs
import numpy as np
import tifffile

from tests.support.ground import hills, png16
from zigzag_meadow.core.errors import BadFile, TooLarge, WrongFormat

HILLS = hills(40, 56)


def tiff(values: np.ndarray) -> bytes:
    out = io.BytesIO()
    tifffile.imwrite(out, values)
    return out.getvalue()


def bomb() -> bytes:
    header = struct.pack(">IIBBBBB", 60000, 60000, 16, 0, 0, 0, 0)
    part = struct.pack(">I", 13) + b"IHDR" + header + struct.pack(">I", zlib.crc32(b"IHDR" + header))
    return b"\x89PNG\r\n\x1a\n" + part


NAN = HILLS.astype(np.float32)
NAN[3, 5] = np.nan

COLOURS = np.stack([np.tile(np.uint8(k * 10), (20, 20)) for k in (1, 21, 3)], -1)

WRONG = {
    "empty": ("a.png", b"", BadFile, "empty"),
    "cut": ("a.png", png16(HILLS)[:-40], BadFile, "cut short"),
    "cut header": ("a.png", png16(HILLS)[:20], BadFile, "cut short"),
    "flipped bit": ("a.png", png16(HILLS)[:200] + b"\x55" + png16(HILLS)[201:], BadFile, "checksum"),
    "mislabelled": ("a.png", HILLS.tobytes(), WrongFormat, "named like PNG"),
    "another kind": ("a.raw", b"\xff\xd8\xff\xe0" + bytes(200), BadFile, "JPEG"),
    "over-large": ("a.png", bomb(), TooLarge, "60000 × 60000"),
    "colour": ("a.png", bytes(imagecodecs.png_encode(COLOURS)), WrongFormat, "differ by up to 200"),
    "nothing but gaps": ("a.tif", tiff(NAN * np.nan), BadFile, "no sample with a height"),
    "complex": ("a.tif", tiff(HILLS.astype(np.complex64)), WrongFormat, "complex64"),
    "cut tiff": ("a.tif", tiff(HILLS)[:-900], BadFile, "cut short"),
    "constant": ("a.png", png16(np.full((20, 20), 7, np.uint16)), BadFile, "same height everywhere"),
    "one row": ("a.png", png16(HILLS[:1]), BadFile, "at least 8"),
    "odd length": ("a.raw", bytes(999), BadFile, "not a square"),
}
