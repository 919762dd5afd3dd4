"""OpenEXR: half or float, linear light."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from zigzag_meadow.core.formats.declare import Form, Format, Head, Opened, Pixels
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.stored import Stored
from zigzag_meadow.core.stripes import Stripes

__all__ = ["EXR"]

_SIGNATURE = b"\x76\x2f\x31\x01"


def _begins(head: Head) -> bool:
    return head.data.startswith(_SIGNATURE)


def _heights(path: Path, name: str, layout: Layout) -> Stored:
    from zigzag_meadow.core.formats.reading.exr import read_exr  # only here: few files need it

    return read_exr(path, name, layout)


def _pixels(path: Path, name: str) -> Pixels:
    from zigzag_meadow.core.formats.reading.exr import read_exr_pixels  # as above

    return read_exr_pixels(path, name)


def _open(path: Path, raster: Any, stripes: Stripes) -> Opened:
    from zigzag_meadow.core.formats.writing.exr import ExrWriter  # as above

    return ExrWriter(path, raster)


_ANY = (1, 2, 3, 4)
EXR = Format(
    "exr",
    "OpenEXR",
    (".exr",),
    begins=_begins,
    heights=_heights,
    pixels=_pixels,
    dense=True,
    forms=(
        Form(
            "exr16f",
            "EXR half",
            "exr",
            "raster",
            "f16",
            _ANY,
            "linear",
            _open,
            packs=True,
            lacks="half floats have 11 bits: heights above 2048 m lose more than a metre",
        ),
        Form("exr32f", "EXR float", "exr", "raster", "f32", _ANY, "linear", _open, packs=True),
    ),
)
