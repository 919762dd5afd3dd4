"""Pictures of 8 bits a channel that the general picture library reads: heights in them, and their pixels."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from zigzag_meadow.core.errors import BadFile, TooLarge, WrongFormat
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.limits import check_memory, check_size, check_texture_size
from zigzag_meadow.core.formats.reading.decoding import decoding
from zigzag_meadow.core.formats.reading.greys import one_channel
from zigzag_meadow.core.formats.stored import Stored

__all__ = ["picture_heights", "picture_pixels", "texture_pixels"]

_MODES = {"1": "L", "L": "L", "P": "RGBA", "LA": "LA", "RGB": "RGB", "RGBA": "RGBA"}
_PLAIN = {"1": "L", "L": "L", "RGBA": "RGBA", "LA": "LA"}


@contextmanager
def _opened(
    path: Path, name: str, kind: str, title: str, each: int, check: Callable[[int, int, str], None] = check_size
) -> Iterator[Image.Image]:
    """A picture whose size was checked; ``each``: bytes a sample that working on it needs."""
    try:
        with decoding(name, title), Image.open(path, formats=(kind.upper(),)) as image:
            check(image.height, image.width, name)
            check_memory(image.height * image.width * each, name)
            yield image
    except Image.DecompressionBombError:
        raise TooLarge(f"{name} declares far more samples than can be read. Resize it first.") from None


def picture_heights(path: Path, name: str, kind: str, title: str, layout: Layout, slack: int = 0) -> Stored:
    """A heightmap with 8 bits a channel in a picture of this kind (``title``: "a BMP"): grey, or colours that differ by
    no more than ``slack``.

    Raises :class:`BadFile` when damaged, :class:`WrongFormat` for colours, :class:`TooLarge` over the limits.
    """
    with _opened(path, name, kind, title, 12) as image:
        mode = _MODES.get(image.mode)
        if mode is None:
            raise WrongFormat(f"{name} is {title} in {image.mode}; a heightmap is grey. Save it as PNG 16.")
        pixels = _pixels(image, mode, name)
    samples, channel, channels, remarks = one_channel(pixels, name, layout.channel, slack=slack, says=title)
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


def picture_pixels(path: Path, name: str, kind: str, title: str) -> NDArray[np.uint8]:
    """Every channel of a picture: uint8, (rows, columns) for grey, else (rows, columns, 2 to 4).

    Raises :class:`BadFile` when damaged, :class:`TooLarge` over the limits.
    """
    with _opened(path, name, kind, title, 16) as image:
        return np.asarray(image.convert(_PLAIN.get(image.mode, "RGB")))


def texture_pixels(path: Path, name: str, kind: str, title: str) -> NDArray[np.uint8]:
    """Grey or colours of a texture: uint8, (rows, columns) or (rows, columns, 3).

    Raises :class:`WrongFormat` for the colours of print, else what :func:`picture_pixels` raises.
    """
    with _opened(path, name, kind, title, 12, check_texture_size) as image:
        if image.mode == "CMYK":
            raise WrongFormat(f"{name} is in CMYK, the colours of print. Save it in RGB.", field="file")
        return np.asarray(image if image.mode in ("L", "RGB") else image.convert("RGB"))
