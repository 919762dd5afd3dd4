"""Heights in plain pictures: BMP, TGA, JPEG, and the portable grey map."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from zigzag_meadow.core.errors import BadFile, TooLarge, WrongFormat
from zigzag_meadow.core.formats.decoding import decoding
from zigzag_meadow.core.formats.greys import one_channel
from zigzag_meadow.core.formats.layout import FileFormat, Layout
from zigzag_meadow.core.formats.limits import check_memory, check_size
from zigzag_meadow.core.formats.stored import Remark, Stored

__all__ = ["is_pgm", "is_tga", "read_pgm", "read_picture_heights"]

_MOST_HEAD = 16 * 1024
_GAP = rb"(?:\s|#[^\n]*\n)+"
_PGM = re.compile(rb"P([25])" + (_GAP + rb"(\d{1,6})") * 3 + rb"\s")
_TITLES: dict[FileFormat, str] = {"bmp": "a BMP", "tga": "a TGA", "jpeg": "a JPEG"}
_MODES = {"1": "L", "L": "L", "P": "RGBA", "LA": "LA", "RGB": "RGB", "RGBA": "RGBA"}
_JPEG = Remark(
    "lossy", "attention",
    "A JPEG keeps 256 heights and bends them in blocks of 8 by 8: ask for the file as PNG or TIFF with 16 bits.",
)  # fmt: skip


def read_picture_heights(path: Path, name: str, kind: FileFormat, layout: Layout) -> Stored:
    """A heightmap in a BMP, TGA or JPEG with 8 bits a channel: grey, or colours that are equal.

    Raises :class:`BadFile` when damaged, :class:`WrongFormat` for colours, :class:`TooLarge` over the limits.
    """
    title = _TITLES[kind]
    try:
        with decoding(name, title), Image.open(path, formats=(kind.upper(),)) as image:
            check_size(image.height, image.width, name)
            check_memory(image.height * image.width * 12, name)
            mode = _MODES.get(image.mode)
            if mode is None:
                raise WrongFormat(f"{name} is {title} in {image.mode}; a heightmap is grey. Save it as PNG 16.")
            pixels = _pixels(image, mode, name)
    except Image.DecompressionBombError:
        raise TooLarge(f"{name} declares far more samples than can be read. Resize it first.") from None
    samples, channel, channels, remarks = one_channel(
        pixels, name, layout.channel, slack=2 if kind == "jpeg" else 0, says=title
    )
    remarks += [_JPEG] if kind == "jpeg" else []
    return Stored(samples, kind, "8", channel=channel, channels=channels, remarks=tuple(remarks))


def _pixels(image: Image.Image, mode: str, name: str) -> NDArray[Any]:
    if image.mode != "P":
        return np.asarray(image.convert(mode))
    table = np.array(image.getpalette("RGB") or np.repeat(np.arange(256), 3), np.uint8).reshape(-1, 3)
    index = np.asarray(image)
    if int(index.max()) >= len(table):
        raise BadFile(f"{name} is damaged: it uses greys that it does not list.")
    coloured: NDArray[Any] = table[index]
    return coloured


def is_tga(head: bytes, size: int) -> bool:
    """Whether a file can be a TGA by its header: the format has no signature, but few numbers that can stand there."""
    if len(head) < 18:
        return False
    table, kind, wide, high, bits = head[1], head[2], head[12:14], head[14:16], head[16]
    cols, rows = int.from_bytes(wide, "little"), int.from_bytes(high, "little")
    plain = kind not in (1, 2, 3) or size >= 18 + head[0] + cols * rows * bits // 8
    return table < 2 and kind in (1, 2, 3, 9, 10, 11) and bits in (8, 16, 24, 32) and cols * rows > 0 and plain


def is_pgm(head: bytes) -> bool:
    """Whether a file begins like a portable grey map, plain or binary."""
    return re.match(rb"P[25]\s", head) is not None


def read_pgm(path: Path, name: str, layout: Layout) -> Stored:
    """A portable grey map, as stored: 8 or 16 bits, most significant byte first, or plain numbers.

    Raises :class:`BadFile` when it is cut or its numbers make no sense.
    """
    data = path.read_bytes()
    head = _PGM.match(data[:_MOST_HEAD])
    if head is None:
        raise BadFile(f"{name} is damaged: its first lines do not tell columns, rows and the highest value.")
    cols, rows, most = (int(head.group(at)) for at in (2, 3, 4))
    check_size(rows, cols, name)
    if not 1 <= most <= 65535:
        raise BadFile(f"{name} says that its highest value is {most}; it is 1 to 65535.")
    check_memory(rows * cols * 12 + len(data), name)
    wide = most > 255
    if head.group(1) == b"5":
        need = rows * cols * (2 if wide else 1)
        body = data[head.end() : head.end() + need]
        if len(body) < need:
            raise BadFile(f"{name} is cut short: {need} bytes of heights are declared, {len(body)} are there.")
        samples: NDArray[Any] = np.frombuffer(body, ">u2" if wide else "u1")
    else:
        numbers = data[head.end() :].split()
        if len(numbers) < rows * cols or not all(part.isdigit() and len(part) < 7 for part in numbers[: rows * cols]):
            raise BadFile(f"{name} is damaged: {rows * cols} whole numbers are declared, and not all are there.")
        samples = np.array(numbers[: rows * cols], np.int64)
    if int(samples.max()) > most:
        raise BadFile(f"{name} is damaged: it holds {int(samples.max())}, above its highest value of {most}.")
    native = np.ascontiguousarray(samples.astype(np.uint16 if wide else np.uint8).reshape(rows, cols))
    return Stored(native, "pgm", "16" if wide else "8")
