"""PFM: the portable float map, grey or colours, rows from the bottom."""

from __future__ import annotations

import math
import re
from pathlib import Path
from typing import Any

import numpy as np

from zigzag_meadow.core.errors import BadFile, WrongFormat
from zigzag_meadow.core.formats.declare import Form, Format, Head, Opened, Pixels
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.limits import check_bytes, check_memory, check_size
from zigzag_meadow.core.formats.stored import Remark, Stored
from zigzag_meadow.core.formats.writing.headed import UpwardWriter
from zigzag_meadow.core.stripes import Stripes

__all__ = ["PFM"]

# Kind, columns, rows, and a scale whose sign is the byte order; one white space ends the header.
_HEAD = re.compile(rb"P([Ff])\s+(\d{1,6})\s+(\d{1,6})\s+([-+0-9.eE]{1,30})\s")
_MOST_HEAD = 256


def _begins(head: Head) -> bool:
    return re.match(rb"P[Ff]\s", head.data) is not None


def _planes(path: Path, name: str) -> tuple[Pixels, float]:
    """(samples of shape (rows, columns, 1 or 3) from the top, the scale of the header without its sign)."""
    check_bytes(path.stat().st_size, name)
    with path.open("rb") as file:
        head = _HEAD.match(file.read(_MOST_HEAD))
        if head is None:
            raise BadFile(f"{name} is damaged: its first lines do not tell columns, rows and the byte order.")
        cols, rows = int(head.group(2)), int(head.group(3))
        channels = 3 if head.group(1) == b"F" else 1
        check_size(rows, cols, name)
        check_memory(rows * cols * channels * 8, name)
        try:
            scale = float(head.group(4))
        except ValueError:
            scale = math.nan
        if not math.isfinite(scale) or scale == 0:
            raise BadFile(f"{name} is damaged: {head.group(4).decode()} tells no byte order. It is 1.0 or -1.0.")
        file.seek(head.end())
        need = 4 * rows * cols * channels
        body = file.read(need)
    if len(body) < need:
        raise BadFile(f"{name} is cut short: {need} bytes of samples are declared, {len(body)} are there.")
    samples = np.frombuffer(body, ">f4" if scale > 0 else "<f4").reshape(rows, cols, channels)
    return np.ascontiguousarray(samples[::-1].astype(np.float32)), abs(scale)


def _heights(path: Path, name: str, layout: Layout) -> Stored:
    planes, scale = _planes(path, name)
    letters = ("R", "G", "B") if planes.shape[2] == 3 else ()
    wanted = (layout.channel or "R").upper()
    if letters and wanted not in letters:
        raise WrongFormat(f"{name} has no channel {layout.channel}; there are R, G, B.", field="channel")
    remarks = []
    if scale != 1:
        text = f"Its header tells of a scale of {scale:g}: its numbers are taken as they stand."
        remarks.append(Remark("scale-told", "note", text))
    return Stored(
        np.ascontiguousarray(planes[..., letters.index(wanted) if letters else 0]),
        "pfm",
        "32f",
        channel=wanted if letters else None,
        channels=letters,
        remarks=tuple(remarks),
        guessed=("channel",) if letters and layout.channel is None else (),
    )


def _pixels(path: Path, name: str) -> Pixels:
    planes, _ = _planes(path, name)
    return planes if planes.shape[2] == 3 else planes[..., 0]


class _Writer(UpwardWriter):
    def head(self) -> bytes:
        raster = self.raster
        order = "-1.0" if raster.order == "little" else "1.0"
        return f"P{'F' if raster.channels == 3 else 'f'}\n{raster.cols} {raster.rows}\n{order}\n".encode("ascii")


def _open(path: Path, raster: Any, stripes: Stripes) -> Opened:
    return _Writer(path, raster)


PFM = Format(
    "pfm",
    "PFM",
    (".pfm",),
    "image/x-portable-floatmap",
    begins=_begins,
    heights=_heights,
    pixels=_pixels,
    forms=(Form("pfm", "PFM float", "pfm", "raster", "f32", (1, 3), "linear", _open, orders=True),),
)
