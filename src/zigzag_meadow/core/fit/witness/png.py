"""PNG."""

from __future__ import annotations

import io
from pathlib import Path

from zigzag_meadow.core.fit.witness.base import ByPart, Rows, Whole, Witness
from zigzag_meadow.core.fit.witness.pictures import by_pillow
from zigzag_meadow.core.formats.reading.png import read_png
from zigzag_meadow.core.formats.reading.png_rows import PngRows
from zigzag_meadow.core.targets.note import FileNote

__all__ = ["PNG"]


def _open(path: Path, file: FileNote) -> Rows:
    made = PngRows(path, file.file)
    if made.by_rows:
        head = made.header
        return ByPart(
            (head.rows, head.cols, head.channels),
            "u2" if head.bits == 16 else "u1",
            lambda a, b: made.read(b - a),
            lambda: made.__exit__(None, None, None),
        )
    made.__exit__(None, None, None)
    if made.header.colour_type == 3:
        # Numbers of few bits, as programs save pictures of few colours: the numbers are meant, not the colours.
        return by_pillow(path, file)
    return Whole(read_png(path, file.file))


def _parts(path: Path, file: FileNote) -> list[str]:
    """Colour parts (gamma, sRGB, profile) before the picture; data maps must have none."""
    kinds = []
    with path.open("rb") as stream:
        stream.seek(8)
        while len(head := stream.read(8)) == 8 and head[4:] != b"IDAT":
            if head[4:] in (b"gAMA", b"sRGB", b"iCCP", b"cICP"):
                kinds.append(head[4:].decode("ascii"))
            stream.seek(int.from_bytes(head[:4], "big") + 4, io.SEEK_CUR)
    return kinds


PNG = Witness(_open, _parts)
