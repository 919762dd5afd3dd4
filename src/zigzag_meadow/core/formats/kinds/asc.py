"""ASCII grids: a few lines of header, then every row as text."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from zigzag_meadow.core.formats.declare import Form, Format, Head, Opened
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.reading.asc import is_asc, read_asc
from zigzag_meadow.core.formats.stored import Stored
from zigzag_meadow.core.stripes import Stripes

__all__ = ["ASC"]


def _begins(head: Head) -> bool:
    return is_asc(head.data)


def _heights(path: Path, name: str, layout: Layout) -> Stored:
    return read_asc(path, name)


def _open(path: Path, raster: Any, stripes: Stripes) -> Opened:
    from zigzag_meadow.core.formats.writing.grid_text import AscWriter  # only here: few files need it

    return AscWriter(path, raster)


ASC = Format(
    "asc",
    "ASCII grid",
    (".asc",),
    "text/plain",
    begins=_begins,
    heights=_heights,
    forms=(Form("asc", "ASCII grid", "asc", "raster", "f32", (1,), "untagged", _open, places=True),),
)
