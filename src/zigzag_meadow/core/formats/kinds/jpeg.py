"""JPEG: colours only, and never exactly."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Any

from zigzag_meadow.core.formats.declare import Form, Format, Head, Opened, Pixels
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.stored import Remark, Stored
from zigzag_meadow.core.stripes import Stripes

__all__ = ["JPEG"]

_SLACK = 2
_LOSSY = Remark(
    "lossy",
    "attention",
    "A JPEG keeps 256 heights and bends them in blocks of 8 by 8: ask for the file as PNG or TIFF with 16 bits.",
)


def _begins(head: Head) -> bool:
    return head.data.startswith(b"\xff\xd8\xff")


def _heights(path: Path, name: str, layout: Layout) -> Stored:
    from zigzag_meadow.core.formats.reading.by_pillow import picture_heights  # only here: its library is slow to load

    made = picture_heights(path, name, "jpeg", "a JPEG", layout, slack=_SLACK)
    return replace(made, remarks=(*made.remarks, _LOSSY))


def _pixels(path: Path, name: str) -> Pixels:
    from zigzag_meadow.core.formats.reading.by_pillow import picture_pixels  # as above

    return picture_pixels(path, name, "jpeg", "a picture")


def _texture(path: Path, name: str) -> Pixels:
    from zigzag_meadow.core.formats.reading.by_pillow import texture_pixels  # as above

    return texture_pixels(path, name, "jpeg", "a JPEG")


def _open(path: Path, raster: Any, stripes: Stripes) -> Opened:
    from zigzag_meadow.core.formats.writing.jpeg import JpegWriter  # as above

    return JpegWriter(path, raster)


JPEG = Format(
    "jpeg",
    "JPEG",
    (".jpg", ".jpeg"),
    "image/jpeg",
    begins=_begins,
    heights=_heights,
    pixels=_pixels,
    texture=_texture,
    dense=True,
    forms=(
        Form(
            "jpeg",
            "JPEG",
            "jpg",
            "raster",
            "u8",
            (1, 3),
            "tagged",
            _open,
            data=False,
            lacks="it bends colours in blocks of 8 by 8, and never comes back exactly",
        ),
    ),
)
