"""Raw: samples and nothing else. Whatever is known as nothing else is taken for it."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from zigzag_meadow.core.formats.declare import Form, Format, Opened
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.raw import NAMED, read_raw
from zigzag_meadow.core.formats.stored import Stored
from zigzag_meadow.core.formats.writing.headed import HeadedWriter
from zigzag_meadow.core.stripes import Stripes

__all__ = ["RAW"]


def _heights(path: Path, name: str, layout: Layout) -> Stored:
    samples, sample, order, why = read_raw(
        path,
        name,
        rows=layout.rows,
        cols=layout.cols,
        sample=layout.sample,
        header=layout.header,
        order=layout.byte_order,
    )
    depth = {"u8": "8", "i8": "8 signed", "u16": "16", "i16": "16 signed", "f32": "32f"}[sample]
    return Stored(
        samples,
        "raw",
        depth,
        order,
        sample,
        layout.header,
        guessed=() if why is None else ("byte_order",),
        order_because=why or "",
    )


def _open(path: Path, raster: Any, stripes: Stripes) -> Opened:
    return HeadedWriter(path, raster)


_ANY = (1, 2, 3, 4)
RAW = Format(
    "raw",
    "raw",
    (".raw", *NAMED),
    heights=_heights,
    forms=(
        Form("raw8", "raw 8", "r8", "raster", "u8", _ANY, "untagged", _open, endings=True),
        Form("raw16", "raw 16", "r16", "raster", "u16", _ANY, "untagged", _open, orders=True, endings=True),
        Form("raw32f", "raw float", "r32", "raster", "f32", _ANY, "linear", _open, orders=True, endings=True),
    ),
)
