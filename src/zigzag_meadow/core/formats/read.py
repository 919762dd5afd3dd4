"""Read heightmap files at their stored depth. The content decides what a file is, not its extension.

Sizes are checked against what the header declares before anything is decoded. Nothing here squeezes 16 bits to 8.
"""

from __future__ import annotations

from pathlib import Path

from zigzag_meadow.core.errors import WrongFormat
from zigzag_meadow.core.formats.catalogue import recognised, titles
from zigzag_meadow.core.formats.declare import Head
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.limits import check_bytes
from zigzag_meadow.core.formats.stored import Stored, finished

__all__ = ["HEAD", "read_stored"]

HEAD = 256
"""Bytes at the beginning of a file by which it is known."""


def read_stored(path: Path, name: str, layout: Layout | None = None) -> Stored:
    """Read a heightmap: samples at stored depth, of shape (rows, columns); floats with NaN where some are missing.

    ``layout``: what the file does not say itself. Raises :class:`BadFile` for anything that is empty, cut, damaged
    or holds no heights, :class:`WrongFormat` for other kinds of file, and :class:`TooLarge` over the limits.
    """
    told = layout or Layout()
    size = path.stat().st_size
    check_bytes(size, name)
    with path.open("rb") as file:
        kind = recognised(Head(file.read(HEAD), name, size))
    if kind.heights is None:
        raise WrongFormat(f"{name} is {kind.title}, which holds no heightmap. Bring in: {titles('heightmap')}.")
    return finished(kind.heights(path, name, told), told.nodata, name)
